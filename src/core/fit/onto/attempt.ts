/** What fitting a thing that stands one way comes to. */
import type { Head } from './head';
import type { Place, Stand } from './stand';

export type Point = [number, number, number];

/** A place of the thing, and the place of the head it should lie at. */
export interface OwnPair {
  name: string;
  /** In the stand. */
  own: Point;
  /** In the head's frame, metres. */
  form: Point;
}

/** Why it may not be what it is said to be, and the share of belief that is left. */
export interface Doubt {
  why: string;
  left: number;
}

export interface Attempt {
  stand: Stand;
  place: Place;
  pairs: OwnPair[];
  /** What keeps it from lying closer, as a sentence. */
  limit: string;
  doubts: Doubt[];
}

export interface Asked {
  stand: Stand;
  head: Head;
  /** Left between thing and skin where it touches, metres. */
  gapM: number;
  /** Metres of the head's frame to one of the stand; null: it is made as large as it must be. */
  keep: number | null;
  /** Which of several ways it may stand is looked for: near enough will do. */
  rough: boolean;
}

export interface Fitter {
  /** Brings a stand upright that nearly is, by what things of the kind are upright by. */
  level: (stand: Stand) => Stand;
  /** A sentence: why it cannot be what it is said to be. */
  fit: (asked: Asked) => Attempt | string;
}

/** Belief that is left where a number should lie within bounds: all of it there, less the further it is off. */
export function within(value: number, [lo, hi]: readonly [number, number], why: (value: number) => string): Doubt[] {
  const off = value < lo ? lo / Math.max(value, 1e-9) : value / hi;
  return off <= 1 ? [] : [{ why: why(value), left: Math.max(0.02, 1 / off ** 4) }];
}

export const mm = (m: number): string => `${Math.round(m * 1000)} mm`;
