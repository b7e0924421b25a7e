/** A thing stood up: to the side, up and fore as it would be worn, its middle plane at 0. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import type { Thing } from './thing';

export class Stand {
  /** Places of the thing here: spread evenly, and its corners. */
  readonly points: Float32Array;
  readonly corners: Float32Array;
  readonly lo = new Vector3(Infinity, Infinity, Infinity);
  readonly hi = new Vector3(-Infinity, -Infinity, -Infinity);
  private readonly back: Quaternion;

  /** @param turn from the thing's axes @param origin in the thing: what comes to 0 */
  constructor(
    readonly thing: Thing,
    readonly turn: Quaternion,
    readonly origin: Vector3,
    /** As `Mirror` tells, across the side. */
    readonly skew: number,
  ) {
    this.back = turn.clone().invert();
    this.points = this.turned(thing.points);
    this.corners = this.turned(thing.corners);
    const v = new Vector3();
    for (let i = 0; i < this.corners.length; i += 3) {
      v.fromArray(this.corners, i);
      this.lo.min(v);
      this.hi.max(v);
    }
  }

  private turned(from: Float32Array): Float32Array {
    const out = new Float32Array(from.length);
    const m = new Matrix4().makeRotationFromQuaternion(this.turn).elements;
    const { x, y, z } = this.origin;
    for (let i = 0; i < from.length; i += 3) {
      const [a, b, c] = [from[i] - x, from[i + 1] - y, from[i + 2] - z];
      out[i] = m[0] * a + m[4] * b + m[8] * c;
      out[i + 1] = m[1] * a + m[5] * b + m[9] * c;
      out[i + 2] = m[2] * a + m[6] * b + m[10] * c;
    }
    return out;
  }

  /** The same with its fore end lifted, radians. */
  lifted(rad: number): Stand {
    const by = new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), -rad);
    return new Stand(this.thing, by.multiply(this.turn), this.origin, this.skew);
  }

  /** How far a ray goes until it meets the thing. @param along unit */
  meets(from: Vector3, along: Vector3): number {
    return this.thing.meets(from.clone().applyQuaternion(this.back).add(this.origin), along.clone().applyQuaternion(this.back));
  }

  /** Corners and points within bounds, three numbers each. */
  within(is: (x: number, y: number, z: number) => boolean): number[] {
    const out: number[] = [];
    for (const p of [this.corners, this.points])
      for (let i = 0; i < p.length; i += 3) if (is(p[i], p[i + 1], p[i + 2])) out.push(p[i], p[i + 1], p[i + 2]);
    return out;
  }
}

/** Where a stood-up thing is: its factor, how far its fore end is lifted, and where its 0 lies in the head's frame, metres. */
export interface Place {
  factor: number;
  liftRad: number;
  /** To the side, for what is worn on one side. */
  x: number;
  y: number;
  z: number;
}

/** A place of the stand in the head's frame, metres. */
export function placed(at: Place, p: ArrayLike<number>, i = 0): [number, number, number] {
  const [c, s] = [Math.cos(at.liftRad), Math.sin(at.liftRad)];
  const [y, z] = [p[i + 1], p[i + 2]];
  return [at.x + at.factor * p[i], at.y + at.factor * (c * y + s * z), at.z + at.factor * (c * z - s * y)];
}

export function placedAll(at: Place, p: ArrayLike<number>): Float64Array {
  const out = new Float64Array(p.length);
  for (let i = 0; i < p.length; i += 3) out.set(placed(at, p, i), i);
  return out;
}

/** The stand's place of one in the head's frame. */
export function unplaced(at: Place, p: readonly number[]): [number, number, number] {
  const [c, s] = [Math.cos(at.liftRad), Math.sin(at.liftRad)];
  const [x, y, z] = [(p[0] - at.x) / at.factor, (p[1] - at.y) / at.factor, (p[2] - at.z) / at.factor];
  return [x, c * y - s * z, s * y + c * z];
}

/** Metres of the file to metres of the head's frame. */
export interface Onto {
  factor: number;
  turn: Quaternion;
  shiftM: Vector3;
}

export function ontoOf({ thing, turn, origin }: Stand, at: Place): Onto {
  const lift = new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), -at.liftRad);
  const whole = lift.multiply(turn.clone());
  const factor = at.factor / thing.sizeM;
  const shiftM = origin.clone().multiplyScalar(thing.sizeM).add(thing.middleM).applyQuaternion(whole).multiplyScalar(-factor);
  return { factor, turn: whole, shiftM: shiftM.add(new Vector3(at.x, at.y, at.z)) };
}

/** A place of the stand in the file, metres. */
export function inFile({ thing, turn, origin }: Stand, p: ArrayLike<number>, i = 0): [number, number, number] {
  const v = new Vector3(p[i], p[i + 1], p[i + 2]).applyQuaternion(turn.clone().invert()).add(origin);
  return v.multiplyScalar(thing.sizeM).add(thing.middleM).toArray();
}
