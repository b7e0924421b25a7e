import { Matrix4, Vector3 } from 'three';
import type { JointState } from './pose';

const ONE = /* @__PURE__ */ new Vector3(1, 1, 1);

/** A joint's frame as a matrix. */
export const jointMatrix = ({ place, turn }: JointState): Matrix4 => new Matrix4().compose(place, turn, ONE);
