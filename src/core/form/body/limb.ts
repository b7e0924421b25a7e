/** The arm from its hole in the torso: tube, palm, five fingers. Millimetres, left half. */
import { add, clamp, cross, dot, lerp, mul, norm, smooth, sub, type Vec3 } from '../vec';
import { ARM, arch, FINGERS, fromArm, fromHand, PALM, toArm, WR } from './arm';
import { addFace, addVertex, type HalfMesh, quadRow, tube, type Uv, type UvRect } from './mesh';
import { toSurface, trace } from './sculpt';
import { table } from './table';
import { A6, A12 } from './torso';

/** Columns of the arm. */
const AC = 20;
/** Rows of the arm: X at the top and at the bottom of the ring. */
// biome-ignore format: a table
const ARMX = [[8,70],[29,82],[51,96],[74,112],[97,129],[121,146],[144,162],[167,179],[190,197],[212,216],[233,235],[252,252],[268,268],[280,280],[290,290],[301,301],[314,314],[332,332],[355,355],[382,382],[412,412],[443,443],[473,473],[500,500],[520,520],[WR,WR]];
const PALMX = [13, 26, 42, 57, 71, 84];
/** Palm rows (from 1) between which the thumb leaves. */
const TH_A = 2;
const TH_B = 5;

/** The tube of the arm; ring 0 is the hole: top middle first, then forwards and down. Its last ring is the wrist. */
export function buildArm(h: HalfMesh, R: number[][]): number[][] {
  const ring: number[] = [];
  for (let j = 10; j >= 8; j--) ring.push(R[A6][j]);
  for (let r = A6 + 1; r <= A12; r++) ring.push(R[r][8]);
  for (let j = 9; j <= 12; j++) ring.push(R[A12][j]);
  for (let r = A12 - 1; r >= A6; r--) ring.push(R[r][12]);
  ring.push(R[A6][11]);
  return tube(
    h,
    ring,
    ARMX.length,
    (r, k) => {
      const f = (k * 2 * Math.PI) / AC,
        c = Math.cos(f),
        s = Math.sin(f),
        [xt, xb] = ARMX[r - 1],
        X = (xt + xb) / 2 + ((xt - xb) / 2) * c,
        x = clamp(X, 0, WR),
        yc = (ARM(x, 0) + ARM(x, 1)) / 2,
        zc = (ARM(x, 2) + ARM(x, 3)) / 2;
      const flat = smooth(470, WR, X); // towards the hand the columns crowd on the two narrow sides
      const dy = 40 * c,
        dz = lerp(40, 52, flat) * s;
      const o = fromArm((xt + xb) / 2 + (X - (xt + xb) / 2) * 0.6, yc, zc),
        t = fromArm(X, yc + dy, zc + dz);
      return trace(o, t, 2.6);
    },
    { part: 'arm' },
    [0.72, 0.98, 0.84, 0.5],
    10,
  );
}

/** The palm, the roots of the fingers and the fingers, of which each takes columns of the palm's last ring. */
export function buildHand(h: HalfMesh, wrist: number[]): { palm: number[][]; tips: number[] } {
  // half widths by column: -4..4 back of the hand, 5 thumb edge, 6..14 palm, 15 little-finger edge
  const palmZ = (k: number) => (k <= 4 || k >= 16 ? (k >= 16 ? k - 20 : k) / 4 : k === 5 ? 1.06 : k === 15 ? -1.06 : (10 - k) / 4);
  const palmY = (k: number) => (k <= 4 || k >= 16 ? 1 : k === 5 || k === 15 ? 0 : -1);
  const palm: number[][] = [wrist];
  PALMX.forEach((X, i) => {
    palm[i + 1] = [];
    for (let k = 0; k < AC; k++) {
      if (k === 5 && i + 1 > TH_A && i + 1 < TH_B) continue;
      const zf = PALM(X, 2),
        zb = -PALM(X, 3),
        q = palmZ(k),
        e = Math.abs(q) > 0.99 ? 0.86 : 1,
        Z = q >= 0 ? zf * q * e : -zb * -q * e,
        yy = palmY(k),
        oz = Math.abs(q) > 1 ? Z * 0.6 : Z * 0.86;
      const o = fromHand([X, arch(oz) - 1.5, oz]),
        t = fromHand([X, arch(Z) - 1.5 + yy * 16, Z * (yy ? 1 : 1.1)]);
      palm[i + 1][k] = addVertex(h, trace(o, t, 2.2), { part: 'hand', row: i + 1, col: k });
    }
  });
  const pr = (i: number) => i / (PALMX.length + 1);
  const handRect: UvRect = [0.86, 0.98, 0.98, 0.84];
  for (let i = 0; i < PALMX.length; i++)
    quadRow(h, [palm[i], palm[i + 1]], [pr(i), pr(i + 1)], handRect, 10, 'hand', (k) => i >= TH_A && i < TH_B && (k === 4 || k === 5));
  // roots of the fingers
  const WEB = table([
      [-40, 86],
      [-36, 88],
      [-20, 98],
      [-0.5, 105],
      [20, 106],
      [38, 100],
      [44, 99],
    ]),
    zk = [-0.5, 10, 20, 30, 38, 39, 38, 30, 20, 10, -0.5, -10.5, -20, -28.5, -36, -37, -36, -28.5, -20, -10.5];
  const root: number[] = [];
  for (let k = 0; k < AC; k++) {
    const z = zk[k],
      s = palmY(k),
      valley = k % 2 === 0 && s !== 0 && ![4, 6, 14, 16].includes(k);
    const X = WEB(z, 0) + (s > 0 ? (valley ? -3 : -6) : s < 0 ? (valley ? -1 : -2) : -4);
    const y0 = arch(z) - (X - 88) * 0.1;
    root[k] = addVertex(h, toSurface(fromHand([X, y0 + s * (valley ? 6 : 11), z + (s === 0 ? Math.sign(z) * 3 : 0)]), 6), {
      part: 'hand',
      row: 7,
      col: k,
      kind: 'root',
    });
  }
  quadRow(h, [palm[PALMX.length], root], [pr(6), 1], handRect, 10, 'hand');
  const webs = [2, 0, 18].map((k) =>
    addVertex(h, toSurface(fromHand([WEB(zk[k], 0) + 1.5, arch(zk[k]) - 2, zk[k]]), 5), { part: 'hand', row: 8, kind: 'web' }),
  );
  const [m2, m0, m18] = webs;
  const thumb = [TH_A, TH_A + 1, TH_A + 2].map((r) => palm[r]);
  const rings = [
    [
      thumb[0][4],
      thumb[0][5],
      thumb[0][6],
      thumb[1][6],
      thumb[2][6],
      palm[TH_B][6],
      palm[TH_B][5],
      palm[TH_B][4],
      thumb[2][4],
      thumb[1][4],
    ],
    [root[4], root[3], root[2], m2, root[8], root[7], root[6], root[5]],
    [root[2], root[1], root[0], m0, root[10], root[9], root[8], m2],
    [root[0], root[19], root[18], m18, root[12], root[11], root[10], m0],
    [root[18], root[17], root[16], root[15], root[14], root[13], root[12], m18],
  ];
  return { palm, tips: rings.map((ring, f) => buildFinger(h, f, ring)) };
}

