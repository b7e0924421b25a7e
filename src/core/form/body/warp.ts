/** From the base body to one of given measures. Targets are in closed form: girths and lengths come out exact without iteration. */
import { type Form, makeForm } from '../form';
import { add, dist, dot, lerp, mix, mul, smooth, sub, type Vec3 } from '../vec';
import { AX, AY, SH, toArm, WR } from './arm';
import { BODY_MEASURES, type BodyMeasureName } from './ask';
import type { BodyBase } from './base';
import { ANKLE, BASE_JOINTS } from './joints';
import type { BodyMeasures } from './measures';
import { HY, LEG } from './sculpt';
import { symmetricRbf } from './symrbf';
import { A12, CHEST, HIP, NECK, WAIST } from './torso';

/** What every body is made from: welded places and left-half joints, mm, centred on the hips' joint in z. */
export interface WarpedBody {
  core: Vec3[];
  joints: Record<string, Vec3>;
  head: Form;
  /** Carries the head form to where it sits. */
  headOffset: Vec3;
}

/** The body's base carried to the measures, which must be resolved. */
export function warpBody(b: BodyBase, m: BodyMeasures): WarpedBody {
  const { half: B, measures: M0, landmarks: BL, floor } = b;
  const P = B.P;
  const hf = makeForm(b.headBase, m.head);
  let crown = -Infinity;
  for (const v of b.headCore.keys()) crown = Math.max(crown, hf.positions[v * 3 + 1] * 1000);
  const headY = m.stature - crown,
    k = Object.fromEntries(BODY_MEASURES.map((q) => [q, m[q] / M0[q]])) as Record<BodyMeasureName, number>;
  const kS = k.stature,
    hp = (v: number): Vec3 => [hf.positions[v * 3] * 1000, hf.positions[v * 3 + 1] * 1000, hf.positions[v * 3 + 2] * 1000];
  const ring0 = B.R[0].map((v) => P[v]),
    cen = (L: Vec3[]) => mul(L.reduce(add), 1 / L.length);
  const ringH = B.R[0].map((v) => hp(B.info[v].head as number)),
    c0 = cen(ring0),
    cH = cen(ringH);
  const headOff: Vec3 = [0, headY, c0[2] * kS - cH[2]];
  const crotch0 = M0.insideLeg,
    yN0 = c0[1],
    yN1 = cH[1] + headY;
  const fy = (y: number) => {
    const h = y - floor;
    return h < crotch0 ? h * k.insideLeg : m.insideLeg + ((h - crotch0) / (yN0 - floor - crotch0)) * (yN1 - m.insideLeg);
  };
  const src: Vec3[] = [],
    dst: Vec3[] = [],
    put = (v: number, q: Vec3) => {
      src.push([...P[v]]);
      dst.push(P[v][0] < 1e-6 ? [0, q[1], q[2]] : q);
    };
  for (const [i, v] of B.R[0].entries()) put(v, add(ringH[i], headOff));
  // girths: scale the ring about its centre
  const girth = (verts: number[], s: number, sy?: number) => {
    const L = verts.map((v) => P[v]);
    const c: Vec3 = [
      0,
      (Math.min(...L.map((p) => p[1])) + Math.max(...L.map((p) => p[1]))) / 2,
      (Math.min(...L.map((p) => p[2])) + Math.max(...L.map((p) => p[2]))) / 2,
    ];
    for (const v of verts)
      put(v, [P[v][0] * s, sy === undefined ? fy(P[v][1]) : fy(c[1]) + (P[v][1] - c[1]) * sy, c[2] * kS + (P[v][2] - c[2]) * s]);
  };
  girth(B.R[NECK], k.neck, k.neck);
  girth(B.R[CHEST], k.chest);
  girth(B.R[WAIST], k.waist);
  girth(B.R[HIP], k.hip);
  const some = (row: number[], c: number[]) => c.map((j) => row[j]);
  girth(some(B.R[16], [0, 5, 10, 15, 20]), lerp(k.chest, k.waist, 0.5));
  girth(some(B.R[22], [0, 5, 10, 15, 20]), lerp(k.waist, k.hip, 0.45));
  for (const v of B.crotch) put(v, [0, fy(P[v][1]), P[v][2] * lerp(kS, k.hip, 0.5)]);
  // shoulders and chest above the arm hole
  for (const v of some(B.R[9], [0, 4, 16, 20])) put(v, [P[v][0] * lerp(k.chest, k.shoulderBreadth, 0.4), fy(P[v][1]), P[v][2] * k.chest]);
  for (const v of some(B.R[5], [0, 5, 15, 20])) put(v, [P[v][0] * k.shoulderBreadth, fy(P[v][1]), P[v][2] * lerp(kS, k.chest, 0.6)]);
  const ga = Math.sqrt(Math.sqrt(k.chest * k.hip) * kS),
    a0 = P[BL.acromion];
  const acr: Vec3 = [m.shoulderBreadth / 2, fy(a0[1]), a0[2] * kS];
  put(BL.acromion, acr);
  const S = add(acr, mul(sub(SH, a0), ga)),
    h = k.handLength;
  const arm = (X: number, Y: number, Z: number): Vec3 => [S[0] + X * AX[0] + Y * AY[0], S[1] + X * AX[1] + Y * AY[1], S[2] + Z];
  // |acromion - stylion| = armLength: solve for the wrist's place on the axis
  const st = toArm(...P[BL.stylion]),
    q0 = sub(arm((st[0] - WR) * h, st[1] * h, st[2] * h), acr),
    bb = dot(q0, AX),
    W1 = -bb + Math.sqrt(bb * bb - dot(q0, q0) + m.armLength ** 2);
  const axial = (X: number) => (X < 0 ? X * ga : (X / WR) * W1);
  const armPt = (p: Vec3, s: number) => {
    const [X, Y, Z] = toArm(...p);
    return arm(axial(X), Y * s, Z * s);
  };
  const handPt = (p: Vec3) => {
    const [X, Y, Z] = toArm(...p);
    return arm(W1 + (X - WR) * h, Y * h, Z * h);
  };
  for (const [r, t] of [
    [4, 0],
    [8, 0.05],
    [12, 0.15],
    [15, 0.25],
    [19, 0.4],
    [22, 0.7],
  ])
    for (const v of some(B.armR[r], [0, 5, 10, 15])) put(v, armPt(P[v], lerp(ga, h, t)));
  for (const v of some(B.armR[B.armR.length - 1], [0, 5, 10, 15])) put(v, handPt(P[v]));
  for (const v of some(B.palm[B.palm.length - 1], [0, 5, 10, 15])) put(v, handPt(P[v]));
  for (const v of B.tips) put(v, handPt(P[v]));
  for (const v of some(B.R[A12], [9, 11])) put(v, [P[v][0] * lerp(k.chest, k.shoulderBreadth, 0.5), fy(P[v][1]), P[v][2] * kS]);
  // legs
  const sc = Math.pow(kS, 0.5),
    gl = (t: number) => lerp(k.hip, Math.sqrt(k.hip * kS), t),
    hipX = (y: number) => lerp(sc, k.hip, smooth(300, 850, y));
  const legPt = (p: Vec3, s: number): Vec3 => {
    const cx = (LEG(p[1], 0) + LEG(p[1], 1)) / 2,
      cz = (LEG(p[1], 2) + LEG(p[1], 3)) / 2;
    return [cx * hipX(p[1]) + (p[0] - cx) * s, fy(p[1]), cz * kS + (p[2] - cz) * s];
  };
  for (const [r, t] of [
    [4, 0],
    [7, 0.4],
    [11, 1],
    [17, 0.7],
    [22, 1],
  ])
    for (const v of some(B.legR[r], [4, 10, 16, 22])) put(v, legPt(P[v], gl(t)));
  const f = k.footLength,
    ankle: Vec3 = [ANKLE[0] * hipX(84), 0, ANKLE[2] * kS];
  const footPt = (p: Vec3): Vec3 => [ankle[0] + (p[0] - ANKLE[0]) * f, (p[1] - floor) * f, ankle[2] + (p[2] - ANKLE[2]) * f];
  for (const r of [1, 6, 10, 14, 18]) for (const v of some(B.footRows[r], [4, 10, 16, 22])) put(v, footPt(P[v]));
  const F = symmetricRbf(src, dst);
  // half vertices
  const exact = new Map<string, Vec3>();
  for (const [i, s] of src.entries()) exact.set(s.join(), dst[i]);
  const Q = P.map((p, v) => {
    let q = exact.get(p.join()) || F(p);
    const part = B.info[v].part;
    if (part === 'arm' || part === 'hand') {
      const X = toArm(...p)[0],
        w = part === 'hand' ? 1 : smooth(WR - 80, WR - 4, X);
      if (w) q = mix(q, handPt(p), w);
    }
    if (part === 'foot' || part === 'leg') {
      const w = 1 - smooth(96, 170, p[1] - floor);
      if (w) q = mix(q, footPt(p), w);
    }
    if (B.info[v].mid) q[0] = 0;
    return q;
  });
  const core = placeCore(b, Q, (v) => add(hp(v), headOff));
  const joints: Record<string, Vec3> = {};
  for (const [n, p] of Object.entries(BASE_JOINTS)) {
    if (/UpperArm|LowerArm/.test(n)) joints[n] = armPt(p, ga);
    else if (/Hand|Thumb|Index|Middle|Ring|Little/.test(n)) joints[n] = handPt(p);
    else if (/Foot|Toes/.test(n)) joints[n] = footPt(p);
    // with the head form's own size: its base is 192 mm long
    else if (n === 'head') joints[n] = add(mul([0, p[1] - HY, p[2]], headLength(hf) / 192), headOff);
    else joints[n] = F(p);
    if (!/left/.test(n)) joints[n][0] = 0;
  }
  const dz = -joints.hips[2];
  for (const p of core) {
    p[2] += dz;
    if (Math.abs(p[0]) < 1e-5) p[0] = 0; // rounding on the midline
  }
  for (const p of Object.values(joints)) p[2] += dz;
  return { core, joints, head: hf, headOffset: [0, headOff[1], headOff[2] + dz] };
}

const headLength = (f: Form) => 1000 * dist(f.landmarks.glabella.position, f.landmarks.opisthocranion.position);

/** Every welded vertex, mm: of the head form by `head`, of the body by the half's `Q` and its mirror; middles of loops between their vertices. */
function placeCore(b: BodyBase, Q: readonly Vec3[], head: (v: number) => Vec3): Vec3[] {
  const core = b.core.map((c): Vec3 => {
    if ('head' in c) return head(c.head);
    if ('body' in c) return c.side < 0 ? [-Q[c.body][0], Q[c.body][1], Q[c.body][2]] : [...Q[c.body]];
    return [0, 0, 0];
  });
  b.core.forEach((c, i) => {
    if (!('loop' in c)) return;
    const twin = b.mirror[i];
    // the second of a pair is the image of the first, to the last bit
    if (twin < i) core[i] = [-core[twin][0], core[twin][1], core[twin][2]];
    else core[i] = mul(c.loop.map((l) => core[l]).reduce(add), 1 / c.loop.length);
    if (twin === i) core[i][0] = 0;
  });
  return core;
}
