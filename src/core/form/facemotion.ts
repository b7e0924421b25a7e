/** What a face does to a form: the lids turn about the eyeball, the jaw about its hinge, eyeballs where one looks; the rest moves along fields. */
import { type FaceWeights, type SidedUnit, sidesOf } from '../words/face';
import type { ExpressionFields } from './basemesh';
import { EYE } from './eyeball';
import { D2R, type Vec3 } from './vec';

/** What moves a form's face: fields of its base, and what its measures made of them. */
export interface FaceRig {
  fields: ExpressionFields;
  /** Its head's length over the base's. */
  scale: number;
  /** From the base's left eye to its own, mm. */
  eyeShift: Vec3;
}

const JAW_DEG = 12.5;
const JAW_SIDE_DEG = 4.5;
/** How far eyes turn, degrees: people turn their heads before they turn their eyes further (*common practice*). */
const GAZE_DEG = { side: 32, up: 24, down: 30 };
/** Of a lid's way to shut: how far it is raised; how lids follow the eye up and down; how far the lower one goes up with a cheek. */
const LID = { raised: 0.3, up: 0.24, down: 0.5, lowerDown: 0.3, lowerUp: 0.3 };

/** How eyeballs are turned, radians: to the wearer's left, and up. */
export function gazeTurn(weights: FaceWeights): { yaw: number; pitch: number } {
  const up = (weights.AU63 ?? 0) - (weights.AU64 ?? 0);
  return {
    yaw: ((weights.AU61 ?? 0) - (weights.AU62 ?? 0)) * GAZE_DEG.side * D2R,
    pitch: up * (up > 0 ? GAZE_DEG.up : GAZE_DEG.down) * D2R,
  };
}

/** The middle of an eyeball, metres; of both, midway. */
export function eyeCentreM({ eyeShift }: FaceRig, side: 'left' | 'right' | null): Vec3 {
  const [x, y, z] = [0, 1, 2].map((k) => (EYE.c[k] + eyeShift[k]) / 1000);
  return [side === null ? 0 : side === 'left' ? x : -x, y, z];
}

const SIDED: readonly SidedUnit[] = ['AU1_2', 'AU4', 'AU5', 'AU6', 'AU9', 'AU12', 'AU15', 'AU45'];
/** A field that a weight goes along. */
interface Way {
  field: Float64Array;
  /** Of two sides; null: by `by` alone. */
  unit: SidedUnit | null;
  by: number;
}

/** Ways of one moment, for any vertex of a form: what is worked out once for all of them. */
export class FaceMotion {
  private readonly w: FaceWeights;
  /** Of units that do something: the wearer's left, and right. */
  private readonly sides: Partial<Record<SidedUnit, readonly [number, number]>> = {};
  private readonly ways: readonly Way[];
  private readonly sideways: number;
  private readonly gaze: { yaw: number; pitch: number };

  constructor(
    private readonly face: FaceRig,
    weights: FaceWeights,
  ) {
    this.w = weights;
    for (const unit of SIDED) {
      const [left, right] = sidesOf(unit).map((one) => weights[one] ?? 0);
      if (left !== 0 || right !== 0) this.sides[unit] = [left, right];
    }
    const { low, smile, cheek, nose, corner, pucker } = face.fields;
    const ways: Way[] = [
      { field: low, unit: 'AU4', by: 0 },
      { field: smile, unit: 'AU12', by: 0 },
      { field: cheek, unit: 'AU6', by: 0 },
      { field: nose, unit: 'AU9', by: 0 },
      { field: corner, unit: 'AU15', by: 0 },
      { field: pucker, unit: null, by: weights.AU18 ?? 0 },
    ];
    // what is at rest is not asked a vertex
    this.ways = ways.filter(({ unit, by }) => (unit ? this.sides[unit] !== undefined : by !== 0));
    this.sideways = (weights.AU30_L ?? 0) - (weights.AU30_R ?? 0);
    this.gaze = gazeTurn(weights);
  }

