import { Matrix4, Vector3 } from 'three';
import type { JointState } from './pose';

const ONE = /* @__PURE__ */ new Vector3(1, 1, 1);

/**
 * From where joints are at rest to where they are, seen from the head: sixteen numbers a joint.
 * @param carry world from the body's own rest frame, by joint @param head world from head; both column-major
 */
export function carryInHead(carry: readonly (readonly number[])[], head: readonly number[]): Float64Array {
  const back = new Matrix4().fromArray(head as number[]).invert();
  const m = new Matrix4();
  const all = new Float64Array(carry.length * 16);
  carry.forEach((c, i) => {
    all.set(m.fromArray(c as number[]).premultiply(back).elements, i * 16);
  });
  return all;
}

/** A joint's frame as a matrix. */
export const jointMatrix = ({ place, turn }: JointState): Matrix4 => new Matrix4().compose(place, turn, ONE);
