/**
 * Expressions by FACS action units (Ekman & Friesen; numbers from memory): fields on the base mesh, blended
 * smoothly over the midline. The lids turn about the eyeball, the jaw about its hinge.
 */
import type { BaseMesh, ExpressionFields, FormBase } from './basemesh';
import { RG } from './half';
import { EYE } from './sculpt';
import { lidCurve, MH } from './template';
import { clamp, D2R, gauss, lerp, smooth, spline, sub, type Vec3 } from './vec';

export const ACTION_UNITS = ['AU1_2_L', 'AU1_2_R', 'AU4_L', 'AU4_R', 'AU12_L', 'AU12_R', 'AU26', 'AU45_L', 'AU45_R'] as const;
export type ActionUnit = (typeof ACTION_UNITS)[number];
type BothSides = 'AU1_2' | 'AU4' | 'AU12' | 'AU45';
/** Weights 0..1; a name without side stands for both sides. */
export type Expression = Partial<Record<ActionUnit | BothSides, number>>;

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
      left: new Float64Array(n),
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
    const c = [26, -51, 88],
      dc = Math.hypot(x - c[0], (y - c[1]) * 1.05, (z - c[2]) * 0.8);
    let g = gauss(dc, 17) * smooth(0, 16, x),
      gy = g;
    const mouthInside = t?.feature === 'mouth' && t.s >= 0;
    if (mouthInside) {
      const u = Math.sin(((1 - Math.abs(t.k - MH) / MH) * Math.PI) / 2);
      g = u;
      gy = Math.pow(u, 2.6) - 0.06 * (1 - u);
      if (t.s >= 2) {
        g *= 0.8;
        gy *= 0.8;
      }
    }
    const ck = gauss(Math.hypot(x - 40, y + 18, (z - 72) * 0.8), 20);
    const fold = gauss(Math.hypot((x - 30) * 1.6, (y + 36) * 0.55, 0), 10) * smooth(60, 75, z);
    const lift = mouthInside ? 0 : 1;
    F.smile.set(
      [6.2 * g + 1.2 * ck * lift, 5.4 * gy + 4.4 * ck * lift * lidFree, -3.6 * gy + 3.4 * ck * lift * lidFree - 1.7 * fold * lift],
      v * 3,
    );
  }
  return F;
}
function weights(e: Expression): Record<ActionUnit, number> {
  const w = {} as Record<ActionUnit, number>;
  for (const k of ACTION_UNITS) {
    const s = k.replace(/_[LR]$/, '') as BothSides;
    w[k] = clamp(e[k] ?? e[s] ?? 0, 0, 1);
  }
  return w;
}
const JAW_DEG = 12.5;
/** Applies an expression to warped positions (flat, mm), in place. `scale` is the head length over the base's; `eyeShift` the eye's warp. */
export function applyExpression(b: FormBase, pos: Float64Array, e: Expression, scale: number, eyeShift: Vec3): void {
  const w = weights(e);
  if (!ACTION_UNITS.some((k) => w[k])) return;
  const F = b.fields,
    n = b.pos.length,
    ed = eyeShift;
  for (let v = 0; v < n; v++) {
    const l = F.left[v],
      i = v * 3,
      sx = b.pos[v][0] < 0 ? -1 : 1;
    const two = (k: BothSides) => w[`${k}_L`] * l + w[`${k}_R`] * (1 - l);
    const bl = two('AU45');
    if (bl && F.blink[v]) {
      const a = F.blink[v] * bl,
        cy = EYE.c[1] + ed[1],
        cz = EYE.c[2] + ed[2],
        y = pos[i + 1] - cy,
        z = pos[i + 2] - cz,
        c = Math.cos(a),
        s = Math.sin(a);
      pos[i + 1] = cy + y * c + z * s;
      pos[i + 2] = cz - y * s + z * c;
    }
    const br = two('AU1_2') * F.brow[v];
    if (br) {
      pos[i + 1] += 6.5 * br * scale;
      pos[i + 2] -= 1.2 * br * scale;
    }
    const lo = two('AU4');
    if (lo) {
      pos[i] += sx * F.low[i] * lo * scale;
      pos[i + 1] += F.low[i + 1] * lo * scale;
      pos[i + 2] += F.low[i + 2] * lo * scale;
    }
    const sm = two('AU12');
    if (sm) {
      pos[i] += sx * F.smile[i] * sm * scale;
      pos[i + 1] += F.smile[i + 1] * sm * scale;
      pos[i + 2] += F.smile[i + 2] * sm * scale;
    }
    const j = w.AU26 * F.jaw[v];
    if (j) {
      const a = JAW_DEG * D2R * j,
        c = Math.cos(a),
        s = Math.sin(a),
        y = pos[i + 1] + 2,
        z = pos[i + 2] - 12;
      pos[i + 1] = -2 + y * c - z * s - 2 * j * scale;
      pos[i + 2] = 12 + z * c + y * s + 5 * j * scale;
    }
    if (b.side[v] === 0) pos[i] = 0;
  }
}
