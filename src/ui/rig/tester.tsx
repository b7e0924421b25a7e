'use client';
/** What a bone holds, as depths on a chart; and what the shape does when it turns, measured against rest. */
import { Columns2, Pause, Play } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import type { BodyPoseName } from '@/core/form/body';
import type { Model } from '@/core/model';
import { beginPainting, type Held, type PoseAxis, type Posed, poseOne } from '@/core/rig';
import { jointWords } from '@/core/words/humanoid';
import type { HeatSurface } from '@/stage';
import { Choice, PickField } from '../kit';
import { TINTS } from '../kit/depths';
import { poseWords } from '../piece/posewords';
import { ArcDial } from './arcdial';
import { inClip, inPose, type PoseFacts, type RigLook, SHARES, STRETCH, tested } from './depthlook';
import type { Painter } from './painter';
import { useWholePoses, type WholePoses } from './wholeposes';

const LOOKS = [
  { value: 'shape', label: 'Shape' },
  { value: 'weights', label: 'Weights', title: 'How far each place follows the chosen bone' },
  { value: 'pose', label: 'Pose', title: 'One bone turned, or the whole in a pose: where the shape stretches' },
  { value: 'motion', label: 'Motion', title: 'A clip of the model, played: where the shape stretches' },
] as const;
const AXES: readonly (readonly [PoseAxis, string])[] = [
  ['bend', 'Across, one way'],
  ['aside', 'Across, the other way'],
  ['twist', 'About itself'],
];
const MOST_DEG = 60;
const FIRST_DEG = 30;

export interface Tester {
  look: RigLook;
  heat: HeatSurface | undefined;
  facts: PoseFacts | null;
  /** The same of a weighting that was kept, to be seen beside; null: none is, or it has no such bone. */
  before: Pick<Tester, 'heat' | 'facts' | 'lines'> | null;
  /** A weighting is kept. */
  kept: boolean;
  /** Keeps the weighting there is, or lets the kept one go. */
  keep: (on: boolean) => void;
  /** Lines of equal share, one list a level of `LINES`; null where no weights are shown. */
  lines: readonly (readonly number[])[] | null;
  deg: number;
  axis: PoseAxis;
  /** A pose of the whole; null: one bone is turned. */
  whole: BodyPoseName | null;
  /** Those there are; null: its bones are none of a figure's. */
  wholes: WholePoses | null;
  clip: number;
  timeS: number;
  playing: boolean;
  setWhole: (p: BodyPoseName | null) => void;
  setLook: (l: RigLook) => void;
  setDeg: (d: number) => void;
  setAxis: (a: PoseAxis) => void;
  setClip: (c: number) => void;
  setTime: (s: number) => void;
  play: (on: boolean) => void;
}

/**
 * @param bone place of the chosen bone; −1 of none
 * @param painter whose weights are looked at
 */
