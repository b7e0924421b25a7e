import type { ProfileId } from '../piece/schema';

/** The limits of a place of delivery. 1 MB = 1 000 000 bytes. */
export interface Profile {
  id: ProfileId;
  label: string;
  /** For whom, in a few words. */
  about: string;
  bytes: number;
}

/** 1, 5 and 10 MB are usual ceilings (*common practice*). */
export const PROFILES: Readonly<Record<ProfileId, Profile>> = {
  light: { id: 'light', label: 'Light', about: 'Loads at once, on any line', bytes: 1_000_000 },
  pocket: { id: 'pocket', label: 'Pocket', about: 'The usual ceiling on phones', bytes: 5_000_000 },
  wide: { id: 'wide', label: 'Wide', about: 'For generous places', bytes: 10_000_000 },
};
