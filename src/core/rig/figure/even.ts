/** A body that stands evenly has even joints: what voxels and ways leave to chance is evened out about its middle plane. */
import { mirrorName } from '../../words/humanoid';
import type { Vec } from '../middle';
import { add, cross, dot, mix, size, sub, unit } from '../vec';
import type { Placed } from './joints';

/** Shares of the way from head to foot: a joint this near to its pair's image is its twin, a joint of the trunk this near to the plane lies in it. */
const TWIN = 0.03;
/** Of all pairs, so many must be twins: else it does not stand evenly, and all stays as it was found. */
const MOST = 0.75;

/** @param lengthM the way from head to foot */
export function evened(placed: Placed, lengthM: number): Placed {
  const place = new Map(placed.joints.map((j) => [j.name, j.at]));
  const pairs = [...place].flatMap(([name, l]) => {
    const r = name.startsWith('left') ? place.get(mirrorName(name)) : undefined;
    return r ? [{ name, l, r }] : [];
  });
  if (pairs.length === 0) return placed;
  const n = unit(pairs.reduce<Vec>((s, { l, r }) => add(s, sub(l, r)), [0, 0, 0]));
  const d = pairs.reduce((s, { l, r }) => s + dot(mix(l, r, 0.5), n), 0) / pairs.length;
  const image = (p: Vec): Vec => add(p, n, -2 * (dot(p, n) - d));
  const near = lengthM * TWIN;
  const twins = pairs.filter(({ l, r }) => size(sub(l, image(r))) < near);
  if (twins.length < MOST * pairs.length) return placed;
  const even = new Map<string, Vec>();
  for (const { name, l, r } of twins) {
    const left = mix(l, image(r), 0.5);
    even.set(name, left);
    even.set(mirrorName(name), image(left));
  }
  for (const [name, p] of place) {
    const off = dot(p, n) - d;
    if (mirrorName(name) === name && Math.abs(off) < near) even.set(name, add(p, n, -off));
  }
  const joints = placed.joints.map((j) => ({ ...j, at: even.get(j.name) ?? j.at }));
  const at = (name: string) => (joints.find((j) => j.name === name)?.at ?? [0, 0, 0]) as Vec;
  const trunk = sub(at('neck'), at('hips'));
  const up = unit(add(trunk, n, -dot(trunk, n)));
  // as before, but at right angles to the middle plane
  const front = unit(cross(n, up));
  return { ...placed, joints, axes: { ...placed.axes, up, left: n, front } };
}
