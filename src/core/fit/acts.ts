/** What people do with parts in the rack, as edits: hang elsewhere, group, duplicate, mirror, copy, put behind the wearer. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import type { FinishRow } from '../finish/row';
import { yawPitchRoll } from '../math/turns';
import { followAll, type Hang, hangOn, MAIN_LAYER_ID, type ModelPart, mirrorAnchor, onJoint, type Part } from '../parts';
import type { PatchPart } from '../parts/patch';
import { copyOfPart, createGroup } from '../piece/defaults';
import { add, batch, change, changePart, type Edit, order, remove, type SingleEdit } from '../piece/edits';
import { picturesOf } from '../piece/finishclip';
import { Layer, layerName } from '../piece/layers';
import type { RecipeRow } from '../piece/recipe';
import type { Piece } from '../piece/schema';
import { branchOf, stocksOf } from '../piece/selectors';
import type { StockItem } from '../piece/stock';
import type { MatteName } from '../words/mattes';
import { type Offset, offsetAtAnchor } from '../words/values';
import { mirrorRegion } from '../words/windows';

/** Where things are while the wearer is at rest. */
export interface RestFrames {
  /** World from part. */
  world(part: string): Matrix4;
  /** World from the frame that what hangs so lies in. */
  of(hang: Hang): Matrix4;
}

const tidy = (x: number, digits: number) => Math.round(x * 10 ** digits) / 10 ** digits + 0;

/** A matrix as an offset, to a nanometre and a millionth of a degree; what is sheared in it is lost. */
export function offsetOf(m: Matrix4): Offset {
  const [p, q, s] = [new Vector3(), new Quaternion(), new Vector3()];
  m.decompose(p, q, s);
  const e = yawPitchRoll(q);
  return {
    positionM: [tidy(p.x, 9), tidy(p.y, 9), tidy(p.z, 9)],
    turnRad: [tidy(e.x, 9), tidy(e.y, 9), tidy(e.z, 9)],
    size: [s.x, s.y, s.z].map((k) => Math.min(1e6, Math.max(1e-6, Number(Math.abs(k).toPrecision(9))))) as Offset['size'],
  };
}

/** Of some parts those that hang from none of the others: what is done to these is done to all. */
export function topOf(piece: Piece, ids: readonly string[]): Part[] {
  const all = new Set(ids);
  return piece.orders.parts.flatMap((id) => {
    if (!all.has(id)) return [];
    for (let p = piece.parts[id]; p.hang?.on === 'part'; ) {
      p = piece.parts[p.hang.part];
      if (all.has(p.id)) return [];
    }
    return [piece.parts[id]];
  });
}

/** Hangs parts elsewhere. `keep`: they stay where they are seen; else they come to lie at what they hang on. */
export function rehang(piece: Piece, frames: RestFrames, ids: readonly string[], hang: Hang | null, keep: boolean): Edit {
  return batch(
    topOf(piece, ids).map((p) => {
      if (!hang) return changePart(p.id, { hang });
      if (!keep) return changePart(p.id, { hang, offset: offsetAtAnchor() });
      if (!p.hang) return changePart(p.id, { hang });
      return changePart(p.id, { hang, offset: offsetOf(frames.of(hang).invert().multiply(frames.world(p.id))) });
    }),
  );
}

/** Parts under a new group, whose origin is the middle of theirs; it hangs where the first of them hangs. */
export function group(piece: Piece, frames: RestFrames, ids: readonly string[], id: string, name: string): Edit {
  const parts = topOf(piece, ids);
  if (parts.length === 0) return { kind: 'batch', edits: [] };
  const hang = parts[0].hang;
  const back = hang ? frames.of(hang).invert() : new Matrix4();
  const local = parts.map((p) => (hang && p.hang ? back.clone().multiply(frames.world(p.id)) : null));
  const middle = new Vector3();
  const at = new Vector3();
  const placed = local.filter((m) => m !== null);
  for (const m of placed) middle.add(at.setFromMatrixPosition(m));
  if (placed.length > 0) middle.divideScalar(placed.length);
  const positionM: Offset['positionM'] = [tidy(middle.x, 4), tidy(middle.y, 4), tidy(middle.z, 4)];
  const made = { ...createGroup(id, name, hang), offset: { ...offsetAtAnchor(), positionM } };
  const toGroup = new Matrix4().makeTranslation(-positionM[0], -positionM[1], -positionM[2]);
  return batch([
    add('parts', made, piece.orders.parts.indexOf(parts[0].id)),
    ...parts.map((p, i) =>
      changePart(p.id, {
        hang: { on: 'part', part: id },
        ...(local[i] ? { offset: offsetOf(toGroup.clone().multiply(local[i] as Matrix4)) } : {}),
      }),
    ),
  ]);
}

