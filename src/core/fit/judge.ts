/** When a clearance or a leak is a fault. */
import type { Clearance } from './clearance';
import type { Leaks } from './leaks';

export interface Judged {
  clearance: Pick<Clearance, 'deepestMm' | 'cutShare'>;
  leaks: Pick<Leaks, 'leak' | 'swallowed'> | null;
}

/** Deeper than this is a cut that is seen or felt, mm; of more than no share it is no graze. */
export const CUTS_MM = 0.5;
export const cuts = ({ clearance }: Judged): boolean => clearance.deepestMm > CUTS_MM && clearance.cutShare > 0;
/** More than this share of what is seen is a fault that is seen. */
export const LEAKS = 0.01;
export const leaks = ({ leaks: l }: Judged): boolean => l !== null && (l.leak > LEAKS || l.swallowed > LEAKS);
export const isWrong = (told: Judged): boolean => cuts(told) || leaks(told);