  /** Moves the place of vertex `v` at `pos[at…]`, mm. */
  move(v: number, pos: Float64Array, at: number): void {
    const { fields: F, scale } = this.face;
    if (F.still[v]) return;
    if (F.ball[v]) {
      this.turnBall(v, pos, at);
      return;
    }
    if (F.blink[v] !== 0) {
      const lid = this.lid(v);
      if (lid !== 0) this.turnLid(lid, pos, at);
    }
    const brow = this.both('AU1_2', v) * F.brow[v];
    pos[at + 1] += 6.5 * brow * scale;
    pos[at + 2] -= 1.2 * brow * scale;
    for (const { field, unit, by } of this.ways) {
      const share = unit ? this.both(unit, v) : by;
      if (share === 0) continue;
      pos[at] += (F.side[v] < 0 ? -1 : 1) * field[v * 3] * share * scale;
      pos[at + 1] += field[v * 3 + 1] * share * scale;
      pos[at + 2] += field[v * 3 + 2] * share * scale;
    }
    if (F.jaw[v] !== 0) this.moveJaw(F.jaw[v], pos, at);
    // what is in the middle stays there, bit by bit, unless the jaw leaves it
    if (F.side[v] === 0 && this.sideways === 0) pos[at] = 0;
  }

  /** A unit's weight at a vertex: of its side, smoothly over the middle. */
  private both(unit: SidedUnit, v: number): number {
    const sides = this.sides[unit];
    if (!sides) return 0;
    const l = this.face.fields.left[v];
    return sides[0] * l + sides[1] * (1 - l);
  }

  /** The angle a lid's vertex turns by, radians. */
  private lid(v: number): number {
    const { blink, upperLid } = this.face.fields;
    const [shut, raised, cheek] = [this.both('AU45', v), this.both('AU5', v), this.both('AU6', v)];
    const up = (this.w.AU63 ?? 0) - (this.w.AU64 ?? 0);
    const open = 1 - shut;
    if (upperLid[v] !== 0) return blink[v] * (shut + open * ((up > 0 ? -LID.up : -LID.down) * up - LID.raised * raised));
    return blink[v] * (shut + open * (LID.lowerUp * cheek + LID.lowerDown * Math.min(0, up)));
  }

  private turnLid(a: number, pos: Float64Array, at: number): void {
    const { eyeShift } = this.face;
    const cy = EYE.c[1] + eyeShift[1];
    const cz = EYE.c[2] + eyeShift[2];
    const y = pos[at + 1] - cy;
    const z = pos[at + 2] - cz;
    const c = Math.cos(a);
    const s = Math.sin(a);
    pos[at + 1] = cy + y * c + z * s;
    pos[at + 2] = cz - y * s + z * c;
  }

  private turnBall(v: number, pos: Float64Array, at: number): void {
    const { yaw, pitch } = this.gaze;
    if (yaw === 0 && pitch === 0) return;
    const { fields, eyeShift } = this.face;
    const cx = (EYE.c[0] + eyeShift[0]) * fields.side[v];
    const cy = EYE.c[1] + eyeShift[1];
    const cz = EYE.c[2] + eyeShift[2];
    const [x, y, z] = [pos[at] - cx, pos[at + 1] - cy, pos[at + 2] - cz];
    const [cp, sp, cw, sw] = [Math.cos(pitch), Math.sin(pitch), Math.cos(yaw), Math.sin(yaw)];
    const fore = z * cp - y * sp;
    pos[at] = cx + x * cw + fore * sw;
    pos[at + 1] = cy + y * cp + z * sp;
    pos[at + 2] = cz - x * sw + fore * cw;
  }

  /** About the hinge of the jaw: first aside, then down. */
  private moveJaw(share: number, pos: Float64Array, at: number): void {
    const { scale } = this.face;
    if (this.sideways !== 0) {
      const a = JAW_SIDE_DEG * D2R * this.sideways * share;
      const [x, z] = [pos[at], pos[at + 2] - 12];
      pos[at] = x * Math.cos(a) + z * Math.sin(a);
      pos[at + 2] = 12 + z * Math.cos(a) - x * Math.sin(a);
    }
    const j = (this.w.AU26 ?? 0) * share;
    if (j === 0) return;
    const a = JAW_DEG * D2R * j;
    const c = Math.cos(a);
    const s = Math.sin(a);
    const y = pos[at + 1] + 2;
    const z = pos[at + 2] - 12;
    pos[at + 1] = -2 + y * c - z * s - 2 * j * scale;
    pos[at + 2] = 12 + z * c + y * s + 5 * j * scale;
  }
}

export const isAtRest = (weights: FaceWeights): boolean => Object.keys(weights).length === 0;

/** Applies an expression to warped positions (flat, mm), in place. */
export function applyExpression(face: FaceRig, pos: Float64Array, weights: FaceWeights): void {
  if (isAtRest(weights)) return;
  const motion = new FaceMotion(face, weights);
  for (let v = 0; v * 3 < pos.length; v++) motion.move(v, pos, v * 3);
}
