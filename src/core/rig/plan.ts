/** From presses or from the shape alone to bones and weights: what a rig of chains consists of. */
import { boxOf } from '../math/box';
import type { Bone, Home } from './bone';
import { type ChainPlan, chainPlans, proposedBones } from './chain';
import { bodyMiddle, FOUND_BY, findLimbs } from './limbs';
import { lineBetween, type MiddleLine, middleLine, needSurface, RigError, type Vec } from './middle';
import { boxesOf, diagonal, type Surface } from './surface';
import { type Binding, bind, type WeightMethod } from './weights/bind';

export interface ChainAsked {
  /** Presses, metres of the model. */
  root: Vec;
  tip: Vec;
  /** null: as many as the line asks for. */
  bones: number | null;
  name?: string;
}

export interface RiggedChain {
  name: string;
  /** Names of its bones, root first. */
  bones: string[];
  line: MiddleLine;
  /** Of 1, 2, 3 … bones: how far they stray. */
  plans: ChainPlan[];
  strayMm: number;
  /** Chain it branches off; −1: the root. */
  from: number;
}

export interface Rig {
  bones: Bone[];
  chains: RiggedChain[];
  binding: Binding;
  /** How chains were come by, in words. */
  found: string;
}

export const ROOT = 'root';
/** Of the shape's diagonal: mirrored chains are as near as this to be twins. */
const TWIN = 0.03;

/** Chains between presses. @throws {RigError} as `middleLine`, or a number of bones that no chain has */
export function rigChains(surface: Surface, asked: readonly ChainAsked[], weights: WeightMethod | 'auto' = 'auto'): Rig {
  const lines = asked.map((c) => middleLine(surface, c.root, c.tip));
  const home: Home = new Int32Array(surface.piece.length).fill(-1);
  lines.forEach((line, limb) => {
    for (const v of alongLine(surface, line)) home[v] = limb;
  });
  return put(
    surface,
    lines.map((line, i) => ({ line, from: -1, bones: asked[i].bones, name: asked[i].name ?? null })),
    home,
    weights,
    'two presses each',
  );
}

/** A chain in every limb. @throws {RigError} `rig/no-limbs` nothing of it is long */
export function rigLimbs(surface: Surface, weights: WeightMethod | 'auto' = 'auto'): Rig {
  needSurface(surface);
  const limbs = findLimbs(surface);
  if (limbs.length === 0)
    throw new RigError('rig/no-limbs', 'Nothing of this shape is long enough for a chain. Press a root and a tip where one is to be.');
  const home: Home = new Int32Array(surface.piece.length).fill(-1);
  limbs.forEach((limb, i) => {
    for (const v of limb.vertices) home[v] = i;
  });
  const chains = limbs.map((limb) => ({ line: lineBetween(surface, limb.root, limb.tip), from: limb.from, bones: null, name: null }));
  return put(surface, chains, home, weights, FOUND_BY);
}

/** What lies along a line as far out as its limb is thick, joined to its tip. */
function alongLine(surface: Surface, line: MiddleLine): number[] {
  const n = line.points.length;
  const place = (v: number): { first: boolean; far: number; thick: number } => {
    let [best, far] = [0, Infinity];
    const p = [0, 1, 2].map((k) => surface.positions[v * 3 + k]);
    for (let i = 0; i < n; i++) {
      const d = Math.hypot(...line.points[i].map((x, k) => x - p[k]));
      if (d < far) [best, far] = [i, d];
    }
    return { first: best === 0, far, thick: line.radii[best] };
  };
  const own = new Int8Array(surface.piece.length).fill(-1);
  const isOwn = (v: number) => {
    if (own[v] < 0) {
      const { first, far, thick } = place(v);
      const behind = first && ahead(surface, v, line) < 0;
      own[v] = !behind && far < thick * 2.5 + 1e-6 ? 1 : 0;
    }
    return own[v] === 1;
  };
  let tip = -1;
  let least = Infinity;
  const end = line.points[n - 1];
  for (let v = 0; v < surface.piece.length; v++) {
    const d = Math.hypot(...end.map((x, k) => x - surface.positions[v * 3 + k]));
    if (d < least) [tip, least] = [v, d];
  }
  const out = [tip];
  const seen = new Set(out);
  for (let i = 0; i < out.length; i++)
    for (let e = surface.start[out[i]]; e < surface.start[out[i] + 1]; e++) {
      const v = surface.to[e];
      if (seen.has(v) || !isOwn(v)) continue;
      seen.add(v);
      out.push(v);
    }
  return out;
}

/** How far a vertex lies beyond the line's beginning, in its direction, metres. */
function ahead(surface: Surface, v: number, line: MiddleLine): number {
  const [a, b] = [line.points[0], line.points[Math.min(2, line.points.length - 1)]];
  return [0, 1, 2].reduce((s, k) => s + (surface.positions[v * 3 + k] - a[k]) * (b[k] - a[k]), 0);
}

interface Put {
  line: MiddleLine;
  from: number;
  bones: number | null;
  name: string | null;
}

const median = (list: readonly number[]) => [...list].sort((a, b) => a - b)[list.length >> 1] ?? 0;

