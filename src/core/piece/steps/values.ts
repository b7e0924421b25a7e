/** Values that several steps are made of. */
import * as z from 'zod';

export const metres = z.number().min(-1e6).max(1e6);
export const Point = z.tuple([metres, metres, metres]);
/** Of a mesh or a picture, as the file has it. */
export const ItsName = z.string().max(1000);
export const Pixels = z.number().min(-16384).max(32768);
/** Of a picture, px. */
export const Edge = z.int().min(1).max(16384);
export const ENCODINGS = ['png', 'jpeg', 'webp'] as const;
