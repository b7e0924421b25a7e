/**
 * Capture logs: JSON lines, each with what changed since the line before; a field that is left out stands. Between two lines poses
 * are interpolated (turns by slerp, Shoemake 1985), everything else holds until the next. A log gives the same frames each time.
 */
import { Matrix4, Quaternion, Vector3 } from 'three';
import * as z from 'zod';
import { type CaptureFrame, type CaptureSource, MIRROR_CAMERA } from './frame';

const Mat4 = z.array(z.number()).length(16);
const three = z.tuple([z.number(), z.number(), z.number()]);
const px = z.number().positive().max(100_000);
const DeviceCamera = z.strictObject({
  /** World from camera, column-major; it looks along its own −Z. */
  world: Mat4,
  fx: z.number().positive(),
  fy: z.number().positive(),
  cx: z.number(),
  cy: z.number(),
  widthPx: px,
  heightPx: px,
});
const HandCamera = z.strictObject({
  positionM: three,
  targetM: three,
  fovDeg: z.number().min(1).max(170),
  widthPx: px.optional(),
  heightPx: px.optional(),
});

/** One line of a log. Matrices are column-major, metres. */
export const CaptureLine = z.strictObject({
  timeS: z.number().min(0).max(86_400),
  camera: z.union([DeviceCamera, HandCamera]).optional(),
  /** World from head; null: no head is found. */
  head: Mat4.nullable().optional(),
  /** World from shoulders (origin midway between the acromia); null: not seen. Never said, they are derived from the head. */
  shoulders: Mat4.nullable().optional(),
  /** World from the body's joints, by humanoid bone (VRM 1.0), in T-pose axes; null: not seen, it goes with the joint above it. */
  joints: z.record(z.string().max(60), Mat4.nullable()).optional(),
  /** FACS weights and other values, by name. */
  signals: z.record(z.string().max(60), z.number()).optional(),
  /** World from marker; null: not seen. */
  markers: z.record(z.string().max(60), Mat4.nullable()).optional(),
  /** World from surface: floor, table, wall. */
  surfaces: z.record(z.string().max(60), Mat4).optional(),
  touches: z
    .array(z.strictObject({ id: z.number(), x: z.number(), y: z.number(), phase: z.enum(['down', 'move', 'up']) }))
    .max(20)
    .optional(),
});
export type CaptureLine = z.infer<typeof CaptureLine>;

/** A log that cannot be read: which line, and what is wrong with it. */
export class CaptureLogError extends Error {
  readonly code = 'capture/line';
}

const MOST_LINES = 1_000_000;