function put(surface: Surface, chains: readonly Put[], home: Home, weights: WeightMethod | 'auto', found: string): Rig {
  const names = namesOf(surface, chains);
  const middle = bodyMiddle(surface, home);
  const mean = chains.reduce((s, c) => s + c.line.lengthM, 0) / chains.length;
  const bones: Bone[] = [{ name: ROOT, parent: -1, head: middle, tail: [middle[0], middle[1] + mean / 4, middle[2]], limb: -1 }];
  const places: number[][] = [];
  const out = chains.map((c, limb): RiggedChain => {
    const plans = chainPlans(c.line);
    const count = c.bones ?? proposedBones(plans, c.line.lengthM, median(c.line.radii));
    const plan = plans[count - 1];
    if (!plan) throw new RigError('rig/bones', `A chain has 1 to ${plans.length} bones, not ${count}.`);
    const own: number[] = [];
    for (let k = 0; k < count; k++) {
      own.push(bones.length);
      const parent = k > 0 ? bones.length - 1 : c.from >= 0 ? nearestOf(bones, places[c.from], plan.joints[0]) : 0;
      const strayMm = k === 0 ? { strayMm: plans.map((p) => Math.round(p.strayMm * 100) / 100) } : {};
      bones.push({ name: `${names[limb]}.${k + 1}`, parent, head: plan.joints[k], tail: plan.joints[k + 1], limb, ...strayMm });
    }
    places.push(own);
    return { name: names[limb], bones: own.map((i) => bones[i].name), line: c.line, plans, strayMm: plan.strayMm, from: c.from };
  });
  const binding = bind(surface, bones, weights, home);
  ride(surface, home, binding);
  return { bones, chains: out, binding, found };
}

/** Of the shape's diagonal: a piece as near as this to another sits on it; and a piece that is no longer rides. */
const SITS = 0.02;
const SMALL = 0.25;

/** Rivets, buttons and bubbles stay as they are: a small piece that is no limb follows, whole, the vertex it sits on. */
export function ride(surface: Surface, home: Home, binding: Binding, less = SMALL): void {
  const { positions, piece, pieces } = surface;
  const boxes = boxesOf(surface);
  const limb = new Uint8Array(pieces);
  const members: number[][] = boxes.map(() => []);
  for (let v = 0; v < piece.length; v++) {
    members[piece[v]].push(v);
    if (home[v] >= 0) limb[piece[v]] = 1;
  }
  const size = diagonal(boxOf(positions));
  const small = boxes.map((b, p) => !limb[p] && diagonal(b) < size * less);
  const seats = members.flatMap((list, p) => (small[p] ? [] : list));
  for (let p = 0; p < pieces; p++) {
    if (!small[p]) continue;
    const [x, y, z] = [0, 1, 2].map((k) => (boxes[p][k] + boxes[p][3 + k]) / 2);
    let [seat, least] = [-1, Infinity];
    for (const v of seats) {
      const d = Math.hypot(positions[v * 3] - x, positions[v * 3 + 1] - y, positions[v * 3 + 2] - z);
      if (d < least) [seat, least] = [v, d];
    }
    if (seat < 0 || least - diagonal(boxes[p]) / 2 > size * SITS) continue;
    for (const v of members[p]) {
      binding.bones.set(binding.bones.slice(seat * 4, seat * 4 + 4), v * 4);
      binding.shares.set(binding.shares.slice(seat * 4, seat * 4 + 4), v * 4);
    }
  }
}

function nearestOf(bones: readonly Bone[], among: readonly number[], p: Vec): number {
  const far = among.map((i) => Math.min(...[bones[i].head, bones[i].tail].map((q) => Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]))));
  return among[far.indexOf(Math.min(...far))];
}

/** `limb 1` …; what mirrors another about the shape's middle plane has its number, with `.L` (+X) and `.R`. */
function namesOf(surface: Surface, chains: readonly Put[]): string[] {
  let [low, high] = [Infinity, -Infinity];
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (let i = 0; i < surface.positions.length; i++) {
    box[i % 3] = Math.min(box[i % 3], surface.positions[i]);
    box[3 + (i % 3)] = Math.max(box[3 + (i % 3)], surface.positions[i]);
  }
  [low, high] = [box[0], box[3]];
  const near = Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]) * TWIN;
  const ends = chains.map(({ line: { points } }) => [points[0], points[points.length - 1]]);
  const twin = ends.map((a, i) =>
    ends.findIndex((b, j) => j !== i && a.every((p, k) => Math.hypot(low + high - p[0] - b[k][0], p[1] - b[k][1], p[2] - b[k][2]) < near)),
  );
  let count = 0;
  const names: string[] = [];
  chains.forEach((c, i) => {
    if (names[i]) return;
    let number = c.name ?? `limb ${++count}`;
    // a bone is known by its name
    for (let n = 2; names.includes(number); n++) number = `${c.name} ${n}`;
    const other = c.name === null && twin[i] > i && twin[twin[i]] === i ? twin[i] : -1;
    const left = ends[i][1][0] > (low + high) / 2;
    names[i] = other < 0 ? number : `${number}.${left ? 'L' : 'R'}`;
    if (other >= 0) names[other] = `${number}.${left ? 'R' : 'L'}`;
  });
  return names;
}
