/**
 * Weights painted on the surface: strokes that give to a bone, take from it, even out or sharpen what there is. A stroke is the record of
 * what it changed, so that each is undone by itself; nothing here is in a document until it is taken from a painting (`patchOf`).
 */
import type { Held } from '../held';
import type { Vec } from '../middle';
import { nearestVertex } from '../surface';
import { mirrorOf } from './mirror';
import { reachedFrom } from './reach';
import { setShares } from './shares';
import { type Shares, sharesAt } from './write';

export const BRUSHES = ['add', 'take', 'smooth', 'sharpen'] as const;
export type BrushKind = (typeof BRUSHES)[number];

export interface Brush {
  kind: BrushKind;
  /** Place of the bone among the painting's; smooth and sharpen are of all bones. */
  bone: number;
  radiusM: number;
  /** Share that one stroke gives or takes in its middle, how far it evens out: 0 … 1. */
  strength: number;
  /** The same on the other side, to the bone of the other side. */
  mirrored: boolean;
  /** Places of bones whose shares stay as they are. */
  kept: ReadonlySet<number>;
}

/** What a vertex follows, bit by bit: a file may hold shares that ours would round. */
interface Row {
  bones: Uint16Array;
  shares: Float32Array;
}
interface Stroke {
  /** By vertex. */
  before: Map<number, Row>;
  after: Map<number, Row>;
}

export interface Painting {
  /** Its binding is the painting's own. */
  held: Held;
  strokes: Stroke[];
  undone: Stroke[];
}

const FOUR = 4;
/** Of the radius: as far apart lie the dabs of a stroke, however fast it is drawn. */
const SPACING = 0.25;
/** A dab of sharpening leads as far away from the neighbours' mean as one of smoothing leads there. */
const DAB_SHARE = 0.5;

export const beginPainting = (held: Held): Painting => ({
  held: { ...held, binding: { bones: held.binding.bones.slice(), shares: held.binding.shares.slice() } },
  strokes: [],
  undone: [],
});

const rowAt = ({ bones, shares }: Held['binding'], v: number): Row => ({
  bones: bones.slice(v * FOUR, v * FOUR + FOUR),
  shares: shares.slice(v * FOUR, v * FOUR + FOUR),
});

/** Kept bones first, then the greatest, four in all. */
function put(held: Held, v: number, shares: Shares, kept: ReadonlySet<number>): void {
  const most = shares
    .filter(([, w]) => w > 0)
    .sort((a, b) => Number(kept.has(b[0])) - Number(kept.has(a[0])) || b[1] - a[1])
    .slice(0, FOUR);
  if (most.length > 0) setShares(held.binding, v, most);
}

/** The shares with those of kept bones as they were, the others in proportion in what these leave; as it was where nothing may change. */
function keeping(own: Shares, next: Shares, kept: ReadonlySet<number>): Shares {
  if (kept.size === 0) return next;
  const still = own.filter(([b]) => kept.has(b));
  const room = 1 - still.reduce((s, [, w]) => s + w, 0);
  const free = next.filter(([b, w]) => !kept.has(b) && w > 0);
  const sum = free.reduce((s, [, w]) => s + w, 0);
  if (sum <= 0) return own;
  return [...still, ...free.map(([b, w]): [number, number] => [b, (w / sum) * room])];
}

/** The bone's share, the others that may change in proportion; what held the vertex alone gives to its parent. */
function given(own: Shares, bone: number, share: number, parent: number, kept: ReadonlySet<number>): Shares {
  if (kept.has(bone)) return own;
  const still = own.filter(([b]) => kept.has(b));
  const room = 1 - still.reduce((s, [, w]) => s + w, 0);
  const others = own.filter(([b]) => b !== bone && !kept.has(b));
  const sum = others.reduce((s, [, w]) => s + w, 0);
  const mine = Math.min(Math.max(share, 0), room);
  if (sum > 0) return [...still, [bone, mine], ...others.map(([b, w]): [number, number] => [b, (w / sum) * (room - mine)])];
  if (parent < 0 || kept.has(parent)) return [...still, [bone, room]];
  return [...still, [bone, mine], [parent, room - mine]];
}

