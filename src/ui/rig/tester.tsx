'use client';
/** What a bone holds, as depths on a chart; and what the shape does when it turns, measured against rest. */
import { useMemo, useState } from 'react';
import type { Model } from '@/core/model';
import { type Held, heldBy, type PoseAxis, poseOne, sharesOf } from '@/core/rig';
import type { HeatSurface } from '@/stage';
import { Choice, PickField } from '../kit';
import { depthColors, TINTS } from '../kit/depths';
import { jointWords } from './jointwords';

export type RigLook = 'shape' | 'weights' | 'pose';
const LOOKS = [
  { value: 'shape', label: 'Shape' },
  { value: 'weights', label: 'Weights', title: 'How far each place follows the chosen bone' },
  { value: 'pose', label: 'Pose', title: 'The chosen bone turned, and where the shape stretches' },
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

export interface Tester {
  look: RigLook;
  heat: HeatSurface | undefined;
  facts: { stretchMax: number; flips: number; volumeChange: number } | null;
  deg: number;
  axis: PoseAxis;
  setLook: (l: RigLook) => void;
  setDeg: (d: number) => void;
  setAxis: (a: PoseAxis) => void;
}

const surfaceHeat = (held: Held, positions: ArrayLike<number>, values: ArrayLike<number>, from: readonly number[]): HeatSurface => ({
  positions: Float32Array.from(positions),
  // worked out where it is drawn
  normals: new Float32Array(positions.length),
  triangles: held.surface.triangles,
  colors: depthColors(values, from),
});

/** @param bone place of the chosen bone; −1 of none */
export function useTester(model: Model | null, bone: number): Tester {
  const [look, setLook] = useState<RigLook>('shape');
  const [deg, setDeg] = useState(FIRST_DEG);
  const [axis, setAxis] = useState<PoseAxis>('bend');
  const looks = look !== 'shape';
  const held = useMemo(() => (looks && model ? heldBy(model) : null), [looks, model]);
  const shown = useMemo(() => {
    if (!held?.bones[bone]) return null;
    if (look === 'weights') return { heat: surfaceHeat(held, held.surface.positions, sharesOf(held, bone), SHARES), facts: null };
    const posed = poseOne(held.surface, held.bones, held.binding, bone, axis, deg);
    return { heat: surfaceHeat(held, posed.positions, posed.stretch, STRETCH), facts: posed };
  }, [held, bone, look, axis, deg]);
  return { look, heat: shown?.heat, facts: shown?.facts ?? null, deg, axis, setLook, setDeg, setAxis };
}

export function TesterSheet({
  tester,
  bones,
  bone,
  onBone,
}: {
  tester: Tester;
  bones: readonly string[];
  bone: number;
  onBone: (name: string) => void;
}) {
  const { look, facts, deg, axis } = tester;
  const legend = look === 'weights' ? SHARES.map((s) => `${s * 100} %`) : STRETCH.map((s) => `×${s}`);
  return (
    <section className="mb-2 pb-2 border-b border-[color:var(--hair)]" aria-label="Look at the weights">
      <div className="flex flex-wrap items-center gap-2">
        <Choice label="Shown" options={LOOKS} value={look} onChange={tester.setLook} />
        {look !== 'shape' && (
          <PickField
            label="Bone"
            value={bones[bone] ?? ''}
            options={[...(bone < 0 ? [['', 'Choose a bone'] as const] : []), ...bones.map((b) => [b, jointWords(b)] as const)]}
            onChange={onBone}
          />
        )}
        {look === 'pose' && <PickField label="Turned" value={axis} options={AXES} onChange={tester.setAxis} />}
      </div>
      {look === 'pose' && (
        <label className="flex items-center gap-2 mt-2 text-small">
          <span className="soft">Turn</span>
          <input
            type="range"
            className="flex-1"
            style={{ accentColor: 'var(--brass)' }}
            min={-MOST_DEG}
            max={MOST_DEG}
            step={1}
            value={deg}
            aria-label="Turn of the bone, degrees"
            onChange={(e) => tester.setDeg(Number(e.target.value))}
          />
          <span className="num w-[44px] text-right">{deg}°</span>
        </label>
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
      {facts && (
        <table className="w-full text-small mt-2" aria-label="Against rest">
          <tbody>
            <tr className="border-t border-[color:var(--hair)]">
              <th className="text-left font-normal py-[2px]">Longest edge</th>
              <td className="num text-right">×{facts.stretchMax.toFixed(2)}</td>
            </tr>
            <tr className="border-t border-[color:var(--hair)]">
              <th className="text-left font-normal py-[2px]">Triangles turned over</th>
              <td className="num text-right">{facts.flips}</td>
            </tr>
            <tr className="border-t border-[color:var(--hair)]">
              <th className="text-left font-normal py-[2px]">Volume</th>
              <td className="num text-right">{(facts.volumeChange * 100).toFixed(1)} % off</td>
            </tr>
          </tbody>
        </table>
      )}
    </section>
  );
}
