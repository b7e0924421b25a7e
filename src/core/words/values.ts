/** The plain values documents are made of: ids, names, hashes, lengths, turns, sizes. */
import * as z from 'zod';

/** Own ids: letters, digits, dash and underscore, so that they are safe in URLs and file names. */
export const Id = z.string().regex(/^(?!__proto__$)[A-Za-z0-9_-]{1,40}$/, 'an id of 1–40 letters, digits, - or _');
/** A name people give: any script, 1–120 characters, no control characters, no blank ends. */
export const Name = z
  .string()
  .min(1)
  .max(120)
  .refine((s) => s.trim() === s, 'a name does not begin or end with a blank')
  // biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is refused
  .refine((s) => !/[\u0000-\u001f\u007f]/.test(s), 'a name has no control characters');
export const Sha256 = z.string().regex(/^[0-9a-f]{64}$/, 'a SHA-256 in lower-case hex');
export const Colour = z.string().regex(/^#[0-9a-f]{6}$/, 'a colour as #rrggbb in lower-case hex');

/** Beyond ±1 km a float's step is no longer small against a millimetre. */
export const Metres = z.number().min(-1000).max(1000);
export const Radians = z.number().min(-1000).max(1000);
/** Sizes are never zero or negative: mirrored and flattened parts break normals and rays. */
export const Factor = z.number().min(1e-6).max(1e6);
export const Share = z.number().min(0).max(1);

export const three = <T extends z.ZodTypeAny>(t: T) => z.tuple([t, t, t]);

/** Where a part lies in the frame it hangs in: side, up, fore; turns are pitch (side), yaw (up), roll (fore), composed YXZ. */
export const Offset = z.strictObject({ positionM: three(Metres), turnRad: three(Radians), size: three(Factor) });
export type Offset = z.infer<typeof Offset>;
export const offsetAtAnchor = (): Offset => ({ positionM: [0, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] });
