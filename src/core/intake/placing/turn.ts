/**
 * Which way round a model lies. Every one of the 24 turns by quarters is scored by what a thing of the stated kind looks
 * like when it stands right: its proportions, its mirror symmetry to the wearer's left and right, and features that tell
 * fore from back and up from down. The scores become shares of likelihood (softmax), so that a tie is said to be one.
 */
import { Euler, Matrix4, type Quaternion, Vector3 } from 'three';
import { turnFromDeg } from '../../math/turns';
import { KINDS, type Kind } from '../../words/kinds';
import type { SurfaceSample } from './sample';

export interface TurnGuess {
  yawDeg: number;
  pitchDeg: number;
  rollDeg: number;
  reason: string;
  /** 0..1: the share of likelihood of this turn. */
  confidence: number;
}

/** A turn by quarters as a signed permutation: axis `from[i]` with `sign[i]` becomes axis i. */
export interface QuarterTurn {
  from: readonly [number, number, number];
  sign: readonly [number, number, number];
  yawDeg: number;
  pitchDeg: number;
  rollDeg: number;
}

const round90 = (rad: number) => (Math.round(rad / (Math.PI / 2)) * 90 + 0) % 360;

/** All 24, the identity first. Angles are yaw, then pitch, then roll (YXZ). */
export const QUARTER_TURNS: readonly QuarterTurn[] = (() => {
  const out: QuarterTurn[] = [];
  const seen = new Set<string>();
  for (const pitch of [0, -90, 90, 180])
    for (const yaw of [0, 180, 90, -90])
      for (const roll of [0, 90, -90, 180]) {
        const m = new Matrix4().makeRotationFromEuler(
          new Euler((pitch * Math.PI) / 180, (yaw * Math.PI) / 180, (roll * Math.PI) / 180, 'YXZ'),
        );
        const rows = [0, 1, 2].map((r) => [0, 1, 2].map((c) => Math.round(m.elements[c * 4 + r])));
        const key = rows.join();
        if (seen.has(key)) continue;
        seen.add(key);
        const from = rows.map((r) => r.findIndex((x) => x !== 0)) as [number, number, number];
        out.push({ from, sign: rows.map((r, i) => r[from[i]]) as [number, number, number], yawDeg: yaw, pitchDeg: pitch, rollDeg: roll });
      }
  return out;
})();

export const quarterQuaternion = (t: { yawDeg: number; pitchDeg: number; rollDeg: number }) =>
  turnFromDeg({ yaw: t.yawDeg, pitch: t.pitchDeg, roll: t.rollDeg });

/** The quarter turn nearest a rotation. */
export function nearestQuarter(q: Quaternion): QuarterTurn {
  const e = new Euler().setFromQuaternion(q, 'YXZ');
  const wanted = { yawDeg: round90(e.y), pitchDeg: round90(e.x), rollDeg: round90(e.z) };
  const target = quarterQuaternion(wanted);
  return QUARTER_TURNS.reduce((best, t) => (quarterQuaternion(t).angleTo(target) < quarterQuaternion(best).angleTo(target) ? t : best));
}

const GRID = 9;

/** How unlike its mirror image the cloud is across each axis, 0 alike .. 1 nothing in common. */
function asymmetry(points: Float32Array, mid: number[], half: number[]): [number, number, number] {
  const cells = new Float32Array(GRID ** 3);
  const cell = (x: number, k: number) => Math.min(GRID - 1, Math.max(0, Math.floor(((x - mid[k]) / half[k] + 1) * 0.5 * GRID)));
  const n = points.length / 3;
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [cell(points[i * 3], 0), cell(points[i * 3 + 1], 1), cell(points[i * 3 + 2], 2)];
    cells[(a * GRID + b) * GRID + c] += 1 / n;
  }
  const out: [number, number, number] = [0, 0, 0];
  const flip = (i: number) => GRID - 1 - i;
  for (let a = 0; a < GRID; a++)
    for (let b = 0; b < GRID; b++)
      for (let c = 0; c < GRID; c++) {
        const here = cells[(a * GRID + b) * GRID + c];
        out[0] += Math.abs(here - cells[(flip(a) * GRID + b) * GRID + c]) / 2;
        out[1] += Math.abs(here - cells[(a * GRID + flip(b)) * GRID + c]) / 2;
        out[2] += Math.abs(here - cells[(a * GRID + b) * GRID + flip(c)]) / 2;
      }
  return out;
}

