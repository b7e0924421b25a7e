/** The left eyeball of the base form: its middle in the head frame, its radius, and that of the lids over it; mm. */
import type { Vec3 } from './vec';

export const EYE: { readonly c: Vec3; readonly R: number; readonly lid: number } = { c: [31.5, 15, 70.5], R: 12.5, lid: 13.8 };
