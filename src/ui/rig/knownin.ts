import type { Model } from '@/core/model';
import { type KnownSkeleton, knownSkeleton, RigError } from '@/core/rig';

/** The figure in a model's bones; null where they are those of none. */
export function knownIn(model: Model): KnownSkeleton | null {
  try {
    return knownSkeleton(model);
  } catch (error) {
    if (error instanceof RigError) return null;
    throw error;
  }
}
