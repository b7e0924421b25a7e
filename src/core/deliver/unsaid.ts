/** What of a finish a GLB has no word for, told before delivery. */
import { isByScreen } from '../finish/beyond';
import type { FinishRow } from '../finish/row';

/** What a GLB cannot say of a finish, in words; empty: all is said. */
export function unsaid(f: FinishRow): string[] {
  if (f.kind === 'occluder') return ['hides what is behind it'];
  if (f.kind === 'patch') return ['shows the camera’s picture'];
  const plain = f.blend === 'add' || f.blend === 'multiply' || f.blend === 'screen';
  return [
    ...(plain ? [`is laid over plainly instead of by ${f.blend}`] : []),
    ...(f.matte ? ['keeps within no live mask'] : []),
    ...(Object.values(f.maps).some(isByScreen) ? ['its picture by screen is laid by UVs'] : []),
    ...(f.maps.opacity !== null && f.maps.opacity !== 'own' ? ['its opacity picture is left out'] : []),
    ...(f.faces === 'back' ? ['is seen from both sides'] : []),
    ...(f.depthTest ? [] : ['is hidden by what is before it']),
  ];
}
