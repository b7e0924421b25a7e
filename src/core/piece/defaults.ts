import { type ModelPart, type OccluderPart, type Offset, PIECE_SCHEMA, type Piece } from './schema';

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
  return { schema: PIECE_SCHEMA, name, form: 'M', profile: 'pocket', stock: {}, parts: { [occluder.id]: occluder }, rack: [occluder.id] };
}
