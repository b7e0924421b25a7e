/** Bones said by hand: which joint of a file is which bone of a figure. */
import type { RecipeStep } from '@/core/piece';

export type Joints = Extract<RecipeStep, { step: 'known' }>['settings']['joints'];
export const NONE = '';

/** What is said by hand when a bone is to be this joint; `NONE`: the figure has no such bone. */
export function tell(joints: Joints, bone: string, name: string, before: string | null): Joints {
  const others = Object.fromEntries(Object.entries(joints).filter(([n, b]) => b !== bone && n !== name));
  if (name !== NONE) return { ...others, [name]: bone };
  return before === null ? others : { ...others, [before]: null };
}