/** The cloud as one of the turns shows it: coordinates −1..1 of the turned box, and half its size. */
class Turned {
  constructor(
    private readonly unit: Float32Array,
    readonly glass: Uint8Array,
    private readonly half: readonly number[],
    private readonly turn: QuarterTurn,
  ) {}
  get n(): number {
    return this.glass.length;
  }
  /** Axis k (0 side, 1 up, 2 fore) of point i, −1..1. */
  at(i: number, k: 0 | 1 | 2): number {
    return this.turn.sign[k] * this.unit[i * 3 + this.turn.from[k]];
  }
  size(k: 0 | 1 | 2): number {
    return this.half[this.turn.from[k]];
  }
  /** Mean of `what` over the points `where` holds; 0 where there is none. */
  mean(what: (i: number) => number, where: (i: number) => boolean = () => true): number {
    let sum = 0;
    let n = 0;
    for (let i = 0; i < this.n; i++)
      if (where(i)) {
        sum += what(i);
        n++;
      }
    return n > 0 ? sum / n : 0;
  }
  /** Share of the points `where` holds for. */
  share(where: (i: number) => boolean): number {
    let n = 0;
    for (let i = 0; i < this.n; i++) if (where(i)) n++;
    return this.n > 0 ? n / this.n : 0;
  }
  private readonly covers = new Map<number, number>();
  /** Share of the directions around one axis, seen from the box's middle, in which there is surface. */
  cover(k: 0 | 1 | 2, sign: 1 | -1): number {
    const known = this.covers.get(sign * (k + 1));
    if (known !== undefined) return known;
    const [u, v] = [(k + 1) % 3, (k + 2) % 3] as (0 | 1 | 2)[];
    const seen = new Set<number>();
    for (let i = 0; i < this.n; i++) {
      const d = sign * this.at(i, k) * this.size(k);
      const [a, b] = [this.at(i, u) * this.size(u), this.at(i, v) * this.size(v)];
      if (d <= 0 || Math.hypot(a, b) > 0.6 * d) continue;
      seen.add(Math.floor((a / d + 0.6) / 0.3) * 4 + Math.floor((b / d + 0.6) / 0.3));
    }
    this.covers.set(sign * (k + 1), seen.size / 12);
    return seen.size / 12;
  }
  /** Half the spread along `k` of the points `where` holds for, 0..1 of the box. */
  spread(k: 0 | 1 | 2, where: (i: number) => boolean): number {
    const m = this.mean((i) => this.at(i, k), where);
    return Math.sqrt(this.mean((i) => (this.at(i, k) - m) ** 2, where));
  }
}

type Feature = (c: Turned) => number;

/** A feature of several kinds is looked at once a turn. */
const shared = (f: Feature): Feature => {
  const known = new WeakMap<Turned, number>();
  return (c) => {
    const x = known.get(c) ?? f(c);
    known.set(c, x);
    return x;
  };
};
const clamp = (x: number, at = 1) => Math.max(-at, Math.min(at, x));
const glassFore: Feature = shared((c) =>
  c.glass.includes(1)
    ? 3 *
      clamp(
        2 *
          c.mean(
            (i) => c.at(i, 2),
            (i) => c.glass[i] === 1,
          ),
      )
    : 0,
);
const openBelow: Feature = (c) => 3 * clamp(2 * (c.cover(1, 1) - c.cover(1, -1)));
const widerBelow: Feature = shared((c) => 3 * clamp(3 * (c.spread(0, (i) => c.at(i, 1) < -0.5) - c.spread(0, (i) => c.at(i, 1) > 0.5))));
const tallerInFront: Feature = (c) => {
  const top = (front: boolean) => {
    const up = c.mean(
      (i) => c.at(i, 1),
      (i) => (front ? c.at(i, 2) > 0.45 : c.at(i, 2) < -0.45),
    );
    return up;
  };
  return 2.5 * clamp(5 * (top(true) - top(false)));
};
const baseHeavy: Feature = shared((c) => 3 * clamp(3 * (c.share((i) => c.at(i, 1) < -0.6) - c.share((i) => c.at(i, 1) > 0.6))));

