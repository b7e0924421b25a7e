'use client';
/** Maps of a finish, role by role: the file's own, none, or a picture of Stock, moved, repeated and turned. */
import { type FinishRow, MAP_LABELS, MAP_ROLES, type MapRole, type MapSet } from '@/core/finish';
import { NumField } from '../../kit';
import { useDocument } from '../../piece/context';

type Maps = FinishRow['maps'];

/** @param hasOwn whether what wears it has a material of a file */
export function FinishMaps({ maps, hasOwn, onPut }: { maps: Maps; hasOwn: boolean; onPut: (maps: Maps) => void }) {
  const { stock } = useDocument();
  const pictures = Object.values(stock).filter((s) => s.kind === 'picture');
  const put = (role: MapRole, use: Maps[MapRole]) => onPut({ ...maps, [role]: use });
  const pick = (role: MapRole, value: string) => {
    if (value === 'own' || value === '') return put(role, value || null);
    const before = maps[role];
    const set = before && before !== 'own' ? before : { uv: 0 as const, offset: [0, 0] as Pair, repeat: [1, 1] as Pair, turnDeg: 0 };
    put(role, { ...set, stock: value });
  };
  return (
    <section className="pt-3" aria-label="Maps">
      <h3 className="font-semibold">Maps</h3>
      {MAP_ROLES.map((role) => {
        const use = maps[role];
        const set = use && use !== 'own' ? use : null;
        return (
          <div key={role} className="flex flex-wrap items-center gap-2 min-h-[30px]">
            <span className="soft w-[140px] shrink-0">{MAP_LABELS[role]}</span>
            <select
              className="field h-[26px]! px-1! text-small w-[170px]"
              aria-label={`Map of ${MAP_LABELS[role]}`}
              value={set ? set.stock : use === 'own' ? 'own' : ''}
              onChange={(e) => pick(role, e.target.value)}
            >
              <option value="">none</option>
              {(hasOwn || use === 'own') && <option value="own">{hasOwn ? 'the file’s own' : 'the file’s own, where it has one'}</option>}
              {pictures.length > 0 && (
                <optgroup label="Pictures of Stock">
                  {pictures.map((p) => (
                    <option key={p.id} value={p.id}>
                      {p.name}
                    </option>
                  ))}
                </optgroup>
              )}
            </select>
            {set && <Moved role={MAP_LABELS[role]} set={set} onPut={(s) => put(role, s)} />}
          </div>
        );
      })}
      {pictures.length === 0 && <p className="soft text-micro">Pictures that are brought into Stock can be chosen here.</p>}
    </section>
  );
}

type Pair = [number, number];
function Moved({ role, set, onPut }: { role: string; set: MapSet; onPut: (set: MapSet) => void }) {
  const at = (pair: Pair, i: number, x: number): Pair => (i === 0 ? [x, pair[1]] : [pair[0], x]);
  const field = (label: string, value: number, onChange: (x: number) => void, after: string, decimals: number, step: number) => (
    <span className="w-[64px]">
      <NumField
        label={`${label} of ${role}`}
        dimension="count"
        unit=""
        after={after}
        decimals={decimals}
        step={step}
        min={after === '°' ? -360 : -1000}
        max={after === '°' ? 360 : 1000}
        value={value}
        onChange={onChange}
      />
    </span>
  );
  return (
    <span className="flex items-center gap-1.5 w-full pl-[148px] pb-1 text-micro soft">
      repeat
      {field('Repeat across', set.repeat[0], (x) => onPut({ ...set, repeat: at(set.repeat, 0, x) }), '×', 2, 0.25)}
      {field('Repeat up', set.repeat[1], (x) => onPut({ ...set, repeat: at(set.repeat, 1, x) }), '×', 2, 0.25)}
      moved
      {field('Moved across', set.offset[0], (x) => onPut({ ...set, offset: at(set.offset, 0, x) }), '', 2, 0.05)}
      {field('Moved up', set.offset[1], (x) => onPut({ ...set, offset: at(set.offset, 1, x) }), '', 2, 0.05)}
      turned
      {field('Turned', set.turnDeg, (turnDeg) => onPut({ ...set, turnDeg }), '°', 0, 5)}
    </span>
  );
}
