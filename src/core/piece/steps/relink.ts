import * as z from 'zod';
import { Sha256 } from '../../words/values';
import { defineStep, joined } from './define';

/** Pictures for what a file asked for and did not get. */
export const RelinkSettings = z.strictObject({
  links: z
    .array(
      z.strictObject({
        wanted: z.string().min(1).max(1000),
        /** SHA-256 of the picture's bytes. */
        picture: Sha256,
        name: z.string().max(1000),
      }),
    )
    .min(1)
    .max(500),
});
export type RelinkSettings = z.infer<typeof RelinkSettings>;

export const relink = defineStep({
  settings: RelinkSettings,
  for: ['model'],
  effect: 'paint',
  merge: joined,
  links: (settings) => settings.links.map(({ picture, name }) => ({ file: picture, name })),
});