/** What each kind is known by, beside proportions and symmetry. Each feature adds at most about 3. */
const FEATURES: Record<Kind, readonly Feature[]> = {
  eyewear: [
    // lenses and rims are in front, and most of the surface
    (c) => 4 * clamp(2 * c.mean((i) => c.at(i, 2))),
    // temples leave the front in its upper half, and bend down behind the ear
    (c) =>
      4 *
      clamp(
        1.5 *
          c.mean(
            (i) => c.at(i, 1),
            (i) => Math.abs(c.at(i, 2)) < 0.45,
          ),
      ),
    (c) => {
      const tip = c.mean(
        (i) => c.at(i, 1),
        (i) => c.at(i, 2) < -0.85,
      );
      const arm = c.mean(
        (i) => c.at(i, 1),
        (i) => c.at(i, 2) > -0.5 && c.at(i, 2) < 0.3,
      );
      return 3 * clamp(1.5 * (arm - tip));
    },
    // the bridge is over the nose
    (c) =>
      2 *
      clamp(
        2 *
          c.mean(
            (i) => c.at(i, 1),
            (i) => c.at(i, 2) > 0.6 && Math.abs(c.at(i, 0)) < 0.08,
          ),
      ),
  ],
  headwear: [openBelow, baseHeavy, glassFore, tallerInFront],
  fullhead: [
    openBelow,
    glassFore,
    (c) =>
      1.5 *
      clamp(
        3 *
          c.mean(
            (i) => c.at(i, 2),
            (i) => Math.abs(c.at(i, 0)) < 0.15,
          ),
      ),
  ],
  mask: [
    (c) => 4 * clamp(2 * (c.cover(2, 1) - c.cover(2, -1))),
    // foreheads are wider than chins
    (c) => -widerBelow(c),
  ],
  earring: [
    (c) => -5 * clamp(1.5 * c.mean((i) => c.at(i, 1))),
    // the wire goes back over the lobe
    (c) =>
      -5 *
      clamp(
        2.5 *
          c.mean(
            (i) => c.at(i, 2),
            (i) => c.at(i, 1) > 0.3,
          ),
      ),
  ],
  neckwear: [
    widerBelow,
    (c) => 2 * clamp(3 * (c.share((i) => c.at(i, 2) > 0.4 && c.at(i, 1) < 0) - c.share((i) => c.at(i, 2) < -0.4 && c.at(i, 1) < 0))),
  ],
  backpiece: [(c) => 1.5 * clamp(2 * c.mean((i) => c.at(i, 1)))],
  garment: [
    widerBelow,
    // open in front, whole at the back
    (c) => 3 * clamp(2 * (c.cover(2, -1) - c.cover(2, 1))),
    (c) => 1.5 * clamp(4 * (c.share((i) => c.at(i, 2) < -0.35) - c.share((i) => c.at(i, 2) > 0.35))),
  ],
  prop: [baseHeavy],
  figure: [
    // shoulders and arms above, legs below; toes point fore
    (c) =>
      3 *
      clamp(3 * (c.spread(0, (i) => c.at(i, 1) > 0.25 && c.at(i, 1) < 0.7) - c.spread(0, (i) => c.at(i, 1) < -0.25 && c.at(i, 1) > -0.7))),
    (c) =>
      3 *
      clamp(
        2 *
          (c.mean(
            (i) => c.at(i, 2),
            (i) => c.at(i, 1) < -0.93,
          ) -
            c.mean(
              (i) => c.at(i, 2),
              (i) => c.at(i, 1) > -0.85,
            )),
      ),
  ],
};

/** The ways files usually arrive, before one looks: right, turned round, or with up and fore exchanged (*common practice*). */
function prior(t: QuarterTurn): number {
  if (t.yawDeg === 0 && t.pitchDeg === 0 && t.rollDeg === 0) return 0.8;
  if (t.pitchDeg === 0 && t.rollDeg === 0 && t.yawDeg === 180) return 0.4;
  if (t.rollDeg === 0 && t.yawDeg === 0 && Math.abs(t.pitchDeg) === 90) return 0.4;
  return 0;
}

/** What goes on four legs is a figure too: longer than high, its body above thin legs (*common practice*: about 2 : 5 : 9). */
const FOUR_LEGS = { usualMm: [400, 1000, 1800], spread: [0.4, 0.3, 0.3], prior: -2 } as const;
const bodyAboveLegs: Feature = (c) => 5 * clamp(3 * (c.share((i) => c.at(i, 1) > 0) - c.share((i) => c.at(i, 1) < 0)));

