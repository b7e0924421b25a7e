/**
 * Which way round a model lies. Every one of the 24 turns by quarters is scored by what a thing of the stated kind looks
 * like when it stands right: its proportions, its mirror symmetry to the wearer's left and right, and features that tell
 * fore from back and up from down. The scores become shares of likelihood (softmax), so that a tie is said to be one.
 */
import { Euler, Matrix4, type Quaternion, Vector3 } from 'three';
import { turnFromDeg } from '../../math/turns';
import { KINDS, type Kind } from '../../words/kinds';
import { Cloud, type QuarterTurn, Turned } from './cloud';
import type { SurfaceSample } from './sample';

export interface TurnGuess {
  yawDeg: number;
  pitchDeg: number;
  rollDeg: number;
  reason: string;
  /** 0..1: the share of likelihood of this turn. */
  confidence: number;
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

type Feature = (c: Turned) => number;
const [SIDE, UP, FORE] = [0, 1, 2] as const;

const clamp = (x: number, at = 1) => Math.max(-at, Math.min(at, x));
/** What lies further along an axis than a place, or less far. */
const over = (x: number) => [x, Infinity] as const;
const under = (x: number) => [-Infinity, x] as const;
const within = (x: number) => [-x, x] as const;

const glassFore: Feature = (c) => (c.anyGlass ? 3 * clamp(2 * c.mean(FORE, { glass: true })) : 0);
const openBelow: Feature = (c) => 3 * clamp(2 * (c.cover(UP, 1) - c.cover(UP, -1)));
const widerBelow: Feature = (c) => 3 * clamp(3 * (c.spread(SIDE, { up: under(-0.5) }) - c.spread(SIDE, { up: over(0.5) })));
const tallerInFront: Feature = (c) => 2.5 * clamp(5 * (c.mean(UP, { fore: over(0.45) }) - c.mean(UP, { fore: under(-0.45) })));
/** A peak is thin where the back of the head is covered. */
const peakFore: Feature = (c) => {
  const [fore, aft] = [c.spread(UP, { fore: over(0.6) }), c.spread(UP, { fore: under(-0.6) })];
  return fore < 0.1 && aft > 0.25 ? 7 : aft < 0.1 && fore > 0.25 ? -7 : 0;
};
/** What hangs below a ring hangs in front of it. */
const pendant: Feature = (c) => {
  const below = (fore: readonly [number, number]) => c.share({ up: under(-0.5), fore });
  return below(under(0)) < 0.01 && below(over(0.3)) > 0.01 ? 8 : 0;
};
const baseHeavy: Feature = (c) => 3 * clamp(3 * (c.share({ up: under(-0.6) }) - c.share({ up: over(0.6) })));

/** What each kind is known by, beside proportions and symmetry. Each feature adds at most about 3. */
const FEATURES: Record<Kind, readonly Feature[]> = {
  eyewear: [
    // lenses and rims are in front, and most of the surface
    (c) => 4 * clamp(2 * c.mean(FORE)),
    // temples leave the front in its upper half, and bend down behind the ear
    (c) => 4 * clamp(1.5 * c.mean(UP, { fore: within(0.45) })),
    (c) => 3 * clamp(1.5 * (c.mean(UP, { fore: [-0.5, 0.3] }) - c.mean(UP, { fore: under(-0.85) }))),
    // the bridge is over the nose
    (c) => 2 * clamp(2 * c.mean(UP, { fore: over(0.6), side: within(0.08) })),
  ],
  headwear: [openBelow, baseHeavy, glassFore, tallerInFront, peakFore],
  fullhead: [openBelow, glassFore, (c) => 1.5 * clamp(3 * c.mean(FORE, { side: within(0.15) }))],
  mask: [
    (c) => 4 * clamp(2 * (c.cover(FORE, 1) - c.cover(FORE, -1))),
    // foreheads are wider than chins
    (c) => -widerBelow(c),
  ],
  earring: [
    (c) => -5 * clamp(1.5 * c.mean(UP)),
    // the wire goes back over the lobe, behind what hangs from it
    (c) => -5 * clamp(2.5 * (c.mean(FORE, { up: over(0.3) }) - c.mean(FORE, { up: under(0) }))),
  ],
  neckwear: [
    widerBelow,
    pendant,
    (c) => 2 * clamp(3 * (c.share({ fore: over(0.4), up: under(0) }) - c.share({ fore: under(-0.4), up: under(0) }))),
  ],
  backpiece: [(c) => 1.5 * clamp(2 * c.mean(UP))],
  garment: [
    widerBelow,
    // open in front, whole at the back
    (c) => 3 * clamp(2 * (c.cover(FORE, -1) - c.cover(FORE, 1))),
    (c) => 1.5 * clamp(4 * (c.share({ fore: under(-0.35) }) - c.share({ fore: over(0.35) }))),
  ],
  prop: [baseHeavy],
  figure: [
    // shoulders and arms above, legs below; toes point fore
    (c) => 3 * clamp(3 * (c.spread(SIDE, { up: [0.25, 0.7] }) - c.spread(SIDE, { up: [-0.7, -0.25] }))),
    (c) => 3 * clamp(2 * (c.mean(FORE, { up: under(-0.93) }) - c.mean(FORE, { up: over(-0.85) }))),
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
const bodyAboveLegs: Feature = (c) => 5 * clamp(3 * (c.share({ up: over(0) }) - c.share({ up: under(0) })));

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

interface Turns {
  turned: readonly Turned[];
  skew: readonly [number, number, number];
}
const turns = new WeakMap<SurfaceSample, Turns>();
/** A sample in every turn, for whatever kinds it is asked. */
function turnsOf(sample: SurfaceSample): Turns {
  const known = turns.get(sample);
  if (known) return known;
  const cloud = new Cloud(sample);
  const made: Turns = { turned: QUARTER_TURNS.map((t) => new Turned(cloud, t)), skew: cloud.skew };
  turns.set(sample, made);
  return made;
}

/** Every turn with its share of likelihood, the likeliest first. Empty without a surface. */
export function rankTurns(kind: Kind, sample: SurfaceSample): TurnShares[] {
  if (sample.count === 0) return [];
  const { turned, skew } = turnsOf(sample);
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
