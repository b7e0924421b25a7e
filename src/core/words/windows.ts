/** Regions of a wearer's face that a live patch shows: where each is on a face, and how large it lies on a part that does not size it. */
import type { LandmarkName } from './landmarks';

export const PATCH_REGIONS = ['eyeL', 'eyeR', 'mouth', 'nose', 'face'] as const;
export type PatchRegion = (typeof PATCH_REGIONS)[number];

export interface FaceWindow {
  /** Left and right are the wearer's. */
  label: string;
  /** Side and up of a patch of size 1, metres: about as large as on form M. */
  sizeM: readonly [number, number];
  /** Its middle lies midway between the first two; it is as wide as these are apart, times `wide`. */
  across: readonly [LandmarkName, LandmarkName];
  wide: number;
  /** Its middle is moved up by so much of its height: a mouth opens downwards. */
  up: number;
}

const eye = (side: 'L' | 'R', label: string): FaceWindow => ({
  label,
  sizeM: [0.05, 0.034],
  across: [`endocanthion${side}`, `ectocanthion${side}`],
  wide: 1.6,
  up: 0.06,
});
/** Shares of a face are chosen so that all of it is inside with room to move. */
export const WINDOWS: Readonly<Record<PatchRegion, FaceWindow>> = {
  eyeL: eye('L', 'Left eye'),
  eyeR: eye('R', 'Right eye'),
  mouth: { label: 'Mouth', sizeM: [0.076, 0.05], across: ['cheilionL', 'cheilionR'], wide: 1.5, up: -0.12 },
  nose: { label: 'Nose', sizeM: [0.052, 0.062], across: ['alareL', 'alareR'], wide: 1.5, up: 0.22 },
  face: { label: 'Face', sizeM: [0.15, 0.19], across: ['zygionL', 'zygionR'], wide: 1.06, up: -0.04 },
};

/** The region that is its mirror image. */
export const mirrorRegion = (region: PatchRegion): PatchRegion => (region === 'eyeL' ? 'eyeR' : region === 'eyeR' ? 'eyeL' : region);
