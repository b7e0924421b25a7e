/** A finish on its way to another slot, piece or yard, with the pictures its maps name. */
import * as z from 'zod';
import { FinishRow } from '../finish/row';
import { RecipeRow } from './recipe';
import type { Piece } from './schema';
import { StockItem } from './stock';

/** Stock files that maps of a finish name. */
export const picturesOf = ({ maps }: FinishRow): string[] => [
  ...new Set(Object.values(maps).flatMap((m) => (m && m !== 'own' ? [m.stock] : []))),
];

export const FinishClip = z
  .strictObject({
    scaphosFinish: z.literal(1),
    finish: FinishRow,
    stock: z.array(StockItem).max(16),
    recipes: z.array(RecipeRow).max(16),
  })
  .refine(({ finish, stock }) => picturesOf(finish).every((id) => stock.some((s) => s.id === id && s.kind === 'picture')), {
    message: 'a picture that a map names is missing',
  });
export type FinishClip = z.infer<typeof FinishClip>;

export function copyFinishRow(piece: Pick<Piece, 'stock' | 'recipes'>, finish: FinishRow): FinishClip {
  const stock = picturesOf(finish);
  return {
    scaphosFinish: 1,
    finish,
    stock: stock.map((id) => piece.stock[id]),
    recipes: stock.flatMap((id) => piece.recipes[id] ?? []),
  };
}
