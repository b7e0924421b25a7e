/** How kinds of part and anchors are marked in lists. */
import { type AnchorKind, type ByPartKind, PARTS, type Part, type Piece, SOLID_LABELS, stockOf } from '@/core/piece';
import type { OwnIcon } from '../kit';

export const PART_MARKS: ByPartKind<OwnIcon> = { model: 'part', solid: 'solid', group: 'group', occluder: 'occluder', screen: 'screen' };
export const ANCHOR_MARKS: Readonly<Record<AnchorKind, OwnIcon>> = { head: 'head', neck: 'neck', shoulders: 'shoulders', screen: 'screen' };

/** What stands under a part's name: the file it is made of, or what it is. */
export function whatItIs(doc: Piece, part: Part): string {
  const stock = stockOf(part);
  if (stock !== null) return doc.stock[stock]?.name ?? '';
  if (part.kind === 'solid') return SOLID_LABELS[part.shape.form];
  return PARTS[part.kind].label;
}