/** A group taken apart: what hung in it hangs where it hung, and stays where it was. */
export function ungroup(piece: Piece, frames: RestFrames, id: string): Edit {
  const { hang } = piece.parts[id];
  const inside = branchOf(piece, id).filter((p) => p.hang?.on === 'part' && p.hang.part === id);
  return batch([
    ...inside.map((p) =>
      changePart(p.id, { hang, ...(hang ? { offset: offsetOf(frames.of(hang).invert().multiply(frames.world(p.id))) } : {}) }),
    ),
    remove('parts', id),
  ]);
}

/**
 * Copies of parts and all that hangs from them, right after each. `ids`: the copies of what was asked for.
 * @param other on the wearer's other side: a pair of earrings, a hinge's second leaf
 */
export function duplicate(
  piece: Piece,
  ids: readonly string[],
  newId: () => string,
  { other = false }: { other?: boolean } = {},
): { edit: Edit; ids: string[] } {
  const edits: SingleEdit[] = [];
  const made: string[] = [];
  let shift = 0;
  for (const top of topOf(piece, ids)) {
    const branch = branchOf(piece, top.id);
    const copies = new Map(branch.map((p) => [p.id, newId()]));
    const last = Math.max(...branch.map((p) => piece.orders.parts.indexOf(p.id)));
    branch.forEach((p, i) => {
      const at = other ? across(p) : { hang: p.hang };
      const hang = at.hang?.on === 'part' && copies.has(at.hang.part) ? { ...at.hang, part: copies.get(at.hang.part) as string } : at.hang;
      const name = p === top ? `${p.name.slice(0, 108)}, ${other ? 'other side' : 'copy'}` : p.name;
      edits.push(add('parts', copyOfPart(p, copies.get(p.id) as string, { ...at, name, hang, locked: false }), last + 1 + i + shift));
    });
    shift += branch.length;
    made.push(copies.get(top.id) as string);
  }
  return { edit: batch(edits), ids: made };
}

/** An offset seen in the mirror of its frame's middle plane: other side, turned the other way about up and fore. */
export const mirrored = (o: Offset): Offset => ({
  positionM: [-o.positionM[0] + 0, o.positionM[1], o.positionM[2]],
  turnRad: [o.turnRad[0], -o.turnRad[1] + 0, -o.turnRad[2] + 0],
  size: o.size,
});

/** What a part is on the other side: there the ring of one hand hangs on the other. */
const across = (part: Part): Pick<Part, 'offset' | 'hang'> & Partial<Pick<PatchPart, 'region'>> => ({
  offset: mirrored(part.offset),
  hang: part.hang?.on === 'anchor' ? hangOn(mirrorAnchor(part.hang.anchor)) : part.hang,
  ...(part.kind === 'patch' && { region: mirrorRegion(part.region) }),
});

/** Parts brought to the other side, with what hangs from them. Shapes are not turned inside out. */
export const mirror = (piece: Piece, ids: readonly string[]): Edit =>
  batch(topOf(piece, ids).flatMap((top) => branchOf(piece, top.id).map((p) => changePart(p.id, across(p)))));

/** Parts off the rack, each with all that hangs from it. */
export const liftOff = (piece: Piece, ids: readonly string[]): Edit => batch(topOf(piece, ids).map((p) => remove('parts', p.id)));

/** Back to front. */
export const layersOf = (piece: Piece) => piece.orders.layers.map((id) => piece.layers[id]);

const isWearerAgain = (l: Layer) => l.kind === 'matte' && l.matte.name === 'person' && !l.matte.invert;

/** The layer of parts behind the wearer, if there is one: the last before the first person matte. */
export function layerBehind(piece: Piece): Layer | null {
  const all = layersOf(piece);
  const matte = all.findIndex(isWearerAgain);
  return all.slice(0, Math.max(0, matte)).findLast((l) => l.kind === 'parts') ?? null;
}
export const isBehind = (piece: Piece, part: Part): boolean => layerBehind(piece)?.id === part.layer;

/** Edits that bring about a person matte, with a layer of this kind right before it, and that layer's id. */
function beforeMatte(piece: Piece, kind: 'parts' | 'screen', newId: () => string): { edits: SingleEdit[]; layer: string } {
  const all = layersOf(piece);
  const matte = all.findIndex(isWearerAgain);
  const camera = all.findIndex((l) => l.kind === 'camera');
  const end = matte < 0 ? camera + 1 : matte;
  const there = matte < 0 ? undefined : all.slice(0, matte).findLast((l) => l.kind === kind);
  if (there) return { edits: [], layer: there.id };
  const id = newId();
  // a screen fills the picture: parts behind the wearer come after it
  const first = all.slice(0, end).findIndex((l) => l.kind === 'parts');
  const at = kind === 'screen' && first >= 0 ? first : end;
  const made = Layer.parse(kind === 'parts' ? { id, kind, name: 'Behind the wearer' } : { id, kind, name: 'Backdrop' });
  const edits: SingleEdit[] = [add('layers', made, at)];
  if (matte < 0) edits.push(add('layers', Layer.parse({ id: newId(), kind: 'matte', matte: { name: 'person' } }), end + 1));
  return { edits, layer: id };
}

