/** How a body stands, from its joints alone: what a screen asks, without all that raises bones. */
import { mirrorName } from '../../words/humanoid';
import type { Vec } from '../middle';
import { add, cross, dot, sub, unit } from '../vec';

/** A trunk and legs that differ in direction by less than this cosine do not stand: the trunk alone says what is up. */
const STANDS = 0.9;

/** Axes of a body from its joints alone: up from the ankles to the head where it stands, else along the trunk. */
export function axesOf(at: (bone: string) => Vec | undefined): { up: Vec; front: Vec; left: Vec } | null {
  const [hips, neck, head, l, r, fl, fr] = ['hips', 'neck', 'head', 'leftUpperArm', 'rightUpperArm', 'leftFoot', 'rightFoot'].map(at);
  const top = neck ?? head;
  if (!hips || !top || !l || !r) return null;
  const trunk = unit(sub(top, hips));
  const whole = head && fl && fr ? unit(sub(head, fl.map((x, k) => (x + fr[k]) / 2) as Vec)) : trunk;
  const up = dot(whole, trunk) > STANDS ? whole : trunk;
  const across = sub(l, r);
  const left = unit(add(across, up, -dot(across, up)));
  return { up, left, front: unit(cross(left, up)) };
}

/** The image of a joint on the other side of a body: what its pair does when it is moved. */
export function mirroredJoint(at: (bone: string) => Vec | undefined, bone: string, to: Vec): { name: string; at: Vec } | null {
  const name = mirrorName(bone);
  const [own, pair] = [at(bone), at(name)];
  const axes = axesOf(at);
  if (name === bone || !own || !pair || !axes) return null;
  // the pair moves as the mirror image of the move, so that a figure that stands askew stays as it stands
  const move = sub(to, own);
  const image = add(move, axes.left, -2 * dot(move, axes.left));
  return { name, at: add(pair, image) };
}
