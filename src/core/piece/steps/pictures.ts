import * as z from 'zod';
import { Sha256 } from '../../words/values';
import { defineStep } from './define';
import { ENCODINGS, ItsName } from './values';

export const PICTURE_ROLES = ['color', 'normal', 'data', 'emission'] as const;
export type PictureRoleName = (typeof PICTURE_ROLES)[number];
const encoding = {
  /** Longest edge, px. */
  maxEdge: z.int().min(1).max(16384),
  format: z.enum(['keep', ...ENCODINGS, 'ktx2']),
  quality: z.int().min(1).max(100),
};
/** How pictures are written: by role, or one by one. What is within its limit and would grow stays as it is. */
export const PicturesSettings = z.strictObject({
  roles: z.array(z.strictObject({ role: z.enum(PICTURE_ROLES), ...encoding })).max(PICTURE_ROLES.length),
  textures: z
    .array(
      z.strictObject({
        texture: ItsName,
        /** SHA-256 of the picture that is meant, where several have its name; null: by name alone. */
        was: Sha256.nullable(),
        ...encoding,
      }),
    )
    .max(1_000),
});
export type PicturesSettings = z.infer<typeof PicturesSettings>;
export type PictureEncoding = Pick<PicturesSettings['roles'][number], 'maxEdge' | 'format' | 'quality'>;

export const pictures = defineStep({
  settings: PicturesSettings,
  for: ['model'],
  effect: 'pictures',
});
