/** What a node takes of the frame it hangs in: place, yaw, pitch, roll by themselves, its up kept upright, its size by a measure. */
import { Euler, type Matrix4, Quaternion, Vector3 } from 'three';
import { yawPitchRoll } from '../math/turns';
import { FOLLOWS, FOLLOWS_ALL, type ShowNode } from './show';

const _p = /* @__PURE__ */ new Vector3();
const _s = /* @__PURE__ */ new Vector3();
const _q = /* @__PURE__ */ new Quaternion();
const _rp = /* @__PURE__ */ new Vector3();
const _rs = /* @__PURE__ */ new Vector3();
const _rq = /* @__PURE__ */ new Quaternion();
const _e = /* @__PURE__ */ new Euler();

/**
 * The followed frame, in place: what is not followed stays as it was in the wearer's rest pose. Turns are read as yaw, pitch, roll
 * (YXZ) in the world. Upright: of all turns the heading remains, so that up is the world's up.
 */
export function applyFollow(frame: Matrix4, node: Pick<ShowNode, 'follows' | 'grows' | 'rest'>): void {
  const { follows, grows } = node;
  if ((follows & FOLLOWS_ALL) !== FOLLOWS_ALL || (follows & FOLLOWS.upright) !== 0) {
    frame.decompose(_p, _q, _s);
    node.rest.decompose(_rp, _rq, _rs);
    if ((follows & FOLLOWS.place) === 0) _p.copy(_rp);
    const now = yawPitchRoll(_q);
    const rest = yawPitchRoll(_rq);
    const yaw = follows & FOLLOWS.yaw ? now.y : rest.y;
    const pitch = follows & FOLLOWS.pitch ? now.x : rest.x;
    const roll = follows & FOLLOWS.roll ? now.z : rest.z;
    _e.set(follows & FOLLOWS.upright ? 0 : pitch, yaw, follows & FOLLOWS.upright ? 0 : roll, 'YXZ');
    frame.compose(_p, _q.setFromEuler(_e), _s);
  }
  if (grows !== 1) frame.scale(_rs.set(grows, grows, grows));
}