export function useTester(model: Model | null, bone: number, look: RigLook, setLook: Tester['setLook'], painter: Painter): Tester {
  const [deg, setDeg] = useState(FIRST_DEG);
  const [axis, setAxis] = useState<PoseAxis>('bend');
  const [asked, setWhole] = useState<BodyPoseName | null>(null);
  const wholes = useWholePoses(model, look === 'pose');
  const pose = asked && wholes?.get(asked);
  const whole = pose ? asked : null;
  const [clip, setClip] = useState(0);
  const [timeS, setTime] = useState(0);
  const [playing, play] = useState(false);
  const [kept, setKept] = useState<Held | null>(null);
  const seconds = model?.clips[clip]?.seconds ?? 0;
  const runs = look === 'motion' && playing && seconds > 0;
  useEffect(() => {
    if (!runs) return;
    let frame = 0;
    let before = performance.now();
    const step = (now: number) => {
      const passed = (now - before) / 1000;
      before = now;
      setTime((t) => (t + passed) % seconds);
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [runs, seconds]);
  const { held, version } = painter;
  const posing = (of: Held, at: number): Posed | null =>
    pose && held && model ? inPose(of, held, model, pose) : of.bones[at] ? poseOne(of.surface, of.bones, of.binding, at, axis, deg) : null;
  // what does not play is not worked out anew at every moment
  const moment = look === 'motion' ? timeS : 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is held is painted in place
  const shown = useMemo(() => {
    if (held && model && look === 'motion') return model.clips[clip] ? inClip(held, model, clip, moment) : null;
    return held && tested(held, bone, look, posing);
  }, [held, version, model, bone, look, axis, deg, pose, clip, moment]);
  const name = held?.bones[bone]?.name;
  // biome-ignore lint/correctness/useExhaustiveDependencies: as above
  const before = useMemo(() => {
    if (!kept || look === 'motion' || look === 'shape') return null;
    const then = tested(
      kept,
      kept.bones.findIndex((b) => b.name === name),
      look,
      posing,
    );
    return then && { heat: then.heat, facts: then.facts, lines: 'lines' in then ? then.lines : null };
  }, [kept, held, name, look, axis, deg, pose]);
  return {
    before,
    kept: kept !== null,
    keep: (on) => setKept(on && held ? beginPainting(held).held : null),
    look,
    heat: shown?.heat,
    facts: shown?.facts ?? null,
    lines: shown && 'lines' in shown ? shown.lines : null,
    deg,
    axis,
    whole,
    wholes,
    clip,
    timeS,
    playing,
    setWhole,
    setLook,
    setDeg,
    setAxis,
    setClip,
    setTime,
    play,
  };
}

export function TesterSheet({
  tester,
  bones,
  bone,
  clips,
  onBone,
}: {
  tester: Tester;
  clips: readonly { name: string; seconds: number }[];
  bones: readonly string[];
  bone: number;
  onBone: (name: string) => void;
}) {
  const { look, facts, deg, axis } = tester;
  const clip = clips[tester.clip];
  const legend = look === 'weights' ? SHARES.map((s) => `${s * 100} %`) : STRETCH.map((s) => `×${s}`);
  return (
    <section className="mb-2 pb-2 border-b border-[color:var(--hair)]" aria-label="Look at the weights">
      <div className="flex flex-wrap items-center gap-2">
        <Choice
          label="Shown"
          options={LOOKS.filter((l) => l.value !== 'motion' || clips.length > 0)}
          value={look}
          onChange={tester.setLook}
        />
        {look === 'pose' && tester.wholes && (
          <PickField
            label="Held"
            value={tester.whole ?? ''}
            options={[['', 'One bone turned'] as const, ...[...tester.wholes.keys()].map((p) => [p, poseWords(p)] as const)]}
            onChange={(p) => tester.setWhole([...(tester.wholes?.keys() ?? [])].find((k) => k === p) ?? null)}
          />
        )}
        {(look === 'weights' || (look === 'pose' && !tester.whole)) && (
          <PickField
            label="Bone"
            value={bones[bone] ?? ''}
            options={[...(bone < 0 ? [['', 'Choose a bone'] as const] : []), ...bones.map((b) => [b, jointWords(b)] as const)]}
            onChange={onBone}
          />
        )}
        {look === 'pose' && !tester.whole && <PickField label="Turned" value={axis} options={AXES} onChange={tester.setAxis} />}
        {(look === 'weights' || look === 'pose') && (
          <button
            type="button"
            className="btn btn-line btn-sm"
            aria-pressed={tester.kept}
            title={tester.kept ? 'Shows the weights there are alone' : 'Keeps these weights, to be seen beside those that come'}
            onClick={() => tester.keep(!tester.kept)}
          >
            <Columns2 className="ico" />
            {tester.kept ? 'Before, beside' : 'Keep beside'}
          </button>
        )}
      </div>
      {look === 'pose' && (
        <div className="flex items-end gap-3 mt-2 text-small">
          {!tester.whole && (
            <>
              <ArcDial label="Turn of the bone, degrees" value={deg} most={MOST_DEG} onChange={tester.setDeg} />
              <span className="num text-[15px] pb-1">{deg}°</span>
            </>
          )}
          {facts && <AgainstRest facts={facts} before={tester.before?.facts ?? null} />}
        </div>
      )}
      {look === 'motion' && clip && (
        <div className="flex items-center gap-2 mt-2 text-small">
          <button
            type="button"
            className="btn btn-line btn-sm btn-tight"
            aria-label={tester.playing ? 'Pause' : 'Play'}
            aria-pressed={tester.playing}
            onClick={() => tester.play(!tester.playing)}
          >
            {tester.playing ? <Pause className="ico" /> : <Play className="ico" />}
          </button>
          <PickField
            label="Clip"
            value={String(tester.clip)}
            options={clips.map((c, i) => [String(i), c.name] as const)}
            onChange={(c) => {
              tester.setClip(Number(c));
              tester.setTime(0);
            }}
          />
          <input
            type="range"
            className="flex-1"
            style={{ accentColor: 'var(--brass)' }}
            min={0}
            max={clip.seconds}
            step={0.01}
            value={Math.min(tester.timeS, clip.seconds)}
            aria-label="Moment of the clip, seconds"
            onChange={(e) => tester.setTime(Number(e.target.value))}
          />
          <span className="num w-[64px] text-right">{tester.timeS.toFixed(2)} s</span>
        </div>
      )}
      {look === 'motion' && facts && (
        <div className="mt-2 flex">
          <AgainstRest facts={facts} before={null} />
        </div>
      )}
      {look !== 'shape' && (
        <div className="flex items-center gap-2 mt-2 text-[11px] soft" aria-hidden="true">
          {TINTS.map((t, i) => (
            <span key={t} className="flex items-center gap-1">
              <span className="inline-block w-4 h-3 border border-[color:var(--ink)]" style={{ background: t }} />
              {legend[i]}
            </span>
          ))}
        </div>
      )}
    </section>
  );
}

function AgainstRest({ facts, before }: { facts: PoseFacts; before: PoseFacts | null }) {
  const rows: readonly (readonly [string, (f: PoseFacts) => string])[] = [
    ['Longest edge', (f) => `×${f.stretchMax.toFixed(2)}`],
    ['Triangles turned over', (f) => String(f.flips)],
    ['Area', (f) => `${(f.areaChange * 100).toFixed(1)} % off`],
    ['Volume', (f) => `${(f.volumeChange * 100).toFixed(1)} % off`],
  ];
  return (
    <table className="flex-1 text-small" aria-label="Against rest">
      {before && (
        <thead>
          <tr className="soft text-micro">
            <th />
            <th className="font-normal text-right">before</th>
            <th className="font-normal text-right">now</th>
          </tr>
        </thead>
      )}
      <tbody>
        {rows.map(([what, say]) => (
          <tr key={what} className="border-t border-[color:var(--hair)]">
            <th className="text-left font-normal py-[2px]">{what}</th>
            {before && <td className="num text-right soft">{say(before)}</td>}
            <td className="num text-right pl-3">{say(facts)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
