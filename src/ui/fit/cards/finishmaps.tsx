'use client';
/** Maps of a finish, role by role: the file's own, none, or a picture of Stock, moved, repeated and turned; every channel seen. */
import { type DragEvent, useState } from 'react';
import { COLOUR_ROLES, type FinishRow, MAP_LABELS, MAP_ROLES, type MapRole, type MapSet, UV_SOURCES, UV_WORDS } from '@/core/finish';
import { drawnModel } from '@/core/piece';
import { NumField } from '../../kit';
import { isTaken, takeDrop } from '../../kit/drops';
import { useDocument } from '../../piece/context';
import { MapPictures, type MapSource } from './mappicture';
import { PictureTray, pictureHeld } from './picturetray';

type Maps = FinishRow['maps'];
const PLAIN = (): Omit<MapSet, 'stock'> => ({ uv: 0, offset: [0, 0], repeat: [1, 1], turnDeg: 0 });

/**
 * @param own whose own maps they are; null: what wears it has no material of a file
 * @param onFiles pictures that were dropped here from outside; one role, or wherever they belong
 */
export function FinishMaps({
  maps,
  own,
  onPut,
  onFiles,
}: {
  maps: Maps;
  own: { sha: string; material: string } | null;
  onPut: (maps: Maps) => void;
  onFiles: (files: readonly File[], role: MapRole | null) => void;
}) {
  const doc = useDocument();
  const { stock } = doc;
  const [over, setOver] = useState<MapRole | 'all' | null>(null);
  const pictures = Object.values(stock).filter((s) => s.kind === 'picture');
  const put = (role: MapRole, use: Maps[MapRole]) => onPut({ ...maps, [role]: use });
  const pick = (role: MapRole, value: string) => {
    if (value === 'own' || value === '') return put(role, value || null);
    const before = maps[role];
    put(role, { ...(before && before !== 'own' ? before : PLAIN()), stock: value });
  };
  const sourceOf = (role: MapRole): MapSource | null => {
    const use = maps[role];
    if (use === 'own') return own && { ...own, role };
    const file = use && drawnModel(doc, use.stock);
    return file ? { sha: file, role: null } : null;
  };
  const dropOn = (role: MapRole | null) => ({
    onDragOver: (e: DragEvent) => {
      if (e.isDefaultPrevented()) return;
      e.preventDefault();
      setOver(role ?? 'all');
    },
    onDragLeave: () => setOver(null),
    onDrop: (e: DragEvent) => {
      setOver(null);
      // its role has it already
      if (isTaken(e)) return;
      takeDrop(e);
      const held = pictureHeld(e.dataTransfer);
      if (held !== null && role) pick(role, held);
      else if (e.dataTransfer.files.length > 0) onFiles([...e.dataTransfer.files], role);
    },
  });
  return (
    <section className="pt-3" aria-label="Maps" {...dropOn(null)}>
      <h3 className="font-semibold">
        Maps <span className="soft font-normal text-micro">drop a picture on its role, or a whole set anywhere here</span>
      </h3>
      <PictureTray pictures={pictures} />
      {MAP_ROLES.map((role) => {
        const use = maps[role];
        const set = use && use !== 'own' ? use : null;
        const source = sourceOf(role);
        return (
          <div
            key={role}
            className={`flex flex-wrap items-center gap-x-2 gap-y-1 min-h-[30px] py-0.5 border-t border-[color:var(--hair)] ${over === role ? 'bg-[color:var(--brass-wash)]' : ''}`}
            data-role={role}
            {...dropOn(role)}
          >
            <span className="soft w-[140px] shrink-0 leading-[15px]">
              {MAP_LABELS[role]}
              <span className="block text-micro">{COLOUR_ROLES.has(role) ? 'colours, sRGB' : 'numbers, linear'}</span>
            </span>
            <select
              className="field h-[26px]! px-1! text-small w-[170px]"
              aria-label={`Map of ${MAP_LABELS[role]}`}
              value={set ? set.stock : use === 'own' ? 'own' : ''}
              onChange={(e) => pick(role, e.target.value)}
            >
              <option value="">none</option>
              {(own || use === 'own') && <option value="own">{own ? 'the file’s own' : 'the file’s own, where it has one'}</option>}
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
            {source && <MapPictures source={source} role={role} label={MAP_LABELS[role]} />}
            {set && <Moved role={MAP_LABELS[role]} set={set} onPut={(s) => put(role, s)} />}
          </div>
        );
      })}
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
      by
      <select
        className="field h-[24px]! px-1! py-0! text-micro! w-[92px]"
        aria-label={`What ${role} is laid out by`}
        title={UV_WORDS[set.uv][1]}
        value={String(set.uv)}
        onChange={(e) => onPut({ ...set, uv: UV_SOURCES.find((u) => String(u) === e.target.value) ?? 0 })}
      >
        {UV_SOURCES.map((u) => (
          <option key={u} value={String(u)}>
            {UV_WORDS[u][0]}
          </option>
        ))}
      </select>
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
