/** Steps from the base to a form of given measures: a landmark-driven warp, cranial fullness, the tape. */

import type { LandmarkName, PairedLandmark } from '../words/landmarks';
import type { FormBase } from './basemesh';
import { RG } from './half';
import { MEASURES, type MeasureName } from './measures';
import { rbf } from './rbf';
import { hullLength } from './tape';
import { CUT, NC } from './template';
import { add, cross, dot, len, lerp, mix, mul, norm, smooth, sub, type Vec3 } from './vec';

const at = (a: ArrayLike<number>, v: number): Vec3 => [a[v * 3], a[v * 3 + 1], a[v * 3 + 2]];

/** Warps the base to the measures. Returns flat positions (mm) before the final shaping, and how the eyes moved. */
export function warp(b: FormBase, m: Record<MeasureName, number>): { raw: Float64Array; eyeShift: Vec3 } {
  const L = b.landmarks,
    p = (k: LandmarkName) => b.pos[L[k]],
    M0 = b.measures,
    { G, rowCount: NR } = b.half;
  const k = {} as Record<MeasureName, number>;
  for (const q of MEASURES) k[q] = m[q] / M0[q];
  const kL = k.headLength,
    kB = k.headBreadth,
    kZ = k.bizygomaticBreadth,
    kN = Math.pow((kL + kB) / 2, 0.9);
  const src: Vec3[] = [],
    dst: Vec3[] = [];
  const put = (a: Vec3, c: Vec3) => {
      src.push(a);
      dst.push(c);
    },
    mid = (n: LandmarkName, c: Vec3) => put(p(n), c),
    pair = (n: PairedLandmark, c: Vec3) => {
      put(p(`${n}L`), c);
      put(p(`${n}R`), [-c[0], c[1], c[2]]);
    };
  const oy = p('orbitaleL')[1];
  // midline of the face: the sellion moves a little, the menton closes the exact face length
  const se = p('sellion'),
    me = p('menton'),
    se2: Vec3 = [0, (se[1] - oy) * lerp(1, k.faceLength, 0.5), se[2] * kL],
    mz = me[2] * kL;
  const me2: Vec3 = [0, se2[1] - Math.sqrt(m.faceLength ** 2 - (se2[2] - mz) ** 2), mz];
  const fy = (y: number) => se2[1] + ((y - se[1]) / (me[1] - se[1])) * (me2[1] - se2[1]);
  mid('glabella', mul(p('glabella'), kL));
  mid('opisthocranion', mul(p('opisthocranion'), kL));
  mid('vertex', [0, p('vertex')[1] * (kL * 0.5 + kB * 0.5), p('vertex')[2] * kL]);
  mid('sellion', se2);
  mid('menton', me2);
  const sn = p('subnasale'),
    sn2: Vec3 = [0, fy(sn[1]), sn[2] * kL];
  mid('subnasale', sn2);
  mid('pronasale', add(sn2, mul(sub(p('pronasale'), sn), k.noseProtrusion)));
  mid('stomion', [0, fy(p('stomion')[1]), p('stomion')[2] * kL]);
  const E = p('euryonL');
  pair('euryon', [m.headBreadth / 2, E[1] * kL, E[2] * kL]);
  const Z = p('zygionL');
  pair('zygion', [m.bizygomaticBreadth / 2, Z[1], Z[2] * kL]);
  pair('tragion', [m.bitragionBreadth / 2, 0, 0]);
  const ex = (m.interpupillaryDistance - M0.interpupillaryDistance) / 2,
    pu = p('pupilL'),
    ed: Vec3 = [ex, -oy, pu[2] * (kL - 1) * 0.93];
  pair('pupil', add(pu, ed));
  pair('endocanthion', add(p('endocanthionL'), ed));
  pair('ectocanthion', add(p('ectocanthionL'), ed));
  const o = p('orbitaleL');
  pair('orbitale', [o[0] + ex, 0, o[2] + ed[2]]);
  const al = p('alareL');
  pair('alare', [m.noseBreadth / 2, fy(al[1]), al[2] * kL]);
  const ch = p('cheilionL');
  pair('cheilion', [(ch[0] * (kZ + k.interpupillaryDistance)) / 2, fy(ch[1]), ch[2] * kL]);
  const go = p('gonionL');
  pair('gonion', [go[0] * kZ, fy(go[1]), go[2] * kL]);
  // the ear moves with the tragion and grows with the head
  const tr = p('tragionL');
  for (const n of ['otobasionSuperior', 'superaurale', 'subaurale', 'postaurale'] as const) {
    const q = p(`${n}L`);
    pair(n, [m.bitragionBreadth / 2 + (q[0] - tr[0]) * kL, (q[1] - tr[1]) * kL, (q[2] - tr[2]) * kL]);
  }
  // neck and bust follow the chin
  const dy = me2[1] - me[1];
  const bust = (v: number, x = kN) => {
    const q = b.pos[v];
    put(q, [q[0] * x, q[1] + dy, q[2] * kN]);
    if (q[0] > 1e-6) put([-q[0], q[1], q[2]], [-q[0] * x, q[1] + dy, q[2] * kN]);
  };
  bust(L.cervicale);
  bust(L.acromionL);
  for (const [i, j] of [
    [44, 0],
    [44, 18],
    [44, 10],
    [48, 0],
    [49, 18],
    [NR, 0],
    [NR, 10],
    [NR, 18],
    [NR, 25],
    [NR, NC],
  ])
    bust(G[i][j]);
  const f = rbf(src, dst);
  const n = b.pos.length,
    out = new Float64Array(n * 3);
  const cy = CUT + dy;
  const place = (v: number, x: number, y: number, z: number) => {
    out[v * 3] = x;
    out[v * 3 + 1] = y;
    out[v * 3 + 2] = z;
  };
  for (let v = 0; v < n; v++) {
    const right = b.side[v] < 0;
    const e = b.eyeWeight[v];
    // what moves it is the same on both sides: the right one of a pair was placed with the left; eyeballs are no pairs
    if (right && e < 1) continue;
    const q = b.pos[v];
    const d = e < 1 ? f(q) : ed;
    const x = e < 1 ? lerp(d[0], ed[0], e) : right ? -ed[0] : ed[0];
    let y = q[1] + lerp(d[1], ed[1], e);
    if (q[1] < CUT + 24) y = lerp(cy + q[1] - CUT, y, smooth(CUT, CUT + 24, q[1]));
    const z = q[2] + lerp(d[2], ed[2], e);
    place(v, b.side[v] === 0 ? 0 : q[0] + x, y, z);
    if (e < 1 && b.mirror[v] !== v) place(b.mirror[v], -q[0] - x, y, z);
  }
  return { raw: out, eyeShift: ed };
}

