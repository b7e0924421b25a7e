/** What of a face a face surface covers. */
export const FACE_COVERS = ['face', 'lids', 'brows', 'lips', 'eyes'] as const;
export type FaceCover = (typeof FACE_COVERS)[number];
export const FACE_COVER_LABELS: Readonly<Record<FaceCover, string>> = {
  face: 'Face',
  lids: 'Eyelids',
  brows: 'Brows',
  lips: 'Lips',
  eyes: 'Eyeballs',
};
