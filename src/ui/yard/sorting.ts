/** Which pieces of a yard are shown, and in which order. */
import type { PieceSummary, YardWeights } from '@/api';
import { CEILING_BYTES } from '@/core/deliver/ceilings';

export const ORDERS = { changed: 'Changed last', made: 'Made last', name: 'By name', weight: 'Heaviest first' } as const;
export type Order = keyof typeof ORDERS;
export const SHOWS = {
  all: 'All pieces',
  found: 'With blockers or warnings',
  over: 'Over their limit',
  ready: 'With a hung part',
} as const;
export type Shows = keyof typeof SHOWS;

const bytesOf = (weights: YardWeights, id: string): number => {
  const weight = weights[id];
  return weight && 'bytes' in weight ? weight.bytes : -1;
};

const COMPARE: { readonly [K in Order]: (a: PieceSummary, b: PieceSummary, weights: YardWeights) => number } = {
  changed: (a, b) => b.updatedAt.localeCompare(a.updatedAt),
  made: (a, b) => b.createdAt.localeCompare(a.createdAt),
  name: (a, b) => a.name.localeCompare(b.name, undefined, { numeric: true, sensitivity: 'base' }),
  weight: (a, b, weights) => bytesOf(weights, b.id) - bytesOf(weights, a.id),
};

const HOLDS: { readonly [K in Shows]: (p: PieceSummary, weights: YardWeights) => boolean } = {
  all: () => true,
  found: (p) => p.findings.blocker + p.findings.warning > 0,
  over: (p, weights) => bytesOf(weights, p.id) > CEILING_BYTES[p.profile],
  ready: (p) => p.reached === 'deliver',
};

/** Letters as one types them: without case and accents. */
const plain = (text: string) => text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();

/** @param words all of them are in the name */
export function arrange(
  pieces: readonly PieceSummary[],
  { order, shows, words }: { order: Order; shows: Shows; words: string },
  weights: YardWeights,
): PieceSummary[] {
  const asked = plain(words).split(/\s+/).filter(Boolean);
  return pieces
    .filter((p) => HOLDS[shows](p, weights) && asked.every((w) => plain(p.name).includes(w)))
    .sort((a, b) => COMPARE[order](a, b, weights) || a.id.localeCompare(b.id));
}
