/** What of a head a place is next to. */

import { LANDMARKS, type LandmarkName } from '../words/landmarks';
import type { Form } from './form';

/** Further away than this no landmark says where a place is, metres. */
const BY_M = 0.1;

export function nearestLandmark({ landmarks }: Form, at: readonly number[]): LandmarkName | null {
  let [name, least]: [LandmarkName | null, number] = [null, BY_M];
  for (const n of LANDMARKS) {
    const p = landmarks[n]?.position;
    const d = p ? Math.hypot(p[0] - at[0], p[1] - at[1], p[2] - at[2]) : Infinity;
    if (d < least) [name, least] = [n, d];
  }
  return name;
}
