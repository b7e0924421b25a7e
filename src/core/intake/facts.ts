/** What Stock and the command line say of a model: the contract of `./scaphos inspect --json`. */
import { z } from 'zod';

export const FindingLevel = z.enum(['blocker', 'warning', 'note']);
export type FindingLevel = z.infer<typeof FindingLevel>;
export const Finding = z.strictObject({ code: z.string(), level: FindingLevel, message: z.string(), where: z.string().optional() });
export type Finding = z.infer<typeof Finding>;

export const ModelFacts = z.strictObject({
  format: z.enum(['glb', 'gltf']),
  bytes: z.int().min(0),
  readable: z.literal(true),
  /** Side, up, fore: the default scene as placed by its nodes, skins posed, no morphs. */
  sizeMm: z.tuple([z.number(), z.number(), z.number()]),
  /** Drawn: instances multiplied, strips expanded. */
  triangles: z.int().min(0),
  vertices: z.int().min(0),
  meshes: z.int().min(0),
  materials: z.int().min(0),
  textures: z.array(z.strictObject({ name: z.string(), width: z.int(), height: z.int(), bytes: z.int(), type: z.string() })),
  bones: z.int().min(0),
  clips: z.array(z.strictObject({ name: z.string(), seconds: z.number() })),
  missing: z.array(z.string()),
  findings: z.array(Finding),
});
export type ModelFacts = z.infer<typeof ModelFacts>;
export type Unreadable = { readable: false; error: { code: string; message: string } };
