/** The six steps: the order of the work, and the navigation inside a piece. */
export const STEPS = ['stock', 'prepare', 'rig', 'fit', 'trial', 'deliver'] as const;
export type Step = (typeof STEPS)[number];
export const STEP_NAMES: Record<Step, string> = {
  stock: 'Stock',
  prepare: 'Prepare',
  rig: 'Rig',
  fit: 'Fit',
  trial: 'Trial',
  deliver: 'Deliver',
};
