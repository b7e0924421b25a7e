/** One frame of what an AR device knows. Simulated here; a replayed or live one looks the same. */
import { Matrix4, Vector3 } from 'three';
import { type Turn, turnMatrix } from '../math/offset';
import type { Skeleton } from '../words/skeleton';

/** A pinhole typed by hand: it looks from one place to another. Metres, degrees. */
export interface HandCamera {
  positionM: readonly [number, number, number];
  targetM: readonly [number, number, number];
  /** Upright field of view. */
  fovDeg: number;
  widthPx?: number;
  heightPx?: number;
}
/** As a device gives it: pose (world from camera, looks along its own −Z) and intrinsics in px. */
export interface DeviceCamera {
  world: readonly number[];
  fx: number;
  fy: number;
  cx: number;
  cy: number;
  widthPx: number;
  heightPx: number;
}
export type CaptureCamera = HandCamera | DeviceCamera;

export interface CaptureFrame {
  timeS: number;
  camera: CaptureCamera;
  /** World from head, column-major; null: no head is found. */
  head: readonly number[] | null;
  /** World from shoulders; null: not seen. Left out: derived from the head. */
  shoulders?: readonly number[] | null;
  /** World from the body's joints, by humanoid bone (VRM 1.0), each in the axes it has in a T pose facing +Z; null or left out: goes with the joint above it. */
  joints?: Readonly<Record<string, readonly number[] | null>>;
  /** FACS weights and other values by name. */
  signals?: Readonly<Record<string, number>>;
  /** World from marker, by id; null: not seen. */
  markers?: Readonly<Record<string, readonly number[] | null>>;
  /** World from surface, by what it is. */
  surfaces?: Readonly<Record<string, readonly number[]>>;
  touches?: readonly { id: number; x: number; y: number; phase: 'down' | 'move' | 'up' }[];
}

/** Who gives frames: simulated, replayed, live. `frame` says what is known at a time; null: nothing yet. */
export interface CaptureSource {
  frame(timeS: number): CaptureFrame | null;
  close(): void;
}

/** A wearer a portrait's length away, the lens of a phone's front camera (about 30° upright; *common practice*). */
export const MIRROR_CAMERA: HandCamera = { positionM: [0, -0.02, 1.05], targetM: [0, -0.04, 0], fovDeg: 29, widthPx: 720, heightPx: 1280 };

/** A wearer seen whole, from as far as one is filmed by another (*common practice*). */
export const BODY_CAMERA: HandCamera = { positionM: [0, -0.6, 4.8], targetM: [0, -0.76, 0], fovDeg: 36, widthPx: 720, heightPx: 1280 };

/** World from camera. */
export function cameraWorld(camera: CaptureCamera, out = new Matrix4()): Matrix4 {
  if ('world' in camera) return out.fromArray(camera.world as number[]);
  const eye = new Vector3(...camera.positionM);
  out.lookAt(eye, new Vector3(...camera.targetM), new Vector3(0, 1, 0));
  return out.setPosition(eye);
}

/** How a wearer holds head, neck and shoulders, degrees: each turned within the one below it. */
export interface WearerPose {
  head: Turn;
  neck?: Turn;
  shoulders?: Turn;
  /** How far the whole wearer has gone from where they stand, metres: side, up, fore. */
  awayM?: readonly [number, number, number];
}
export const asPose = (p: Turn | WearerPose): WearerPose => ('head' in p ? p : { head: p });

/** A turn about a point that is not the origin. */
function about(turn: Turn | undefined, [x, y, z]: readonly [number, number, number]): Matrix4 {
  if (!turn) return new Matrix4();
  return turnMatrix(turn)
    .premultiply(new Matrix4().makeTranslation(x, y, z))
    .multiply(new Matrix4().makeTranslation(-x, -y, -z));
}

/** World from head and world from shoulders of a posed wearer whose shoulders stand where the form's do. */
export function poseWearer(pose: WearerPose, bones: Skeleton): { head: Matrix4; shoulders: Matrix4 } {
  const bust = about(pose.shoulders, bones.neckBaseM);
  if (pose.awayM) bust.premultiply(new Matrix4().makeTranslation(...pose.awayM));
  const head = bust.clone().multiply(about(pose.neck, bones.neckBaseM)).multiply(turnMatrix(pose.head));
  return { head, shoulders: bust.multiply(new Matrix4().makeTranslation(...bones.shouldersM)) };
}

/** What a device would know of a simulated wearer. */
export function simulateCapture(pose: Turn | WearerPose, bones: Skeleton, timeS = 0, camera: CaptureCamera = MIRROR_CAMERA): CaptureFrame {
  const { head, shoulders } = poseWearer(asPose(pose), bones);
  return { timeS, camera, head: head.toArray(), shoulders: shoulders.toArray() };
}
