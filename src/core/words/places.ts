/** Landmarks of a head as artists call them; left and right are the wearer's. */
import type { LandmarkName, MidlineLandmark, PairedLandmark } from './landmarks';

const MIDDLE: Readonly<Record<MidlineLandmark, string>> = {
  glabella: 'the brow, in the middle',
  sellion: 'the bridge of the nose',
  pronasale: 'the tip of the nose',
  subnasale: 'below the nose',
  stomion: 'the mouth',
  labialeSuperius: 'the upper lip',
  labialeInferius: 'the lower lip',
  menton: 'the chin',
  gnathion: 'the chin',
  vertex: 'the crown',
  opisthocranion: 'the back of the head',
  cervicale: 'the nape',
  infrathyroid: 'below the larynx',
};
const SIDES: Readonly<Record<PairedLandmark, string>> = {
  orbitale: 'below the {} eye',
  endocanthion: 'the inner corner of the {} eye',
  ectocanthion: 'the outer corner of the {} eye',
  zygion: 'the {} cheekbone',
  tragion: 'the front of the {} ear',
  otobasionSuperior: 'the root of the {} ear',
  superaurale: 'the top of the {} ear',
  subaurale: 'the lobe of the {} ear',
  postaurale: 'behind the {} ear',
  alare: 'the {} wing of the nose',
  cheilion: 'the {} corner of the mouth',
  gonion: 'the {} corner of the jaw',
  euryon: 'the {} side of the head',
  acromion: 'the {} shoulder',
  pupil: 'the {} eye',
  maxillofrontale: 'the {} flank of the bridge of the nose',
  padSeat: 'where the {} pad of spectacles rests',
  temple: 'the {} temple',
};

export const placeWords = (name: LandmarkName): string => {
  const paired = /^(.*)([LR])$/.exec(name);
  if (paired && paired[1] in SIDES) return SIDES[paired[1] as PairedLandmark].replace('{}', paired[2] === 'L' ? 'left' : 'right');
  return MIDDLE[name as MidlineLandmark];
};
