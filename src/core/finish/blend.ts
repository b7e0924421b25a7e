/**
 * What a blend does with what is behind it: as W3C Compositing and Blending Level 1 has it, in numbers, and as factors of a blend
 * equation that a graphics process knows.
 */
import type { Blend } from './words';

type Factor = 'one' | 'alpha' | 'dstColour' | 'oneLessAlpha' | 'oneLessColour';
export interface BlendWay {
  /** What the source is given by already when it comes to be blended. */
  premultiplied: boolean;
  source: Factor;
  backdrop: Factor;
  /** Whether it writes its depth where nothing else is said. */
  depth: boolean;
}
/** null: it replaces what is behind it. */
export const BLEND_WAYS: Readonly<Record<Blend, BlendWay | null>> = {
  opaque: null,
  cut: null,
  over: { premultiplied: false, source: 'alpha', backdrop: 'oneLessAlpha', depth: false },
  add: { premultiplied: false, source: 'alpha', backdrop: 'one', depth: false },
  // αs Cs Cb + (1 − αs) Cb
  multiply: { premultiplied: true, source: 'dstColour', backdrop: 'oneLessAlpha', depth: false },
  // αs Cs + Cb − αs Cs Cb
  screen: { premultiplied: true, source: 'one', backdrop: 'oneLessColour', depth: false },
};

/** Whether a finish writes its depth. */
export const writesDepth = ({ blend, depthWrite }: { blend: Blend; depthWrite: boolean | null }): boolean =>
  depthWrite ?? BLEND_WAYS[blend]?.depth ?? true;

type Mix = (backdrop: number, source: number) => number;
/** B(Cb, Cs) of the standard's sections 9 and 10; `add` is its operator plus-lighter. */
const MIXES: Readonly<Partial<Record<Blend, Mix>>> = {
  over: (_, s) => s,
  multiply: (b, s) => b * s,
  screen: (b, s) => b + s - b * s,
};

/** One channel over an opaque backdrop, by the standard's general formula; all 0 … 1. */
export function blended(blend: Blend, source: number, alpha: number, backdrop: number, cutAt = 0.5): number {
  if (blend === 'opaque') return source;
  if (blend === 'cut') return alpha < cutAt ? backdrop : source;
  if (blend === 'add') return Math.min(1, backdrop + alpha * source);
  const mix = MIXES[blend] as Mix;
  // (1 − αs) αb Cb + αs αb B(Cb, Cs) + αs (1 − αb) Cs, with αb = 1
  return (1 - alpha) * backdrop + alpha * mix(backdrop, source);
}

/** The same by the factors of the equation. */
export function blendedByFactors(way: BlendWay, source: number, alpha: number, backdrop: number): number {
  const s = way.premultiplied ? source * alpha : source;
  const factors: Record<Factor, number> = {
    one: 1,
    alpha,
    dstColour: backdrop,
    oneLessAlpha: 1 - alpha,
    oneLessColour: 1 - s,
  };
  return Math.min(1, s * factors[way.source] + backdrop * factors[way.backdrop]);
}
