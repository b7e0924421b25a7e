/** From presses or from the shape alone to bones and weights: what a rig of chains consists of. */
import { boxOf } from '../math/box';
import { type Bone, type Home, ROOT } from './bone';
import { type ChainPlan, chainPlans, MOST_BONES, proposedBones, strayOf } from './chain';
import { type ChainChange, type ChainChanges, changeChains, type LaidChain } from './changes';
import { bodyMiddle, FOUND_BY, findLimbs } from './limbs';
import { lengthOf, lineBetween, type MiddleLine, middleLine, needSurface, RigError, type Vec } from './middle';
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
  /** The name it was found under; parts of a chain that was parted have the same. */
  found: string;
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

/** Of the shape's diagonal: mirrored chains are as near as this to be twins. */
const TWIN = 0.03;

/** Chains between presses. @throws {RigError} as `middleLine`, or a number of bones that no chain has */
export function rigChains(
  surface: Surface,
  asked: readonly ChainAsked[],
  weights: WeightMethod | 'auto' = 'auto',
  changes: ChainChanges = {},
): Rig {
  const home: Home = new Int32Array(surface.piece.length).fill(-1);
  return put(surface, layPressed(surface, [], asked, home), home, weights, 'two presses each', changes);
}

/**
 * A chain in every limb, and others between presses.
 * @throws {RigError} `rig/no-limbs` nothing of it is long; as `rigChains`
 */
export function rigLimbs(
  surface: Surface,
  weights: WeightMethod | 'auto' = 'auto',
  { asked = [], changes = {} }: { asked?: readonly ChainAsked[]; changes?: ChainChanges } = {},
): Rig {
  needSurface(surface);
  const limbs = findLimbs(surface);
  if (limbs.length === 0)
    throw new RigError('rig/no-limbs', 'Nothing of this shape is long enough for a chain. Press a root and a tip where one is to be.');
  const home: Home = new Int32Array(surface.piece.length).fill(-1);
  limbs.forEach((limb, i) => {
    for (const v of limb.vertices) home[v] = i;
  });
  const traced = limbs.map((limb) => lineBetween(surface, limb.root, limb.tip));
  const twins = twinsOf(surface, traced);
  const names = namesOf(surface, traced, twins);
  const lines = evenTwins(surface, traced, twins);
  const found = limbs.map((limb, i) => ({ key: names[i], line: lines[i], from: limb.from, bones: null }));
  const how = asked.length > 0 ? `${FOUND_BY}; others by two presses each` : FOUND_BY;
  return put(surface, [...found, ...layPressed(surface, found, asked, home)], home, weights, how, changes);
}

/** Chains between presses beside those that are there. Each hangs from the one that its root lies on. */
function layPressed(surface: Surface, others: readonly LaidChain[], asked: readonly ChainAsked[], home: Home): LaidChain[] {
  const keys = others.map((c) => c.key);
  const own = asked.map((c, i): LaidChain => {
    const line = middleLine(surface, c.root, c.tip);
    for (const v of alongLine(surface, line)) home[v] = others.length + i;
    const wanted = c.name ?? `limb ${keys.length + 1}`;
    let key = wanted;
    // a chain is known by its name
    for (let n = 2; keys.includes(key); n++) key = `${wanted} ${n}`;
    keys.push(key);
    return { key, line, from: -1, bones: c.bones };
  });
  const all = [...others, ...own];
  own.forEach((c, i) => {
    const me = others.length + i;
    const root = c.line.points[0];
    let least = 1;
    all.forEach((o, k) => {
      if (k === me) return;
      const share = liesOn(o.line, root, c.line.lengthM * BESIDE);
      // two that begin in one place hang side by side
      if (share < least && o.from !== me) [least, c.from] = [share, k];
    });
  });
  return own;
}

/** Half widths that a limb is thick where another leaves it; of a chain's own length, how far beyond that its root may be pressed. */
const ON = 1.6;
const BESIDE = 0.2;
/** Share of a chain at its root from which nothing hangs. */
const BEYOND_ROOT = 0.1;

