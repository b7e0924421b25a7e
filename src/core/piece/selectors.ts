/** Reading a piece: selectors that need its types alone, so that no validator travels with them. */
import { type AnchorKind, isOnFace } from '../parts/common';
import type { Part } from '../parts/index';
import type { Piece } from './schema';

/** The file the piece works with: what the recipe yields, or `model`; null for what is not in Stock. */
export function usedFile(piece: Pick<Piece, 'stock' | 'recipes'>, stockId: string): string | null {
  return piece.recipes[stockId]?.result ?? piece.stock[stockId]?.model ?? null;
}

/** The GLB a stock file is drawn from; null for what cannot hang, and for a picture of an older piece that has no plane yet. */
export function drawnModel(piece: Pick<Piece, 'stock' | 'recipes'>, stockId: string): string | null {
  const item = piece.stock[stockId];
  if (!item || (item.kind !== 'model' && item.kind !== 'picture' && item.kind !== 'sequence')) return null;
  const used = usedFile(piece, stockId);
  return item.kind === 'picture' && used === item.original ? null : used;
}

/** The RGBE an environment is drawn from; null for other kinds. */
export const drawnSky = (piece: Pick<Piece, 'stock' | 'recipes'>, stockId: string): string | null =>
  piece.stock[stockId]?.kind === 'environment' ? usedFile(piece, stockId) : null;

/** What a piece is lit by, as it is drawn: one of ours by name, or an environment by the SHA-256 of its file; null: the fitting light. */
export function litBy(piece: Pick<Piece, 'stock' | 'recipes' | 'settings'>) {
  const { environment, turnDeg, strength, blur, exposureEv } = piece.settings.surroundings;
  const key = environment === 'fitting' ? null : typeof environment === 'string' ? environment : drawnSky(piece, environment.stock);
  return { environment: key, turnRad: (turnDeg * Math.PI) / 180, strength, blur, exposureEv };
}

/** The stock file a part is made from; null for what is made from none. */
export const stockOf = (part: Part): string | null => ('stock' in part ? part.stock : null);

/** Every stock file a part names. */
export const stocksOf = (part: Part): string[] => [stockOf(part), 'sculpt' in part ? part.sculpt : null].filter((id) => id !== null);

/** Parts made from a stock file. */
export const partsOf = (piece: Piece, stockId: string): Part[] => Object.values(piece.parts).filter((p) => stocksOf(p).includes(stockId));

/** Parts in the order of the rack. */
export const rackOf = (piece: Piece): Part[] => piece.orders.parts.map((id) => piece.parts[id]);

/** The part and all that hangs from it, parents first. */
export function branchOf(piece: Piece, id: string): Part[] {
  const by = new Map<string, Part[]>();
  for (const p of rackOf(piece)) if (p.hang?.on === 'part') by.set(p.hang.part, [...(by.get(p.hang.part) ?? []), p]);
  const out: Part[] = [];
  const open = [piece.parts[id]];
  for (let p = open.shift(); p; p = open.shift()) {
    out.push(p);
    open.unshift(...(by.get(p.id) ?? []));
  }
  return out;
}

/** The anchor a part hangs on in the end, by way of the parts it hangs from; null: it hangs nowhere. */
export function anchorOf(piece: Pick<Piece, 'parts'>, part: Part): AnchorKind | null {
  let at: Part | undefined = part;
  while (at?.hang?.on === 'part') at = piece.parts[at.hang.part];
  return at?.hang?.on === 'anchor' ? at.hang.anchor.kind : null;
}

/** Whether a part is switched on, and all it hangs from; the first that is not, else null. */
export function hiddenBy(piece: Pick<Piece, 'parts'>, part: Part): Part | null {
  for (let at: Part | undefined = part; at; at = at.hang?.on === 'part' ? piece.parts[at.hang.part] : undefined) if (!at.visible) return at;
  return null;
}

/** Whether something hangs on the wearer's face itself, and goes along with what it does. */
export const goesWithFace = (piece: Pick<Piece, 'parts'>): boolean => Object.values(piece.parts).some((p) => isOnFace(p.hang));
/** The same, or something shows some of the face: asks for the form. */
export const hasFace = (piece: Pick<Piece, 'parts'>): boolean =>
  goesWithFace(piece) || Object.values(piece.parts).some((p) => p.kind === 'patch');

/** Whether more of the wearer is seen than head and bust: what hangs from neck or shoulders lies on a chest and by arms. */
export const seesBody = (piece: Pick<Piece, 'parts' | 'layers'>): boolean =>
  hasBody(piece) ||
  Object.values(piece.parts).some((p) => p.hang?.on === 'anchor' && (p.hang.anchor.kind === 'neck' || p.hang.anchor.kind === 'shoulders'));

/** Whether a piece is about the wearer's body, and is filmed as that: something hangs on its joints or hides as it does, or a matte is of its hands. */
export const hasBody = (piece: Pick<Piece, 'parts' | 'layers'>): boolean =>
  Object.values(piece.parts).some(
    (p) => (p.hang?.on === 'anchor' && p.hang.anchor.kind === 'joint') || (p.kind === 'occluder' && p.region === 'body'),
  ) || Object.values(piece.layers).some((l) => l.kind === 'matte' && l.matte.name === 'hands');
