'use client';
import { seatOf } from '@/core/fit';
import { factsOfStock } from '@/core/intake';
import { isUponForm, type Offset, shownAsk } from '@/core/piece';
import type { PieceState } from '../piece/store';
import { loadForm } from '../piece/wearers';

/** Where a file is hung whose kind is known; null: at the anchor itself. */
export async function seatFor(
  { history: { doc }, assets }: Pick<PieceState, 'history' | 'assets'>,
  stock: string,
): Promise<Pick<Offset, 'positionM'> | null> {
  const item = doc.stock[stock];
  if (item?.kind !== 'model' || !item.stated || isUponForm(doc.recipes[stock]?.steps ?? [])) return null;
  const facts = factsOfStock(doc, stock, assets);
  if (facts?.kind !== 'model') return null;
  // without the form it hangs all the same
  const form = await loadForm(shownAsk(doc)).catch(() => null);
  const positionM = form && seatOf(item.stated, facts.boxM, (name) => form.landmarks[name].position);
  return positionM && { positionM };
}
