'use client';
/** Records what the sliders do while a take plays, as a take of the piece. */
import { Circle, Square } from 'lucide-react';
import { useEffect } from 'react';
import { ulid } from 'ulid';
import { keysOver } from '@/core/form';
import { add, takeOf, takeRow } from '@/core/piece';
import { counted } from '@/core/words/counted';
import { say } from '../kit/say';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { KeyHere } from './keyhere';
import { useFit } from './state';
import { freeTakeName, takeNow } from './takechoice';

export function Recorder() {
  const store = usePieceStore();
  const commit = usePiece((s) => s.commit);
  const doc = useDocument();
  const shown = useFit((s) => s.take);
  const take = takeNow(doc, shown);
  const recording = useFit((s) => s.recording);
  const timeS = useFit((s) => s.timeS);
  const { record, chooseTake } = useFit.getState();
  const keep = () => {
    const was = record(false);
    if (!was || was.moments.length === 0) return;
    const last = was.moments[was.moments.length - 1].atS;
    if (Object.keys(was.face).length === 0 && Object.keys(was.head).length === 0) {
      say.message('No slider was moved: there is nothing to keep.');
      return;
    }
    const now = store.getState().history.doc;
    const keys = keysOver({ ...was.take, seconds: Math.max(0.1, was.done ? was.take.seconds : last) }, was.moments);
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
  useEffect(() => () => void useFit.getState().record(false), []);
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
          onClick={() => !take.motion && record(true)}
        >
          <Circle className="ico" fill="currentColor" />
          <span className="truncate">Record over “{take.label}”</span>
        </button>
      )}
      {row && !recording && <KeyHere row={row} take={take} />}
    </>
  );
}
