/** The left half of the base body: laid, relaxed on its surface, faces turned outwards. Millimetres. About 4 s, once. */
import type { FormBase } from '../basemesh';
import { add, cross, dot, mix, mul, sub, type Vec3 } from '../vec';
import { buildLeg } from './leg';
import { buildArm, buildHand } from './limb';
import type { HalfMesh, VertexInfo } from './mesh';
import { grad, toSurface } from './sculpt';
import { buildTorso } from './torso';

/** The half with the rows of vertices that later steps need by name. */
export interface HalfBody extends HalfMesh {
  /** Rows of the torso; row 0 is the head form's ring. */
  R: number[][];
  armR: number[][];
  palm: number[][];
  /** Thumb first. */
  tips: number[];
  /** Front, middle, back of the crotch. */
  crotch: number[];
  legR: number[][];
  footRows: number[][];
}

const pinned = (o: VertexInfo) => o.head !== undefined;

/** Share of the way to the middle of its neighbours that a vertex goes in one pass. */
function softness(o: VertexInfo): number {
  if (o.finger !== undefined) return 0.08;
  if (o.kind === 'root' || o.kind === 'web') return 0.12;
  if (o.part === 'hand') return 0.22;
  if (o.part === 'foot') return o.kind === 'cap' ? 0.25 : (o.row ?? 0) <= 11 ? 0.4 : 0.12;
  return 0.5;
}

/** Tangential relaxation with re-projection. */
function relax(B: HalfBody, passes: number): void {
  const { P, info, faces } = B;
  const near = P.map(() => new Set<number>());
  for (const { v } of faces)
    v.forEach((a, k) => {
      const b = v[(k + 1) % v.length];
      near[a].add(b);
      near[b].add(a);
    });
  for (let it = 0; it < passes; it++) {
    const moved = P.map((from, v): Vec3 => {
      const o = info[v];
      if (pinned(o)) return from;
      let c: Vec3 = [0, 0, 0];
      let s = 0;
      for (const b of near[v]) {
        const k = o.mid && !info[b].mid ? 2 : 1;
        c = add(c, mul(P[b], k));
        s += k;
      }
      c = mul(c, 1 / s);
      if (o.mid) c[0] = 0;
      let d = mul(sub(c, from), softness(o));
      const g = grad(from);
      if (o.mid) g[0] = 0;
      d = sub(d, mul(g, dot(d, g) / (dot(g, g) || 1)));
      const p = add(from, d);
      if (o.flat) p[1] = o.flat;
      const q = toSurface(p, 2, !!o.flat, 3);
      if (o.mid) q[0] = 0;
      return q;
    });
    moved.forEach((p, v) => {
      P[v] = p;
    });
  }
  P.forEach((p, v) => {
    if (!pinned(info[v])) P[v] = toSurface(p, 5, !!info[v].flat, 2);
  });
  // the very end of the toes: plain smoothing
  for (let it = 0; it < 4; it++) {
    const moved = new Map<number, Vec3>();
    info.forEach((o, v) => {
      if (o.part !== 'foot' || !(o.kind === 'cap' || (o.row ?? 0) >= 17)) return;
      const l = [...near[v]].map((b) => P[b]);
      moved.set(v, mix(P[v], mul(l.reduce(add), 1 / l.length), o.row === 17 ? 0.2 : 0.45));
    });
    for (const [v, p] of moved) P[v] = [p[0], Math.max(p[1], 0.6), p[2]];
  }
}

export function buildHalfBody(head: FormBase): HalfBody {
  const h: HalfMesh = { P: [], info: [], faces: [] };
  const R = buildTorso(h, head);
  const armR = buildArm(h, R);
  const { palm, tips } = buildHand(h, armR[armR.length - 1]);
  const B: HalfBody = { ...h, R, armR, palm, tips, ...buildLeg(h, R) };
  relax(B, 24);
  for (const q of B.faces) {
    const p = q.v.map((v) => B.P[v]);
    const n = p.length === 4 ? cross(sub(p[2], p[0]), sub(p[3], p[1])) : cross(sub(p[1], p[0]), sub(p[2], p[0]));
    if (dot(n, grad(mul(p.reduce(add), 1 / p.length))) >= 0) continue;
    q.v.reverse();
    q.uv.reverse();
  }
  return B;
}
