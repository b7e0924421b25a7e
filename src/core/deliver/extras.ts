/** `extras.scaphos` of a GLB: what glTF cannot say, node by node, material by material, and of its scene. */
import * as z from 'zod';
import { FinishExtras } from '../finish';
import { Follow } from '../parts';
import { Worn } from '../parts/model';
import type { Piece } from '../piece/schema';
import { Environment, Surroundings, usualSurroundings } from '../piece/surroundings';
import { sameValue } from '../piece/table';
import { Id, Name } from '../words/values';

/** Of the node that places a part. */
export const NodeExtras = z.strictObject({ follow: Follow.optional(), layer: Id.optional(), worn: Worn.optional() });
/** Of the scene: what lit it. An environment of Stock by the name of its file. */
export const SceneExtras = z.strictObject({
  surroundings: Surroundings.extend({
    environment: z.union([...Environment.options.slice(0, 2), z.strictObject({ file: Name })]),
  }).optional(),
});
export const Extras = z.strictObject({
  node: NodeExtras.describe('extras.scaphos of the node of a part').optional(),
  material: FinishExtras.describe('extras.scaphos of a material').optional(),
  scene: SceneExtras.describe('extras.scaphos of the scene').optional(),
});

/** null: it is lit as usual. */
export function sceneExtras({ settings: { surroundings }, stock }: Pick<Piece, 'settings' | 'stock'>): z.infer<typeof SceneExtras> | null {
  if (sameValue(surroundings, usualSurroundings())) return null;
  const { environment } = surroundings;
  const file = typeof environment === 'string' ? null : stock[environment.stock];
  const named = typeof environment === 'string' ? environment : file ? { file: file.name } : 'fitting';
  return SceneExtras.parse({ surroundings: { ...surroundings, environment: named } });
}
