/** What every kind of part has: where it hangs, what of its anchor it follows, in which layer it is drawn. */
import * as z from 'zod';
import { MEASURES, type MeasureName } from '../form/measures';
import { HUMANOID_BONES, jointWords } from '../words/humanoid';
import { Id, Metres, Name, Offset, offsetAtAnchor } from '../words/values';

/** What a device knows and parts hang on. */
export const Anchor = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('head') }),
  z.strictObject({ kind: z.literal('neck') }),
  z.strictObject({ kind: z.literal('shoulders') }),
  /** A joint of the wearer's body, by the name of the humanoid bone that turns there (VRM 1.0). */
  z.strictObject({ kind: z.literal('joint'), joint: z.enum(HUMANOID_BONES as [string, ...string[]]) }),
  z.strictObject({ kind: z.literal('screen') }),
]);
export type Anchor = z.infer<typeof Anchor>;
export type AnchorKind = Anchor['kind'];

export const Hang = z.discriminatedUnion('on', [
  z.strictObject({ on: z.literal('anchor'), anchor: Anchor }),
  /** `bone`: the name of a node of that part's model; left out, the part itself. */
  z.strictObject({ on: z.literal('part'), part: Id, bone: z.string().min(1).max(1000).optional() }),
]);
export type Hang = z.infer<typeof Hang>;

const halfLife = z.number().min(0).max(60_000);
/** Half-lives in ms: after one, half of what is left of the way has been gone. 0: at once. Within `deadZoneM` nothing moves. */
export const Trail = z.strictObject({
  placeHalfLifeMs: halfLife.default(0),
  turnHalfLifeMs: halfLife.default(0),
  sizeHalfLifeMs: halfLife.default(0),
  deadZoneM: Metres.min(0).default(0),
});
export type Trail = z.infer<typeof Trail>;

export const Follow = z.strictObject({
  place: z.boolean().default(true),
  yaw: z.boolean().default(true),
  pitch: z.boolean().default(true),
  roll: z.boolean().default(true),
  /** Its up stays the world's up, whatever it hangs in: of all turns the heading remains. */
  upright: z.boolean().default(false),
  /** Grows as this measure of the form shown does, against form M. */
  size: z
    .enum(MEASURES as [MeasureName, ...MeasureName[]])
    .nullable()
    .default(null),
  trail: Trail.nullable().default(null),
});
export type Follow = z.infer<typeof Follow>;
export const followAll = (): Follow => ({
  place: true,
  yaw: true,
  pitch: true,
  roll: true,
  upright: false,
  size: null,
  trail: null,
});

export const MAIN_LAYER_ID = 'main';

export const PartCommon = {
  id: Id,
  name: Name,
  visible: z.boolean().default(true),
  /** Refuses every change but its name and this. */
  locked: z.boolean().default(false),
  /** null: lies in the rack, hangs nowhere. */
  hang: Hang.nullable().default(null),
  offset: Offset.default(offsetAtAnchor),
  follow: Follow.default(followAll),
  layer: Id.default(MAIN_LAYER_ID),
  /** Material name or `*` → finish. */
  wears: z.strictObject({}).default({}),
};

/** What the rest of the house asks of a kind of part. */
export interface PartDef {
  schema: z.ZodTypeAny;
  /** Said in menus and lists: "Solid". */
  label: string;
  /** What it is for, in one line. */
  use: string;
  /** Anchors it may hang on; none: it has a place of its own. */
  anchors: readonly AnchorKind[];
  /** May it hang from a part. */
  onParts: boolean;
  /** Kind of layer it is drawn in; null: in none. */
  drawnIn: 'parts' | 'screen' | null;
  /** Is a thing that is seen; holds others; hides others; fills the picture and has no place to be moved in. */
  role: 'made' | 'holds' | 'hides' | 'fills';
  /** Fields that are ids of stock files. */
  stockFields: readonly string[];
}

export const ANCHOR_LABELS: Readonly<Record<AnchorKind, string>> = {
  head: 'Head',
  neck: 'Neck',
  shoulders: 'Shoulders',
  joint: 'Body',
  screen: 'Screen',
};
export const ANCHORS = Object.keys(ANCHOR_LABELS) as AnchorKind[];
/** Those of which there is one. */
export type SoleAnchor = Exclude<AnchorKind, 'joint'>;
export const SOLE_ANCHORS = ANCHORS.filter((a) => a !== 'joint') as SoleAnchor[];

/** “Head”, “Left elbow”. */
export const anchorLabel = (anchor: Anchor): string =>
  anchor.kind === 'joint' ? jointWords(anchor.joint).replace(/^./, (c) => c.toUpperCase()) : ANCHOR_LABELS[anchor.kind];

export const onAnchor = (kind: SoleAnchor): Hang => ({ on: 'anchor', anchor: { kind } });
export const onJoint = (joint: string): Hang => ({ on: 'anchor', anchor: { kind: 'joint', joint } });
export const onPart = (part: string, bone?: string): Hang => (bone === undefined ? { on: 'part', part } : { on: 'part', part, bone });
