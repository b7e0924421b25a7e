import { EYE } from '../eyeball';
import { EB, lidCurve } from '../template';
import { add, lerp, mix, mul, norm, smooth, sub, type Vec3 } from '../vec';
import { addVertex, type HalfMesh, perimeter, RG, stitch, tagOf } from './mesh';
import { zTrace } from './zTrace';

/** Eye block: a 28-gon, seven skin and lid rings, the lid rim on the eyeball and its lining. */
export function buildEye(h: HalfMesh): void {
  const { P, eyeRings } = h;
  const per = perimeter(h, EB),
    n = per.length,
    half = n / 2;
  eyeRings.push(per);
  const lid: [number, number][] = [];
  for (let k = 0; k < n; k++) lid.push(k <= half ? lidCurve(k / half, true) : lidCurve((n - k) / half, false));
  const S = [0.22, 0.42, 0.58, 0.71, 0.81, 0.9, 1];
  for (const s of S) {
    const r: number[] = [];
    for (let k = 0; k < n; k++) {
      const o = P[per[k]];
      const x = lerp(o[0], lid[k][0], s),
        y = lerp(o[1], lid[k][1], s);
      let p = zTrace(x, y);
      if (k > 0 && k < half) {
        // upper lid crease
        const w = Math.pow(Math.sin((Math.PI * k) / half), 0.6),
          c = s === 0.58 ? -1.5 : s === 0.71 ? -0.7 : s === 0.42 ? 0.5 : 0;
        p = add(p, [0, 0, c * w]);
      }
      if (s === 1) {
        const q = sub(p, EYE.c);
        p = add(p, mul(norm(q), 0.15));
      }
      r.push(addVertex(h, p, s >= 0.58 ? RG.lid : RG.skin, s >= 0.58, tagOf('eye', { s, k, up: k <= half })));
    }
    stitch(h, eyeRings[eyeRings.length - 1], r);
    eyeRings.push(r);
  }
  const edge = eyeRings[eyeRings.length - 1];
  for (const [R, sh] of [
    [EYE.R + 0.12, 0.6],
    [EYE.R - 1.2, -1.5],
  ]) {
    const r: number[] = [];
    for (let k = 0; k < n; k++) {
      const p = P[edge[k]],
        q = sub(p, EYE.c);
      let o: Vec3;
      const d2 = Math.hypot(q[0], q[1]),
        f = Math.min(1, (q[0] > 0 ? 11.9 : 11.3) / d2),
        qx = q[0] * f,
        qy = q[1] * f; // canthi lie beyond the ball: close onto it
      o = add(EYE.c, [qx, qy, Math.sqrt(Math.max(0, R * R - qx * qx - qy * qy))]);
      if (sh > 0) {
        const w = smooth(9.6, 12.6, d2);
        o = add(mix(o, p, 0.45 * w), [0, 0, -0.5 * w]);
      }
      r.push(addVertex(h, o, RG.lid, true, tagOf('eye', { s: 1, k, up: k <= half, inner: sh > 0 ? 1 : 2 })));
    }
    stitch(h, eyeRings[eyeRings.length - 1], r);
    eyeRings.push(r);
  }
}
