/** What Fit it says, as a part's offset: from the head's frame into whatever the part hangs on, while the wearer is at rest. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { offsetOf, type RestFrames } from '@/core/fit';
import { type Hang, type Offset, onAnchor } from '@/core/piece';
import type { FitTold } from '@/worker/browser';

type Onto = NonNullable<FitTold['onto']>;

export const matrixOf = ({ factor, turn, shiftM }: Onto): Matrix4 =>
  new Matrix4().compose(new Vector3(...shiftM), new Quaternion(...turn), new Vector3(factor, factor, factor));

/** @param frames of a show, for the model's own frame is what hangs */
export const ontoOffset = (onto: Onto, hang: Hang, frames: RestFrames): Offset =>
  offsetOf(
    frames
      .of(hang)
      .invert()
      .multiply(frames.of(onAnchor('head')))
      .multiply(matrixOf(onto)),
  );
