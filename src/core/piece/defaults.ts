import {
  canHang,
  type ModelItem,
  type ModelPart,
  NO_STOCK_CREDIT,
  type OccluderPart,
  type Offset,
  PIECE_SCHEMA,
  type Piece,
} from './schema';

export const OFFSET_AT_ANCHOR: Offset = { positionM: [0, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] };
export const HEAD_OCCLUDER_ID = 'head-block';

export function createOccluder(id = HEAD_OCCLUDER_ID): OccluderPart {
  return { id, kind: 'occluder', name: 'Head block', anchor: 'head', visible: true, locked: false };
}

export function createModelPart(id: string, stockId: string, name: string): ModelPart {
  return {
    id,
    kind: 'model',
    stockId,
    name,
    anchor: 'head',
    visible: true,
    locked: false,
    offset: structuredClone(OFFSET_AT_ANCHOR),
    opacity: 1,
    solid: false,
  };
}

/** A new piece: form M, profile pocket, and the head occluder already in the rack. */
export function createPiece(name: string): Piece {
  const occluder = createOccluder();
  return {
    schema: PIECE_SCHEMA,
    name,
    form: 'M',
    profile: 'pocket',
    stock: {},
    recipes: {},
    parts: { [occluder.id]: occluder },
    rack: [occluder.id],
  };
}

/** The file the piece works with: what the recipe yields, or `model`; null for what is not in Stock. */
export function usedFile(piece: Pick<Piece, 'stock' | 'recipes'>, stockId: string): string | null {
  return piece.recipes[stockId]?.result ?? piece.stock[stockId]?.model ?? null;
}

/** The GLB a stock file is drawn from; null for what cannot hang, and for a picture of an older piece that has no plane yet. */
export function drawnModel(piece: Pick<Piece, 'stock' | 'recipes'>, stockId: string): string | null {
  const item = piece.stock[stockId];
  if (!canHang(item)) return null;
  const used = usedFile(piece, stockId);
  return item.kind === 'picture' && used === item.original ? null : used;
}

/** A model as it comes into Stock: nothing stated, nothing dismissed. */
export const createModelItem = (item: Pick<ModelItem, 'id' | 'name' | 'original' | 'model' | 'bytes'> & Partial<ModelItem>): ModelItem => ({
  kind: 'model',
  credit: NO_STOCK_CREDIT,
  stated: null,
  dismissed: [],
  ...item,
});
