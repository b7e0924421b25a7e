/** Half the torso: rings from the head form's neck down to the groin, with a hole for the arm. */
import type { FormBase } from '../basemesh';
import { add, D2R, lerp, smooth, type Vec3 } from '../vec';
import { addFace, addVertex, type HalfMesh, type Uv } from './mesh';
import { CUTROW, HY, trace } from './sculpt';

// torso rows: front y,z | side x,y,z | back y,z | pull of the ray origin towards (0,1374,-30) | column spacing 0 even .. 1 arm hole
// biome-ignore format: a table
const ROWS: readonly (readonly number[])[] = [
 [1484,30, 62,1497,-33, 1497,-87, .25,0],[1469,27, 74,1488,-37, 1486,-90, .5,.1],[1452,26, 95,1477,-40, 1472,-92, .8,.3],[1434,27, 128,1466,-41, 1455,-95, 1,.6],[1414,38, 160,1455,-41, 1434,-102, 1,.85],
 [1391,52, 192,1444,-40, 1410,-112, .95,1],                                                                         // top of the arm hole
 [1371,60, 184,1414,-38, 1388,-120, .6,1],[1352,66, 174,1390,-38, 1366,-126, .3,1],[1334,70, 166,1364,-38, 1345,-130, .1,1],[1316,73, 162,1340,-38, 1324,-132, 0,1],[1299,75, 156,1316,-38, 1303,-133, 0,1],
 [1280,76, 156,1290,-38, 1281,-133, 0,.95],                                                                          // bottom of the arm hole
 [1256,75, 153,1256,-35, 1256,-130, 0,.75],                                                                          // chest girth
 [1230,74, 149,1230,-33, 1230,-125, 0,.5],[1204,70, 145,1204,-30, 1204,-118, 0,.3],[1178,67, 139,1178,-28, 1178,-110, 0,.15],[1152,64, 135,1152,-25, 1152,-103, 0,0],[1127,63, 132,1127,-22, 1127,-98, 0,0],
 [1102,62, 131,1102,-20, 1102,-95, 0,0],                                                                             // waist girth
 [1074,63, 133,1074,-20, 1074,-94, 0,0],[1046,65, 138,1046,-20, 1046,-97, 0,0],[1017,67, 145,1017,-21, 1017,-103, 0,0],[988,67, 152,988,-22, 988,-111, 0,0],[959,66, 158,959,-25, 959,-122, 0,0],[930,64, 164,930,-30, 930,-130, 0,0],
 [898,60, 168,898,-38, 898,-140, 0,0],                                                                               // hip girth
 [869,56, 170,880,-42, 870,-138, 0,0],[842,50, 171,862,-44, 842,-122, 0,0],
];
/** Rows by number; row 0 is the head form's ring. */
export const A6 = 6; // top and bottom of the arm hole
export const A12 = 12;
export const NECK = 2;
export const CHEST = 13;
export const WAIST = 19;
export const HIP = 26;
export const LAST = 28;
const FLAT = [CHEST, WAIST, HIP];
/** Columns of half the torso. */
export const TC = 20;
/** Angles of the columns, °: evenly, and crowded round the arm hole. */
const EVEN = [...Array(TC + 1).keys()].map((j) => (j * 180) / TC),
  HOLE = [0, 6.2, 12.5, 18.9, 25.3, 31.8, 38.3, 44.8, 51.5, 70, 90, 110, 128.5, 135.2, 141.7, 148.2, 154.7, 161.1, 167.5, 173.8, 180];
// arm rows: X at the top and at the bottom of the ring

/** Traces the rings. Row 0 are the vertices of the head form's ring; columns 9 to 11 are missing where the arm leaves. */
export function buildTorso(h: HalfMesh, head: FormBase): number[][] {
  const { P } = h;
  const R: number[][] = [];
  R[0] = head.half.G[CUTROW].map((v) =>
    addVertex(h, add(head.pos[v], [0, HY, 0]), { head: v, part: 'neck', row: 0, mid: Math.abs(head.pos[v][0]) < 1e-9 }),
  );
  for (const v of [R[0][0], R[0][30]]) P[v][0] = 0;
  for (let r = 1; r <= LAST; r++) {
    const [fy, fz, sx, sy, sz, by, bz, pull, hole] = ROWS[r - 1];
    R[r] = [];
    for (let j = 0; j <= TC; j++) {
      if (r > A6 && r < A12 && j > 8 && j < 12) continue;
      const a = lerp(EVEN[j], HOLE[j], hole) * D2R,
        c = Math.cos(a),
        s = Math.sin(a),
        cF = Math.max(c, 0),
        cB = Math.max(-c, 0),
        wF = smooth(0, 1, cF),
        wB = smooth(0, 1, cB),
        y = sy + (fy - sy) * wF + (by - sy) * wB,
        z = sz + (fz - sz) * cF + (bz - sz) * cB,
        t: Vec3 = [sx * s, y, z],
        o: Vec3 = [0, lerp(y, 1374, pull), lerp(lerp(sz, (fz + bz) / 2, 0.5), -30, pull)];
      const p = trace(o, t, 1.8);
      const mid = j === 0 || j === TC;
      if (mid) p[0] = 0;
      R[r][j] = addVertex(h, p, { part: 'torso', row: r, col: j, mid, flat: FLAT.includes(r) ? y : undefined });
    }
  }
  const tv = (r: number) => 0.98 - (0.42 * r) / LAST;
  const tu = (j: number) => 0.5 + (0.2 * j) / TC;
  // from the 60 columns of the head form to 40: three against two
  const FAN = ['a0 a1 b0', 'a1 b1 b0', 'a1 a2 b1', 'a2 b2 b1', 'a2 a3 b2'].map((t) => t.split(' '));
  for (let g = 0; g < 10; g++) {
    const at = (q: string): { v: number; uv: Uv } =>
      q[0] === 'a'
        ? { v: R[0][g * 3 + +q[1]], uv: [tu(((g * 3 + +q[1]) * 2) / 3), tv(0)] }
        : { v: R[1][g * 2 + +q[1]], uv: [tu(g * 2 + +q[1]), tv(1)] };
    for (const t of FAN) {
      const q = t.map(at);
      addFace(
        h,
        q.map((x) => x.v),
        q.map((x) => x.uv),
        'torso',
      );
    }
  }
  for (let r = 1; r < LAST; r++)
    for (let j = 0; j < TC; j++) {
      if (r >= A6 && r < A12 && j >= 8 && j < 12) continue;
      const uv: Uv[] = [
        [tu(j), tv(r)],
        [tu(j + 1), tv(r)],
        [tu(j + 1), tv(r + 1)],
        [tu(j), tv(r + 1)],
      ];
      addFace(h, [R[r][j], R[r][j + 1], R[r + 1][j + 1], R[r + 1][j]], uv, 'torso');
    }
  return R;
}