/** Reads the lines of a log. @throws {CaptureLogError} a line that is no JSON, no capture, or not later than the one before */
export function readCaptureLog(text: string): CaptureLine[] {
  const out: CaptureLine[] = [];
  for (const [i, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    const bad = (why: string) => new CaptureLogError(`Line ${i + 1} of the capture log: ${why}`);
    if (out.length >= MOST_LINES) throw bad(`a log has at most ${MOST_LINES} lines.`);
    let data: unknown;
    try {
      data = JSON.parse(line);
    } catch {
      throw bad('it is not JSON.');
    }
    const read = CaptureLine.safeParse(data);
    if (!read.success) throw bad(`${read.error.issues[0].path.join('.') || 'the line'}: ${read.error.issues[0].message}.`);
    if (out.length > 0 && read.data.timeS <= out[out.length - 1].timeS)
      throw bad(`its time ${read.data.timeS} s is not later than the line before.`);
    out.push(read.data);
  }
  if (out.length === 0) throw new CaptureLogError('The capture log has no lines.');
  return out;
}

const _p = [new Vector3(), new Vector3()] as const;
const _q = [new Quaternion(), new Quaternion()] as const;
const _s = [new Vector3(), new Vector3()] as const;
const _m = /* @__PURE__ */ new Matrix4();

function between(a: readonly number[], b: readonly number[], u: number): number[] {
  _m.fromArray(a as number[]).decompose(_p[0], _q[0], _s[0]);
  _m.fromArray(b as number[]).decompose(_p[1], _q[1], _s[1]);
  return _m.compose(_p[0].lerp(_p[1], u), _q[0].slerp(_q[1], u), _s[0].lerp(_s[1], u)).toArray();
}
type Pose = readonly number[] | null | undefined;
const pose = (a: Pose, b: Pose, u: number): Pose => (a && b && a !== b && u > 0 ? between(a, b, u) : a);
const poses = <T extends Pose>(a: Readonly<Record<string, T>> | undefined, b: Readonly<Record<string, T>> | undefined, u: number) =>
  a && b && a !== b && u > 0 ? Object.fromEntries(Object.entries(a).map(([k, m]) => [k, pose(m, b[k], u) as T])) : a;

/** Plays lines back. Before the first line nothing is known; after the last it holds. */
export function replayCapture(lines: readonly CaptureLine[]): CaptureSource {
  let last: CaptureFrame = { timeS: 0, camera: MIRROR_CAMERA, head: null };
  const whole = lines.map(({ joints, signals, markers, surfaces, ...rest }): CaptureFrame => {
    const { timeS } = rest;
    const merged = {
      ...last,
      ...rest,
      ...(joints ? { joints: { ...last.joints, ...joints } } : {}),
      ...(signals ? { signals: { ...last.signals, ...signals } } : {}),
      ...(markers ? { markers: { ...last.markers, ...markers } } : {}),
      ...(surfaces ? { surfaces: { ...last.surfaces, ...surfaces } } : {}),
      timeS,
    };
    // what was touched was touched then
    if (!rest.touches) delete merged.touches;
    last = merged;
    return merged;
  });
  const indexAt = (timeS: number) => {
    let [lo, hi] = [0, whole.length - 1];
    while (lo < hi) {
      const mid = (lo + hi + 1) >> 1;
      if (whole[mid].timeS <= timeS) lo = mid;
      else hi = mid - 1;
    }
    return lo;
  };
  return {
    frame(timeS) {
      if (timeS < whole[0].timeS) return null;
      const i = indexAt(timeS);
      const [a, b] = [whole[i], whole[i + 1]];
      if (!b) return { ...a, timeS };
      const u = (timeS - a.timeS) / (b.timeS - a.timeS);
      const camera =
        'world' in a.camera && 'world' in b.camera && a.camera !== b.camera && u > 0
          ? { ...a.camera, world: between(a.camera.world, b.camera.world, u) }
          : a.camera;
      const frame: CaptureFrame = { ...a, timeS, camera, head: pose(a.head, b.head, u) ?? null };
      const shoulders = pose(a.shoulders, b.shoulders, u);
      if (shoulders !== undefined) frame.shoulders = shoulders;
      const joints = poses(a.joints, b.joints, u);
      if (joints) frame.joints = joints;
      const markers = poses(a.markers, b.markers, u);
      if (markers) frame.markers = markers;
      const surfaces = poses(a.surfaces, b.surfaces, u);
      if (surfaces) frame.surfaces = surfaces;
      return frame;
    },
    close: () => undefined,
  };
}

/** Frames as lines of a log, each with what changed. */
export function writeCaptureLog(frames: readonly CaptureFrame[]): string {
  let before: Partial<CaptureFrame> = {};
  return frames
    .map((frame) => {
      // in a log what is left out stands: a signal that has gone is said to be nought
      const gone = Object.keys(before.signals ?? {}).map((name) => [name, 0] as const);
      const f = gone.length > 0 ? { ...frame, signals: { ...Object.fromEntries(gone), ...frame.signals } } : frame;
      const line = Object.fromEntries(
        Object.entries(f).filter(([k, v]) => k === 'timeS' || JSON.stringify(v) !== JSON.stringify(before[k as keyof CaptureFrame])),
      );
      before = f;
      return `${JSON.stringify(line)}\n`;
    })
    .join('');
}
