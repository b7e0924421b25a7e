/** What the settings of steps are given. */
import type { RecipeStep } from '@/core/piece';

export type Step<K extends RecipeStep['step']> = Extract<RecipeStep, { step: K }>;

/** What of the model a setting can name. */
export interface ModelParts {
  meshes: readonly { name: string; triangles: number }[];
}
/** Painting detail: on for one step at a time. */
export interface Painting {
  on: boolean;
  radiusMm: number;
  weight: number;
  toggle: () => void;
  set: (change: { radiusMm?: number; weight?: number }) => void;
  /** Why nothing can be painted now; null where it can. */
  why: string | null;
}
