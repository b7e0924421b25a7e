/** piece × capture × time → stage state. The one place where document, model, form and motion meet. */
export {
  evaluate,
  type StagePart,
  type StageState,
  worldVertices,
} from './evaluate';
