import * as z from 'zod';
import { Sha256 } from '../../words/values';
import { defineStep, joined } from './define';

/** Pictures painted anew: each takes the place of a texture, found by its name or its bytes. */
export const RepaintSettings = z.strictObject({
  links: z
    .array(
      z.strictObject({
        texture: z.string().min(1).max(1000),
        /** SHA-256 of the texture it replaces; null: by name alone. */
        was: Sha256.nullable(),
        picture: Sha256,
        name: z.string().max(1000),
      }),
    )
    .min(1)
    .max(500),
});
export type RepaintSettings = z.infer<typeof RepaintSettings>;

export const repaint = defineStep({
  settings: RepaintSettings,
  for: ['model'],
  effect: 'paint',
  merge: joined,
  links: (settings) => settings.links.map(({ picture, name }) => ({ file: picture, name })),
});
