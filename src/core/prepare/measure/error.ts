/** Visible error of a prepared model against its original: measured, and as the one number that is made small. */
import { Vector3 } from 'three';
import { THRESHOLDS, type VisibleError } from '../terms';
import { REFERENCE_M, VIEW_RING } from '../viewing';
import { cornersOf, directedDistance, farthest, placesOf, type Samples, type Surface, sampleShape, surfaceOf } from './distance';
import type { Camera } from './raster';
import { type Pose, type Shape, shapeBox } from './shape';
import { type GreyStats, greyStats, ssim } from './ssim';
import type { MipTexture } from './texture';
import { drawView, type View } from './view';
import { ringOf } from './views';
import { isSeen, lookout } from './visible';

/** The terms of E, each over its threshold. @param distanceM from how far the model is looked at */
export function errorTerms(e: VisibleError, distanceM: number): Record<keyof typeof THRESHOLDS, number> {
  const near = REFERENCE_M / distanceM;
  return {
    meanMm: (e.meanMm * near) / THRESHOLDS.meanMm,
    maxMm: (e.maxMm * near) / THRESHOLDS.maxMm,
    normalDeg: e.normalDeg / THRESHOLDS.normalDeg,
    silhouette: e.silhouette / THRESHOLDS.silhouette,
    ssimLoss: (1 - e.ssimWorst) / THRESHOLDS.ssimLoss,
  };
}

/** E = max(meanMm/0.2, maxMm/1, normalDeg/5, silhouette/0.005, (1 − ssimWorst)/0.02), millimetres scaled to half a metre; E ≤ 1 is "not seen". */
export const errorOf = (e: VisibleError, distanceM: number): number => Math.max(...Object.values(errorTerms(e, distanceM)));

const SAMPLES = 12_000;
/** Vertices the greatest distance is looked for at as well. */
const CORNERS = 8_000;
/** In a pose every so manieth of them. */
const fewer = (vertices: Uint32Array) => vertices.filter((_, i) => i % 3 === 0);
const [SEED_BEFORE, SEED_AFTER] = [11, 23];

/** The original, read once for many comparisons. */
export interface Reference {
  shape: Shape;
  surface: Surface | null;
  samples: Samples;
  /** Numbers of vertices that can be seen, and their places, three numbers each. */
  corners: Uint32Array;
  places: Float32Array;
  /** The surface as its clips bend it, by the pose's name. */
  poses: Map<string, { surface: Surface | null; places: Float32Array }>;
  cameras: Camera[];
  views: View[];
  stats: GreyStats[];
  /** Pixels that count: covered or beside what is covered. */
  masks: Uint8Array[];
}

/** Pixels within five of a covered one: the window of the similarity reaches that far. */
function around(cover: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(cover.length);
  const run = (from: Uint8Array, to: Uint8Array, step: number, length: number, lines: number, jump: number) => {
    for (let l = 0; l < lines; l++) {
      let left = 0;
      for (let i = 0; i < length + 5; i++) {
        if (i < length && from[l * jump + i * step]) left = 11;
        if (left > 0 && i >= 5) to[l * jump + (i - 5) * step] = 1;
        if (left > 0) left--;
      }
    }
  };
  const rows = new Uint8Array(cover.length);
  run(cover, rows, 1, width, height, width);
  run(rows, out, width, height, width, 1);
  return out;
}

function keepSamples(s: Samples, keep: (i: number) => boolean): Samples {
  const list: number[] = [];
  for (let i = 0; i < s.count; i++) if (keep(i)) list.push(i);
  if (list.length === s.count) return s;
  const pick = (from: Float32Array) => Float32Array.from(list.flatMap((i) => [from[i * 3], from[i * 3 + 1], from[i * 3 + 2]]));
  return { count: list.length, points: pick(s.points), normals: pick(s.normals) };
}

/** What can be seen of a shape, as samples: what lies inside costs bytes and shows nothing. */
function seenSamples(shape: Shape, seed: number): Pick<Reference, 'samples' | 'corners'> {
  const all = sampleShape(shape, SAMPLES, seed);
  if (all.count === 0) return { samples: all, corners: new Uint32Array() };
  const look = lookout(shape);
  const [p, q] = [all.points, shape.positions];
  return {
    samples: keepSamples(all, (i) => isSeen(look, p[i * 3], p[i * 3 + 1], p[i * 3 + 2])),
    corners: cornersOf(shape, CORNERS).filter((v) => isSeen(look, q[v * 3], q[v * 3 + 1], q[v * 3 + 2])),
  };
}

const bentBy = (shape: Shape, corners: Uint32Array): Reference['poses'] =>
  new Map(
    shape.poses.map(({ name, positions }: Pose) => [
      name,
      { surface: surfaceOf({ ...shape, positions }), places: placesOf(positions, fewer(corners)) },
    ]),
  );

/** The same original, to which what bends is compared as another shape bends: for what comes after bones were merged. */
export const bentLike = (ref: Reference, shape: Shape): Reference => ({ ...ref, poses: bentBy(shape, cornersOf(shape, CORNERS)) });

/**
 * @param textures decoded, by their number in the document
 * @param distanceM from how far it is looked at, metres
 */
