import * as z from 'zod';
import { defineStep } from './define';
import { ItsName, Point } from './values';

/** A dab of "keep detail": vertices within `radiusM` of a point of the rest pose weigh more, least at its rim. */
export const DetailDab = z.strictObject({ atM: Point, radiusM: z.number().min(1e-6).max(1e6), weight: z.number().min(0.1).max(100) });
export const SimplifySettings = z.strictObject({
  /** Share of the triangles to keep; null: as `errorMm` says. */
  ratio: z.number().min(0).max(1).nullable(),
  /** Greatest quadric error in millimetres; null: as `ratio` says. With both, the first that is reached. */
  errorMm: z.number().min(0).max(1e6).nullable(),
  /** Meshes that get a number of triangles of their own. */
  meshes: z.array(z.strictObject({ mesh: ItsName, triangles: z.int().min(1).max(1e9) })).max(10_000),
  /** Open borders stay where they are. */
  keepBorders: z.boolean(),
  /** Vertices and normals fitted to the original surface afterwards. */
  refit: z.boolean(),
  detail: z.array(DetailDab).max(2_000),
  /** Meshes that keep more: their share of triangles is so many times larger, their error so many times smaller. */
  keep: z
    .array(z.strictObject({ mesh: ItsName, weight: z.number().min(0.1).max(100) }))
    .max(10_000)
    .default([]),
});
export type SimplifySettings = z.infer<typeof SimplifySettings>;

export const simplify = defineStep({
  settings: SimplifySettings,
  for: ['model'],
  effect: 'shape',
});
