/** Parts from a clip: they bring what they are made of and what they wear. */
import type { FinishRow } from '../finish/row';
import { fills, type Hang, type Part } from '../parts';
import { copyOfPart } from '../piece/defaults';
import { add, batch, change, type Edit, type SingleEdit } from '../piece/edits';
import type { FinishClip } from '../piece/finishclip';
import type { Piece } from '../piece/schema';
import { sameValue } from '../piece/table';
import { layersOf, type PartsClip, screenLayer } from './acts';

/** Files that the piece has not join it. @returns ids here by ids there */
function bringFiles(
  piece: Piece,
  clip: Pick<PartsClip, 'stock' | 'recipes'>,
  edits: SingleEdit[],
  newId: () => string,
): Map<string, string> {
  const files = new Map<string, string>();
  for (const item of clip.stock) {
    const recipe = clip.recipes.find((r) => r.id === item.id);
    const same = Object.values(piece.stock).find(
      (s) =>
        s.original === item.original && s.kind === item.kind && (piece.recipes[s.id]?.result ?? s.model) === (recipe?.result ?? item.model),
    );
    if (same) {
      files.set(item.id, same.id);
      continue;
    }
    const id = newId();
    files.set(item.id, id);
    edits.push(add('stock', { ...item, id }));
    if (recipe) edits.push(add('recipes', { ...recipe, id }));
  }
  return files;
}

/** Finishes that the piece has not join it. @returns ids here by ids there */
function bringFinishes(
  piece: Piece,
  finishes: readonly FinishRow[],
  files: ReadonlyMap<string, string>,
  edits: SingleEdit[],
  newId: () => string,
): Map<string, string> {
  const looks = new Map<string, string>();
  for (const finish of finishes) {
    const maps = Object.fromEntries(
      Object.entries(finish.maps).map(([role, use]) => [
        role,
        use && use !== 'own' ? { ...use, stock: files.get(use.stock) as string } : use,
      ]),
    ) as FinishRow['maps'];
    const here = { ...finish, maps };
    const same = Object.values(piece.finishes).find((f) => sameValue({ ...f, id: '' }, { ...here, id: '' }));
    const id = same?.id ?? newId();
    looks.set(finish.id, id);
    if (!same) edits.push(add('finishes', { ...here, id }));
  }
  return looks;
}

/** A finish from a clip joins the piece, with its pictures. @returns no edits where the piece has it */
export function pasteFinish(piece: Piece, clip: FinishClip, newId: () => string): { edits: SingleEdit[]; id: string } {
  const edits: SingleEdit[] = [];
  const looks = bringFinishes(piece, [clip.finish], bringFiles(piece, clip, edits, newId), edits, newId);
  return { edits, id: looks.get(clip.finish.id) as string };
}

/** Pastes parts; files come along where the piece has not the same already. What hung from what was not copied hangs nowhere. */
export function pasteParts(piece: Piece, clip: PartsClip, newId: () => string): { edit: Edit; ids: string[] } {
  const edits: SingleEdit[] = [];
  const files = bringFiles(piece, clip, edits, newId);
  const looks = bringFinishes(piece, clip.finishes ?? [], files, edits, newId);
  const copies = new Map(clip.parts.map((p) => [p.id, newId()]));
  let backdrop: string | null = null;
  const layerFor = (p: Part): string => {
    const own = piece.layers[p.layer];
    const kind = fills(p) ? 'screen' : 'parts';
    if (kind === 'screen' && backdrop) return backdrop;
    if (own?.kind === kind) return own.id;
    const there = layersOf(piece).find((l) => l.kind === kind);
    if (there) return there.id;
    const made = screenLayer(piece, 'backdrop', newId);
    edits.push(...made.edits);
    backdrop = made.layer;
    return backdrop;
  };
  for (const p of clip.parts) {
    const inside = p.hang?.on === 'part' && copies.has(p.hang.part);
    const hang: Hang | null =
      p.hang?.on !== 'part'
        ? p.hang
        : inside
          ? { ...p.hang, part: copies.get(p.hang.part) as string }
          : piece.parts[p.hang.part]
            ? p.hang
            : null;
    const wears = Object.fromEntries(
      Object.entries(p.wears).flatMap(([material, id]) => (looks.has(id) ? [[material, looks.get(id)]] : [])),
    );
    const row = copyOfPart(p, copies.get(p.id) as string, { hang, locked: false, layer: layerFor(p) });
    const named = Object.fromEntries(
      (['stock', 'sculpt'] as const).flatMap((field) => {
        const id = (p as unknown as Record<string, unknown>)[field];
        return typeof id === 'string' ? [[field, files.get(id)]] : [];
      }),
    );
    edits.push(add('parts', { ...row, ...named, wears } as Part));
  }
  // a copy of what is here looks in each colourway as that does
  for (const c of Object.values(piece.colourways)) {
    const same = c.looks.flatMap((l) => (copies.has(l.part) ? [{ ...l, part: copies.get(l.part) as string }] : []));
    if (same.length > 0) edits.push(change('colourways', c.id, { looks: [...c.looks, ...same] }));
  }
  const tops = clip.parts.filter((p) => !(p.hang?.on === 'part' && copies.has(p.hang.part)));
  return { edit: batch(edits), ids: tops.map((p) => copies.get(p.id) as string) };
}
