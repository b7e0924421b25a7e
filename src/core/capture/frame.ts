import type { Turn } from '../math/offset';
import { turnMatrix } from '../math/offset';

/** The camera of a capture: a pinhole that looks along its own −Z. Metres, degrees. */
export interface CaptureCamera {
  positionM: [number, number, number];
  targetM: [number, number, number];
  /** Upright field of view. */
  fovDeg: number;
}

/** One frame of what an AR device knows. Simulated here; a replayed or live one looks the same. */
export interface CaptureFrame {
  timeS: number;
  camera: CaptureCamera;
  /** World from head, column-major; null: no head is found. */
  head: readonly number[] | null;
}

/** A wearer a portrait's length away, the lens of a phone's front camera (about 30° upright; *common practice*). */
export const MIRROR_CAMERA: CaptureCamera = { positionM: [0, -0.02, 1.05], targetM: [0, -0.04, 0], fovDeg: 29 };

/** The simulated wearer: the whole bust turned about the head's origin. */
export function simulateCapture(turn: Turn, timeS = 0, camera: CaptureCamera = MIRROR_CAMERA): CaptureFrame {
  return { timeS, camera, head: turnMatrix(turn).toArray() };
}
