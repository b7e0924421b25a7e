/** Anchors: from what a capture knows to a frame in the world. One entry a kind. */
import { Matrix4 } from 'three';
import { type CaptureFrame, cameraWorld } from '../capture';
import { type BentBones, bendBones } from '../form/skeleton';
import type { AnchorKind } from '../parts/common';
import type { Skeleton } from '../words/skeleton';

/** How far before the camera the screen's frame stands, metres: its origin is the middle of the picture. */
export const SCREEN_AHEAD_M = 0.5;

/** A capture with what is derived from it, filled anew for every frame. */
export class Seen {
  readonly head = new Matrix4();
  readonly shoulders = new Matrix4();
  bones: BentBones | null = null;
  private capture: CaptureFrame | null = null;
  /** Whether the capture says where the shoulders are, or leaves it to be derived. */
  private shouldersSeen = false;

  constructor(private readonly skeleton: Skeleton) {}

  look(capture: CaptureFrame): this {
    this.capture = capture;
    this.bones = null;
    if (!capture.head) return this;
    this.head.fromArray(capture.head as number[]);
    const said = capture.shoulders;
    this.shouldersSeen = said !== null;
    if (said) this.shoulders.fromArray(said as number[]);
    this.bones = bendBones(this.head, said ? this.shoulders : null, this.skeleton);
    if (!said) this.shoulders.copy(this.bones.bust).multiply(place(this.skeleton.shouldersM));
    return this;
  }

  /** World from anchor into `out`; false where it is not seen. */
  anchor(kind: AnchorKind, out: Matrix4): boolean {
    return FRAMES[kind](this, this.skeleton, out);
  }

  get camera(): CaptureFrame['camera'] | null {
    return this.capture?.camera ?? null;
  }
  get seesShoulders(): boolean {
    return this.bones !== null && this.shouldersSeen;
  }
}

const place = (at: readonly [number, number, number]) => new Matrix4().makeTranslation(at[0], at[1], at[2]);
const middle = (b: Skeleton): [number, number, number] =>
  [0, 1, 2].map((k) => (b.neckBaseM[k] + b.neckTopM[k]) / 2) as [number, number, number];

const FRAMES: { readonly [K in AnchorKind]: (seen: Seen, bones: Skeleton, out: Matrix4) => boolean } = {
  head: (seen, _, out) => {
    if (!seen.bones) return false;
    out.copy(seen.head);
    return true;
  },
  /** Halfway up the neck, turned as the neck is. */
  neck: (seen, bones, out) => {
    if (!seen.bones) return false;
    out.copy(seen.bones.neck).multiply(place(middle(bones)));
    return true;
  },
  shoulders: (seen, _, out) => {
    if (!seen.seesShoulders) return false;
    out.copy(seen.shoulders);
    return true;
  },
  screen: (seen, _, out) => {
    if (!seen.camera) return false;
    cameraWorld(seen.camera, out).multiply(place([0, 0, -SCREEN_AHEAD_M]));
    return true;
  },
};
