/** Which ends of a shape are a figure's head, hands and feet: by ways through it alone, so that neither pose nor turn nor unit matters. */
import { branchesOf } from '../limbs';
import type { Vec } from '../middle';
import { cellAt, type Solid, throughFrom } from './solid';

export interface Ends {
  head: number;
  /** Cells; which is the left is said later. */
  hands: [number, number];
  feet: [number, number];
}

export interface Match extends Ends {
  /** From each end, metres through the solid to every cell. */
  far: { head: Float64Array; hands: [Float64Array, Float64Array]; feet: [Float64Array, Float64Array] };
  /** Way from the head's end to a foot's, the mean of both: about the stature and a foot. */
  lengthM: number;
  /** How far its two halves differ, and its proportions from a person's: 0 is none. */
  misfit: number;
  /** Ends that belong to no limb: a tail, a hat's rim, a skirt's hem. */
  others: Tip[];
}

export interface Tip {
  cell: number;
  at: Vec;
  /** How far it stands out, metres. */
  lengthM: number;
}

/** Ends that stand out less than this share of the farthest are bumps: an ear, a nose, a finger. */
const STANDS_OUT = 0.1;
const MOST_TIPS = 12;
/** A figure has no more than so many limbs besides arms and legs that are nearly as long: a tail, wings. */
const SPARE_LIMBS = 2;
/** Of the way from head to foot: what is as long as this is a limb. */
const LIMB = 0.27;

/** Of the longest way: so near to its tip a head is thick and a tail of hair is not; as far from the head's end hair and hats begin at the most. */
const BULK = 0.06;
const ON_HEAD = 0.35;
/** So much thicker another end of a head has to be, and so much its being thinner counts against one. */
const THICKER = 1.5;
const HAIR = 0.3;

/** Above this it is something else; and of what is below so many are looked at more closely. */
const WORST = 1;
const TRIED = 6;

/**
 * Ways between ends as shares of the way from head to foot: least, usual, most. The usual ones are those of a person, from the segment
 * lengths of Drillis & Contini 1966 (from memory); the span allows for big heads, short legs and long arms.
 */
const SHARES = {
  headHand: [0.5, 0.76, 1.05],
  handHand: [0.55, 0.95, 1.5],
  footFoot: [0.55, 0.98, 1.45],
  handFoot: [0.8, 1.15, 1.6],
} as const;
const off = (x: number, [lo, usual, hi]: readonly [number, number, number]) =>
  x < usual ? ((usual - x) / (usual - lo)) ** 2 : ((x - usual) / (hi - usual)) ** 2;

/** The middle of the longest way through the solid: in a figure, in its trunk. */
function middleCell(solid: Solid): number {
  const farthest = (far: Float64Array) => far.reduce((b, x, i) => (Number.isFinite(x) && x > far[b] ? i : b), 0);
  const a = farthest(throughFrom(solid, 0));
  const fromA = throughFrom(solid, a);
  const b = farthest(fromA);
  const fromB = throughFrom(solid, b);
  let [best, least] = [a, Infinity];
  for (let c = 0; c < fromA.length; c++) {
    const d = Math.max(fromA[c], fromB[c]);
    if (d < least) [best, least] = [c, d];
  }
  return best;
}

/** Ends of the shape, those that stand out most first. */
export function tipsOf(solid: Solid): Tip[] {
  const far = throughFrom(solid, middleCell(solid));
  const top = far.reduce((m, x) => (Number.isFinite(x) ? Math.max(m, x) : m), 0);
  return branchesOf(solid.near, { far })
    .filter((b) => b.lengthM > top * STANDS_OUT)
    .sort((a, b) => b.lengthM - a.lengthM)
    .slice(0, MOST_TIPS)
    .map((b) => ({ cell: b.tip, at: cellAt(solid, b.tip), lengthM: b.lengthM }));
}

/** Assignments of ends that are near to a figure's, the nearest first; none where there is none. */
export function matchEnds(solid: Solid, tips: readonly Tip[]): Match[] {
  if (tips.length < 5) return [];
  const far = tips.map((t) => throughFrom(solid, t.cell));
  const way = tips.map((_, i) => tips.map((t) => far[i][t.cell]));
  const reach = BULK * Math.max(...way.flat().filter(Number.isFinite));
  const bulk = far.map((f) => f.reduce((n, x) => (x < reach ? n + 1 : n), 0));
  const indices = tips.map((_, i) => i);
  const pairs = (list: number[]) => list.flatMap((a, k) => list.slice(k + 1).map((b): [number, number] => [a, b]));
  const all: { misfit: number; head: number; hands: [number, number]; feet: [number, number]; whole: number }[] = [];
  for (const head of indices)
    for (const hands of pairs(indices.filter((i) => i !== head)))
      for (const feet of pairs(indices.filter((i) => i !== head && !hands.includes(i)))) {
        const [a0, a1] = hands;
        const [f0, f1] = feet;
        // in a body that mirrors, a hand is as far from one foot as the other hand from the other
        const across = Math.abs(way[a0][f0] - way[a1][f1]) + Math.abs(way[a0][f1] - way[a1][f0]);
        const whole = (way[head][f0] + way[head][f1]) / 2;
        const uneven = (Math.abs(way[head][a0] - way[head][a1]) + Math.abs(way[head][f0] - way[head][f1]) + across) / whole;
        const shape =
          off((way[head][a0] + way[head][a1]) / 2 / whole, SHARES.headHand) +
          off(way[a0][a1] / whole, SHARES.handHand) +
          off(way[f0][f1] / whole, SHARES.footFoot) +
          off((way[a0][f0] + way[a1][f1] + way[a0][f1] + way[a1][f0]) / 4 / whole, SHARES.handFoot);
        const left = indices.filter((i) => ![head, a0, a1, f0, f1].includes(i));
        // limbs that nothing of a figure is
        if (left.filter((i) => tips[i].lengthM > whole * LIMB).length > SPARE_LIMBS) continue;
        // what is left out should stand out less than what is taken
        const hair = left.some((i) => way[head][i] < ON_HEAD * whole && bulk[i] > THICKER * bulk[head]) ? HAIR : 0;
        const misfit = uneven * 2 + shape * 0.5 + hair + (left.reduce((s, i) => s + tips[i].lengthM, 0) / whole) * 0.6;
        if (misfit <= WORST) all.push({ misfit, head, hands, feet, whole });
      }
  all.sort((a, b) => a.misfit - b.misfit);
  return all.slice(0, TRIED).map(({ misfit, head, hands, feet, whole }) => ({
    head: tips[head].cell,
    hands: [tips[hands[0]].cell, tips[hands[1]].cell],
    feet: [tips[feet[0]].cell, tips[feet[1]].cell],
    far: { head: far[head], hands: [far[hands[0]], far[hands[1]]], feet: [far[feet[0]], far[feet[1]]] },
    lengthM: whole,
    misfit,
    others: tips.filter((_, i) => ![head, ...hands, ...feet].includes(i)),
  }));
}