/** A finger behind its ring of the hand; returns its tip. */
function buildFinger(h: HalfMesh, f: number, ring: number[]): number {
  const F = FINGERS[f];
  const n = ring.length;
  const [l0, l1, l2] = F.L,
    e1 = l0 + l1,
    e2 = e1 + l2;
  const S = f
    ? [l0 * 0.62, l0 * 0.79, l0 - 5, l0, l0 + 5, l0 + l1 * 0.5, e1 - 4, e1, e1 + 4, e1 + l2 * 0.45, e2 - 6, e2 - 2.2]
    : [31, 38, 45, 52, 61, 70, 77, 83, 91, e2 - 6.5, e2 - 2.4];
  const at = (s: number) => {
    const k = s < l0 ? 0 : s < e1 ? 1 : 2,
      b = k === 0 ? 0 : k === 1 ? l0 : e1;
    return add(F.J[k], mul(F.D[k], s - b));
  };
  const dirAt = (s: number) => {
    let d: Vec3 = [0, 0, 0];
    for (const o of [-7, 0, 7]) d = add(d, F.D[s + o < l0 ? 0 : s + o < e1 ? 1 : 2]);
    return norm(d);
  };
  // column angles: evenly round the axis, turned to fit the ring
  const frame = (d: Vec3): [Vec3, Vec3] => {
    const up = norm(sub([0, 1, 0], mul(d, d[1])));
    return [up, cross(up, d)];
  };
  const [u0, w0] = frame(F.D[0]),
    c0 = at(S[0] - 8);
  let sx = 0,
    sy = 0,
    sgn = 0;
  const ang = ring.map((v) => {
    const p = h.P[v],
      A = toArm(...p),
      q = sub([A[0] - WR, A[1], A[2]], c0);
    return Math.atan2(dot(q, w0), dot(q, u0));
  });
  for (let k = 0; k < n; k++) sgn += Math.sin(ang[(k + 1) % n] - ang[k]);
  sgn = Math.sign(sgn);
  for (let k = 0; k < n; k++) {
    const d = ang[k] - (sgn * k * 2 * Math.PI) / n;
    sx += Math.cos(d);
    sy += Math.sin(d);
  }
  let off = Math.atan2(sy, sx);
  if (f) off = Math.round(off / (Math.PI / 4)) * (Math.PI / 4); // columns on top, bottom and sides
  const rows = tube(
    h,
    ring,
    S.length,
    (r, k) => {
      const s = S[r - 1],
        c = at(Math.min(s, e2 - F.r[3])),
        d = dirAt(s),
        [u, w] = frame(d),
        a = off + (sgn * k * 2 * Math.PI) / n,
        R0 = 10;
      let dir = add(mul(u, Math.cos(a) * R0), mul(w, Math.sin(a) * R0));
      const ex = Math.max(0, s - (e2 - F.r[3]));
      if (ex) dir = add(mul(dir, Math.sqrt(Math.max(0, 1 - (ex / F.r[3]) ** 2))), mul(d, (ex / F.r[3]) * R0));
      return trace(fromHand(c), fromHand(add(c, dir)), 1.9);
    },
    { part: 'hand', finger: f },
    [0.86 + 0.024 * f, 0.8, 0.86 + 0.024 * f + 0.02, 0.6],
    f ? 4 : 5,
  );
  rows.slice(1).forEach((row, r) => {
    for (const v of row) h.info[v].s = S[r];
  });
  const tipP = add(at(e2 - F.r[3]), mul(F.D[2], F.r[3]));
  const tip = addVertex(h, toSurface(fromHand(tipP), 4), { part: 'hand', finger: f, s: e2, kind: 'tip' });
  const last = rows[S.length];
  const ru = 0.87 + 0.024 * f;
  const w = (q: number): Uv => [ru + 0.009 * Math.cos((q * 2 * Math.PI) / n), 0.58 + 0.009 * Math.sin((q * 2 * Math.PI) / n)];
  for (let k = 0; k < n; k += 2)
    addFace(h, [last[k], last[(k + 1) % n], last[(k + 2) % n], tip], [w(k), w(k + 1), w(k + 2), [ru, 0.58]], 'hand');
  return tip;
}
