/** Kinds of part, one file each: schema, defaults, what it may hang on, what it refers to. Nothing outside asks for a kind by name. */
import * as z from 'zod';
import type { PartDef } from './common';
import { face } from './face';
import { group } from './group';
import { model } from './model';
import { occluder } from './occluder';
import { patch } from './patch';
import { screen } from './screen';
import { solid } from './solid';

export const PARTS = { model, solid, group, occluder, screen, patch, face } as const satisfies Record<string, PartDef>;
export type PartKind = keyof typeof PARTS;
export const PART_KINDS = Object.keys(PARTS) as PartKind[];

export const Part = z.discriminatedUnion('kind', [
  model.schema,
  solid.schema,
  group.schema,
  occluder.schema,
  screen.schema,
  patch.schema,
  face.schema,
]);
export type Part = z.infer<typeof Part>;
export type PartOf<K extends PartKind> = Extract<Part, { kind: K }>;
/** A registry of one layer of the house: the compiler lists what a new kind still lacks. */
export type ByPartKind<T> = { readonly [K in PartKind]: T };

type Kinded = Pick<Part, 'kind'>;
export const holds = (part: Kinded): boolean => PARTS[part.kind].role === 'holds';
/** Whether a part hides what is behind it and shows nothing. */
export const hides = (part: Part): boolean => hidesAsForm(part) || ('occludes' in part && part.occludes);
const hidesAsForm = (part: Kinded): boolean => PARTS[part.kind].role === 'hides';
export const fills = (part: Kinded): boolean => PARTS[part.kind].role === 'fills';
/** Whether a part shows anything of its own. */
export const isMade = (part: Part): boolean => !holds(part) && !hides(part);
/** Whether it lies on the form and goes with it. */
export const lies = (part: Kinded): boolean => PARTS[part.kind].role === 'lies';
/** Whether a part moves with what it hangs on as it is told to: what hides follows the form, what fills the picture. */
export const isPlaced = (part: Kinded): boolean => !hidesAsForm(part) && !lies(part) && !fills(part);
/** Whether the body's joints move its bones. */
export const isWorn = (part: Part): boolean => 'worn' in part && part.worn !== null;
export const partDef = (part: Pick<Part, 'kind'>): PartDef => PARTS[part.kind];

export { FACE_COVER_LABELS, FACE_COVERS, type FaceCover } from '../words/covers';
export {
  ANCHOR_LABELS,
  ANCHORS,
  Anchor,
  type AnchorKind,
  anchorKey,
  anchorLabel,
  anchorOfKey,
  Follow,
  followAll,
  Hang,
  hangOn,
  isOnFace,
  MAIN_LAYER_ID,
  mirrorAnchor,
  onAnchor,
  onJoint,
  onPart,
  type PartDef,
  SIDES,
  type Side,
  SOLE_ANCHORS,
  type SoleAnchor,
  Trail,
} from './common';
export { FacePart } from './face';
export { GroupPart } from './group';
export { ModelPart, Motion, Worn } from './model';
export { HAIR_MM, OCCLUDER_REGION_LABELS, OCCLUDER_REGIONS, OccluderPart, type OccluderRegion } from './occluder';
export { PatchPart } from './patch';
export { SCREEN_FITS, type ScreenFit, ScreenPart } from './screen';
export { SOLID_LOOK, SolidPart, SolidShape } from './solid';
export { OPEN_FACES, SOLID_FACES, SOLID_FORMS, SOLID_LABELS, type SolidFace, type SolidForm } from './solidforms';
