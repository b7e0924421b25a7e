/** The base body as data: its surface, what is measured on it, its weights. About 8 s to compute; see BODY_VERSION. */
import { HUMANOID_BONES, HUMANOID_SETS, type HumanoidDetail } from '../../words/humanoid';
import type { FormBase } from '../basemesh';
import type { BodyMeasureName } from './ask';
import { type BodyMesh, joinBody } from './join';
import { type BodyLandmark, findBodyLandmarks, measureBody } from './tapes';
import { bodyWeights, type PackedWeights, packWeights } from './weights';

/** Changes whenever the base changes: caches are kept under it. */
export const BODY_VERSION = 2;

export interface BodyBase extends BodyMesh {
  /** Vertices of the half. */
  landmarks: Record<BodyLandmark, number>;
  /** Of the base form, mm. */
  measures: Record<BodyMeasureName, number>;
  /** Height of its floor, mm. */
  floor: number;
  skin: Record<HumanoidDetail, PackedWeights>;
}

/** Computes the base body from the numbers in this folder alone. Deterministic. */
export function buildBodyBase(head: FormBase): BodyBase {
  const mesh = joinBody(head);
  const landmarks = findBodyLandmarks(mesh);
  const at = (v: number) => mesh.half.P[v];
  const measures = measureBody(mesh, landmarks, at);
  const dense = bodyWeights(mesh);
  const packed = (d: HumanoidDetail) => packWeights(dense, mesh.mirror, HUMANOID_BONES, HUMANOID_SETS[d]);
  const skin = { 52: packed(52), 22: packed(22), 17: packed(17) };
  return { ...mesh, landmarks, measures, floor: at(landmarks.sole)[1], skin };
}
