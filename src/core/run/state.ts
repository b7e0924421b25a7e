/** What is on stage, whoever draws it. Plain data: it moves between threads. */
import type { CaptureCamera } from '../capture';
import type { DrawnFinish } from '../finish/row';
import type { FormSize } from '../form/measures';
import type { LocalPose } from '../model/pose';
import type { FacePart } from '../parts/face';
import type { OccluderRegion } from '../parts/occluder';
import type { ScreenFit } from '../parts/screen';
import type { SolidShape } from '../parts/solid';
import type { LayerKind } from '../piece/layers';
import type { FaceCover } from '../words/covers';
import type { FaceWeights } from '../words/face';
import type { BodyArea } from '../words/humanoid';
import type { Matte } from '../words/mattes';
import type { PatchRegion } from '../words/windows';
import type { PatchMesh } from './patch';

/** Finishes by the materials that wear them; null: as the file has it. */
export type Wears = Readonly<Record<string, DrawnFinish | null>>;

/** What a part is drawn from. */
export type DrawShape =
  /** A GLB by its SHA-256, posed. */
  | {
      type: 'glb';
      model: string;
      pose: LocalPose | null;
      /** Joints of its skins (nodes) of which nothing is drawn. */
      without: readonly number[];
    }
  | { type: 'solid'; solid: SolidShape }
  /** A region of the form shown, as depth alone. */
  | {
      type: 'form';
      region: OccluderRegion;
      growMm: number;
      widenMm: number;
      softMm: number;
      /** Areas of a body left out. */
      without: readonly BodyArea[];
      /** Masks of where a body hides nothing besides (`packBare`). */
      bare: readonly string[];
    }
  /** The picture's whole frame; `model`: the GLB of a picture whose texture fills it. */
  | { type: 'quad'; model: string | null; colour: string | null; fit: ScreenFit }
  /** All round the camera: an environment's RGBE by its SHA-256. */
  | { type: 'sky'; file: string; turnRad: number; exposureEv: number }
  /** The face of the form shown, or some of it, painted. */
  | {
      type: 'face';
      covers: FaceCover;
      holes: FacePart['holes'];
      /** The GLB of a picture whose texture it wears. */
      model: string | null;
      colour: string | null;
      /** How far each vertex of the head form stands off, three numbers, metres in the head's frame; null: as the face is. */
      sculpt: Float32Array | null;
      growMm: number;
    }
  /** A region of the camera's picture of the wearer's face. */
  | { type: 'patch'; region: PatchRegion; feather: number; mesh: PatchMesh };

export interface StagePart {
  id: string;
  /** Whether anything of it is drawn. */
  shown: boolean;
  /** Whether all it hangs on is seen. */
  found: boolean;
  /** World from part, column-major. */
  matrix: number[];
  layer: string;
  /** null: holds others, and is nothing itself. */
  shape: DrawShape | null;
  opacity: number;
  /** Drawn as if its materials were opaque. */
  solid: boolean;
  /** As depth alone: it hides, and is not seen. */
  occludes: boolean;
  /** Name of a material, or `*` → what it wears. The same object while nothing of it changes. */
  wears: Wears;
}

export interface StageLayer {
  id: string;
  kind: LayerKind;
  shown: boolean;
  /** By depth, or in the order of `parts`; layers of parts alone. */
  sort: 'depth' | 'order';
  matte: Matte | null;
  /** Ids of what is drawn in it, in the order of the rack. */
  parts: string[];
}

/** World from the form's rest frame, by bone, column-major. */
export interface StageForm {
  size: FormSize;
  head: number[];
  neck: number[];
  bust: number[];
  face: FaceWeights;
  /** World from the body's own rest frame, by joint (HUMANOID_BONES); null: only head and bust are shown. */
  body: number[][] | null;
}

/** What parts and wearer are lit by. */
export interface StageLight {
  /** One of ours by name, or an environment by its SHA-256; null: the fitting light. */
  environment: string | null;
  turnRad: number;
  strength: number;
  /** How blurred it stands behind the wearer, 0 … 1. */
  blur: number;
  exposureEv: number;
}

export interface StageState {
  timeS: number;
  camera: CaptureCamera;
  light: StageLight;
  form: StageForm | null;
  /** In the order of the rack. */
  parts: StagePart[];
  /** Back to front. */
  layers: StageLayer[];
}
