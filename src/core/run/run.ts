/**
 * A run has a memory. Steps of 1/120 s, each at its own time, so that what is shown at a time is the same however often it is
 * drawn. Trails are what remembers: a frame that goes half of what is left of its way in each half-life.
 */
import { Matrix4, Quaternion, Vector3 } from 'three';
import type { CaptureFrame } from '../capture';
import { nodeMatrices } from '../model/pose';
import { applyFollow } from './follow';
import { hangFrame, poseOf, type Show } from './show';

export const STEP_S = 1 / 120;
/** Numbers a trail remembers: place, turn, size, and whether it has begun. */
const TRAIL = 11;

/** Plain data: copied by `copyMemory`, sent between threads as it is. */
export interface Memory {
  /** Steps done; −1: none. */
  step: number;
  seed: number;
  /** At rest in a pose: nothing lags. */
  settled: boolean;
  trails: Float64Array;
}

export const start = (show: Show, { seed = 1 }: { seed?: number } = {}): Memory => ({
  step: -1,
  seed,
  settled: false,
  trails: new Float64Array(show.trails.length * TRAIL),
});

/** At rest in that pose: strips, plates, covers, sheets. */
export const settle = (show: Show, _capture: CaptureFrame): Memory => ({ ...start(show), settled: true });

export const copyMemory = (m: Memory): Memory => ({ ...m, trails: m.trails.slice() });
/** Writes `from` over `to`; both are of one show. */
export function restoreMemory(to: Memory, from: Memory): void {
  to.step = from.step;
  to.seed = from.seed;
  to.settled = from.settled;
  to.trails.set(from.trails);
}

/** World matrices of a show's nodes, reused from step to step. */
export class Frames {
  readonly world: Matrix4[];
  /** Whether all a node hangs on is seen. */
  readonly found: boolean[];
  private readonly bones: (Matrix4[] | null)[];
  private readonly bonesAtS: number[];
  /** The look at a capture that bones which a body moves are of. */
  private readonly bonesAtLook: number[];

  constructor(readonly show: Show) {
    this.world = show.nodes.map(() => new Matrix4());
    this.found = show.nodes.map(() => false);
    this.bones = show.nodes.map(() => null);
    this.bonesAtS = show.nodes.map(() => Number.NaN);
    this.bonesAtLook = show.nodes.map(() => -1);
  }

  bonesOf(node: number, timeS: number): Matrix4[] | null {
    const { nodes, seen } = this.show;
    const worn = nodes[node].worn !== null && this.bonesAtLook[node] !== seen.looks;
    if (worn || this.bonesAtS[node] !== timeS) {
      const { model } = nodes[node];
      const pose = poseOf(nodes[node], seen, timeS);
      this.bones[node] = model && pose && nodeMatrices(model, pose);
      this.bonesAtS[node] = timeS;
      this.bonesAtLook[node] = seen.looks;
    }
    return this.bones[node];
  }

  /** World from node i, with what it remembers; what it hangs from is done already. @param dtS by how much its trail goes on */
  place(i: number, timeS: number, memory: Memory, dtS: number): void {
    const { nodes, seen } = this.show;
    const n = nodes[i];
    const w = this.world[i];
    if (n.parent >= 0) {
      this.found[i] = this.found[n.parent];
      w.copy(this.world[n.parent]);
      const bone = n.bone >= 0 ? this.bonesOf(n.parent, timeS)?.[n.bone] : undefined;
      if (bone) w.multiply(bone);
    } else this.found[i] = hangFrame(n, seen, w);
    if (!this.found[i]) {
      w.identity();
      if (n.trail >= 0 && dtS > 0) memory.trails[n.trail * TRAIL + 10] = 0;
      return;
    }
    applyFollow(w, n);
    if (n.trail >= 0) lag(w, this.show.trails[n.trail].follow, memory, n.trail * TRAIL, dtS);
    w.multiply(n.offset);
  }
}

const _p = /* @__PURE__ */ new Vector3();
const _q = /* @__PURE__ */ new Quaternion();
const _s = /* @__PURE__ */ new Vector3();
const _p0 = /* @__PURE__ */ new Vector3();
const _q0 = /* @__PURE__ */ new Quaternion();
const _s0 = /* @__PURE__ */ new Vector3();

/** Share of the way gone in a time: half of it in each half-life. */
const gone = (dtS: number, halfLifeMs: number) => (halfLifeMs <= 0 ? 1 : 1 - 2 ** ((-dtS * 1000) / halfLifeMs));

/** Moves a remembered frame towards `frame` and writes it there. `dtS` 0: it stands where it is. */
function lag(frame: Matrix4, t: Show['trails'][number]['follow'], memory: Memory, at: number, dtS: number): void {
  const m = memory.trails;
  frame.decompose(_p, _q, _s);
  if (memory.settled) return;
  if (m[at + 10] === 0) {
    _p0.copy(_p);
    _q0.copy(_q);
    _s0.copy(_s);
  } else {
    _p0.fromArray(m, at);
    _q0.fromArray(m, at + 3);
    _s0.fromArray(m, at + 7);
    const far = _p0.distanceTo(_p);
    if (far > t.deadZoneM) _p0.lerp(_p, (1 - t.deadZoneM / far) * gone(dtS, t.placeHalfLifeMs));
    _q0.slerp(_q, gone(dtS, t.turnHalfLifeMs));
    _s0.lerp(_s, gone(dtS, t.sizeHalfLifeMs));
  }
  _p0.toArray(m as unknown as number[], at);
  _q0.toArray(m as unknown as number[], at + 3);
  _s0.toArray(m as unknown as number[], at + 7);
  m[at + 10] = 1;
  frame.compose(_p0, _q0, _s0);
}

const framesOf = new WeakMap<Show, Frames>();
export function framesFor(show: Show): Frames {
  let frames = framesOf.get(show);
  if (!frames) {
    frames = new Frames(show);
    framesOf.set(show, frames);
  }
  return frames;
}

/**
 * Steps the memory up to a time, in place. Times before it change nothing.
 * @param captureAt the capture at a step's own time; null: nothing is known, and what remembers waits
 */
export function advance(show: Show, memory: Memory, captureAt: (timeS: number) => CaptureFrame | null, toS: number): void {
  if (!(toS >= 0)) throw new RangeError(`advance: toS must be 0 or later; got ${toS}.`);
  const last = Math.floor(toS / STEP_S + 1e-6);
  if (memory.settled) return;
  if (show.trails.length === 0) {
    if (last > memory.step) memory.step = last;
    return;
  }
  const frames = framesFor(show);
  while (memory.step < last) {
    memory.step++;
    const timeS = memory.step * STEP_S;
    const capture = captureAt(timeS);
    if (!capture) continue;
    show.seen.look(capture);
    for (const i of show.stepped) frames.place(i, timeS, memory, STEP_S);
  }
}
