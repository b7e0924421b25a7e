import { LIP, lipU, MH, NC, PSI } from '../template';
import { dist, lerp, sat } from '../vec';
import { type HalfMesh, RG } from './mesh';

type Uv = [number, number];

/** Column angle to u; the face takes more of the sheet than the back of the head. */
const uOfColumn = (j: number) => {
  const a = PSI[j];
  return 0.5 + 0.5 * (a <= 90 ? 0.74 * (a / 90) * (1.06 - (0.06 * a) / 90) : 0.74 + (0.26 * (a - 90)) / 90);
};

/** v by arc length along a cheek column; face rows at full weight. */
function rowHeights(h: HalfMesh): number[] {
  const { P, G, rowCount } = h;
  const along = [0];
  let total = 0;
  for (let i = 1; i <= rowCount; i++) {
    const a = P[G[i][13]];
    const b = i > 1 ? P[G[i - 1][13]] : P[h.pole];
    const w = i < 8 ? 0.55 : i < 12 ? 0.8 : i < 39 ? 1.25 : i < 47 ? 0.55 : 0.28;
    total += Math.max(dist(a, b), i < 39 && i > 11 ? 4.6 : 1) * w;
    along[i] = total;
  }
  return along.map((s) => 0.985 - (0.905 * s) / total);
}

interface RingPlace {
  ring: number;
  edge: Uv;
  center: Uv;
  /** Front projection of a position (mm) into the block's texture box. */
  project: (p: readonly number[]) => Uv;
  k: number;
  v: number;
}

/** Lays the rings of a block inside the texture box of its perimeter. */
function placeRings(h: HalfMesh, rings: number[][], center: number | null, place: (at: RingPlace) => Uv, open = false): void {
  const edge = rings[0].map((v) => h.uv[v]);
  const lo = [0, 1].map((k) => Math.min(...edge.map((u) => u[k])));
  const hi = [0, 1].map((k) => Math.max(...edge.map((u) => u[k])));
  const c: Uv = open ? [lo[0], (lo[1] + hi[1]) / 2] : [(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2];
  const ps = rings[0].map((v) => h.P[v]);
  const x0 = Math.min(...ps.map((p) => p[0]));
  const x1 = Math.max(...ps.map((p) => p[0]));
  const y0 = Math.min(...ps.map((p) => p[1]));
  const y1 = Math.max(...ps.map((p) => p[1]));
  const project = (p: readonly number[]): Uv => [lerp(lo[0], hi[0], (p[0] - x0) / (x1 - x0)), lerp(lo[1], hi[1], (p[1] - y0) / (y1 - y0))];
  rings.slice(1).forEach((r, i) => {
    r.forEach((v, k) => {
      h.uv[v] = place({ ring: i + 1, edge: edge[k], center: c, project, k, v });
    });
  });
  if (center !== null) h.uv[center] = open ? [0.5, c[1]] : c;
}

const between = (a: Uv, b: Uv, w: number): Uv => [lerp(a[0], b[0], w), lerp(a[1], b[1], w)];

function layoutEye(h: HalfMesh): void {
  const rim: Uv[] = [];
  placeRings(h, h.eyeRings, null, ({ ring, edge, center, project, k, v }) => {
    if (ring > 7) return between(center, rim[k], ring === 8 ? 0.9 : 0.75);
    const s = [0, 0.22, 0.42, 0.58, 0.71, 0.81, 0.9, 1][ring];
    const q = between(edge, project(h.P[v]), sat(s * 2.5));
    if (ring === 7) rim[k] = q;
    return q;
  });
}

/** The closed mouth is opened into a lens, so that lips and mouth lining get an area of their own. */
function layoutMouth(h: HalfMesh): void {
  let middle: Uv = [0.5, 0];
  placeRings(
    h,
    h.mouthRings,
    h.mouthCenter,
    ({ ring, edge, project, k, v }) => {
      const s = [0, 0.3, 0.58, 0.8][ring];
      if (s !== undefined) return between(edge, project(h.P[v]), sat(s * 2));
      middle = project([0, LIP.line(0)]);
      const u = lipU(k);
      const line = LIP.line(u);
      const reach = (k > MH ? LIP.up(u) : LIP.lo(u)) - line;
      const f = ring <= 8 ? lerp(1, 0.42, [0, 0.3, 0.62, 0.86, 1][ring - 4]) : [0.34, 0.25, 0.16, 0.08][ring - 9];
      const x = ring > 8 ? u * (LIP.w - 0.7) * [0.96, 0.88, 0.78, 0.6][ring - 9] : h.P[v][0];
      return project([x, line + (Math.abs(reach) < 0.02 ? (k > MH ? 0.02 : k < MH ? -0.02 : 0) : reach) * f]);
    },
    true,
  );
  h.uv[h.mouthCenter] = [0.5, middle[1]];
}

/** Grid coordinates as texture coordinates; feature loops shrink inside their block. */
export function layoutUv(h: HalfMesh): void {
  const { P, uv, G, rowCount } = h;
  const V = rowHeights(h);
  uv[h.pole] = [0.5, V[0]];
  for (let i = 1; i <= rowCount; i++) for (let j = 0; j <= NC; j++) if (G[i][j] >= 0) uv[G[i][j]] = [uOfColumn(j), V[i]];
  layoutEye(h);
  layoutMouth(h);
  const shrink = (rings: number[][], center: number | null, f: readonly number[]) =>
    placeRings(h, rings, center, (at) => between(at.center, at.edge, f[at.ring - 1]));
  shrink(h.earRings, h.earCenter, [0.9, 0.84, 0.79, 0.72, 0.65, 0.57, 0.48, 0.39, 0.3, 0.21, 0.11]);
  shrink([h.earRings[0], h.earHalf], null, [0.95]);
  shrink(h.nostrilRings, h.nostrilCenter, [0.72, 0.52, 0.3]);
  h.cutRings[0].forEach((v, j) => {
    uv[v] = [uOfColumn(j), V[rowCount] - 0.006];
  });
  for (let v = 0; v < P.length; v++)
    if (h.region[v] === RG.cut && uv[v][0] === 0) uv[v] = [0.5 + (Math.abs(P[v][0]) / 176) * 0.06, 0.038 + ((P[v][2] + 25) / 100) * 0.03];
}