/** One stroke while it is drawn. */
export class Stroking {
  /** The weights it began with, and what of them it may have changed. */
  private readonly start: Held['binding'];
  private readonly touched = new Set<number>();
  /** How much of the stroke has reached a vertex: add and take do not heap up under a hand that rests. */
  private readonly reached = [new Map<number, number>(), new Map<number, number>()];
  private readonly imageOf;
  private last: Vec | null = null;
  /** By bone, nought but while a vertex is reckoned; and which are not. */
  private readonly sum: Float64Array;
  private readonly seen: number[] = [];

  constructor(
    private readonly painting: Painting,
    private readonly brush: Brush,
  ) {
    const { bones, shares } = painting.held.binding;
    this.start = { bones: bones.slice(), shares: shares.slice() };
    this.sum = new Float64Array(painting.held.bones.length);
    this.imageOf = brush.mirrored ? mirrorOf(painting.held) : null;
  }

  /** On to a place of the surface, metres of the model. */
  to(at: Vec): void {
    const { last } = this;
    const gap = this.brush.radiusM * SPACING;
    const far = last ? Math.hypot(at[0] - last[0], at[1] - last[1], at[2] - last[2]) : 0;
    if (last && far < gap) return;
    const dabs = last ? Math.floor(far / gap) : 1;
    for (let i = 1; i <= dabs; i++) {
      const t = last ? (i * gap) / far : 1;
      const p = last ? ([0, 1, 2].map((k) => last[k] + t * (at[k] - last[k])) as Vec) : at;
      this.dab(p);
      this.last = p;
    }
  }

  /** What it changed is one step of the painting; false: it changed nothing. */
  end(): boolean {
    if (this.touched.size === 0) return false;
    const rows = (of: Held['binding']) => new Map([...this.touched].map((v) => [v, rowAt(of, v)]));
    this.painting.strokes.push({ before: rows(this.start), after: rows(this.painting.held.binding) });
    this.painting.undone.length = 0;
    return true;
  }

  private dab(at: Vec): void {
    const { held } = this.painting;
    const { kind, bone } = this.brush;
    const name = kind === 'add' || kind === 'take' ? held.bones[bone].name : null;
    const image = this.imageOf?.(at, name);
    this.dabAt(at, bone, 0);
    if (image) this.dabAt(image.atM, image.bone === null ? bone : held.bones.findIndex((b) => b.name === image.bone), 1);
  }

  private dabAt(at: Vec, bone: number, side: number): void {
    const { held } = this.painting;
    const { surface, binding } = held;
    const { kind, radiusM, strength, kept } = this.brush;
    const seed = nearestVertex(surface, at);
    if (seed < 0) return;
    const reached = reachedFrom(surface, seed, at, radiusM);
    for (const v of [...reached.keys()]) if (binding.shares[v * FOUR] === 0) reached.delete(v);
    for (const v of reached.keys()) this.touched.add(v);
    if (kind === 'add' || kind === 'take') {
      const sign = kind === 'add' ? 1 : -1;
      for (const [v, r] of reached) {
        if (r <= (this.reached[side].get(v) ?? 0)) continue;
        this.reached[side].set(v, r);
        // where both sides meet, both have reached it
        const own = sharesAt(side === 1 && this.reached[0].has(v) ? binding : this.start, v);
        const had = own.find(([b]) => b === bone)?.[1] ?? 0;
        put(held, v, given(own, bone, had + sign * strength * r, held.bones[bone].parent, kept), kept);
      }
      return;
    }
    const by = (kind === 'smooth' ? 1 : -1) * DAB_SHARE * strength;
    const next = [...reached].map(([v, r]) => [v, this.led(v, by * r)] as const);
    for (const [v, shares] of next) put(held, v, keeping(sharesAt(binding, v), shares, kept), kept);
  }