/** How far beside a limb a point lies, as a share of what counts as on it; 1: not on it. */
function liesOn({ points, radii }: MiddleLine, p: Vec, besideM: number): number {
  let share = 1;
  for (let i = Math.ceil(points.length * BEYOND_ROOT); i < points.length; i++) {
    const far = Math.hypot(points[i][0] - p[0], points[i][1] - p[1], points[i][2] - p[2]);
    share = Math.min(share, Math.max(0, far - radii[i] * ON) / (besideM || 1e-9));
  }
  return share;
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

const median = (list: readonly number[]) => [...list].sort((a, b) => a - b)[list.length >> 1] ?? 0;

function put(
  surface: Surface,
  found: readonly LaidChain[],
  where: Home,
  weights: WeightMethod | 'auto',
  how: string,
  changes: ChainChanges,
): Rig {
  const { chains, home } = changeChains(found, where, changes);
  if (chains.length === 0) throw new RigError('rig/no-limbs', 'All chains are struck. Keep one, or take the bones away.');
  const middle = bodyMiddle(surface, home);
  const mean = chains.reduce((s, c) => s + c.line.lengthM, 0) / chains.length;
  const bones: Bone[] = [{ name: ROOT, parent: -1, head: middle, tail: [middle[0], middle[1] + mean / 4, middle[2]], limb: -1 }];
  const names = new Set<string>();
  const laid: { own: number[]; parts: RiggedChain[] }[] = [];
  // parents come before children
  const lay = (limb: number): void => {
    if (laid[limb]) return;
    const c = chains[limb];
    if (c.from >= 0) lay(c.from);
    const change = changes[c.key] ?? {};
    const { joints, plans, strayMm } = jointsOf(c, change);
    const from = c.from >= 0 ? nearestOf(bones, laid[c.from].own, joints[0]) : 0;
    const count = joints.length - 1;
    const cuts = [0, ...new Set(change.cuts?.filter((k) => k > 0 && k < count).sort((a, b) => a - b)), count];
    const own: number[] = [];
    const parts: RiggedChain[] = [];
    for (let part = 0; part + 1 < cuts.length; part++) {
      const name = unlike(names, part === 0 ? (change.name ?? c.key) : `${change.name ?? c.key} ${'abcdefghijklmnopqrstuvwxyz'[part]}`);
      for (let k = cuts[part]; k < cuts[part + 1]; k++) {
        const parent = k === 0 ? from : bones.length - 1;
        const first = k === cuts[part];
        const chain = first ? { chain: { found: c.key, joint: k } } : {};
        const stray = k === 0 && cuts.length === 2 ? { strayMm: plans.map((p, i) => to100(i === count - 1 ? strayMm : p.strayMm)) } : {};
        own.push(bones.length);
        bones.push({ name: `${name}.${k - cuts[part] + 1}`, parent, head: joints[k], tail: joints[k + 1], limb, ...chain, ...stray });
      }
      const of = own.slice(cuts[part]).map((i) => bones[i].name);
      parts.push({ name, found: c.key, bones: of, line: c.line, plans, strayMm, from: c.from });
    }
    laid[limb] = { own, parts };
  };
  chains.forEach((_, limb) => void lay(limb));
  const binding = bind(surface, bones, weights, home);
  ride(surface, home, binding);
  return { bones, chains: laid.flatMap((l) => l.parts), binding, found: how };
}

const to100 = (x: number) => Math.round(x * 100) / 100;

/** A name that no other has. */
function unlike(names: Set<string>, wanted: string): string {
  let name = wanted;
  for (let n = 2; names.has(name); n++) name = `${wanted} ${n}`;
  names.add(name);
  return name;
}

/** Where the joints of a chain stand: as its line asks, but for those put by hand. @throws {RigError} more bones than a chain has */
function jointsOf({ line, bones }: LaidChain, { jointsM = {} }: ChainChange): { joints: Vec[]; plans: ChainPlan[]; strayMm: number } {
  const radius = median(line.radii);
  const plans = chainPlans(line, MOST_BONES, radius);
  const count = bones ?? proposedBones(plans, line.lengthM, radius);
  const plan = plans[count - 1];
  if (!plan) throw new RigError('rig/bones', `A chain has 1 to ${plans.length} bones, not ${count}.`);
  const joints = plan.joints.map((j, k) => jointsM[k] ?? j);
  return { joints, plans, strayMm: joints.some((j, k) => j !== plan.joints[k]) ? strayOf(line, joints) : plan.strayMm };
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

const endsOf = ({ points }: MiddleLine) => [points[0], points[points.length - 1]];

/** Of each line the one that mirrors it about the shape's middle plane, −1 none. */
function twinsOf(surface: Surface, lines: readonly MiddleLine[]): number[] {
  const box = boxOf(surface.positions);
  const [low, high] = [box[0], box[3]];
  const near = diagonal(box) * TWIN;
  const ends = lines.map(endsOf);
  const twin = ends.map((a, i) =>
    ends.findIndex((b, j) => j !== i && a.every((p, k) => Math.hypot(low + high - p[0] - b[k][0], p[1] - b[k][1], p[2] - b[k][2]) < near)),
  );
  return twin.map((other, i) => (other >= 0 && twin[other] === i ? other : -1));
}

/** Of its length: twins whose lines lie nearer than this to one another's mirror image are one line, seen twice. */
const ONE_LINE = 0.05;

/** Lines of twins as the mean of both, so that bones and weights mirror where the shape does. */
function evenTwins(surface: Surface, lines: readonly MiddleLine[], twins: readonly number[]): MiddleLine[] {
  const box = boxOf(surface.positions);
  const over = box[0] + box[3];
  const mirrored = (p: Vec): Vec => [over - p[0], p[1], p[2]];
  const out = [...lines];
  twins.forEach((other, i) => {
    if (other <= i) return;
    const [a, b] = [lines[i], lines[other]];
    const back = b.points.map(mirrored);
    if (back.length !== a.points.length) return;
    const apart = Math.max(...a.points.map((p, k) => Math.hypot(p[0] - back[k][0], p[1] - back[k][1], p[2] - back[k][2])));
    if (apart > ONE_LINE * Math.min(a.lengthM, b.lengthM)) return;
    const points = a.points.map((p, k): Vec => [(p[0] + back[k][0]) / 2, (p[1] + back[k][1]) / 2, (p[2] + back[k][2]) / 2]);
    const radii = a.radii.map((r, k) => (r + b.radii[k]) / 2);
    const lengthM = lengthOf(points);
    out[i] = { ...a, points, radii, lengthM };
    out[other] = { ...b, points: points.map(mirrored), radii, lengthM };
  });
  return out;
}

/** `limb 1` …; twins have one number, with `.L` (+X) and `.R`. */
function namesOf(surface: Surface, lines: readonly MiddleLine[], twin: readonly number[]): string[] {
  const box = boxOf(surface.positions);
  const [low, high] = [box[0], box[3]];
  const ends = lines.map(endsOf);
  let count = 0;
  const names: string[] = [];
  lines.forEach((_, i) => {
    if (names[i]) return;
    const number = `limb ${++count}`;
    const other = twin[i] > i ? twin[i] : -1;
    const left = ends[i][1][0] > (low + high) / 2;
    names[i] = other < 0 ? number : `${number}.${left ? 'L' : 'R'}`;
    if (other >= 0) names[other] = `${number}.${left ? 'R' : 'L'}`;
  });
  return names;
}