/** How likely its proportions are, as the natural logarithm; a model's vary more than the size of its kind does. */
function proportions(c: Turned, { usualMm, spread }: { usualMm: readonly number[]; spread: readonly number[] }): number {
  const logs = ([0, 1, 2] as const).map((k) => Math.log(Math.max(1e-9, c.size(k)) / usualMm[k]));
  const mean = (logs[0] + logs[1] + logs[2]) / 3;
  return logs.reduce((s, x, k) => s - 0.5 * ((x - mean) / (spread[k] + 0.25)) ** 2, 0);
}

function scoreTurn(kind: Kind, c: Turned, skew: readonly [number, number, number], t: QuarterTurn): number {
  const lopsided = Math.min(skew[0], skew[1], skew[2]);
  const mirror = kind === 'prop' ? 0 : -12 * (skew[t.from[0]] - lopsided);
  const like = FEATURES[kind].reduce((s, f) => s + f(c), proportions(c, KINDS[kind]));
  const legs = kind === 'figure' ? bodyAboveLegs(c) + proportions(c, FOUR_LEGS) + FOUR_LEGS.prior : Number.NEGATIVE_INFINITY;
  const most = Math.max(like, legs);
  return most + Math.log(Math.exp(like - most) + Math.exp(legs - most)) + mirror + prior(t);
}

export interface TurnShares {
  turn: QuarterTurn;
  share: number;
}

interface Cloud {
  turned: readonly Turned[];
  skew: readonly [number, number, number];
}
const clouds = new WeakMap<SurfaceSample, Cloud>();
/** A sample in every turn, for whatever kinds it is asked. */
function cloudOf(sample: SurfaceSample): Cloud {
  const known = clouds.get(sample);
  if (known) return known;
  const n = sample.count;
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < n * 3; i++) {
    lo[i % 3] = Math.min(lo[i % 3], sample.points[i]);
    hi[i % 3] = Math.max(hi[i % 3], sample.points[i]);
  }
  const mid = lo.map((x, k) => (x + hi[k]) / 2);
  const widest = Math.max(...hi.map((x, k) => x - lo[k]));
  const half = hi.map((x, k) => Math.max((x - lo[k]) / 2, widest * 1e-4, 1e-12));
  const unit = sample.points.map((x, i) => (x - mid[i % 3]) / half[i % 3]);
  const turned = QUARTER_TURNS.map((t) => new Turned(unit, sample.glass, half, t));
  const cloud: Cloud = { turned, skew: asymmetry(sample.points, mid, half) };
  clouds.set(sample, cloud);
  return cloud;
}

/** Every turn with its share of likelihood, the likeliest first. Empty without a surface. */
export function rankTurns(kind: Kind, sample: SurfaceSample): TurnShares[] {
  if (sample.count === 0) return [];
  const { turned, skew } = cloudOf(sample);
  const scores = QUARTER_TURNS.map((t, i) => scoreTurn(kind, turned[i], skew, t));
  const top = Math.max(...scores);
  const weights = scores.map((s) => Math.exp(s - top));
  const total = weights.reduce((s, w) => s + w, 0);
  return QUARTER_TURNS.map((turn, i) => ({ turn, share: weights[i] / total })).sort((a, b) => b.share - a.share);
}

/** World axes a quarter turn takes, for sentences: where the model's own up and fore point. */
export function describeTurn(t: { yawDeg: number; pitchDeg: number; rollDeg: number }): string {
  const words: string[] = [];
  const angle = (deg: number) => `${deg < 0 ? '−' : ''}${Math.abs(deg)}°`;
  if (t.yawDeg) words.push(`${angle(t.yawDeg)} of yaw`);
  if (t.pitchDeg) words.push(`${angle(t.pitchDeg)} of pitch`);
  if (t.rollDeg) words.push(`${angle(t.rollDeg)} of roll`);
  return words.join(' and ') || 'no turn';
}

/** In which way a model that needs this turn lies now. */
export function describeLie(t: { yawDeg: number; pitchDeg: number; rollDeg: number }): string {
  const q = quarterQuaternion(t).invert();
  const up = new Vector3(0, 1, 0).applyQuaternion(q);
  const fore = new Vector3(0, 0, 1).applyQuaternion(q);
  if (up.y < -0.5) return 'stands on its head';
  if (up.y < 0.5) return up.z > 0.5 ? 'lies on its back' : up.z < -0.5 ? 'lies on its face' : 'lies on its side';
  if (fore.z < -0.5) return 'faces backwards';
  return fore.z > 0.5 ? 'stands right' : 'faces sideways';
}
