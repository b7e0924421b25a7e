/** What of a finish a GLB has no word for: as extras, and told before delivery. */
import { writesDepth } from '../finish/blend';
import type { FinishRow } from '../finish/row';
import type { MapRole } from '../finish/words';

/** What glTF has no word for; null: nothing. */
export function beyondGltf(f: FinishRow): Record<string, unknown> | null {
  const byScreen = (Object.keys(f.maps) as MapRole[]).filter((role) => isScreen(f.maps[role]));
  const said = {
    ...(f.kind === 'surface' ? {} : { kind: f.kind }),
    ...(f.matte ? { matte: f.matte } : {}),
    ...(byScreen.length > 0 ? { byScreen } : {}),
    ...(f.blend === 'add' || f.blend === 'multiply' || f.blend === 'screen' ? { blend: f.blend } : {}),
    ...(f.faces === 'back' ? { faces: 'back' } : {}),
    ...(f.depthTest ? {} : { depthTest: false }),
    ...(f.depthWrite !== null && f.depthWrite !== writesDepth({ ...f, depthWrite: null }) ? { depthWrite: f.depthWrite } : {}),
  };
  return Object.keys(said).length > 0 ? said : null;
}

const isScreen = (use: FinishRow['maps'][MapRole]): boolean => use !== null && use !== 'own' && use.uv === 'screen';

/** What a GLB cannot say of a finish, in words; empty: all is said. */
export function unsaid(f: FinishRow): string[] {
  if (f.kind === 'occluder') return ['hides what is behind it'];
  if (f.kind === 'patch') return ['shows the camera’s picture'];
  const plain = f.blend === 'add' || f.blend === 'multiply' || f.blend === 'screen';
  return [
    ...(plain ? [`is laid over plainly instead of by ${f.blend}`] : []),
    ...(f.matte ? ['keeps within no live mask'] : []),
    ...(Object.values(f.maps).some(isScreen) ? ['its picture by screen is laid by UVs'] : []),
    ...(f.maps.opacity !== null && f.maps.opacity !== 'own' ? ['its opacity picture is left out'] : []),
    ...(f.faces === 'back' ? ['is seen from both sides'] : []),
    ...(f.depthTest ? [] : ['is hidden by what is before it']),
  ];
}
