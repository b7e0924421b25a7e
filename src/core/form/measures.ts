/** The measures of a head and their presets. All lengths in millimetres. */
import type { LandmarkName } from '../words/landmarks';

/** The two landmarks each measure runs between (straight line). */
export const MEASURE_ENDS = {
  headLength: ['glabella', 'opisthocranion'],
  headBreadth: ['euryonL', 'euryonR'],
  bizygomaticBreadth: ['zygionL', 'zygionR'],
  bitragionBreadth: ['tragionL', 'tragionR'],
  faceLength: ['sellion', 'menton'],
  interpupillaryDistance: ['pupilL', 'pupilR'],
  noseProtrusion: ['subnasale', 'pronasale'],
  noseBreadth: ['alareL', 'alareR'],
} as const satisfies Record<string, readonly [LandmarkName, LandmarkName]>;

/** Triangles of every form's skin, eyeballs left out: each of the left half is followed by its mirror image, its last two corners changed about. */
export const SKIN_TRIANGLES = 10_468;

export type MeasureName = keyof typeof MEASURE_ENDS;
export const MEASURES = Object.keys(MEASURE_ENDS) as MeasureName[];

/** What wearables need beyond them; one that is not asked for follows from the others. Straight lines between two landmarks. */
export const FINER_ENDS = {
  browToCrown: ['glabella', 'vertex'],
  templeBreadth: ['templeL', 'templeR'],
  earLength: ['superauraleL', 'subauraleL'],
  earHeight: ['otobasionSuperiorL', 'tragionL'],
  noseBridgeBreadth: ['maxillofrontaleL', 'maxillofrontaleR'],
} as const satisfies Record<string, readonly [LandmarkName, LandmarkName]>;
/**
 * And two of another kind: how far each flank of the nose opens downwards, seen from before (from maxillofrontale to padSeat, degrees
 * from upright), and the neck by tape, mm: the hull of its section below the larynx, across the line of the neck's joints.
 */
export const FINER = [
  'browToCrown',
  'templeBreadth',
  'earLength',
  'earHeight',
  'noseBridgeBreadth',
  'noseBridgeAngle',
  'neckGirth',
] as const;
export type FinerName = (typeof FINER)[number];
export const isAngle = (name: FinerName): boolean => name === 'noseBridgeAngle';

/** In mm, an angle in degrees; a head circumference and finer measures that are not asked for follow from the others. */
export type Measures = Record<MeasureName, number> & { headCircumference?: number } & Partial<Record<FinerName, number>>;

export const FORM_SIZES = ['S', 'M', 'L'] as const;
export type FormSize = (typeof FORM_SIZES)[number];

/** By what a form is asked for: a size, or measures in mm; missing ones are M's. */
export type FormAsk = FormSize | Partial<Measures>;

/** Round figures inside the ordinary adult range, chosen by hand: not a statistical standard. */
// biome-ignore format: table
export const PRESETS: Readonly<Record<FormSize, Measures>> = {
  S: { headLength: 182, headBreadth: 143, bizygomaticBreadth: 127, bitragionBreadth: 130, faceLength: 109, interpupillaryDistance: 58.5, noseProtrusion: 18, noseBreadth: 31.5, headCircumference: 532 },
  M: { headLength: 192, headBreadth: 151, bizygomaticBreadth: 135, bitragionBreadth: 139, faceLength: 118, interpupillaryDistance: 62.5, noseProtrusion: 19.5, noseBreadth: 34.5, headCircumference: 562 },
  L: { headLength: 203, headBreadth: 160, bizygomaticBreadth: 145, bitragionBreadth: 149, faceLength: 128, interpupillaryDistance: 67, noseProtrusion: 21.5, noseBreadth: 38, headCircumference: 595 },
};
