/** Offsets and turns as matrices: yaw about up, then pitch about side, then roll about fore (YXZ). */
import { Euler, Matrix4, Quaternion, Vector3 } from 'three';
import { yawPitchRoll } from './turns';

/** Where a thing lies in a frame, metres; turns are about side (pitch), up (yaw), fore (roll), radians. */
export interface Offset {
  positionM: [number, number, number];
  turnRad: [number, number, number];
  size: [number, number, number];
}

/** Yaw + towards the wearer's left, pitch + looks down; degrees. */
export interface Turn {
  yawDeg: number;
  pitchDeg: number;
  rollDeg: number;
}

const D2R = Math.PI / 180;

/** Anchor from part, metres. */
export function offsetMatrix(o: Offset): Matrix4 {
  return new Matrix4().compose(new Vector3(...o.positionM), offsetRotation(o), new Vector3(...o.size));
}

export function offsetRotation(o: Pick<Offset, 'turnRad'>): Quaternion {
  return new Quaternion().setFromEuler(new Euler(o.turnRad[0], o.turnRad[1], o.turnRad[2], 'YXZ'));
}

/** World from head: a turn about the head's origin. */
export function turnMatrix(t: Turn): Matrix4 {
  return new Matrix4().makeRotationFromEuler(new Euler(t.pitchDeg * D2R, t.yawDeg * D2R, t.rollDeg * D2R, 'YXZ'));
}

/** Adds a turn (radians) about one axis of the anchor to a turn, and reads it back as pitch, yaw, roll. */
export function turnAbout(turnRad: Offset['turnRad'], axis: 0 | 1 | 2, byRad: number): Offset['turnRad'] {
  const unit = new Vector3(axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0);
  const q = new Quaternion().setFromAxisAngle(unit, byRad).multiply(offsetRotation({ turnRad }));
  const e = yawPitchRoll(q);
  return [wrapTurn(e.x), wrapTurn(e.y), wrapTurn(e.z)];
}

/** Keeps an angle in (−π, π], so that pressing +90° four times comes home. */
export function wrapTurn(rad: number): number {
  const t = rad - 2 * Math.PI * Math.round(rad / (2 * Math.PI));
  return t <= -Math.PI + 1e-12 ? t + 2 * Math.PI : Math.abs(t) < 1e-12 ? 0 : t;
}