/** Adds cranial fullness (mm, radial) and shaves what pokes past the extreme landmarks. */
export function finish(b: FormBase, m: Record<MeasureName, number>, raw: Float64Array, full: number): Float64Array {
  const L = b.landmarks,
    n = b.pos.length,
    out = raw.slice();
  if (full)
    for (let v = 0; v < n; v++) {
      const w = b.fullnessWeight[v] * full;
      if (w) {
        out[v * 3] += b.side[v] === 0 ? 0 : w * b.fullnessDirection[v * 2];
        out[v * 3 + 2] += w * b.fullnessDirection[v * 2 + 1];
      }
    }
  // the extreme landmarks really are the extremes: shave the fraction of a millimetre that pokes past them
  const g = at(out, L.glabella),
    hb = m.headBreadth / 2,
    zb = m.bizygomaticBreadth / 2;
  for (let v = 0; v < n; v++) {
    const q = b.pos[v],
      r = b.region[v];
    if ((r !== RG.skin && r !== RG.brow) || b.tag[v]) continue;
    const x = out[v * 3],
      ax = Math.abs(x);
    if (q[1] > 36 && ax > hb) out[v * 3] = Math.sign(x) * hb;
    if (q[1] > -20 && q[1] < 4 && q[2] > 30 && ax > zb)
      out[v * 3] = Math.sign(x) * lerp(ax, zb, smooth(30, 34, q[2]) * (1 - smooth(0, 4, q[1])));
    if (q[2] < -40 && q[1] > 0) {
      const d = sub(at(out, v), g),
        l = len(d);
      if (l > m.headLength) {
        const c = m.headLength / l;
        for (let k = 0; k < 3; k++) out[v * 3 + k] = g[k] + d[k] * c;
      }
    }
  }
  return out;
}

/** Head circumference by tape, mm: hull of the section through glabella and opisthocranion, ears left out. */
export function circumference(b: FormBase, posMM: ArrayLike<number>): number {
  const g = at(posMM, b.landmarks.glabella),
    o = at(posMM, b.landmarks.opisthocranion),
    u = norm(sub(o, g)),
    nrm = norm(cross(u, [1, 0, 0])),
    d0 = dot(nrm, g);
  const pts: [number, number][] = [];
  const idx = b.indices,
    height = (v: number) => posMM[v * 3] * nrm[0] + posMM[v * 3 + 1] * nrm[1] + posMM[v * 3 + 2] * nrm[2] - d0;
  for (const t of b.tapeTriangles) {
    const v = [idx[t], idx[t + 1], idx[t + 2]],
      h = v.map(height);
    for (let k = 0; k < 3; k++) {
      const a = h[k],
        c = h[(k + 1) % 3];
      if (a > 0 !== c > 0) {
        const s = a / (a - c),
          p = mix(at(posMM, v[k]), at(posMM, v[(k + 1) % 3]), s);
        pts.push([p[0], dot(sub(p, g), u)]);
      }
    }
  }
  return hullLength(pts);
}
