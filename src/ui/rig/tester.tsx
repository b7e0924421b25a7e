'use client';
/** What a bone holds, as depths on a chart; and what the shape does when it turns, measured against rest. */
import { Columns2, Pause, Play } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { boxOf } from '@/core/math';
import { type Model, poseAt, posedPrimitives } from '@/core/model';
import { beginPainting, contours, type Held, normalsOf, type PoseAxis, poseOne, sharesOf } from '@/core/rig';
import { jointWords } from '@/core/words/humanoid';
import type { HeatSurface } from '@/stage';
import { Choice, PickField } from '../kit';
import { depthColors, TINTS } from '../kit/depths';
import { ArcDial } from './arcdial';
import type { Painter } from './painter';

export type RigLook = 'shape' | 'weights' | 'pose' | 'motion';
const LOOKS = [
  { value: 'shape', label: 'Shape' },
  { value: 'weights', label: 'Weights', title: 'How far each place follows the chosen bone' },
  { value: 'pose', label: 'Pose', title: 'The chosen bone turned, and where the shape stretches' },
  { value: 'motion', label: 'Motion', title: 'A clip of the model, played' },
] as const;
const AXES: readonly (readonly [PoseAxis, string])[] = [
  ['bend', 'Across, one way'],
  ['aside', 'Across, the other way'],
  ['twist', 'About itself'],
];
/** Shares of a bone at which tints begin; and how much longer an edge has become. */
const SHARES = [0, 0.1, 0.25, 0.5, 0.75] as const;
const STRETCH = [1, 1.1, 1.25, 1.5, 2] as const;
const MOST_DEG = 60;
const FIRST_DEG = 30;

type PoseFacts = { stretchMax: number; flips: number; volumeChange: number };

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
  clip: number;
  timeS: number;
  playing: boolean;
  setLook: (l: RigLook) => void;
  setDeg: (d: number) => void;
  setAxis: (a: PoseAxis) => void;
  setClip: (c: number) => void;
  setTime: (s: number) => void;
  play: (on: boolean) => void;
}

/** Shares at which a line is drawn. */
export const LINES = [0.1, 0.25, 0.5, 0.75, 0.9] as const;

const surfaceHeat = (held: Held, positions: ArrayLike<number>, values: ArrayLike<number>, from: readonly number[]): HeatSurface => ({
  positions: Float32Array.from(positions),
  // worked out where it is drawn
  normals: new Float32Array(positions.length),
  triangles: held.surface.triangles,
  colors: depthColors(values, from),
});

const atRest = new WeakMap<Held['surface'], Pick<HeatSurface, 'positions' | 'normals'>>();
/** Places and normals of the shape at rest: under a brush the same at every moment. */
function restOf({ surface }: Held): Pick<HeatSurface, 'positions' | 'normals'> {
  const known = atRest.get(surface) ?? { positions: Float32Array.from(surface.positions), normals: Float32Array.from(normalsOf(surface)) };
  atRest.set(surface, known);
  return known;
}

/** Depths of one bone, with their lines. */
function depths(held: Held, bone: number): { heat: HeatSurface; facts: null; lines: number[][] } {
  const shares = sharesOf(held, bone);
  const { positions, triangles } = held.surface;
  const lines = contours(positions, triangles, shares, LINES);
  const heat = { ...restOf(held), triangles, colors: depthColors(shares, SHARES), lines: Float32Array.from(lines.flat()) };
  return { heat, facts: null, lines };
}

/** No depth anywhere. */
const flat = (held: Held) => new Float32Array(held.surface.piece.length);

/** The surface as a clip has it at a time. */
function placesAt(held: Held, model: Model, clip: number, timeS: number): Float32Array {
  const out = new Float32Array(held.surface.positions.length);
  posedPrimitives(model, poseAt(model, clip, timeS)).forEach(({ positions }, d) => {
    held.surface.sources[d].vertices.forEach((v, i) => {
      for (let k = 0; k < 3; k++) out[v * 3 + k] = positions[i * 3 + k];
    });
  });
  return out;
}

/** Of its height: as far as this a figure rises in its picture before that goes along. */
const RISES = 0.04;

/** Moved back over the ground by what its middle has gone from where it rests, and down where it climbs: pictures go along with a figure. */
export function alongWith(rest: ArrayLike<number>, positions: Float32Array): Float32Array {
  const mid = (of: ArrayLike<number>, k: number) => {
    let sum = 0;
    for (let i = k; i < of.length; i += 3) sum += of[i];
    return sum / (of.length / 3);
  };
  for (const k of [0, 2]) {
    const gone = mid(positions, k) - mid(rest, k);
    for (let i = k; i < positions.length; i += 3) positions[i] -= gone;
  }
  const [, low, , , high] = boxOf(rest);
  const over = boxOf(positions)[4] - high - RISES * (high - low);
  if (over > 0) for (let i = 1; i < positions.length; i += 3) positions[i] -= over;
  return positions;
}

/** A weighting as one bone of it is looked at; null: it has no such bone. */
function tested(held: Held, bone: number, look: RigLook, axis: PoseAxis, deg: number) {
  if (!held.bones[bone]) return null;
  if (look === 'weights') return depths(held, bone);
  const posed = poseOne(held.surface, held.bones, held.binding, bone, axis, deg);
  const heat = surfaceHeat(held, posed.positions, posed.stretch, STRETCH);
  return { heat: { ...heat, ghost: { positions: Float32Array.from(held.surface.positions), triangles: heat.triangles } }, facts: posed };
}

/**
 * @param bone place of the chosen bone; −1 of none
 * @param painter whose weights are looked at
 */
export function useTester(model: Model | null, bone: number, look: RigLook, setLook: Tester['setLook'], painter: Painter): Tester {
  const [deg, setDeg] = useState(FIRST_DEG);
  const [axis, setAxis] = useState<PoseAxis>('bend');
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
  // what does not play is not worked out anew at every moment
  const moment = look === 'motion' ? timeS : 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is held is painted in place
  const shown = useMemo(() => {
    if (held && model && look === 'motion')
      return model.clips[clip]
        ? {
            heat: surfaceHeat(held, alongWith(held.surface.positions, placesAt(held, model, clip, moment)), flat(held), SHARES),
            facts: null,
          }
        : null;
    return held && tested(held, bone, look, axis, deg);
  }, [held, version, model, bone, look, axis, deg, clip, moment]);
  const name = held?.bones[bone]?.name;
  const before = useMemo(() => {
    if (!kept || name === undefined || look === 'motion' || look === 'shape') return null;
    const then = tested(
      kept,
      kept.bones.findIndex((b) => b.name === name),
      look,
      axis,
      deg,
    );
    return then && { heat: then.heat, facts: then.facts, lines: 'lines' in then ? then.lines : null };
  }, [kept, name, look, axis, deg]);
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
    clip,
    timeS,
    playing,
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
        {(look === 'weights' || look === 'pose') && (
          <PickField
            label="Bone"
            value={bones[bone] ?? ''}
            options={[...(bone < 0 ? [['', 'Choose a bone'] as const] : []), ...bones.map((b) => [b, jointWords(b)] as const)]}
            onChange={onBone}
          />
        )}
        {look === 'pose' && <PickField label="Turned" value={axis} options={AXES} onChange={tester.setAxis} />}
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
          <ArcDial label="Turn of the bone, degrees" value={deg} most={MOST_DEG} onChange={tester.setDeg} />
          <span className="num text-[15px] pb-1">{deg}°</span>
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
      {(look === 'weights' || look === 'pose') && (
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
