import { Matrix4 } from 'three';
import type { CaptureCamera, CaptureFrame } from '../capture';
import type { FormSize } from '../form/measures';
import { offsetMatrix } from '../math/offset';
import type { Model } from '../model/model';
import { type LocalPose, type PosedPrimitive, poseAt, posedPrimitives } from '../model/pose';
import { drawnModel } from '../piece/defaults';
import type { ModelPart, Piece } from '../piece/schema';

export interface StagePart {
  id: string;
  kind: 'model' | 'occluder';
  /** Whether anything of it is drawn. */
  shown: boolean;
  /** World from part, column-major. */
  matrix: number[];
  /** SHA-256 of the GLB it is drawn from; only for models. */
  model: string | null;
  pose: LocalPose | null;
  opacity: number;
  solid: boolean;
}

/** What is on stage, whoever draws it. */
export interface StageState {
  timeS: number;
  camera: CaptureCamera;
  form: { size: FormSize; matrix: number[] } | null;
  /** In the order of the rack, which is the order of drawing. */
  parts: StagePart[];
}

const IDENTITY = new Matrix4().toArray();

/** The clip that plays: the file's first. */
const CLIP = 0;

function stageModel(part: ModelPart, sha: string | null, head: Matrix4 | null, model: Model | undefined, timeS: number): StagePart {
  const hung = part.anchor === 'head' && head !== null;
  const matrix = hung ? offsetMatrix(part.offset).premultiply(head).toArray() : IDENTITY;
  return {
    id: part.id,
    kind: 'model',
    shown: part.visible && hung && model !== undefined && part.opacity > 0,
    matrix,
    model: sha,
    pose: model ? poseAt(model, CLIP, timeS) : null,
    opacity: part.opacity,
    solid: part.solid,
  };
}

/**
 * piece × capture × time → stage state. Deterministic: no clock, no randomness.
 * @param models SHA-256 of the GLB → model; a part whose model is not there yet is not shown.
 */
export function evaluate(piece: Piece, models: Readonly<Record<string, Model>>, capture: CaptureFrame): StageState {
  const head = capture.head ? new Matrix4().fromArray(capture.head as number[]) : null;
  return {
    timeS: capture.timeS,
    camera: capture.camera,
    form: head ? { size: piece.form, matrix: head.toArray() } : null,
    parts: piece.rack.map((id): StagePart => {
      const part = piece.parts[id];
      if (part.kind === 'model') {
        const sha = drawnModel(piece, part.stockId);
        return stageModel(part, sha, head, sha ? models[sha] : undefined, capture.timeS);
      }
      return {
        id,
        kind: 'occluder',
        shown: part.visible && head !== null,
        matrix: head?.toArray() ?? IDENTITY,
        model: null,
        pose: null,
        opacity: 1,
        solid: false,
      };
    }),
  };
}

/** World positions of a staged part's vertices (metres), as every drawing of it must show them. */
export function worldVertices(part: StagePart, model: Model): PosedPrimitive[] {
  return part.pose ? posedPrimitives(model, part.pose, new Matrix4().fromArray(part.matrix)) : [];
}
