'use client';
/** Records what the sliders do while a take plays, as a take of the piece. */
import { Circle, Square } from 'lucide-react';
import { useEffect } from 'react';
import { ulid } from 'ulid';
import { ACTION_UNITS, keysOver, type Moment, overlaid, poseAtTime, type Take, weightsOf } from '@/core/form';
import { add, takeOf, takeRow } from '@/core/piece';
import type { Held } from '@/core/run';
import { counted } from '@/core/words/counted';
import { say } from '../kit/say';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { KeyHere } from './keyhere';
import { useFit } from './state';
import { freeTakeName, takeNow } from './takechoice';

type Touched = Pick<Moment, 'face' | 'head'>;
interface Recorded {
  take: Take;
  touched: Touched;
  moments: Moment[];
}
let recorded: Recorded | null = null;

/** Plays the take from its beginning; what sliders do meanwhile is laid over it and remembered. */
function start(take: Take): void {
  const now: Recorded = { take, touched: { face: {}, head: {} }, moments: [] };
  recorded = now;
  const { set } = useFit.getState();
  const recording = {
    take,
    done: false,
    step: (timeS: number) => {
      const done = timeS >= take.seconds;
      const atS = Math.min(timeS, take.seconds);
      now.moments.push({ atS, ...now.touched });
      const { atS: _, ...pose } = overlaid(take, Math.min(atS, take.seconds - 1e-9), now.touched);
      return { timeS: atS, pose, recording: { ...recording, done }, playing: !done };
    },
    touch: (pose: Held) => {
      const was = useFit.getState().pose;
      const [before, face] = [weightsOf(was.face ?? {}), weightsOf(pose.face ?? {})];
      const moved = ACTION_UNITS.filter((unit) => (before[unit] ?? 0) !== (face[unit] ?? 0));
      const turned = (['yawDeg', 'pitchDeg', 'rollDeg'] as const).filter((k) => was.head[k] !== pose.head[k]);
      now.touched = {
        face: { ...now.touched.face, ...Object.fromEntries(moved.map((unit) => [unit, face[unit] ?? 0])) },
        head: { ...now.touched.head, ...Object.fromEntries(turned.map((k) => [k, pose.head[k]])) },
      };
      return { pose };
    },
  };
  // what is shown is the take with the sliders over it, not the take
  set({ recording, timeS: 0, pose: poseAtTime(take, 0), poseId: null, playing: true, running: false });
}
function stop(): Recorded | null {
  const was = recorded;
  recorded = null;
  if (useFit.getState().recording) useFit.getState().set({ recording: null, playing: false });
  return was;
}

export function Recorder() {
  const store = usePieceStore();
  const commit = usePiece((s) => s.commit);
  const doc = useDocument();
  const shown = useFit((s) => s.take);
  const take = takeNow(doc, shown);
  const recording = useFit((s) => s.recording);
  const timeS = useFit((s) => s.timeS);
  const { chooseTake } = useFit.getState();
  const keep = () => {
    const done = useFit.getState().recording?.done ?? false;
    const was = stop();
    if (!was || was.moments.length === 0) return;
    const last = was.moments[was.moments.length - 1].atS;
    if (Object.keys({ ...was.touched.face, ...was.touched.head }).length === 0) {
      say.message('No slider was moved: there is nothing to keep.');
      return;
    }
    const now = store.getState().history.doc;
    const keys = keysOver({ ...was.take, seconds: Math.max(0.1, done ? was.take.seconds : last) }, was.moments);
    const row = takeRow(ulid(), freeTakeName(now, 'Take'), { seconds: Math.max(0.1, keys[keys.length - 1].atS), straight: true, keys });
    commit(add('takes', row));
    chooseTake(takeOf(row));
    say.message(`Kept as “${row.name}”, ${counted(keys.length, 'key')}.`);
  };
  const through = recording?.done ?? false;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the take is through
  useEffect(() => {
    if (through) keep();
  }, [through]);
  // who walks away from the sliders has ended it
  useEffect(() => () => void stop(), []);
  const row = Object.hasOwn(doc.takes, take.id) ? doc.takes[take.id] : null;
  return (
    <>
      {recording ? (
        <button type="button" className="btn btn-line btn-sm" onClick={keep}>
          <Square className="ico" fill="currentColor" />
          End it <span className="num">{timeS.toFixed(1)}</span> of <span className="num">{recording.take.seconds.toFixed(1)} s</span>
        </button>
      ) : (
        <button
          type="button"
          className="btn btn-line btn-sm"
          aria-disabled={take.motion !== undefined}
          title={
            take.motion
              ? 'The whole body moves by a motion of its own: choose another take in the strip'
              : 'The take plays once from its beginning; what the sliders do meanwhile is laid over it, as a take of the piece'
          }
          onClick={() => !take.motion && start(take)}
        >
          <Circle className="ico" fill="currentColor" />
          <span className="truncate">Record over “{take.label}”</span>
        </button>
      )}
      {row && !recording && <KeyHere row={row} take={take} />}
    </>
  );
}