  /** So far towards the mean of the neighbours, or away from it. */
  private led(v: number, by: number): Shares {
    const { surface, binding } = this.painting.held;
    const { bones, shares } = binding;
    const { sum, seen } = this;
    const [from, to] = [surface.start[v], surface.start[v + 1]];
    let near = 0;
    for (let e = from; e < to; e++) if (shares[surface.to[e] * FOUR] > 0) near++;
    if (near === 0) return sharesAt(binding, v);
    const add = (u: number, k: number, grows: boolean) => {
      for (let i = u * FOUR; i < u * FOUR + FOUR; i++) {
        if (!(shares[i] > 0)) continue;
        const b = bones[i];
        // sharpened, nothing grows there that was not
        if (sum[b] === 0 && !grows) continue;
        if (sum[b] === 0) seen.push(b);
        sum[b] += shares[i] * k;
      }
    };
    add(v, 1 - by, true);
    for (let e = from; e < to; e++) add(surface.to[e], by / near, by > 0);
    const out: Shares = [];
    for (const b of seen) {
      if (sum[b] > 0) out.push([b, sum[b]]);
      sum[b] = 0;
    }
    seen.length = 0;
    return out;
  }
}

const putBack = ({ held }: Painting, rows: Map<number, Row>) => {
  for (const [v, row] of rows) {
    held.binding.bones.set(row.bones, v * FOUR);
    held.binding.shares.set(row.shares, v * FOUR);
  }
};

/** false: there is none. */
export function undoStroke(painting: Painting): boolean {
  const stroke = painting.strokes.pop();
  if (!stroke) return false;
  putBack(painting, stroke.before);
  painting.undone.push(stroke);
  return true;
}
export function redoStroke(painting: Painting): boolean {
  const stroke = painting.undone.pop();
  if (!stroke) return false;
  putBack(painting, stroke.after);
  painting.strokes.push(stroke);
  return true;
}

/** What was painted is kept elsewhere: there is nothing to undo or to keep any more. */
export function settlePainting(painting: Painting): void {
  painting.strokes.length = 0;
  painting.undone.length = 0;
}

/** The strokes on other weights of the same shape, bones by their names; null where the shape or a painted bone is another. */
export function carryPainting({ held, strokes }: Painting, to: Held): Painting | null {
  const [was, is] = [held.surface.positions, to.surface.positions];
  if (was.length !== is.length || was.some((x, i) => x !== is[i])) return null;
  const bone = held.bones.map((b) => to.bones.findIndex((o) => o.name === b.name));
  const next = beginPainting(to);
  for (const stroke of strokes) {
    const before = new Map<number, Row>();
    const after = new Map<number, Row>();
    for (const [v, row] of stroke.after) {
      if (row.bones.some((b, k) => row.shares[k] > 0 && bone[b] < 0)) return null;
      before.set(v, rowAt(next.held.binding, v));
      after.set(v, { shares: row.shares, bones: row.bones.map((b, k) => (row.shares[k] > 0 ? bone[b] : 0)) });
    }
    putBack(next, after);
    next.strokes.push({ before, after });
  }
  return next;
}

/** Part of a surface with what it follows: triangles of which a corner was painted. Arrays may be sent to a thread. */
export interface WeightPatch {
  positions: Float32Array;
  triangles: Uint32Array;
  bones: { name: string; head: Vec }[];
  /** Four a vertex. */
  joints: Uint16Array;
  shares: Float32Array;
}

/** null where the strokes that stand changed nothing. */
export function patchOf({ held, strokes }: Painting): WeightPatch | null {
  const { surface, bones, binding } = held;
  const painted = new Set(strokes.flatMap((s) => [...s.after.keys()]));
  const place = new Map<number, number>();
  const triangles: number[] = [];
  const take = (v: number) => {
    const known = place.get(v) ?? place.size;
    place.set(v, known);
    triangles.push(known);
  };
  for (let t = 0; t < surface.triangles.length; t += 3) {
    const corners = surface.triangles.subarray(t, t + 3);
    if (corners.some((v) => painted.has(v))) corners.forEach(take);
  }
  if (triangles.length === 0) return null;
  const all = [...place.keys()];
  const row = <T extends Float32Array | Uint16Array>(out: T, from: ArrayLike<number>, width: number): T => {
    all.forEach((v, i) => {
      for (let k = 0; k < width; k++) out[i * width + k] = from[v * width + k];
    });
    return out;
  };
  return {
    positions: row(new Float32Array(all.length * 3), surface.positions, 3),
    triangles: Uint32Array.from(triangles),
    bones: bones.map(({ name, head }) => ({ name, head })),
    joints: row(new Uint16Array(all.length * FOUR), binding.bones, FOUR),
    shares: row(new Float32Array(all.length * FOUR), binding.shares, FOUR),
  };
}
