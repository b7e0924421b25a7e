import { isMade } from '../parts';
import type { Piece } from './schema';
import { anchorOf } from './selectors';

/** How far a piece can have come. */
export const REACHED = ['stock', 'fit', 'deliver'] as const;
/** How far it has come: to Stock without files, to Fit without a hung part that one made, else to Deliver. */
export function reachedBy(piece: Pick<Piece, 'stock' | 'parts'>): (typeof REACHED)[number] {
  if (Object.keys(piece.stock).length === 0) return 'stock';
  return Object.values(piece.parts).some((p) => isMade(p) && anchorOf(piece, p) !== null) ? 'deliver' : 'fit';
}
