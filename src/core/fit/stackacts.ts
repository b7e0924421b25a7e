/** What people do with the stacking: layers moved, parts moved between them, parts on top of everything or only in the sky. */
import { hides, MAIN_LAYER_ID, type Part, partDef } from '../parts';
import { createScreen } from '../piece/defaults';
import { add, batch, changePart, type Edit, order, type SingleEdit } from '../piece/edits';
import { Layer } from '../piece/layers';
import type { Piece } from '../piece/schema';
import { drawnIn, layersOf, screenLayer } from './acts';

/** A layer to another place, from the back, 0 the first. */
export const moveLayerTo = (piece: Piece, id: string, at: number): Edit =>
  order('layers', id, Math.max(0, Math.min(piece.orders.layers.length - 1, at)));

/** Parts with what hangs from them into a layer; of those it cannot hold none. */
export const moveToLayer = (piece: Piece, ids: readonly string[], layer: string): Edit =>
  batch(drawnIn(piece, ids, piece.layers[layer].kind).map((p) => changePart(p.id, { layer })));

/** Whether a layer can hold a part. */
export const takesPart = (layer: Layer, part: Part): boolean => partDef(part).drawnIn === layer.kind;

const occludersIn = (piece: Piece, layer: string) => Object.values(piece.parts).some((p) => p.layer === layer && p.visible && hides(p));

/** In one press: drawn after all else, where nothing hides it. */
export function putOnTop(piece: Piece, ids: readonly string[], newId: () => string): Edit {
  const all = layersOf(piece);
  const last = all.findLastIndex((l) => l.kind !== 'screen');
  const top = all[last];
  const free = top?.kind === 'parts' && top.id !== MAIN_LAYER_ID && !occludersIn(piece, top.id);
  const id = free ? top.id : newId();
  const edits: SingleEdit[] = free ? [] : [add('layers', Layer.parse({ id, kind: 'parts', name: 'On top' }), last + 1)];
  return batch([...edits, ...drawnIn(piece, ids, 'parts').map((p) => changePart(p.id, { layer: id }))]);
}

const isGround = (l: Layer) => l.kind === 'matte' && l.matte.name === 'sky' && l.matte.invert;
/** The layer of what is shown only in the sky: the one before the picture comes again everywhere else. */
export function skyLayer(piece: Piece): Layer | null {
  const all = layersOf(piece);
  const ground = all.findIndex(isGround);
  return all.slice(0, Math.max(0, ground)).findLast((l) => l.kind === 'parts') ?? null;
}

/** In one press: parts shown only where the picture has sky. */
export function putInSky(piece: Piece, ids: readonly string[], newId: () => string): Edit {
  const all = layersOf(piece);
  const there = skyLayer(piece);
  const id = there?.id ?? newId();
  const edits: SingleEdit[] = [];
  if (!there) {
    const at = all.findIndex((l) => l.kind === 'camera') + 1;
    edits.push(add('layers', Layer.parse({ id, kind: 'parts', name: 'Only in the sky' }), at));
    if (!all.some(isGround))
      edits.push(add('layers', Layer.parse({ id: newId(), kind: 'matte', matte: { name: 'sky', invert: true, featherPx: 2 } }), at + 1));
  }
  return batch([...edits, ...drawnIn(piece, ids, 'parts').map((p) => changePart(p.id, { layer: id }))]);
}

/** In one press: the wearer alone is left of the picture, before a colour. `part`: the backdrop. */
export function cutOut(piece: Piece, colour: string, name: string, newId: () => string): { edit: Edit; part: string } {
  const { edits, layer } = screenLayer(piece, 'backdrop', newId);
  const screen = createScreen(newId(), name, layer, { stock: null, colour });
  return { edit: batch([...edits, add('parts', screen)]), part: screen.id };
}

/** Parts of a layer, each with what hangs from it there. */
export const partsIn = (piece: Piece, layer: string): Part[] =>
  piece.orders.parts.map((id) => piece.parts[id]).filter((p) => p.layer === layer && partDef(p).drawnIn !== null);
