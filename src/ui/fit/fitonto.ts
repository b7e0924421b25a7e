/** What Fit it says, as a part's offset: from the head's frame into whatever the part hangs on, while the wearer is at rest. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { offsetOf, type RestFrames } from '@/core/fit';
import { offsetMatrix } from '@/core/math';
import { type Hang, type Offset, onAnchor } from '@/core/piece';
import type { FitTold } from '@/worker/browser';

type Onto = NonNullable<FitTold['onto']>;

export const matrixOf = ({ factor, turn, shiftM }: Onto): Matrix4 =>
  new Matrix4().compose(new Vector3(...shiftM), new Quaternion(...turn), new Vector3(factor, factor, factor));

/** A place of the head's frame as one of the file of a part that hangs so. */
export function inFile(atM: readonly [number, number, number], offset: Offset, hang: Hang, frames: RestFrames): [number, number, number] {
  const headFromFile = frames.of(onAnchor('head')).invert().multiply(frames.of(hang)).multiply(offsetMatrix(offset));
  return new Vector3(...atM).applyMatrix4(headFromFile.invert()).toArray();
}

/** @param frames of a show, for the model's own frame is what hangs */
export const ontoOffset = (onto: Onto, hang: Hang, frames: RestFrames): Offset =>
  offsetOf(
    frames
      .of(hang)
      .invert()
      .multiply(frames.of(onAnchor('head')))
      .multiply(matrixOf(onto)),
  );
