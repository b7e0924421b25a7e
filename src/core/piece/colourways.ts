/** What parts wear in a colourway. */
import { EVERY } from '../finish/words';
import type { Part } from '../parts';
import type { ColourwayRow } from './colourwayrow';
import type { Piece } from './schema';

/** The colourway shown; null: everything as it is usually. One who is gone shows none. */
export const shownColourway = (piece: Pick<Piece, 'settings' | 'colourways'>): ColourwayRow | null => {
  const { colourway } = piece.settings;
  return colourway !== null && Object.hasOwn(piece.colourways, colourway) ? piece.colourways[colourway] : null;
};

/** Colourways as they came to be. */
export const colourwaysOf = ({ colourways }: Pick<Piece, 'colourways'>): ColourwayRow[] =>
  Object.values(colourways).sort((a, b) => (a.id < b.id ? -1 : 1));

/** Name of a material, or `*` → finish; null: as the file has it. */
export type Wearing = Readonly<Record<string, string | null>>;

/** What a part wears in a colourway. @param of null: usually */
export function wearingIn(part: Pick<Part, 'id' | 'wears'>, of: ColourwayRow | null): Wearing {
  const looks = of?.looks.filter((l) => l.part === part.id) ?? [];
  if (looks.length === 0) return part.wears;
  const said = Object.fromEntries(looks.map((l) => [l.material, l.finish]));
  return Object.hasOwn(said, EVERY) ? said : { ...part.wears, ...said };
}

/** What a part wears now. */
export const wearing = (piece: Pick<Piece, 'settings' | 'colourways'>, part: Pick<Part, 'id' | 'wears'>): Wearing =>
  wearingIn(part, shownColourway(piece));

/** How many parts wear a finish, usually or in some colourway. */
export function wearersOf({ parts, colourways }: Pick<Piece, 'parts' | 'colourways'>, finish: string): number {
  const usually = Object.values(parts).flatMap((p) => (Object.values(p.wears).includes(finish) ? [p.id] : []));
  const inSome = Object.values(colourways).flatMap((c) => c.looks.flatMap((l) => (l.finish === finish ? [l.part] : [])));
  return new Set([...usually, ...inSome]).size;
}
