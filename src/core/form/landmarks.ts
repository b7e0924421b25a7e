/** The landmarks of anthropometry on the fixed mesh: names after ISO 7250-1 and Farkas, *from memory*. L and R are the wearer's. */

import type { LandmarkName, MidlineLandmark, PairedLandmark } from '../words/landmarks';
import type { BaseMesh } from './basemesh';
import { RG } from './half';
import { MH, NC } from './template';
import { dist, type Vec3 } from './vec';

/** Landmark name → vertex. */
export function findLandmarks(b: BaseMesh): Record<LandmarkName, number> {
  const { half: B, pos, mirror, region } = b;
  const { G } = B;
  const n = b.halfCount;
  const best = (f: (p: Vec3, v: number) => number, ok: (p: Vec3, v: number) => boolean) => {
    let k = -1,
      m = -Infinity;
    for (let v = 0; v < n; v++) {
      if (region[v] === RG.eye || !ok(pos[v], v)) continue;
      const s = f(pos[v], v);
      if (s > m) {
        m = s;
        k = v;
      }
    }
    return k;
  };
  const near = (q: Vec3, ok: (p: Vec3, v: number) => boolean = () => true) => best((p) => -dist(p, q), ok),
    col = (j: number, i0: number, i1: number) => {
      const o: number[] = [];
      for (let i = i0; i <= i1; i++) if (G[i][j] >= 0) o.push(G[i][j]);
      return o;
    };
  const arg = (l: number[], f: (p: Vec3) => number) => l.reduce((m, v) => (f(pos[v]) > f(pos[m]) ? v : m));
  const skin = (_p: Vec3, v: number) => region[v] === RG.skin && !b.tag[v];
  const L = {} as Record<LandmarkName, number>;
  const one = (k: MidlineLandmark, v: number) => {
      L[k] = v;
    },
    two = (k: PairedLandmark, v: number) => {
      L[`${k}L`] = v;
      L[`${k}R`] = mirror[v];
    };
  one(
    'glabella',
    arg(col(0, 10, 14), (p) => p[2]),
  );
  one(
    'sellion',
    arg(col(0, 14, 18), (p) => -p[2]),
  );
  one(
    'pronasale',
    arg(col(0, 20, 25), (p) => p[2]),
  );
  one('subnasale', G[27][0]);
  const ml = B.mouthRings;
  one('stomion', ml[8][ml[8].length - 1]);
  one('labialeSuperius', ml[4][ml[4].length - 1]);
  one('labialeInferius', ml[4][0]);
  one(
    'menton',
    arg(
      col(0, 35, 40).filter((v) => pos[v][2] > 74),
      (p) => -p[1],
    ),
  );
  // the chin's foremost and lowest, as cephalometry has it; Farkas calls menton so
  one(
    'gnathion',
    arg(
      col(0, 35, 40).filter((v) => pos[v][2] > 74),
      (p) => p[2] - p[1],
    ),
  );
  one('vertex', B.pole);
  one(
    'opisthocranion',
    arg(col(NC, 6, 17), (p) => dist(p, pos[L.glabella])),
  );
  one(
    'cervicale',
    arg(col(NC, 42, 49), (p) => -Math.abs(p[1] + 124)),
  );
  two(
    'orbitale',
    near([32, 0, 78], (_p, v) => region[v] === RG.skin),
  );
  two('endocanthion', B.eyeRings[7][14]);
  two('ectocanthion', B.eyeRings[7][0]);
  two(
    'zygion',
    best(
      (p) => p[0],
      (p, v) => skin(p, v) && p[1] > -20 && p[1] < 0 && p[2] > 34 && p[2] < 56,
    ),
  );
  two(
    'tragion',
    B.earRings[1].concat(B.earRings[2], B.earRings[3]).reduce((m, v) => (dist(pos[v], [70, 0, 1]) < dist(pos[m], [70, 0, 1]) ? v : m)),
  );
  two(
    'otobasionSuperior',
    B.earRings[1].reduce((m, v) => (dist(pos[v], [72, 20, -1]) < dist(pos[m], [72, 20, -1]) ? v : m)),
  );
  two(
    'superaurale',
    B.earRings[4].reduce((m, v) => (pos[v][1] > pos[m][1] ? v : m)),
  );
  two(
    'subaurale',
    B.earRings[4].reduce((m, v) => (pos[v][1] < pos[m][1] ? v : m)),
  );
  two(
    'postaurale',
    B.earRings[4].reduce((m, v) => (pos[v][2] < pos[m][2] ? v : m)),
  );
  two(
    'alare',
    arg(col(4, 21, 26), (p) => p[0]),
  );
  two('cheilion', ml[4][MH]);
  two('gonion', near([52, -61, 13], skin));
  two(
    'euryon',
    best(
      (p) => p[0],
      (p, v) => skin(p, v) && p[1] > 38 && p[2] < 25,
    ),
  );
  two('acromion', near([143, -172, -28]));
  // below the larynx, where a neck is measured round
  one(
    'infrathyroid',
    arg(col(0, 41, 46), (p) => -Math.abs(p[1] + 128)),
  );
  two('maxillofrontale', near([8.5, 16.2, 92.5], skin));
  // a third of the nose lower, and as deep: so that the two say how its flanks open
  two('padSeat', near([11, 3.4, 93], skin));
  two('temple', near([65.5, 19.6, 40], skin));
  L.pupilL = b.pupils[0];
  L.pupilR = b.pupils[1];
  return L;
}
