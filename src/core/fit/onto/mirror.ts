/** Planes that a thing is its own mirror image across, found from its surface alone. */
import { Vector3 } from 'three';
import { eigenSymmetric } from '../../math/similarity';
import type { Thing } from './thing';

export interface Mirror {
  /** Unit; the plane is where `normal · p = offset`. */
  normal: Vector3;
  offset: number;
  /** How far its mirror image lies beside it on the mean, as a share of its size. */
  skew: number;
}

/** Places asked about a candidate, and about what is refined. */
const [FEW, MANY] = [100, 200];
/** From about this on it does not matter how far: it has no counterpart. */
const APART = 0.04;
/** What pairs may lie apart at first. */
const REACH = 0.15;
/** Axes whose spreads differ by less may be any two that span the same. */
const ALIKE = 1.35;
const STEP_RAD = Math.PI / 36;
/** Planes nearer to each other are one. */
const SAME = 0.99;
const MOST = 4;
const ROUNDS = 20;

const [p, q] = [/* @__PURE__ */ new Vector3(), /* @__PURE__ */ new Vector3()];

type Away = (p: Vector3) => number;
const exactly =
  (thing: Thing): Away =>
  (at) =>
    thing.away(at, REACH);

function skewAcross(thing: Thing, normal: Vector3, offset: number, asked: number, away = exactly(thing)): number {
  let sum = 0;
  const step = Math.floor(thing.count / asked);
  for (let i = 0; i < asked; i++) {
    p.fromArray(thing.points, i * step * 3);
    p.addScaledVector(normal, 2 * (offset - p.dot(normal)));
    const d = away(p);
    sum += d / (d + APART);
  }
  return (sum / asked) * APART;
}

/** Puts the plane where places and the nearest to their mirror images lie the same way apart, again and again. */
function refined(thing: Thing, from: Mirror): Mirror {
  const normal = from.normal.clone();
  let offset = from.offset;
  const step = Math.floor(thing.count / MANY);
  let near = REACH;
  for (let round = 0; round < ROUNDS; round++) {
    const across = [0, 1, 2].map(() => [0, 0, 0]);
    let [along, n] = [0, 0];
    const mid = new Vector3();
    let left = 0;
    for (let i = 0; i < MANY; i++) {
      p.fromArray(thing.points, i * step * 3);
      const there = p.clone().addScaledVector(normal, 2 * (offset - p.dot(normal)));
      thing.nearest(there, q);
      const d = q.distanceTo(there);
      left += Math.min(d, near);
      if (d > near) continue;
      const by = q.clone().sub(p);
      for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) across[r][c] += by.getComponent(r) * by.getComponent(c);
      mid.add(q).add(p);
      n++;
    }
    if (n < 10) break;
    const { vectors } = eigenSymmetric(across);
    const next = new Vector3(vectors[0][0], vectors[1][0], vectors[2][0]);
    if (next.dot(normal) < 0) next.negate();
    along = mid.divideScalar(2 * n).dot(next);
    const moved = next.distanceTo(normal) + Math.abs(along - offset);
    normal.copy(next);
    offset = along;
    // what has no counterpart tells nothing of where the plane is
    near = Math.min(near, Math.max(0.004, (4 * left) / MANY));
    if (moved < 1e-6) break;
  }
  return { normal, offset, skew: skewAcross(thing, normal, offset, MANY) };
}

/** Where what is asked about lies least beside its mirror image, by ever smaller steps: what is round in itself tells an iteration nothing. */
function settled(thing: Thing, from: Mirror, steps: readonly number[], away: Away): Mirror {
  let best = { ...from, skew: skewAcross(thing, from.normal, from.offset, MANY, away) };
  for (const step of steps)
    for (let moved = true, n = 0; moved && n < ROUNDS; n++) {
      moved = false;
      const u = new Vector3().crossVectors(best.normal, Math.abs(best.normal.x) < 0.7 ? X : Y).normalize();
      const v = new Vector3().crossVectors(best.normal, u);
      for (const [a, b, c] of MOVES) {
        const normal = best.normal
          .clone()
          .addScaledVector(u, a * step)
          .addScaledVector(v, b * step)
          .normalize();
        const offset = best.offset + c * step;
        const skew = skewAcross(thing, normal, offset, MANY, away);
        if (skew >= best.skew) continue;
        best = { normal, offset, skew };
        moved = true;
      }
    }
  return best;
}
const [X, Y] = [new Vector3(1, 0, 0), new Vector3(0, 1, 0)];
/** Steps told by a grid, and by the surface itself. */
const ROUGH_STEPS = [0.06, 0.03, 0.015];
const FINE_STEPS = [0.012, 0.005, 0.002, 0.0007];
const MOVES = [
  [1, 0, 0],
  [-1, 0, 0],
  [0, 1, 0],
  [0, -1, 0],
  [0, 0, 1],
  [0, 0, -1],
];
/** Something on one side draws the middle away by up to this. */
const OFFSETS = [-0.05, 0, 0.05];
/** Under this it is its own mirror image, and nothing better is looked for. */
const ALL_ALIKE = 0.004;
const DIRECTIONS = 400;
/** So many are looked into roughly, and of these finely. */
const [ROUGHLY, FINELY] = [24, 4];

/** Directions of half a sphere, evenly (Fibonacci's lattice). */
function directions(): Vector3[] {
  return Array.from({ length: DIRECTIONS }, (_, i) => {
    const y = (i + 0.5) / DIRECTIONS;
    const a = i * Math.PI * (3 - Math.sqrt(5));
    const r = Math.sqrt(1 - y * y);
    return new Vector3(r * Math.cos(a), y, r * Math.sin(a));
  });
}

/** The planes it is most alike across, the best first. */
export function mirrorsOf(thing: Thing): Mirror[] {
  const [a, b, c] = thing.axes;
  const tries = [a, b, c].map((v) => v.clone());
  for (const [i, j] of [
    [0, 1],
    [1, 2],
    [0, 2],
  ]) {
    if (thing.spreads[i] > ALIKE * thing.spreads[j]) continue;
    for (let t = STEP_RAD; t < Math.PI - STEP_RAD / 2; t += STEP_RAD)
      tries.push(thing.axes[i].clone().multiplyScalar(Math.cos(t)).addScaledVector(thing.axes[j], Math.sin(t)));
  }
  const quick = distinct(tries.map((normal) => ({ normal, offset: 0, skew: skewAcross(thing, normal, 0, FEW) }))).map((m) =>
    refined(thing, m),
  );
  const found = distinct(quick);
  if (found[0].skew < ALL_ALIKE) return found;
  // something on one side of it leads axes and middle astray
  const near = thing.near();
  const roughly: Away = (q) => near.away(q.x, q.y, q.z);
  const all = directions().flatMap((normal) =>
    OFFSETS.map((offset) => ({ normal, offset, skew: skewAcross(thing, normal, offset, MANY, roughly) })),
  );
  const rough = distinct(all, ROUGHLY).map((m) => settled(thing, m, ROUGH_STEPS, roughly));
  const fine = distinct(rough, FINELY).map((m) => settled(thing, m, FINE_STEPS, exactly(thing)));
  return distinct([...fine, ...found]);
}

/** The best of them, none twice. */
function distinct(all: readonly Mirror[], most = MOST): Mirror[] {
  const out: Mirror[] = [];
  for (const m of [...all].sort((x, y) => x.skew - y.skew))
    if (out.length < most && out.every((o) => Math.abs(o.normal.dot(m.normal)) < SAME)) out.push(m);
  return out;
}
