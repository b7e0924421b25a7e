/**
 * The landmarks of anthropometry: names after ISO 7250-1 and Farkas, *from memory*. L and R are the wearer's.
 * `padSeat`, where the pads of spectacles rest, and `temple`, where their sides pass the eyes, are ours (*common practice*).
 */
const MIDLINE = [
  'glabella',
  'sellion',
  'pronasale',
  'subnasale',
  'stomion',
  'labialeSuperius',
  'labialeInferius',
  'menton',
  'gnathion',
  'vertex',
  'opisthocranion',
  'cervicale',
  'infrathyroid',
] as const;
const PAIRED = [
  'orbitale',
  'endocanthion',
  'ectocanthion',
  'zygion',
  'tragion',
  'otobasionSuperior',
  'superaurale',
  'subaurale',
  'postaurale',
  'alare',
  'cheilion',
  'gonion',
  'euryon',
  'acromion',
  'pupil',
  'maxillofrontale',
  'padSeat',
  'temple',
] as const;
export type PairedLandmark = (typeof PAIRED)[number];
export type MidlineLandmark = (typeof MIDLINE)[number];
export type LandmarkName = MidlineLandmark | `${PairedLandmark}L` | `${PairedLandmark}R`;
export const LANDMARKS: readonly LandmarkName[] = [...MIDLINE, ...PAIRED.flatMap((p) => [`${p}L`, `${p}R`] as const)];

const mirrored = (name: LandmarkName) => (/[LR]$/.test(name) ? name.replace(/[LR]$/, (s) => (s === 'L' ? 'R' : 'L')) : name);
/** The same on the wearer's other side; those of the middle are their own. */
export const mirrorLandmark = (name: LandmarkName): LandmarkName => mirrored(name) as LandmarkName;
