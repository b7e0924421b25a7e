/** What a form has of its own, and what is the same for all: for a page that has a form, and asks for others. */
import type { FaceRig } from './facemotion';
import type { Form } from './form';

/** What a form has of its own; all else is the same for every form of one base. */
export type OwnForm = Pick<Form, 'positions' | 'normals' | 'landmarks' | 'headCircumferenceMm'> & { face: Omit<FaceRig, 'fields'> };
export const ownOf = ({ positions, normals, landmarks, headCircumferenceMm, face: { fields: _, ...face } }: Form): OwnForm => ({
  positions,
  normals,
  landmarks,
  headCircumferenceMm,
  face,
});
/** @param like any form of the same base */
export const formLike = (like: Form, own: OwnForm): Form => ({ ...like, ...own, face: { ...own.face, fields: like.face.fields } });