export function makeReference(shape: Shape, textures: readonly (MipTexture | null)[], distanceM: number): Reference {
  const cameras = shape.triangles.length > 0 ? ringOf(shapeBox(shape), distanceM) : [];
  const views = cameras.map((c) => drawView(shape, textures, c));
  const { samples, corners } = seenSamples(shape, SEED_BEFORE);
  return {
    shape,
    surface: surfaceOf(shape),
    samples,
    corners,
    places: placesOf(shape.positions, corners),
    poses: bentBy(shape, corners),
    cameras,
    views,
    stats: views.map((v) => greyStats(v.luma, v.width, v.height)),
    masks: views.map((v) => around(v.cover, v.width, v.height)),
  };
}

export interface ShapeError {
  meanMm: number;
  maxMm: number;
  normalDeg: number;
}

/**
 * The greatest distance found at vertices, both ways, at rest and as the clips bend both, metres.
 * @param surface of `after`; it is left bent
 */
function cornersApart(ref: Reference, after: Shape, surface: Surface | null): number {
  const own = cornersOf(after, CORNERS);
  let most = Math.max(farthest(ref.places, surface), farthest(placesOf(after.positions, own), ref.surface));
  for (const { name, positions } of after.poses) {
    const pose = ref.poses.get(name);
    if (!pose) continue;
    surface?.tree.move(positions);
    most = Math.max(most, farthest(pose.places, surface), farthest(placesOf(positions, fewer(own)), pose.surface));
  }
  return most;
}

const thinned = new WeakMap<Samples, Map<number, Samples>>();
/** Every `step`-th sample; asked for again and again. */
function thin(s: Samples, step: number): Samples {
  if (step === 1) return s;
  const had = thinned.get(s) ?? new Map<number, Samples>();
  thinned.set(s, had);
  const made = had.get(step) ?? keepSamples(s, (i) => i % step === 0);
  had.set(step, made);
  return made;
}

/**
 * Distance and normals both ways. Where nothing is left, everything is off by the size of the model.
 * @param step looks at every so manieth sample: for a first look
 */
export function measureShape(ref: Reference, after: Shape, step = 1): ShapeError {
  const surface = surfaceOf(after);
  const there = directedDistance(thin(ref.samples, step), surface);
  const back = directedDistance(sampleShape(after, ref.samples.count > 0 ? Math.ceil(SAMPLES / step) : 0, SEED_AFTER), ref.surface);
  const all = sizeOf(ref.shape);
  // a first look goes by its samples alone
  const whole = step === 1 && ref.samples.count > 0;
  const corners = whole ? cornersApart(ref, after, surface) : 0;
  return {
    meanMm: Math.min(all, Math.max(there.meanM, back.meanM)) * 1000,
    maxMm: Math.min(all, Math.max(there.maxM, back.maxM, corners)) * 1000,
    normalDeg: Math.max(there.normalDeg, back.normalDeg),
  };
}

export interface PictureError {
  silhouette: number;
  ssimWorst: number;
  worstView: string;
  /** Number of the worst view in the ring, −1 without views. */
  worst: number;
  /** Numbers of the views, the one that shows most first. */
  byLoss: number[];
}

/**
 * Views of the ring before and after.
 * @param only numbers of the views that are looked at, in this order; left out, all
 * @param enough asked after each view: true ends it, for what was seen so far is all one wants to know
 */
export function measureViews(
  ref: Reference,
  after: Shape,
  textures: readonly (MipTexture | null)[],
  only?: readonly number[],
  enough: (soFar: PictureError) => boolean = () => false,
): PictureError {
  const out: PictureError = { silhouette: 0, ssimWorst: 1, worstView: '', worst: -1, byLoss: [] };
  const looks = only ?? ref.cameras.map((_, i) => i);
  const similarity = new Map<number, number>();
  for (const i of looks) {
    const camera = ref.cameras[i];
    const [a, b] = [ref.views[i], drawView(after, textures, camera)];
    let [changed, covered] = [0, 0];
    const mask = ref.masks[i].slice();
    for (let p = 0; p < a.cover.length; p++) {
      covered += a.cover[p];
      changed += Math.abs(a.cover[p] - b.cover[p]);
      if (b.cover[p]) mask[p] = 1;
    }
    out.silhouette = Math.max(out.silhouette, changed / Math.max(1, covered));
    const s = ssim(ref.stats[i], greyStats(b.luma, b.width, b.height), a.width, a.height, mask);
    similarity.set(i, s);
    if (s < out.ssimWorst || out.worst < 0) {
      out.ssimWorst = s;
      out.worst = i;
      out.worstView = VIEW_RING[i].name;
    }
    if (enough(out)) break;
  }
  out.byLoss = [...similarity.keys()].sort((p, q) => (similarity.get(p) ?? 1) - (similarity.get(q) ?? 1));
  return out;
}

/** Everything that E is made of; both lie in the same place. */
export function measureError(ref: Reference, after: Shape, textures: readonly (MipTexture | null)[]): VisibleError {
  const { meanMm, maxMm, normalDeg } = measureShape(ref, after);
  const { silhouette, ssimWorst, worstView } = measureViews(ref, after, textures);
  return { meanMm, maxMm, normalDeg, silhouette, ssimWorst, worstView };
}

/** Diagonal of what is drawn, metres. */
export const sizeOf = (shape: Shape): number => {
  const { min, max } = shapeBox(shape);
  return new Vector3().subVectors(max, min).length();
};