/** In one press: parts drawn before the wearer is drawn again, so that the wearer stands before them. */
export function putBehind(piece: Piece, ids: readonly string[], newId: () => string): Edit {
  const { edits, layer } = beforeMatte(piece, 'parts', newId);
  return batch([...edits, ...drawnIn(piece, ids, 'parts').map((p) => changePart(p.id, { layer }))]);
}

/** And back: into the main layer. */
export const putBefore = (piece: Piece, ids: readonly string[]): Edit =>
  batch(drawnIn(piece, ids, 'parts').map((p) => changePart(p.id, { layer: MAIN_LAYER_ID })));

/** Parts and what hangs from them, of the ones that a kind of layer draws. */
export const drawnIn = (piece: Piece, ids: readonly string[], kind: Layer['kind']): Part[] =>
  [...new Set(topOf(piece, ids).flatMap((p) => branchOf(piece, p.id)))].filter((p) => piece.layers[p.layer].kind === kind);

/** The body wears a part: its bones go with the joints; null: it hangs as one piece, where it was hung. */
export function wear(piece: Piece, id: string, worn: ModelPart['worn']): Edit {
  if (!worn) return changePart(id, { worn });
  // what hides as the bust does, hides as the body does from now on
  const busts = Object.values(piece.parts).filter((p) => p.kind === 'occluder' && p.region === 'bust' && !p.locked);
  return batch([
    changePart(id, { worn, hang: onJoint('hips'), offset: offsetAtAnchor(), follow: followAll() }),
    ...busts.map((p) => changePart(p.id, { region: 'body' })),
  ]);
}

/** The wearer's hands or face are drawn again after a layer of parts; taken out where they are drawn after it already. */
export function showAgain(piece: Piece, after: string, name: MatteName, newId: () => string): Edit {
  const there = shownAgain(piece, after, name);
  if (there) return remove('layers', there);
  return add('layers', Layer.parse({ id: newId(), kind: 'matte', matte: { name } }), piece.orders.layers.indexOf(after) + 1);
}
/** The layer that draws them again after one of parts; null: none does. */
export const shownAgain = (piece: Piece, after: string, name: MatteName): string | null =>
  piece.orders.layers.slice(piece.orders.layers.indexOf(after) + 1).find((id) => {
    const l = piece.layers[id];
    return l.kind === 'matte' && l.matte.name === name && !l.matte.invert;
  }) ?? null;

/** A layer for screens: behind the wearer, or before everything. */
export function screenLayer(piece: Piece, where: 'backdrop' | 'foreground', newId: () => string): { edits: SingleEdit[]; layer: string } {
  if (where === 'backdrop') return beforeMatte(piece, 'screen', newId);
  const last = layersOf(piece).at(-1);
  if (last?.kind === 'screen') return { edits: [], layer: last.id };
  const id = newId();
  return { edits: [add('layers', Layer.parse({ id, kind: 'screen', name: 'Foreground' }))], layer: id };
}

/** A layer taken out; what was drawn in it goes to the next that can hold it, or is said to be in the way. */
export function takeOutLayer(piece: Piece, id: string): Edit {
  const layer = piece.layers[id];
  const parts = Object.values(piece.parts).filter((p) => p.layer === id);
  const other = layersOf(piece).find((l) => l.id !== id && l.kind === layer.kind);
  return batch([...(other ? parts.map((p) => changePart(p.id, { layer: other.id })) : []), remove('layers', id)]);
}
export const moveLayer = (piece: Piece, id: string, by: 1 | -1): Edit =>
  order('layers', id, Math.max(0, piece.orders.layers.indexOf(id) + by));
export const showLayer = (id: string, visible: boolean): Edit => change('layers', id, { visible });
export { layerName };

/** Parts on their way to another place or piece, with the files they are made of. */
export interface PartsClip {
  scaphosParts: 1;
  parts: Part[];
  stock: StockItem[];
  recipes: RecipeRow[];
  /** Left out by older programs. */
  finishes?: FinishRow[];
}

export function copyParts(piece: Piece, ids: readonly string[]): PartsClip {
  const parts = topOf(piece, ids).flatMap((p) => branchOf(piece, p.id));
  const finishes = [...new Set(parts.flatMap((p) => Object.values(p.wears)))].map((id) => piece.finishes[id]);
  const stock = [...new Set([...parts.flatMap(stocksOf), ...finishes.flatMap(picturesOf)])];
  return {
    scaphosParts: 1,
    parts,
    stock: stock.map((id) => piece.stock[id]),
    recipes: stock.flatMap((id) => piece.recipes[id] ?? []),
    finishes,
  };
}
