/** What of a finish glTF has no word for: as `extras.scaphos` of a material says it. */
import * as z from 'zod';
import { Matte } from '../words/mattes';
import { Share } from '../words/values';
import { writesDepth } from './blend';
import type { FinishRow } from './row';
import { BLENDS, FACES, FINISH_KINDS, MAP_ROLES, type MapRole } from './words';

export const FinishExtras = z.strictObject({
  kind: z.enum(FINISH_KINDS).optional(),
  matte: Matte.optional(),
  /** Roles whose pictures are laid over the picture instead of by UVs. */
  byScreen: z.array(z.enum(MAP_ROLES)).optional(),
  blend: z.enum(BLENDS).optional(),
  /** Beside a kind that is no surface, where the material's own alpha is 0. */
  opacity: Share.optional(),
  faces: z.enum(FACES).optional(),
  depthTest: z.boolean().optional(),
  depthWrite: z.boolean().optional(),
});
export type FinishExtras = z.infer<typeof FinishExtras>;

export const isByScreen = (use: FinishRow['maps'][MapRole]): boolean => use !== null && use !== 'own' && use.uv === 'screen';

/** null: glTF says it all. */
export function beyondGltf(f: FinishRow): FinishExtras | null {
  const byScreen = MAP_ROLES.filter((role) => isByScreen(f.maps[role]));
  const solid = f.kind === 'surface' && (f.blend === 'opaque' || f.blend === 'cut' || f.blend === 'over');
  const said: FinishExtras = {
    ...(f.kind === 'surface' ? {} : { kind: f.kind, opacity: f.opacity }),
    ...(f.matte ? { matte: f.matte } : {}),
    ...(byScreen.length > 0 ? { byScreen } : {}),
    ...(solid ? {} : { blend: f.blend }),
    ...(f.faces === 'back' ? { faces: 'back' } : {}),
    ...(f.depthTest ? {} : { depthTest: false }),
    ...(f.depthWrite !== null && f.depthWrite !== writesDepth({ ...f, depthWrite: null }) ? { depthWrite: f.depthWrite } : {}),
  };
  return Object.keys(said).length > 0 ? said : null;
}

/** A finish as it was before it went into a GLB, where its extras say so; what they cannot be read of stays. */
export function withExtras(finish: FinishRow, extras: unknown): FinishRow {
  const read = FinishExtras.safeParse(extras);
  if (!read.success) return finish;
  const { byScreen: _, ...said } = read.data;
  return { ...finish, ...said };
}
