/**
 * Fields of the FACS action units on the base mesh (Ekman & Friesen; numbers from memory), blended smoothly over the midline. What they
 * do to a form is in `facemotion`.
 */
import type { BaseMesh, ExpressionFields } from './basemesh';
import { EYE } from './eyeball';
import { cheekUp, cornerDown, cornerShare, lipsTogether, noseUp } from './faceshapes';
import { RG } from './half';
import { lidCurve, MH } from './template';
import { gauss, lerp, smooth, spline, sub } from './vec';

/** How far each column of the lid rim turns about the eyeball when shut, radians, and where it meets, mm. */
function lidAngles(b: BaseMesh): { a: number[]; y: number[] } {
  const r = b.half.eyeRings[7],
    m = r.length,
    h = m / 2,
    o: number[] = [],
    ys: number[] = [];
  for (let k = 0; k < m; k++) {
    const t = (k <= h ? k : m - k) / h,
      up = lidCurve(t, true),
      lo = lidCurve(t, false);
    const q = sub(b.pos[r[k]], EYE.c);
    const yc =
        lerp(lo[1], up[1], 0.16 + 0.34 * Math.pow(1 - Math.sin(Math.PI * t), 2)) -
        EYE.c[1] +
        (k === 0 || k === h ? 0 : k < h ? 0.08 : -0.08),
      R2 = q[1] * q[1] + q[2] * q[2];
    ys.push(yc);
    o.push(Math.atan2(yc, Math.sqrt(Math.max(1, R2 - yc * yc))) - Math.atan2(q[1], q[2]));
  }
  o[0] = o[h] = 0;
  return { a: o, y: ys };
}

