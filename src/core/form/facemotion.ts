/** What a face does to a form: the lids turn about the eyeball, the jaw about its hinge, eyeballs where one looks; the rest moves along fields. */
import { type ActionUnit, type FaceWeights, type SidedUnit, sidesOf } from '../words/face';
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

/** Ways of one moment, for any vertex of a form: what is worked out once for all of them. */
export class FaceMotion {
  private readonly w: FaceWeights;
  private readonly sideways: number;
  private readonly gaze: { yaw: number; pitch: number };

  constructor(
    private readonly face: FaceRig,
    weights: FaceWeights,
  ) {
    this.w = weights;
    this.sideways = (weights.AU30_L ?? 0) - (weights.AU30_R ?? 0);
    this.gaze = gazeTurn(weights);
  }

  /** Moves the place of vertex `v` at `pos[at…]`, mm. */
  move(v: number, pos: Float64Array, at: number): void {
    const { fields: F, scale } = this.face;
    if (F.ball[v]) {
      this.turnBall(v, pos, at);
      return;
    }
    const l = F.left[v];
    const sx = F.side[v] < 0 ? -1 : 1;
    const two = (unit: SidedUnit) => {
      const [left, right] = sidesOf(unit) as [ActionUnit, ActionUnit];
      return (this.w[left] ?? 0) * l + (this.w[right] ?? 0) * (1 - l);
    };
    const along = (by: number, field: Float64Array) => {
      if (by === 0) return;
      pos[at] += sx * field[v * 3] * by * scale;
      pos[at + 1] += field[v * 3 + 1] * by * scale;
      pos[at + 2] += field[v * 3 + 2] * by * scale;
    };
    const lid = this.lid(v, two('AU45'), two('AU5'), two('AU6'));
    if (lid !== 0) this.turnLid(lid, pos, at);
    const brow = two('AU1_2') * F.brow[v];
    pos[at + 1] += 6.5 * brow * scale;
    pos[at + 2] -= 1.2 * brow * scale;
    along(two('AU4'), F.low);
    along(two('AU12'), F.smile);
    along(two('AU6'), F.cheek);
    along(two('AU9'), F.nose);
    along(two('AU15'), F.corner);
    along(this.w.AU18 ?? 0, F.pucker);
    if (F.jaw[v] !== 0) this.moveJaw(F.jaw[v], pos, at);
    // what is in the middle stays there, bit by bit, unless the jaw leaves it
    if (F.side[v] === 0 && this.sideways === 0) pos[at] = 0;
  }

  /** The angle a lid's vertex turns by, radians. */
  private lid(v: number, shut: number, raised: number, cheek: number): number {
    const { blink, upperLid } = this.face.fields;
    if (blink[v] === 0) return 0;
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
