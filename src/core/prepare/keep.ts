/** Keeping a fit when the model under it changes size, turn or place: the part's offset is divided by the change. */
import { Vector3 } from 'three';
import { offsetRotation, wrapTurn } from '../math/offset';
import { yawPitchRoll } from '../math/turns';
import { type TransformSettings, turnOf } from '../piece/recipe';
import type { Offset } from '../words/values';

/**
 * The offset O′ with O′·(T·x) = O·x for every point x of the model, T being the change. Exact for turns by quarters, and for any
 * turn where the part is sized evenly.
 */
export function divideOffset(o: Offset, t: TransformSettings): Offset {
  const q = turnOf(t);
  const back = q.clone().invert();
  const r = offsetRotation(o);
  const rotation = r.clone().multiply(back);
  // sizes stand along the model's own axes, which the turn has exchanged
  const sized = new Vector3(...o.size).applyQuaternion(q);
  const size = [sized.x, sized.y, sized.z].map((x) => Math.min(1e6, Math.max(1e-6, Math.abs(x) / t.factor))) as [number, number, number];
  const shift = new Vector3(...t.shiftM).multiply(new Vector3(...size)).applyQuaternion(rotation);
  const e = yawPitchRoll(rotation);
  return {
    positionM: [o.positionM[0] - shift.x, o.positionM[1] - shift.y, o.positionM[2] - shift.z],
    turnRad: [wrapTurn(e.x), wrapTurn(e.y), wrapTurn(e.z)],
    size,
  };
}
