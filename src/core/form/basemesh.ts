/** The base form as data: the mesh that every form is warped from, and what was worked out on it once. */
import type { LandmarkName } from '../words/landmarks';
import type { HalfMesh, Tag } from './half';
import type { MeasureName } from './measures';
import type { Vec3 } from './vec';

export interface BaseMesh {
  half: HalfMesh;
  /** Positions, mm, head frame. */
  pos: Vec3[];
  uv: [number, number][];
  region: number[];
  tag: (Tag | null)[];
  /** 1 wearer's left, -1 wearer's right, 0 on the midline. */
  side: number[];
  /** Vertex of the left half → its mirror. */
  mirror: number[];
  /** Vertex → the one it shares its normal with. */
  weld: number[];
  indices: Uint32Array;
  formTriangles: number;
  pupils: [number, number];
  halfCount: number;
}

/** Per-vertex data of the action units on the base mesh. */
export interface ExpressionFields {
  jaw: Float64Array;
  brow: Float64Array;
  low: Float64Array;
  smile: Float64Array;
  /** Angle of a closed lid, radians. */
  blink: Float64Array;
  /** The same, of the upper lid alone. */
  upperLid: Float64Array;
  cheek: Float64Array;
  nose: Float64Array;
  corner: Float64Array;
  pucker: Float64Array;
  /** Share of the wearer's left, 0..1. */
  left: Float64Array;
  /** 1 wearer's left, −1 wearer's right, 0 on the midline. */
  side: Int8Array;
  /** 1: nothing that a face does moves it by more than some micrometres. */
  still: Uint8Array;
  /** 1: of an eyeball. */
  ball: Uint8Array;
  /** Vertex → the one it shares its normal with. */
  weld: Int32Array;
}

export interface FormBase extends BaseMesh {
  landmarks: Record<LandmarkName, number>;
  measures: Record<MeasureName, number>;
  /** Share of the rigid eye motion, 0..1. */
  eyeWeight: Float64Array;
  fullnessWeight: Float64Array;
  fullnessDirection: Float64Array;
  /** First index of every triangle the tape may cross. */
  tapeTriangles: number[];
  colors: Float32Array;
  occlusion: Float32Array;
  uvs: Float32Array;
  fields: ExpressionFields;
}
