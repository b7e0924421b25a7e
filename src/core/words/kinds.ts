/** Kinds of thing a model can be, with the size each usually has. *Common practice*: ranges of worn things for adults. */
import * as z from 'zod';

export const Kind = z.enum(['eyewear', 'headwear', 'earring', 'mask', 'fullhead', 'neckwear', 'backpiece', 'garment', 'prop', 'figure']);
export type Kind = z.infer<typeof Kind>;

export interface KindFacts {
  label: string;
  /** As in "spectacles are about 140 mm wide". */
  plural: string;
  /** Usual side, up, fore in millimetres. */
  usualMm: readonly [number, number, number];
  /** Spread of each as the standard deviation of its natural logarithm. */
  spread: readonly [number, number, number];
  /** What it must have at least to go round what wears it; 0: anything. */
  leastMm: readonly [number, number, number];
  /** The measure one names: 0 side, 1 up. */
  told: 0 | 1;
  beside: 'head' | 'hand' | 'person';
}

export const KINDS: Readonly<Record<Kind, KindFacts>> = {
  eyewear: {
    label: 'Eyewear',
    plural: 'spectacles',
    usualMm: [142, 50, 145],
    spread: [0.12, 0.3, 0.5],
    leastMm: [95, 0, 0],
    told: 0,
    beside: 'head',
  },
  headwear: {
    label: 'Headwear',
    plural: 'hats and crowns',
    usualMm: [220, 160, 240],
    spread: [0.3, 0.55, 0.3],
    leastMm: [140, 0, 165],
    told: 0,
    beside: 'head',
  },
  earring: {
    label: 'Earring',
    plural: 'earrings',
    usualMm: [14, 40, 10],
    spread: [0.45, 0.4, 0.5],
    leastMm: [0, 0, 0],
    told: 1,
    beside: 'head',
  },
  mask: {
    label: 'Mask',
    plural: 'masks',
    usualMm: [165, 200, 100],
    spread: [0.22, 0.25, 0.4],
    leastMm: [110, 110, 0],
    told: 0,
    beside: 'head',
  },
  fullhead: {
    label: 'Full head',
    plural: 'heads',
    usualMm: [240, 310, 270],
    spread: [0.28, 0.25, 0.28],
    leastMm: [170, 200, 180],
    told: 1,
    beside: 'head',
  },
  neckwear: {
    label: 'Neckwear',
    plural: 'collars and necklaces',
    usualMm: [190, 120, 180],
    spread: [0.4, 0.6, 0.4],
    leastMm: [100, 0, 90],
    told: 0,
    beside: 'head',
  },
  backpiece: {
    label: 'Back piece',
    plural: 'back pieces',
    usualMm: [600, 600, 250],
    spread: [0.6, 0.5, 0.6],
    leastMm: [0, 0, 0],
    told: 0,
    beside: 'person',
  },
  garment: {
    label: 'Garment',
    plural: 'garments',
    usualMm: [650, 850, 400],
    spread: [0.4, 0.35, 0.45],
    leastMm: [250, 250, 0],
    told: 1,
    beside: 'person',
  },
  prop: {
    label: 'Hand-held or prop',
    plural: 'things in a hand',
    usualMm: [150, 220, 150],
    spread: [1, 0.9, 1],
    leastMm: [0, 0, 0],
    told: 1,
    beside: 'hand',
  },
  figure: {
    label: 'Figure',
    plural: 'people',
    usualMm: [600, 1700, 400],
    spread: [0.45, 0.15, 0.5],
    leastMm: [0, 0, 0],
    told: 1,
    beside: 'person',
  },
};
