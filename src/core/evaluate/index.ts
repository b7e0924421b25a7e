/** piece × capture × time → stage state. The one place where document, model, form and motion meet. */
export {
  type CaptureCamera,
  type CaptureFrame,
  evaluate,
  MIRROR_CAMERA,
  type StagePart,
  type StageState,
  simulateCapture,
  worldVertices,
} from './evaluate';
