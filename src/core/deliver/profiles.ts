import type { ProfileId } from '../piece/tables';
import { type Limits, NO_LIMITS } from '../prepare/terms';

/** The limits of a place of delivery. 1 MB = 1 000 000 bytes. */
export interface Profile {
  id: ProfileId;
  label: string;
  /** For whom, in a few words. */
  about: string;
  bytes: number;
  limits: Limits;
}

/** 1024 px, 50 bones and 50 000 triangles are what places of delivery ask for (*common practice*). */
const limits = (bytes: number): Limits => ({ ...NO_LIMITS, bytes, triangles: 50_000, textureEdge: 1024, bones: 50 });

/** 1, 5 and 10 MB are usual ceilings (*common practice*). */
export const PROFILES: Readonly<Record<ProfileId, Profile>> = {
  light: { id: 'light', label: 'Light', about: 'Loads at once, on any line', bytes: 1_000_000, limits: limits(1_000_000) },
  pocket: { id: 'pocket', label: 'Pocket', about: 'The usual ceiling on phones', bytes: 5_000_000, limits: limits(5_000_000) },
  wide: { id: 'wide', label: 'Wide', about: 'For generous places', bytes: 10_000_000, limits: limits(10_000_000) },
};
