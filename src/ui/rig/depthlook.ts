/** What is shown of weights: depths of one bone with their lines, or where the shape stretches in a pose or a clip, measured against rest. */
import { Matrix4 } from 'three';
import { boxOf } from '@/core/math';
import { type LocalPose, type Model, poseAt, posedPrimitives } from '@/core/model';
import { carriedBy, carriesOf, contours, type Held, measurePosed, normalsOf, type Posed, sharesOf } from '@/core/rig';
import type { HeatSurface } from '@/stage';
import { depthColors } from '../kit/depths';

export type RigLook = 'shape' | 'weights' | 'pose' | 'motion';
/** Shares of a bone at which tints begin; and how much longer an edge has become. */
export const SHARES = [0, 0.1, 0.25, 0.5, 0.75] as const;
export const STRETCH = [1, 1.1, 1.25, 1.5, 2] as const;
export type PoseFacts = Pick<Posed, 'stretchMax' | 'flips' | 'areaChange' | 'volumeChange'>;

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

/** The surface in a clip at a time, measured against rest; pictures go along with it. */
export function inClip(held: Held, model: Model, clip: number, timeS: number): { heat: HeatSurface; facts: PoseFacts } {
  const pose = poseAt(model, clip, timeS);
  const posed = measurePosed(held, carriesOf(held, model, pose), placesIn(held, model, pose));
  return { heat: surfaceHeat(held, alongWith(held.surface.positions, posed.positions), posed.stretch, STRETCH), facts: posed };
}

/** The surface as a pose of the model has it. */
function placesIn(held: Held, model: Model, pose: LocalPose): Float64Array {
  const out = new Float64Array(held.surface.positions.length);
  posedPrimitives(model, pose).forEach(({ positions }, d) => {
    held.surface.sources[d].vertices.forEach((v, i) => {
      for (let k = 0; k < 3; k++) out[v * 3 + k] = positions[i * 3 + k];
    });
  });
  return out;
}

/** Of its height: as far as this a figure rises in its picture before that goes along. */
const RISES = 0.04;

/** Moved back over the ground by what its middle has gone from where it rests, and down where it climbs: pictures go along with a figure. */
export function alongWith<T extends Float32Array | Float64Array>(rest: ArrayLike<number>, positions: T): T {
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

/** A weighting in a pose of the whole, of a model whose bones may be in another order. */
export function inPose(held: Held, of: Held, model: Model, pose: LocalPose): Posed {
  const carries = carriesOf(of, model, pose);
  const place = new Map(of.bones.map((b, i) => [b.name, i]));
  const own = held.bones.map((b) => carries[place.get(b.name) ?? -1] ?? new Matrix4());
  return measurePosed(held, own, carriedBy(held, own));
}

/** A weighting as one bone of it is looked at, or as it is posed; null: it has no such bone. */
export function tested(held: Held, bone: number, look: RigLook, pose: (held: Held, bone: number) => Posed | null) {
  if (look === 'weights') return held.bones[bone] ? depths(held, bone) : null;
  const posed = look === 'pose' ? pose(held, bone) : null;
  if (!posed) return null;
  const heat = surfaceHeat(held, posed.positions, posed.stretch, STRETCH);
  return { heat: { ...heat, ghost: { positions: Float32Array.from(held.surface.positions), triangles: heat.triangles } }, facts: posed };
}
