import type { LensView } from '@/core/capture';

/** “70° from 45 cm, mirrored”. */
export const cameraWords = ({ distanceM, fovDeg, mirrored }: LensView): string =>
  `${Math.round(fovDeg)}° from ${distanceM < 2 ? `${Math.round(distanceM * 100)} cm` : `${distanceM.toFixed(1)} m`}${mirrored ? ', mirrored' : ''}`;
