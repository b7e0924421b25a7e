/** How kinds of part and anchors are marked in lists. */
import {
  type Anchor,
  type AnchorKind,
  type ByPartKind,
  type Hang,
  onAnchor,
  onJoint,
  PARTS,
  type Part,
  type PartKind,
  type PartOf,
  type Piece,
  SOLID_LABELS,
  type SoleAnchor,
  stockOf,
} from '@/core/piece';
import type { OwnIcon } from '../kit';

export const PART_MARKS: ByPartKind<OwnIcon> = { model: 'part', solid: 'solid', group: 'group', occluder: 'occluder', screen: 'screen' };
export const ANCHOR_MARKS: Readonly<Record<AnchorKind, OwnIcon>> = {
  head: 'head',
  neck: 'neck',
  shoulders: 'shoulders',
  joint: 'form',
  screen: 'screen',
};

/** An anchor as one word of a list: “head”, “joint leftHand”. */
export const anchorKey = (a: Anchor): string => (a.kind === 'joint' ? `joint ${a.joint}` : a.kind);
/** And back. */
export const onAnchorKey = (key: string): Hang => (key.startsWith('joint ') ? onJoint(key.slice(6)) : onAnchor(key as SoleAnchor));

const WORDS: { readonly [K in PartKind]: (part: PartOf<K>) => string } = {
  model: () => PARTS.model.label,
  solid: (part) => SOLID_LABELS[part.shape.form],
  group: () => PARTS.group.label,
  occluder: () => PARTS.occluder.label,
  screen: () => PARTS.screen.label,
};

/** What stands under a part's name: the file it is made of, or what it is. */
export function whatItIs(doc: Piece, part: Part): string {
  const stock = stockOf(part);
  return (stock !== null && doc.stock[stock]?.name) || (WORDS[part.kind] as (part: Part) => string)(part);
}
