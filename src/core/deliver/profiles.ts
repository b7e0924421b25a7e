import type { ProfileId } from '../piece/tables';
import { type Limits, NO_LIMITS } from '../prepare/terms';
import { CEILING_BYTES } from './ceilings';

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

export const PROFILES: Readonly<Record<ProfileId, Profile>> = {
  light: {
    id: 'light',
    label: 'Light',
    about: 'Loads at once, on any line',
    bytes: CEILING_BYTES.light,
    limits: limits(CEILING_BYTES.light),
  },
  pocket: {
    id: 'pocket',
    label: 'Pocket',
    about: 'The usual ceiling on phones',
    bytes: CEILING_BYTES.pocket,
    limits: limits(CEILING_BYTES.pocket),
  },
  wide: { id: 'wide', label: 'Wide', about: 'For generous places', bytes: CEILING_BYTES.wide, limits: limits(CEILING_BYTES.wide) },
};
