/** The leg from the groin: tube, and the foot whose rings fan round the ankle. Millimetres, left half. */
import { D2R, smooth, type Vec3 } from '../vec';
import { addVertex, capGrid, type HalfMesh, tube } from './mesh';
import { FC, FO, FS, LEG, toSurface, trace } from './sculpt';
import { LAST } from './torso';

/** Rows of the leg: height at the inner and at the outer side. */
// biome-ignore format: a table
const LEGY = [[786,838],[764,812],[738,782],[708,745],[675,702],[640,656],[605,612],[574,576],[548,548],[527,527],[510,510],[495,495],[480,480],[464,464],[444,444],[418,418],[388,388],[356,356],[322,322],[287,287],[252,252],[218,218],[185,185],[154,154],[128,128],[106,106]];
/** Rings of the foot: height and way forward of the centre (foot's frame), angle of the ring's plane (°), half axes of the ray targets. */
// biome-ignore format: a table
const FOOTR = [[91,-3,7,30,36],[79,-4,18,31,38],[67,-5,30,33,42],[57,-5,42,34,44],[49,-2,54,35,43],[43,3,65,36,40],[39,11,75,37,36],[35,24,84,39,33],[31,40,90,40,30],[28,57,90,42,27],[25,75,90,44,24],[22,93,90,46,22],[20,111,90,47,20],[18,129,90,45,17],[16,146,90,42,15],[14,161,90,38,12],[13,175,90,32,10],[12,188,90,25,8]];

/** Leg and foot; the leg's first ring are 20 outer edges of the torso and four along the crotch. */
export function buildLeg(h: HalfMesh, R: number[][]): { crotch: number[]; legR: number[][]; footRows: number[][] } {
  const CROTCH: Vec3[] = [
    [0, 816, 16],
    [0, 808, -24],
    [0, 815, -66],
  ];
  const crotch = CROTCH.map((p) => addVertex(h, toSurface(p, 6), { part: 'torso', mid: true }));
  const lring = [...R[LAST], crotch[2], crotch[1], crotch[0]];
  const legAngle = (k: number) => (k * 15 - 60) * D2R;
  const legR = tube(
    h,
    lring,
    LEGY.length,
    (r, k) => {
      const [yi, yo] = LEGY[r - 1],
        f = legAngle(k),
        s = Math.sin(f),
        c = Math.cos(f),
        y = (yi + yo) / 2 + ((yo - yi) / 2) * s,
        cx = (LEG(y, 0) + LEG(y, 1)) / 2,
        cz = (LEG(y, 2) + LEG(y, 3)) / 2;
      return trace([cx, y, cz], [cx + 60 * s, y, cz + 66 * c], 2.5);
    },
    { part: 'leg' },
    [0.5, 0.54, 0.7, 0.2],
    22,
  );
  const footPt = (u: number, y: number, w: number): Vec3 => [FO[0] + u * FC + w * FS, y, FO[1] - u * FS + w * FC];
  const footRows = tube(
    h,
    legR[LEGY.length],
    FOOTR.length,
    (r, k) => {
      const [cy, cw, al, a, b] = FOOTR[r - 1],
        f = legAngle(k),
        A = al * D2R,
        s = Math.sin(f),
        c = Math.cos(f),
        dead = smooth(20, 110, cw) * -3;
      const o = footPt(dead, cy, cw),
        t = footPt(dead + a * s, cy + b * c * Math.sin(A), cw + b * c * Math.cos(A));
      return trace(o, t, 3);
    },
    { part: 'foot' },
    [0.5, 0.19, 0.7, 0.04],
    22,
  );
  capGrid(h, footRows[FOOTR.length], 8, 4, { part: 'foot' }, [0.71, 0.19, 0.76, 0.16], [FS, 0, FC]);
  return { crotch, legR, footRows };
}
