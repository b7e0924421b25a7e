/** What an AR device knows: frames of a capture, whoever makes them. */
export {
  asPose,
  BODY_CAMERA,
  type CaptureCamera,
  type CaptureFrame,
  type CaptureSource,
  cameraWorld,
  type DeviceCamera,
  type HandCamera,
  MIRROR_CAMERA,
  poseWearer,
  simulateCapture,
  type WearerPose,
} from './frame';
export { LENS_RANGE, LENSES, type LensName, type LensView, lensCamera, PICTURE_SHAPES, type PictureShape } from './lens';
