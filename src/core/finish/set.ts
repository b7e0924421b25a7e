/** A set of maps for one finish: pictures of Stock by role. */
import type { FinishRow } from './row';
import type { MapRole } from './words';

export type SetMaps = Partial<Record<MapRole, string>>;

/** A finish with a set of maps; factors that would hide them give way, as where a file brings them. */
export function withSet(finish: FinishRow, set: SetMaps): FinishRow {
  const maps = { ...finish.maps };
  for (const [role, stock] of Object.entries(set) as [MapRole, string][])
    maps[role] = { stock, uv: 0, offset: [0, 0], repeat: [1, 1], turnDeg: 0 };
  return {
    ...finish,
    maps,
    ...(set.base && { colour: '#ffffff' }),
    ...(set.metalRough && { metal: 1, roughness: 1 }),
    ...(set.glow && finish.glow === '#000000' && { glow: '#ffffff' }),
    ...(set.opacity && finish.blend === 'opaque' && { blend: 'over' as const }),
  };
}
