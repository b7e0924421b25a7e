/** What every kind of part has: where it hangs, what of its anchor it follows, in which layer it is drawn. */
import * as z from 'zod';
import { MEASURES, type MeasureName, SKIN_TRIANGLES } from '../form/measures';
import { capital } from '../words/counted';
import { HUMANOID_BONES, jointWords, mirrorName } from '../words/humanoid';
import { LANDMARKS, type LandmarkName, mirrorLandmark } from '../words/landmarks';
import { placeWords } from '../words/places';
import { Id, Metres, Name, Offset, offsetAtAnchor } from '../words/values';

export const SIDES = ['left', 'right'] as const;
export type Side = (typeof SIDES)[number];
/** The wearer's; left out: midway between the two. */
const side = z.enum(SIDES).optional();
const share = z.number().min(0).max(1);
/** A place of the form's skin, that goes along with expression: a landmark, or a triangle of the form and shares of its corners. */
const FaceAnchor = z
  .strictObject({
    kind: z.literal('face'),
    landmark: z.enum(LANDMARKS as [LandmarkName, ...LandmarkName[]]).optional(),
    triangle: z.number().int().min(0).max(1_000_000).optional(),
    bary: z.tuple([share, share, share]).optional(),
  })
  .refine(
    ({ landmark, triangle, bary }) => (landmark ? !bary && triangle === undefined : bary !== undefined && triangle !== undefined),
    'say a landmark, or a triangle and the shares of its corners',
  )
  .refine(({ bary }) => !bary || Math.abs(bary[0] + bary[1] + bary[2] - 1) < 1e-3, 'the shares of the three corners must sum to 1');

/** What a device knows and parts hang on. */
export const Anchor = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('head') }),
  FaceAnchor,
  /** The eyeball's middle, turned as it looks. */
  z.strictObject({ kind: z.literal('eye'), side }),
  /** The front of the ear. */
  z.strictObject({ kind: z.literal('ear'), side }),
  /** Midway between the lips. */
  z.strictObject({ kind: z.literal('mouth') }),
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

/** It hides what lies behind it, and shows nothing itself. */
export const Occludes = z.boolean().default(false);

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
  /** Name of a material, or `*` for every other → finish. */
  wears: z
    .record(
      z
        .string()
        .max(1000)
        .refine((name) => name !== '__proto__', 'a name that is none'),
      Id,
    )
    .default({}),
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
  /** Is a thing that is seen; lies on the form, and is seen; holds others; hides others; fills the picture and has no place to be moved in. */
  role: 'made' | 'lies' | 'holds' | 'hides' | 'fills';
  /** Fields that are ids of stock files. */
  stockFields: readonly string[];
  /** Kinds of file that each of them takes; left out, what its layer takes. */
  stockKinds?: Readonly<Record<string, readonly string[]>>;
}

export const ANCHOR_LABELS: Readonly<Record<AnchorKind, string>> = {
  head: 'Head',
  face: 'Skin',
  eye: 'Eyes',
  ear: 'Ears',
  mouth: 'Mouth',
  neck: 'Neck',
  shoulders: 'Shoulders',
  joint: 'Body',
  screen: 'Screen',
};
export const ANCHORS = Object.keys(ANCHOR_LABELS) as AnchorKind[];
/** Those of which there is one. */
export type SoleAnchor = Exclude<AnchorKind, 'joint' | 'face' | 'eye' | 'ear'>;
const OF_MANY: ReadonlySet<AnchorKind> = new Set(['joint', 'face', 'eye', 'ear']);
export const SOLE_ANCHORS = ANCHORS.filter((a) => !OF_MANY.has(a)) as SoleAnchor[];

const ON_FACE: ReadonlySet<AnchorKind> = new Set(['face', 'eye', 'ear', 'mouth']);
/** Whether a hang is on the wearer's face itself, and goes along with what it does: only a form tells where that is. */
export const isOnFace = (hang: Hang | null): boolean => hang?.on === 'anchor' && ON_FACE.has(hang.anchor.kind);

type ByAnchorKind<T> = { readonly [K in AnchorKind]?: (anchor: Extract<Anchor, { kind: K }>) => T };
const sided = ({ kind, side: of }: { kind: 'eye' | 'ear'; side?: Side }) => (of ? capital(`${of} ${kind}`) : ANCHOR_LABELS[kind]);
/** Where the kind alone does not say which. */
const LABELS: ByAnchorKind<string> = {
  joint: ({ joint }) => capital(jointWords(joint)),
  face: (a) => `Skin: ${a.landmark ? placeWords(a.landmark) : `place ${a.triangle}`}`,
  eye: sided,
  ear: sided,
};
const KEYS: ByAnchorKind<string> = {
  joint: ({ joint }) => joint,
  face: (a) => a.landmark ?? `${a.triangle} ${a.bary?.join(' ')}`,
  eye: ({ side: of }) => of ?? '',
  ear: ({ side: of }) => of ?? '',
};

/** “Head”, “Left elbow”, “Skin: the lower lip”; left and right are the wearer's. */
export const anchorLabel = (anchor: Anchor): string =>
  (LABELS[anchor.kind] as ((a: Anchor) => string) | undefined)?.(anchor) ?? ANCHOR_LABELS[anchor.kind];

/** An anchor as words of a list: “head”, “joint leftHand”, “face 812 0.2 0.3 0.5”. */
export function anchorKey(anchor: Anchor): string {
  const which = (KEYS[anchor.kind] as ((a: Anchor) => string) | undefined)?.(anchor);
  return which ? `${anchor.kind} ${which}` : anchor.kind;
}
/** And back. @throws what is no anchor's key */
export function anchorOfKey(key: string): Anchor {
  const [kind, ...which] = key.split(' ');
  if (kind === 'joint') return Anchor.parse({ kind, joint: which[0] });
  if (kind === 'eye' || kind === 'ear') return Anchor.parse(which[0] ? { kind, side: which[0] } : { kind });
  if (kind === 'face' && which.length === 1) return Anchor.parse({ kind, landmark: which[0] });
  if (kind === 'face') return Anchor.parse({ kind, triangle: Number(which[0]), bary: which.slice(1).map(Number) });
  return Anchor.parse({ kind });
}

export const onAnchor = (kind: SoleAnchor): Hang => ({ on: 'anchor', anchor: { kind } });
const otherSide = (side: Side): Side => (side === 'left' ? 'right' : 'left');
/** Where the form has its mirror image: of pairs the other one, on the skin the place across. */
export function mirrorAnchor(anchor: Anchor): Anchor {
  if (anchor.kind === 'joint') return { ...anchor, joint: mirrorName(anchor.joint) };
  if (anchor.kind === 'eye' || anchor.kind === 'ear') return anchor.side ? { ...anchor, side: otherSide(anchor.side) } : anchor;
  if (anchor.kind !== 'face') return anchor;
  if (anchor.landmark) return { ...anchor, landmark: mirrorLandmark(anchor.landmark) };
  const { triangle = 0, bary } = anchor;
  if (!bary || triangle >= SKIN_TRIANGLES) return anchor;
  return { ...anchor, triangle: triangle ^ 1, bary: [bary[0], bary[2], bary[1]] };
}

export const hangOn = (anchor: Anchor): Hang => ({ on: 'anchor', anchor });
export const onJoint = (joint: string): Hang => ({ on: 'anchor', anchor: { kind: 'joint', joint } });
export const onPart = (part: string, bone?: string): Hang => (bone === undefined ? { on: 'part', part } : { on: 'part', part, bone });
