/** Parts of a body that move whole: a skull does not bend, and a finger never follows the finger beside it, however near that lies. */
import { fingerBones, HUMANOID_FINGERS, mirrorName } from '../../words/humanoid';
import { type Bone, toBone } from '../bone';
import { distancesFrom } from '../geodesic';
import type { Vec } from '../middle';
import type { Surface } from '../surface';
import { add, dot, size, sub, unit } from '../vec';
import type { Binding } from '../weights/bind';
import { setShares } from '../weights/shares';

/** Of the way from a finger’s tip to its root: along the surface it leaves the others a little later, in the palm. */
const STANDS_OUT = 1.1;
const FOUR = 4;
/** A skull with its jaw lies over a plane that falls from the nape towards below the chin by this, degrees (*common practice*). */
const CHIN_DEG = 25;
/** Of the neck's length from the joint that the head turns on: over so much below it the neck gives way to the skull. */
const NAPE = [-0.64, -0.19] as const;
/** Of the head's height: a neck counts as no longer than this, for one that has none would give all of itself to the head. */
const NECK = 0.6;
/** What a head shares with: of arms that are held up to it nothing is taken. */
const TRUNK = ['hips', 'spine', 'chest', 'upperChest', 'neck', 'leftShoulder', 'rightShoulder'];

/** Shares that the trunk has of the skull are the head's. */
export function wholeHead(surface: Surface, bones: readonly Bone[], binding: Binding, front: Vec): void {
  const head = bones.findIndex((b) => b.name === 'head');
  if (head < 0) return;
  const { head: joint, tail } = bones[head];
  const high = size(sub(tail, joint));
  if (!(high > 0)) return;
  const tilt = (CHIN_DEG * Math.PI) / 180;
  const normal = unit(add(add([0, 0, 0], unit(sub(tail, joint)), Math.cos(tilt)), front, Math.sin(tilt)));
  const neck = bones.find((b) => b.name === 'neck');
  const length = Math.min(neck ? size(sub(joint, neck.head)) : Infinity, high * NECK);
  const trunk = new Set(bones.flatMap((b, i) => (TRUNK.includes(b.name) ? [i] : [])));
  for (let v = 0; v < surface.piece.length; v++) {
    const [x, y, z] = surface.positions.subarray(v * 3, v * 3 + 3);
    const over = dot(sub([x, y, z], joint), normal) / length;
    const u = Math.min(1, Math.max(0, (over - NAPE[0]) / (NAPE[1] - NAPE[0])));
    if (u === 0) continue;
    const share = u * u * (3 - 2 * u);
    const shares = new Map<number, number>();
    const give = (bone: number, s: number) => s > 0 && shares.set(bone, (shares.get(bone) ?? 0) + s);
    for (let k = 0; k < FOUR; k++) {
      const [bone, s] = [binding.bones[v * FOUR + k], binding.shares[v * FOUR + k]];
      give(bone, trunk.has(bone) ? s * (1 - share) : s);
      if (trunk.has(bone)) give(head, s * share);
    }
    setShares(binding, v, shares);
  }
}

/** What a finger's vertices have of other fingers' bones goes to what they follow besides. */
export function ownFingers(surface: Surface, bones: readonly Bone[], binding: Binding): void {
  const place = new Map(bones.map((b, i) => [b.name, i]));
  for (const side of ['left', 'right'] as const) {
    const fingers = HUMANOID_FINGERS.flatMap((f) => {
      const own = fingerBones(f).flatMap((n) => place.get(side === 'left' ? n : mirrorName(n)) ?? []);
      if (own.length < 3) return [];
      const long = own.reduce((s, b) => s + size(sub(bones[b].tail, bones[b].head)), 0);
      const { far } = distancesFrom(surface, [nearestVertex(surface, bones[own[2]].tail)]);
      return [{ own, long, far }];
    });
    const others = new Set(fingers.flatMap((f) => f.own));
    for (let v = 0; v < surface.piece.length; v++) {
      // all fingers reach as far as their roots at once, whatever their lengths
      const ahead = fingers.map((f) => f.far[v] - f.long);
      const finger = fingers[ahead.indexOf(Math.min(...ahead))];
      if (finger && finger.far[v] < STANDS_OUT * finger.long) keep(surface, bones, binding, v, finger.own, others);
    }
  }
}

function nearestVertex({ positions }: Surface, [x, y, z]: readonly number[]): number {
  let [best, least] = [-1, Infinity];
  for (let v = 0; v < positions.length / 3; v++) {
    const d = (positions[v * 3] - x) ** 2 + (positions[v * 3 + 1] - y) ** 2 + (positions[v * 3 + 2] - z) ** 2;
    if (d < least) [best, least] = [v, d];
  }
  return best;
}

/** Shares of one vertex without those of other fingers; all of its nearest own bone where nothing else is left. */
function keep(
  surface: Surface,
  bones: readonly Bone[],
  binding: Binding,
  v: number,
  own: readonly number[],
  fingers: ReadonlySet<number>,
): void {
  const at = v * FOUR;
  const strange = [0, 1, 2, 3].filter(
    (k) => binding.shares[at + k] > 0 && fingers.has(binding.bones[at + k]) && !own.includes(binding.bones[at + k]),
  );
  if (strange.length === 0) return;
  const kept = [0, 1, 2, 3]
    .filter((k) => binding.shares[at + k] > 0 && !strange.includes(k))
    .map((k) => ({ bone: binding.bones[at + k], share: binding.shares[at + k] }));
  if (kept.length === 0) {
    const [x, y, z] = surface.positions.subarray(v * 3, v * 3 + 3);
    const far = own.map((b) => toBone(bones[b], x, y, z).far);
    kept.push({ bone: own[far.indexOf(Math.min(...far))], share: 1 });
  }
  setShares(
    binding,
    v,
    kept.map((k) => [k.bone, k.share]),
  );
}
