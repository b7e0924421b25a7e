/** Who wears a piece, bent as a moment has them: head and bust, or the whole body, in the head's frame. */
import { Matrix4 } from 'three';
import { bendBody } from '../form/body/bend';
import { type DrawnBody, wearingFace } from '../form/body/body';
import { carryInHead } from '../form/body/carry';
import { isAtRest } from '../form/facemotion';
import { expressForm, type Form } from '../form/form';
import { bendForm } from '../form/skeleton';
import { AT_REST, type FaceWeights } from '../words/face';

/** Frames of a wearer, world from each, column-major; `body`: of the 52 joints, from where each is at rest to where it is. */
export interface WearerFrames {
  head: readonly number[];
  neck: readonly number[];
  bust: readonly number[];
  body: readonly (readonly number[])[] | null;
  /** What the face does; left out, nothing. */
  face?: FaceWeights;
}

/** Three numbers a vertex, metres, in the frame of the head. */
export interface Bent {
  positions: Float32Array;
  normals: Float32Array;
}

/** A form's vertices with what its face does. */
export function expressed(form: Form, face: FaceWeights = AT_REST): Bent {
  if (isAtRest(face)) return form;
  const out = { positions: new Float32Array(form.positions.length), normals: new Float32Array(form.positions.length) };
  expressForm(form, face, out);
  return out;
}

export function bentForm(form: Form, { head, neck, bust, face }: WearerFrames): Bent {
  const out = { positions: new Float32Array(form.positions.length), normals: new Float32Array(form.positions.length) };
  const [h, n, b] = [head, neck, bust].map((m) => new Matrix4().fromArray(m as number[]));
  bendForm(form, { head: h, neck: n, bust: b }, out, expressed(form, face));
  return out;
}

/** @param form the head that the body has */
export function bentBody(body: DrawnBody, { head, body: carry, face }: WearerFrames, form: Form): Bent {
  const out = { positions: new Float32Array(body.positions.length), normals: new Float32Array(body.positions.length) };
  bendBody(wearingFace(body, form, expressed(form, face)), carryInHead(carry ?? [], head), out);
  return out;
}
