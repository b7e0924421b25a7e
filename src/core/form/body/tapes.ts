/** What is measured on the base body: tapes, lengths, landmarks by vertices of its left half. Millimetres. */

import { dist, type Vec3 } from '../vec';
import type { BodyMeasureName } from './ask';
import type { BodyMesh } from './join';
import { S0 } from './sculpt';
import { A6, CHEST, HIP, NECK, TC, WAIST } from './torso';

/** Landmarks that the body adds to the head's; pairs end in L and R. */
export const PAIRED_BODY_LANDMARKS = ['acromion', 'stylion', 'wristCrease', 'dactylion', 'pternion', 'acropodion', 'sole'] as const;
export const MIDLINE_BODY_LANDMARKS = ['crotch', 'suprasternale', 'cervicale', 'chestFront', 'waistFront', 'waistBack', 'hipBack'] as const;
export type BodyLandmark = (typeof PAIRED_BODY_LANDMARKS)[number] | (typeof MIDLINE_BODY_LANDMARKS)[number];

/** Length of a convex tape round points [x, z]. */
function tape(pts: [number, number][]): number {
  const sorted = [...pts].sort((a, c) => a[0] - c[0] || a[1] - c[1]);
  const chain = (Q: [number, number][]) => {
    const h: [number, number][] = [];
    for (const p of Q) {
      while (h.length > 1) {
        const a = h[h.length - 2];
        const c = h[h.length - 1];
        if ((c[0] - a[0]) * (p[1] - a[1]) - (c[1] - a[1]) * (p[0] - a[0]) > 0) break;
        h.pop();
      }
      h.push(p);
    }
    h.pop();
    return h;
  };
  const h = [...chain(sorted), ...chain(sorted.reverse())];
  return h.reduce((s, p, i) => s + Math.hypot(p[0] - h[(i + 1) % h.length][0], p[1] - h[(i + 1) % h.length][1]), 0);
}

/** Tape round a whole ring of the torso, of which `get` gives the left half's vertices. */
const ringTape = (row: number[], get: (v: number) => Vec3) =>
  tape(
    row.flatMap((v): [number, number][] => {
      const [x, , z] = get(v);
      return [
        [x, z],
        [-x, z],
      ];
    }),
  );

export function findBodyLandmarks({ half: B }: Pick<BodyMesh, 'half'>): Record<BodyLandmark, number> {
  const feet = [...new Set([...B.footRows.flat(), ...B.info.flatMap((o, v) => (o.part === 'foot' ? [v] : []))])];
  const least = (f: (p: Vec3) => number) => feet.reduce((best, v) => (f(B.P[v]) < f(B.P[best]) ? v : best));
  const wrist = B.armR[B.armR.length - 1];
  return {
    acromion: B.R[A6][10],
    stylion: wrist[5],
    wristCrease: wrist[10],
    dactylion: B.tips[2],
    pternion: least((p) => p[2]),
    acropodion: least((p) => -p[2]),
    sole: least((p) => p[1]),
    crotch: B.crotch[1],
    suprasternale: B.R[5][0],
    cervicale: B.R[2][TC],
    chestFront: B.R[CHEST][0],
    waistFront: B.R[WAIST][0],
    waistBack: B.R[WAIST][TC],
    hipBack: B.R[HIP][TC],
  };
}

/** All measures of a body whose half's vertices `get` gives, mm; its stature is the crown's height over the sole. */
export function measureBody(
  { half: B }: Pick<BodyMesh, 'half'>,
  landmarks: Record<BodyLandmark, number>,
  get: (v: number) => Vec3,
  crownY = S0 + get(landmarks.sole)[1],
): Record<BodyMeasureName, number> {
  const at = (n: BodyLandmark) => get(landmarks[n]);
  const neck = B.R[NECK].map(get);
  return {
    stature: crownY - at('sole')[1],
    shoulderBreadth: 2 * at('acromion')[0],
    chest: ringTape(B.R[CHEST], get),
    waist: ringTape(B.R[WAIST], get),
    hip: ringTape(B.R[HIP], get),
    armLength: dist(at('acromion'), at('stylion')),
    insideLeg: at('crotch')[1] - at('sole')[1],
    neck: 2 * neck.slice(1).reduce((s, p, j) => s + dist(p, neck[j]), 0),
    handLength: dist(at('wristCrease'), at('dactylion')),
    footLength: dist(at('pternion'), at('acropodion')),
  };
}
