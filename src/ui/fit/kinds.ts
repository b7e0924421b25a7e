/** How kinds of part and anchors are marked in lists. */
import {
  type AnchorKind,
  anchorOfKey,
  type ByPartKind,
  FACE_COVER_LABELS,
  type Hang,
  hangOn,
  hides,
  isPlaced,
  PARTS,
  type Part,
  type PartKind,
  type PartOf,
  type Piece,
  SOLID_LABELS,
  stockOf,
} from '@/core/piece';
import { WINDOWS } from '@/core/words/windows';
import type { OwnIcon } from '../kit';

export const PART_MARKS: ByPartKind<OwnIcon> = {
  model: 'part',
  solid: 'solid',
  group: 'group',
  occluder: 'occluder',
  screen: 'screen',
  patch: 'facepoint',
  face: 'facepoint',
};
export const ANCHOR_MARKS: Readonly<Record<AnchorKind, OwnIcon>> = {
  head: 'head',
  face: 'facepoint',
  eye: 'facepoint',
  ear: 'facepoint',
  mouth: 'facepoint',
  neck: 'neck',
  shoulders: 'shoulders',
  joint: 'form',
  screen: 'screen',
};

/** And back, as what hangs there. */
export const onAnchorKey = (key: string): Hang => hangOn(anchorOfKey(key));

const WORDS: { readonly [K in PartKind]: (part: PartOf<K>) => string } = {
  model: () => PARTS.model.label,
  solid: (part) => SOLID_LABELS[part.shape.form],
  group: () => PARTS.group.label,
  occluder: () => PARTS.occluder.label,
  screen: () => PARTS.screen.label,
  face: (part) => `${PARTS.face.label}: ${FACE_COVER_LABELS[part.covers].toLowerCase()}`,
  patch: (part) => `${PARTS.patch.label}: ${WINDOWS[part.region].label.toLowerCase()}`,
};

/** What stands under a part's name: the file it is made of, or what it is. */
export function whatItIs(doc: Piece, part: Part): string {
  const stock = stockOf(part);
  const is = (stock !== null && doc.stock[stock]?.name) || (WORDS[part.kind] as (part: Part) => string)(part);
  return isPlaced(part) && hides(part) ? `hides: ${is}` : is;
}
