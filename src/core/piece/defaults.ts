/** New pieces, rows and edits as they start. */
import { followAll, type Hang, MAIN_LAYER_ID, onAnchor, type Part } from '../parts';
import type { FacePart } from '../parts/face';
import type { GroupPart } from '../parts/group';
import type { ModelPart } from '../parts/model';
import type { OccluderPart } from '../parts/occluder';
import type { PatchPart } from '../parts/patch';
import type { ScreenPart } from '../parts/screen';
import type { SolidPart, SolidShape } from '../parts/solid';
import type { FaceCover } from '../words/covers';
import { offsetAtAnchor } from '../words/values';
import type { PatchRegion } from '../words/windows';
import { add, change, remove, type SingleEdit } from './edits';
import { CAMERA_LAYER_ID, type Layer } from './layers';
import type { Recipe } from './recipe';
import { PIECE_SCHEMA, type Piece } from './schema';
import { type ModelItem, NO_STOCK_CREDIT } from './stock';
import { usualSurroundings } from './surroundings';

export const HEAD_OCCLUDER_ID = 'head-block';

const common = (id: string, name: string, hang: Hang | null): Omit<GroupPart, 'kind'> => ({
  id,
  name,
  visible: true,
  locked: false,
  hang,
  offset: offsetAtAnchor(),
  follow: followAll(),
  layer: MAIN_LAYER_ID,
  wears: {},
});

export const createOccluder = (id = HEAD_OCCLUDER_ID): OccluderPart => ({
  ...common(id, 'Head block', onAnchor('head')),
  kind: 'occluder',
  region: 'bust',
  growMm: 0,
  widenMm: 0,
  softMm: 0,
});
export const createModelPart = (id: string, stock: string, name: string, hang: Hang | null = onAnchor('head')): ModelPart => ({
  ...common(id, name, hang),
  kind: 'model',
  stock,
  motion: null,
  opacity: 1,
  solid: false,
  worn: null,
  occludes: false,
});
export const createGroup = (id: string, name: string, hang: Hang | null = onAnchor('head')): GroupPart => ({
  ...common(id, name, hang),
  kind: 'group',
});
export const createSolid = (id: string, name: string, shape: SolidShape, hang: Hang | null = onAnchor('head')): SolidPart => ({
  ...common(id, name, hang),
  kind: 'solid',
  shape,
  occludes: false,
});
export const createPatch = (id: string, name: string, region: PatchRegion, hang: Hang | null = onAnchor('head')): PatchPart => ({
  ...common(id, name, hang),
  kind: 'patch',
  region,
  feather: 0.35,
  seated: true,
});
export const createFace = (id: string, name: string, covers: FaceCover, colour: string | null = null): FacePart => ({
  ...common(id, name, onAnchor('head')),
  kind: 'face',
  covers,
  stock: null,
  colour,
  holes: { eyes: true, mouth: true },
  sculpt: null,
  growMm: 0.3,
  opacity: 1,
});
export const createScreen = (id: string, name: string, layer: string, set: Partial<ScreenPart> = {}): ScreenPart => ({
  ...common(id, name, onAnchor('screen')),
  kind: 'screen',
  stock: null,
  colour: null,
  fit: 'cover',
  turnDeg: 0,
  exposureEv: 0,
  opacity: 1,
  ...set,
  layer,
});

export const createLayers = (): Layer[] => [
  { id: CAMERA_LAYER_ID, name: null, visible: true, kind: 'camera' },
  { id: MAIN_LAYER_ID, name: null, visible: true, kind: 'parts', sort: 'depth' },
];

/** A new piece: form M, profile pocket, the camera's picture and one layer of parts, the head occluder already in the rack. */
export function createPiece(name: string): Piece {
  const occluder = createOccluder();
  const layers = createLayers();
  return {
    schema: PIECE_SCHEMA,
    settings: { name, form: 'M', wearer: null, profile: 'pocket', colourway: null, surroundings: usualSurroundings() },
    stock: {},
    recipes: {},
    forms: {},
    takes: {},
    finishes: {},
    colourways: {},
    parts: { [occluder.id]: occluder },
    layers: Object.fromEntries(layers.map((l) => [l.id, l])),
    orders: { parts: [occluder.id], layers: layers.map((l) => l.id) },
  };
}

/** A model as it comes into Stock: nothing stated, nothing dismissed. */
export const createModelItem = (item: Pick<ModelItem, 'id' | 'name' | 'original' | 'model' | 'bytes'> & Partial<ModelItem>): ModelItem => ({
  kind: 'model',
  credit: NO_STOCK_CREDIT,
  stated: null,
  dismissed: [],
  ...item,
});

/** What a part is called that is made of a file. */
export const partNameOf = (file: string): string =>
  file
    .replace(/\.[^.]+$/, '')
    .slice(0, 120)
    .trim() || 'Part';

/** The edits that give a stock file this recipe, or none. */
export function setRecipe(piece: Pick<Piece, 'recipes'>, stock: string, recipe: Recipe | null): SingleEdit[] {
  const old = piece.recipes[stock];
  if (!recipe) return old ? [remove('recipes', stock)] : [];
  const { steps, result } = recipe;
  return [old ? change('recipes', stock, { steps, result }) : add('recipes', { id: stock, steps, result })];
}

/** A part's place in a row of copies: what a copy of it under another id is. */
export const copyOfPart = (
  part: Part,
  id: string,
  change: Partial<Pick<Part, 'name' | 'hang' | 'offset' | 'layer' | 'locked'>> & Partial<Pick<PatchPart, 'region'>> = {},
): Part => ({ ...structuredClone(part), id, ...change }) as Part;
