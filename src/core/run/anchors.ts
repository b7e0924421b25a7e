/** Anchors: from what a capture knows to a frame in the world. One entry a kind. */
import { Matrix4, Vector3 } from 'three';
import { type CaptureFrame, cameraWorld } from '../capture';
import { jointMatrix } from '../form/body/carry';
import type { BodyRest } from '../form/body/rests';
import { eyeCentreM, gazeTurn } from '../form/facemotion';
import { type FacePlace, type FacePoint, facePoint, facePointFrame } from '../form/facepoint';
import type { Form } from '../form/form';
import { type BentBones, bendBones } from '../form/skeleton';
import type { Anchor, AnchorKind } from '../parts/common';
import { AT_REST, type FaceWeights, faceOf } from '../words/face';
import { HUMANOID_BONES, HUMANOID_PARENT } from '../words/humanoid';
import type { LandmarkName } from '../words/landmarks';
import type { Skeleton } from '../words/skeleton';

/** How far before the camera the screen's frame stands, metres: its origin is the middle of the picture. */
export const SCREEN_AHEAD_M = 0.5;

/** A capture with what is derived from it, filled anew for every frame. */
export class Seen {
  readonly head = new Matrix4();
  readonly shoulders = new Matrix4();
  bones: BentBones | null = null;
  /** Counts the captures looked at. */
  looks = 0;
  private body: BodyBones | null = null;
  private weights: FaceWeights | null = null;
  private capture: CaptureFrame | null = null;
  /** Whether the capture says where the shoulders are, or leaves it to be derived. */
  private shouldersSeen = false;

  constructor(
    private readonly skeleton: Skeleton,
    private readonly bodyRest: BodyRest,
    /** null: not at hand; nothing on the face is found. */
    private readonly form: Form | null,
  ) {}

  look(capture: CaptureFrame): this {
    this.capture = capture;
    this.bones = null;
    this.body = null;
    this.weights = null;
    this.looks++;
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
  anchor(anchor: Anchor, out: Matrix4): boolean {
    return (FRAMES[anchor.kind] as Frame<AnchorKind>)(this, this.skeleton, out, anchor as never);
  }

  /** The body's joints; null: nobody is there. Worked out when it is asked for. */
  get bodyBones(): BodyBones | null {
    if (!this.bones) return null;
    this.body ??= bodyBones(this.bodyRest, this.bones, this.capture?.joints);
    return this.body;
  }

  /** What the face does. */
  get face(): FaceWeights {
    this.weights ??= this.capture ? faceOf(this.capture.signals) : AT_REST;
    return this.weights;
  }

  /** World from a point of the skin. */
  facePoint(place: FacePlace, out: Matrix4): boolean {
    const point = this.form && pointOf(this.form, place);
    if (!point || !this.form || !this.bones) return false;
    facePointFrame(this.form, point, this.face, this.bones, out);
    return true;
  }

  /** World from a place that the head carries, in the head's own directions. */
  inHead(of: (form: Form) => readonly [number, number, number], out: Matrix4): boolean {
    if (!this.form || !this.bones) return false;
    out.copy(this.head).multiply(place(of(this.form)));
    return true;
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

/** The body's joints in the world, in the order of HUMANOID_BONES. */
export interface BodyBones {
  /** World from joint. */
  joint: Matrix4[];
  /** From where it is at rest, in the body's own frame, to where it is in the world. */
  carry: Matrix4[];
  /** World from the frame that a garment is placed in: the body's own, as the hips carry it. */
  world: Matrix4;
}

const HIPS = HUMANOID_BONES.indexOf('hips');
const NECK = HUMANOID_BONES.indexOf('neck');
const HEAD = HUMANOID_BONES.indexOf('head');

/** Where the joints are. What a capture does not say goes with the joint above it; where it says nothing, the body stands under the head. */
function bodyBones(rest: BodyRest, { head, neck, bust }: BentBones, seen: CaptureFrame['joints']): BodyBones {
  const [x, y, z] = rest.headOffsetM;
  const down = new Matrix4().makeTranslation(-x, -y, -z);
  const carry: Matrix4[] = [];
  const joint: Matrix4[] = [];
  for (const [i, name] of HUMANOID_BONES.entries()) {
    const own = jointMatrix(rest.skeleton.rest[name]);
    const said = seen?.[name];
    const above = HUMANOID_PARENT[name];
    if (said) carry[i] = new Matrix4().fromArray(said as number[]).multiply(own.clone().invert());
    else if (seen && above && i !== HEAD) carry[i] = carry[HUMANOID_BONES.indexOf(above)].clone();
    else carry[i] = (i === HEAD ? head : i === NECK ? neck : bust).clone().multiply(down);
    joint[i] = carry[i].clone().multiply(own);
  }
  return { joint, carry, world: carry[HIPS] };
}

/** Points of a form, each worked out once. */
const points = new WeakMap<Form, WeakMap<FacePlace, FacePoint | null>>();
function pointOf(form: Form, at: FacePlace): FacePoint | null {
  const known = points.get(form) ?? new WeakMap<FacePlace, FacePoint | null>();
  points.set(form, known);
  const there = known.get(at);
  if (there !== undefined) return there;
  const made = facePoint(form, at);
  known.set(at, made);
  return made;
}

/** Of a pair of landmarks the one of a side, or midway between both. */
function sidePoint(form: Form, name: 'tragion', side: 'left' | 'right' | undefined): [number, number, number] {
  const [l, r] = (['L', 'R'] as const).map((s) => form.landmarks[`${name}${s}`].position);
  if (side) return [...(side === 'left' ? l : r)];
  return [0, 1, 2].map((k) => (l[k] + r[k]) / 2) as [number, number, number];
}
const LIPS: readonly { landmark: LandmarkName }[] = [{ landmark: 'labialeSuperius' }, { landmark: 'labialeInferius' }];
const _lip = /* @__PURE__ */ new Matrix4();

type Frame<K extends AnchorKind> = (seen: Seen, bones: Skeleton, out: Matrix4, anchor: Extract<Anchor, { kind: K }>) => boolean;
const FRAMES: { readonly [K in AnchorKind]: Frame<K> } = {
  head: (seen, _, out) => {
    if (!seen.bones) return false;
    out.copy(seen.head);
    return true;
  },
  face: (seen, _, out, at) => seen.facePoint(at, out),
  eye: (seen, _, out, { side }) => {
    if (!seen.inHead((form) => eyeCentreM(form.face, side ?? null), out)) return false;
    const { yaw, pitch } = gazeTurn(seen.face);
    if (yaw !== 0 || pitch !== 0) out.multiply(new Matrix4().makeRotationY(yaw)).multiply(new Matrix4().makeRotationX(-pitch));
    return true;
  },
  ear: (seen, _, out, { side }) => seen.inHead((form) => sidePoint(form, 'tragion', side), out),
  mouth: (seen, _, out) => {
    const middle = new Vector3();
    for (const lip of LIPS) {
      if (!seen.facePoint(lip, _lip)) return false;
      middle.add(new Vector3().setFromMatrixPosition(_lip).multiplyScalar(0.5));
    }
    out.copy(seen.head).setPosition(middle);
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
  joint: (seen, _, out, { joint }) => {
    const bones = seen.bodyBones;
    if (!bones) return false;
    out.copy(bones.joint[HUMANOID_BONES.indexOf(joint)]);
    return true;
  },
  screen: (seen, _, out) => {
    if (!seen.camera) return false;
    cameraWorld(seen.camera, out).multiply(place([0, 0, -SCREEN_AHEAD_M]));
    return true;
  },
};
