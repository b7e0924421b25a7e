import { trace } from '../sculpt';
import { type Block, EB, inside, MB, NB, NC, NOSE, PSI, RB, ROWS } from '../template';
import { D2R, lerp, mix, smooth, type Vec3 } from '../vec';
import { addVertex, BLOCKS, type HalfMesh, RG } from './mesh';

/** The grid of rows and columns, traced onto the surface; blocks are left open. */
export function buildGrid(h: HalfMesh): void {
  const { G } = h;
  const NR = ROWS.length; // rows 1..NR, row 0 is the pole
  const T: Vec3[][] = [],
    C: Vec3[][] = [];
  const sinp = PSI.map((a) => Math.sin(a * D2R)),
    cosp = PSI.map((a) => Math.cos(a * D2R));
  for (let i = 1; i <= NR; i++) {
    const [fy, fz, sx, sy, sz, by, bz, cy, cz, aF, aB] = ROWS[i - 1];
    T[i] = [];
    C[i] = [];
    for (let j = 0; j <= NC; j++) {
      const c = cosp[j],
        s = sinp[j],
        cF = Math.max(c, 0),
        cB = Math.max(-c, 0);
      // y blends from the front value to the side value (flat over the face) and on to the back
      const wF = smooth(0, 1, cF),
        wB = smooth(0, 1, cB);
      const y = sy + (fy - sy) * wF + (by - sy) * wB,
        z = sz + (fz - sz) * cF + (bz - sz) * cB,
        x = sx * s;
      T[i][j] = [x, y, z];
      const a = aF * wF + aB * wB + ((aF + aB) / 2) * (1 - wF - wB);
      C[i][j] = [0, lerp(y, cy, a), lerp(sz, cz, 0.5)];
    }
  }
  for (const r of Object.keys(NOSE)) {
    const i = Number(r);
    const [c, pts] = NOSE[i];
    pts.forEach((p, j) => {
      if (j < 6) {
        T[i][j] = p;
        C[i][j] = j === 5 ? [p[0] * 0.6, p[1], 40] : i === 27 ? [p[0] * 0.8, p[1], 60] : j === 4 && i >= 25 ? [9, -19, 82] : c;
      } else {
        T[i][j] = mix(T[i][j], p, 0.7);
      }
    });
  }
  const pole = addVertex(h, [0, 129, -8], RG.skin);
  G[0] = Array(NC + 1).fill(pole);
  for (let i = 1; i <= NR; i++) {
    G[i] = [];
    for (let j = 0; j <= NC; j++) {
      if (inside(EB, i, j) || inside(MB, i, j, true) || inside(RB, i, j) || inside(NB, i, j)) {
        G[i][j] = -1;
        continue;
      }
      const p = i >= 21 && i <= 27 && j < 6 ? trace(C[i][j], T[i][j], 1.25) : trace(C[i][j], T[i][j]);
      if (j === 0 || j === NC) p[0] = 0;
      const reg = i < 39 ? RG.skin : i < 48 ? RG.neck : RG.bust;
      G[i][j] = addVertex(h, p, reg, i === NR);
    }
  }
  h.P[pole] = trace([0, 50, -8], h.P[pole]);
  const inCell = (b: Block, i: number, j: number) => i >= b.i0 && i < b.i1 && j >= b.j0 && j < b.j1;
  for (let j = 0; j < NC; j++) h.tris.push([pole, G[1][j], G[1][j + 1]]);
  for (let i = 1; i < NR; i++)
    for (let j = 0; j < NC; j++) {
      if (BLOCKS.some((b) => inCell(b, i, j))) continue;
      h.quads.push([G[i][j], G[i + 1][j], G[i + 1][j + 1], G[i][j + 1]]);
    }
  h.rowCount = NR;
  h.pole = pole;
}
