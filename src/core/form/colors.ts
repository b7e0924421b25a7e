/** Clay colours (linear RGB) with a soft warm shade sampled from the implicit surface. */
import type { BaseMesh } from './basemesh';
import { EYE } from './eyeball';
import { RG } from './half';
import { computeNormals } from './normals';
import { sdf } from './sculpt';
import { clamp, gauss, lerp, mix, mul, sat, smooth, type Vec3 } from './vec';

const srgb = (h: number) =>
  [16, 8, 0].map((s) => {
    const c = ((h >> s) & 255) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as Vec3;
const CLAY = srgb(0xe6d1bf),
  LIPC = srgb(0xd2a596),
  BROWC = srgb(0xb59780),
  MOUTHC = srgb(0x3a1f1c),
  EYEC = srgb(0xe6ddd1),
  IRISC = srgb(0xa08c77),
  PUPC = srgb(0x584a40),
  NOSC = srgb(0xa8836f),
  CUTC = srgb(0xd8bda7);
// biome-ignore format: table
const BROW=[[12,38],[20,40.8],[30,43],[40,41.8],[48,38],[53,33.8]];
function brow(p: Vec3): number {
  const x = Math.abs(p[0]);
  if (p[2] < 45 || x > 60) return 0;
  let d = 1e9,
    tt = 0;
  for (let i = 0; i < BROW.length - 1; i++) {
    const a = BROW[i],
      b = BROW[i + 1],
      ux = b[0] - a[0],
      uy = b[1] - a[1],
      t = sat(((x - a[0]) * ux + (p[1] - a[1]) * uy) / (ux * ux + uy * uy));
    const q = Math.hypot(x - a[0] - ux * t, p[1] - a[1] - uy * t);
    if (q < d) {
      d = q;
      tt = (i + t) / (BROW.length - 1);
    }
  }
  return gauss(d, lerp(2.9, 1.6, tt));
}
/** Soft ambient occlusion sampled from the implicit surface, 0 dark .. 1 open. */
export function bakeOcclusion(b: BaseMesh): Float32Array {
  const flat = new Float64Array(b.pos.length * 3);
  b.pos.forEach((p, v) => {
    flat.set(p, v * 3);
  });
  const N = computeNormals(flat, b.indices, b.weld),
    A = new Float32Array(b.pos.length).fill(1);
  for (let v = 0; v < b.halfCount; v++) {
    const t = b.tag[v],
      r = b.region[v],
      p = b.pos[v];
    let a = 0;
    if (t?.feature === 'ear') a = [0, 0, 0.1, 0.05, 0, 0, 0.12, 0.2, 0.1, 0.25, 0.42, 0.5][t.ring === 99 ? 11 : t.ring + 1] ?? 0;
    else if (r === RG.mouth || r === RG.nostril || r === RG.cut) a = r === RG.mouth ? 0.2 : 0.25;
    else {
      let w = 1;
      for (const h of [3, 7, 14, 26]) {
        a += (w * Math.max(0, h - sdf(p[0] + N[v * 3] * h, p[1] + N[v * 3 + 1] * h, p[2] + N[v * 3 + 2] * h))) / h;
        w *= 0.75;
      }
      a = (a / 2.73) * 0.9;
      if (t?.feature === 'mouth') a = Math.min(a, 0.35);
    }
    A[v] = 1 - clamp(a, 0, 0.75);
  }
  for (let v = 0; v < b.halfCount; v++) A[b.mirror[v]] = A[v];
  return A;
}
/** Vertex colours, linear RGB. Also names the brow region. */
export function bakeColors(b: BaseMesh, occlusion: Float32Array): Float32Array {
  const C = new Float32Array(b.pos.length * 3);
  b.pos.forEach((p, v) => {
    let c = CLAY;
    const t = b.tag[v],
      r = b.region[v];
    if (r === RG.eye) {
      const th = t?.th ?? 0;
      c = th < 10 ? PUPC : th < 12.6 ? mix(PUPC, IRISC, 0.5) : th < 28 ? IRISC : th < 30 ? mix(IRISC, EYEC, 0.5) : EYEC;
      if (th >= 24 && th < 29.5) c = mix(c, PUPC, 0.3);
      const ey = p[1] - EYE.c[1],
        ex = Math.abs(Math.abs(p[0]) - EYE.c[0]);
      c = mul(c, lerp(1, 0.72, Math.max(smooth(0.5, 6, ey), 0.7 * smooth(7, 11.5, ex))));
    } else if (r === RG.mouth) c = mix(LIPC, MOUTHC, smooth(2, 10, t?.dz ?? 10));
    else if (r === RG.lips) {
      c = mix(CLAY, LIPC, t?.s === 0 ? 0.5 : 1);
      if (t?.s === 1) c = mix(c, MOUTHC, 0.25);
    } else if (r === RG.nostril) c = NOSC;
    else if (r === RG.cut) c = CUTC;
    else {
      const w = brow(p);
      if (w > 0.45 && r === RG.skin) b.region[v] = RG.brow;
      c = mix(CLAY, BROWC, 0.27 * w);
      if (t?.feature === 'eye' && t.up && t.s === 1)
        c = mix(c, BROWC, (t.inner ? 0.95 : 0.45) * Math.sin(Math.PI * clamp(t.k / 14, 0.12, 0.88)));
    }
    const o = (1 - occlusion[v]) * (1 - 0.5 * smooth(48, 40, p[1]) * smooth(18, 26, p[1]) * smooth(40, 60, p[2]));
    C.set([c[0] * (1 - 0.44 * o), c[1] * (1 - 0.58 * o), c[2] * (1 - 0.66 * o)], v * 3);
  });
  return C;
}
