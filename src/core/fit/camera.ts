/** The camera of a capture as what draws takes it: apart from what asks about sight, which brings a search tree along. */
import { PerspectiveCamera } from 'three';
import { type CaptureCamera, cameraWorld } from '../capture';

/** The camera of a capture for a picture of this shape. A device's own intrinsics hold upright; what is beside them is seen too. */
export function cameraOf(c: CaptureCamera, aspect: number): PerspectiveCamera {
  const fovDeg = 'world' in c ? (2 * Math.atan(c.heightPx / 2 / c.fy) * 180) / Math.PI : c.fovDeg;
  const camera = new PerspectiveCamera(fovDeg, aspect, 0.01, 100);
  cameraWorld(c, camera.matrix);
  camera.matrix.decompose(camera.position, camera.quaternion, camera.scale);
  camera.updateMatrixWorld();
  if ('world' in c) {
    const off = { x: c.cx - c.widthPx / 2, y: c.cy - c.heightPx / 2 };
    if (off.x !== 0 || off.y !== 0) camera.setViewOffset(c.heightPx * aspect, c.heightPx, -off.x, -off.y, c.heightPx * aspect, c.heightPx);
  }
  camera.updateProjectionMatrix();
  return camera;
}
