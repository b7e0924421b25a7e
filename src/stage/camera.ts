/** From where measured views are seen: for the stage, and for what is laid over its pictures before it is there. */
import { OrthographicCamera } from 'three';
import type { DrawSize } from './view';

/** Height over the horizon from which the turntable is seen. */
export const USUAL_HEIGHT_RAD = Math.atan2(0.28, 0.96);

/** What a plate shows, in millimetres of the head frame. */
export interface PlateWindow {
  side: 'front' | 'side';
  /** Middle of the window: across (side for front, fore for side) and up. */
  acrossMm: number;
  upMm: number;
  pxPerMm: number;
}

/** Front looks along −fore; side looks from the wearer's left, fore to the picture's left. */
export function plateCamera(window: PlateWindow, size: DrawSize): OrthographicCamera {
  const halfW = size.width / window.pxPerMm / 2000;
  const halfH = size.height / window.pxPerMm / 2000;
  const reach = 50;
  const camera = new OrthographicCamera(-halfW, halfW, halfH, -halfH, 0, 2 * reach);
  const up = window.upMm / 1000;
  const across = window.acrossMm / 1000;
  if (window.side === 'front') {
    camera.position.set(across, up, reach);
    camera.lookAt(across, up, 0);
  } else {
    camera.position.set(reach, up, across);
    camera.lookAt(0, up, across);
  }
  camera.updateMatrixWorld();
  camera.updateProjectionMatrix();
  return camera;
}
