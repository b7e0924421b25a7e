/** Which plain shapes there are and what of them can be left open: for the run too, which knows no schema. */
export const SOLID_FORMS = ['box', 'sphere', 'cylinder', 'capsule', 'cone', 'ring', 'plane', 'disc', 'tube', 'arch'] as const;
export type SolidForm = (typeof SOLID_FORMS)[number];
export const SOLID_LABELS: Readonly<Record<SolidForm, string>> = {
  box: 'Box',
  sphere: 'Sphere',
  cylinder: 'Cylinder',
  capsule: 'Capsule',
  cone: 'Cone',
  ring: 'Ring',
  plane: 'Plane',
  disc: 'Disc',
  tube: 'Tube',
  arch: 'Arch',
};
export const SOLID_FACES = ['top', 'bottom', 'front', 'back', 'side'] as const;
export type SolidFace = (typeof SOLID_FACES)[number];
/** The faces of a form that can be left open. `side` of a box is both; of what is round, its mantle. */
export const OPEN_FACES: Readonly<Record<SolidForm, readonly SolidFace[]>> = {
  box: ['top', 'bottom', 'front', 'back', 'side'],
  cylinder: ['top', 'bottom', 'side'],
  cone: ['bottom'],
  sphere: [],
  capsule: [],
  ring: [],
  plane: [],
  disc: [],
  tube: ['top', 'bottom'],
  arch: [],
};