export function expressionFields(b: BaseMesh): ExpressionFields {
  const n = b.pos.length,
    edge = lidAngles(b),
    F: ExpressionFields = {
      jaw: new Float64Array(n),
      brow: new Float64Array(n),
      low: new Float64Array(n * 3),
      smile: new Float64Array(n * 3),
      blink: new Float64Array(n),
      upperLid: new Float64Array(n),
      cheek: new Float64Array(n * 3),
      nose: new Float64Array(n * 3),
      corner: new Float64Array(n * 3),
      pucker: new Float64Array(n * 3),
      left: new Float64Array(n),
      side: Int8Array.from(b.pos, (p, v) => (b.side[v] === 0 ? 0 : p[0] < 0 ? -1 : 1)),
      still: new Uint8Array(n),
      ball: Uint8Array.from(b.region, (r) => (r === RG.eye ? 1 : 0)),
      weld: Int32Array.from(b.weld),
    };
  const rU = spline([
      [0, 0],
      [0.22, 0.02],
      [0.42, 0.14],
      [0.58, 0.36],
      [0.71, 0.62],
      [0.81, 0.82],
      [0.9, 0.94],
      [1, 1],
    ]),
    rL = spline([
      [0, 0],
      [0.42, 0.1],
      [0.71, 0.45],
      [0.9, 0.9],
      [1, 1],
    ]);
  for (let v = 0; v < n; v++) {
    const p = b.pos[v],
      x = Math.abs(p[0]),
      y = p[1],
      z = p[2],
      t = b.tag[v],
      r = b.region[v];
    F.left[v] = smooth(-7, 7, p[0]);
    if (r === RG.eye || r === RG.cut) {
      continue;
    }
    if (t?.feature === 'eye') {
      F.blink[v] = edge.a[t.k] * (t.up ? rU(t.s) : rL(t.s));
      if (t.inner && t.k % 14) {
        // inner rims close on their own, slightly shorter, arc; the innermost one stays inside the ball
        const i1 = b.half.eyeRings[8][t.k],
          e = b.pos[b.half.eyeRings[7][t.k]],
          q = sub(b.pos[i1], EYE.c),
          f = Math.min(1, Math.hypot(q[0], q[1]) / Math.hypot(e[0] - EYE.c[0], e[1] - EYE.c[1])),
          yc = edge.y[t.k] * f + (t.up ? 0.06 : -0.06);
        F.blink[v] =
          t.inner === 2 ? 0 : Math.atan2(yc, Math.sqrt(Math.max(0.5, q[1] * q[1] + q[2] * q[2] - yc * yc))) - Math.atan2(q[1], q[2]);
      }
    }
    // jaw drop
    const d = (z - 12) * -0.4865 + (y + 2) * -0.8737;
    const h = lerp(7, 24, smooth(8, 48, x));
    let W = smooth(-h, h, d);
    if (t?.feature === 'mouth') {
      const up = t.k > MH;
      const q = Math.abs(t.k - MH) / MH,
        lip = t.k === MH ? 0.42 : up ? 0.42 * Math.pow(1 - q, 2.2) : 1 - 0.58 * Math.pow(1 - q, 2.2);
      const w = t.s >= 0 ? 1 : smooth(-1, -0.15, t.s);
      let l = lip;
      if (t.s === 2) l = lerp(lip, 0.5, smooth(6, 34, t.dz) * 0.55);
      if (t.s === 3) l = 0.45;
      W = lerp(W, l, w);
    }
    const q = (z - 12) * -0.457 + (y + 62) * -0.889;
    W *= (1 - smooth(6, 48, q)) * smooth(-22, 22, z) * (r === RG.ear ? 0 : 1);
    W *= 1 - smooth(46, 66, x) * 0.6;
    F.jaw[v] = W;
    const lidFree = t?.feature === 'eye' ? 1 - smooth(0.25, 0.6, t.s) : 1,
      front = smooth(35, 60, z);
    // brow raise: band over the brow, long fade up the forehead
    const by = lerp(37, 41, gauss(x - 30, 18)),
      dyb = y - by;
    F.brow[v] = front * lidFree * (dyb > 0 ? gauss(dyb, 27) : gauss(dyb, 11)) * smooth(70, 48, x);
    // brow lower and draw together
    const wl = front * lidFree * (dyb > 0 ? gauss(dyb, 15) : gauss(dyb, 11));
    const inn = gauss(x - 14, 16),
      all = gauss(x - 20, 26);
    F.low.set(
      [-3.0 * wl * inn * smooth(0, 10, x), -5.2 * wl * all, wl * (1.3 * gauss(x - 12, 9) - 1.6 * gauss(x - 4.5, 3) * gauss(y - 38, 9))],
      v * 3,
    );
    // smile: corner up, out and back; cheek bunches; nasolabial fold deepens
    const { side: g, up: gy } = cornerShare(b, v);
    const mouthInside = t?.feature === 'mouth' && t.s >= 0;
    const ck = gauss(Math.hypot(x - 40, y + 18, (z - 72) * 0.8), 20);
    const fold = gauss(Math.hypot((x - 30) * 1.6, (y + 36) * 0.55, 0), 10) * smooth(60, 75, z);
    const lift = mouthInside ? 0 : 1;
    F.smile.set(
      [6.2 * g + 1.2 * ck * lift, 5.4 * gy + 4.4 * ck * lift * lidFree, -3.6 * gy + 3.4 * ck * lift * lidFree - 1.7 * fold * lift],
      v * 3,
    );
    if (t?.feature === 'eye' && t.up) F.upperLid[v] = F.blink[v];
    if (r !== RG.ear) {
      F.cheek.set(cheekUp(b, v), v * 3);
      F.nose.set(noseUp(b, v, F.jaw[v]), v * 3);
      F.corner.set(cornerDown(b, v), v * 3);
      F.pucker.set(lipsTogether(b, v), v * 3);
    }
  }
  for (let v = 0; v < n; v++) F.still[v] = isStill(F, v) ? 1 : 0;
  return F;
}

/** Bells have no end: what is less than this is nothing, mm. */
const NOTHING_MM = 0.005;
function isStill(F: ExpressionFields, v: number): boolean {
  if (F.ball[v] || F.blink[v] !== 0) return false;
  // a jaw and a brow move by some millimetres where their share is whole
  if (Math.max(Math.abs(F.jaw[v]) * 25, F.brow[v] * 7) > NOTHING_MM) return false;
  return [F.low, F.smile, F.cheek, F.nose, F.corner, F.pucker].every((f) => Math.hypot(f[v * 3], f[v * 3 + 1], f[v * 3 + 2]) <= NOTHING_MM);
}
