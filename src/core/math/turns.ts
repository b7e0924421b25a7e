/** Turns as yaw, pitch and roll. */
import { Euler, MathUtils, Matrix4, Quaternion } from 'three';

/** Under this cosine of the pitch, yaw and roll turn about the same axis. */
const UPRIGHT = 1e-9;

/**
 * A turn as pitch (x), yaw (y), roll (z), composed YXZ, radians. three's own takes a pitch within 0.03° of a quarter for a quarter,
 * and loses a roll that small; here digits are lost nowhere.
 */
export function yawPitchRoll(q: Quaternion): Euler {
  const m = new Matrix4().makeRotationFromQuaternion(q).elements;
  const [m11, m21, m31, , , m22, , , m13, m23, m33] = m;
  const cos = Math.hypot(m13, m33);
  const pitch = Math.atan2(-m23, cos);
  return cos < UPRIGHT
    ? new Euler(pitch, Math.atan2(-m31, m11), 0, 'YXZ')
    : new Euler(pitch, Math.atan2(m13, m33), Math.atan2(m21, m22), 'YXZ');
}

/** The turn of yaw, pitch and roll in degrees, composed YXZ. */
export const turnFromDeg = ({ yaw, pitch, roll }: { yaw: number; pitch: number; roll: number }): Quaternion =>
  new Quaternion().setFromEuler(new Euler(MathUtils.degToRad(pitch), MathUtils.degToRad(yaw), MathUtils.degToRad(roll), 'YXZ'));
