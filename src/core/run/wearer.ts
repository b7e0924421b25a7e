/** What a device would know of a simulated wearer: head, neck and shoulders turned by degrees, or the whole body held. */
import { Matrix4 } from 'three';
import {
  BODY_CAMERA,
  type CaptureCamera,
  type CaptureFrame,
  type CaptureSource,
  MIRROR_CAMERA,
  simulateCapture,
  type WearerPose,
} from '../capture';
import type { BodyAsk } from '../form/body/ask';
import { jointMatrix } from '../form/body/carry';
import { type BodyHold, heldPose } from '../form/body/hold';
import { solveBodyPose } from '../form/body/pose';
import { bodyRest } from '../form/body/rests';
import { skeletonFor } from '../form/skeleton';
import { poseAtTime, type Take } from '../form/take';
import { turnMatrix } from '../math/offset';
import { shownAsk, shownBody } from '../piece/cast';
import type { Piece } from '../piece/schema';
import { hasBody } from '../piece/selectors';
import { type Expression, weightsOf, withSums } from '../words/face';
import { HUMANOID_BONES } from '../words/humanoid';
import type { Skeleton } from '../words/skeleton';
import { sourceOf } from './runner';

/** How a wearer is held: where the body is said, the head's turn comes on top of it. */
export type Held = WearerPose & { body?: BodyHold; face?: Expression /** No head is found. */; lost?: true };

/** The body where a hold has it: its head is, at rest, where that of a wearer without one is. */
function heldCapture(held: Held & { body: BodyHold }, ask: BodyAsk, bones: Skeleton, timeS: number, camera: CaptureCamera): CaptureFrame {
  const { skeleton, stander, headOffsetM } = bodyRest(ask);
  const [x, y, z] = headOffsetM;
  const [side, up, fore] = held.awayM ?? [0, 0, 0];
  const world = new Matrix4().makeTranslation(side - x, up - y, fore - z);
  const states = solveBodyPose(skeleton, heldPose(held.body, stander));
  const joint = (n: string) => world.clone().multiply(jointMatrix(states[n]));
  /** What a place of the head form, seen at rest, is carried to by a joint. */
  const carried = (n: string) => {
    return joint(n)
      .multiply(jointMatrix(skeleton.rest[n]).invert())
      .multiply(new Matrix4().makeTranslation(x, y, z));
  };
  const head = carried('head').multiply(turnMatrix(held.head));
  const joints = Object.fromEntries(HUMANOID_BONES.map((n) => [n, joint(n).toArray()]));
  joints.head = head
    .clone()
    .multiply(new Matrix4().makeTranslation(-x, -y, -z))
    .multiply(jointMatrix(skeleton.rest.head))
    .toArray();
  const shoulders = carried('upperChest').multiply(new Matrix4().makeTranslation(...bones.shouldersM));
  return { timeS, camera, head: head.toArray(), shoulders: shoulders.toArray(), joints };
}

/** A wearer of a piece at a moment. @param camera left out: the Mirror's, or one that sees all of a body that the piece asks for */
export function wearerCapture(piece: Piece, held: Held, timeS = 0, camera?: CaptureCamera): CaptureFrame {
  const seenBy = camera ?? (held.body || hasBody(piece) ? BODY_CAMERA : MIRROR_CAMERA);
  const { body } = held;
  const bones = skeletonFor(shownAsk(piece));
  const seen = body ? heldCapture({ ...held, body }, shownBody(piece), bones, timeS, seenBy) : simulateCapture(held, bones, timeS, seenBy);
  if (held.lost) return { ...seen, head: null, shoulders: null };
  return held.face ? { ...seen, signals: withSums(weightsOf(held.face) as Record<string, number>) } : seen;
}

/** A take as a wearer of a piece would be captured. */
export const takeSource = (take: Take, piece: Piece, camera?: CaptureCamera): CaptureSource =>
  sourceOf((timeS) => wearerCapture(piece, poseAtTime(take, timeS), timeS, camera));
