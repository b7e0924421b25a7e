'use client';
/** What is wrong with the bones of a model, each with what mends it. */
import type { RecipeStep } from '@/core/piece';
import type { LoosePiece } from '@/core/rig';
import { counted } from '@/core/words/counted';
import { Flag } from '../kit';

type BonesSettings = Extract<RecipeStep, { step: 'bones' }>['settings'];
const AS_THEY_ARE: BonesSettings = { dropUnused: false, fourInfluences: false, limit: null };

export function RigFindings({
  unhung,
  loose,
  crowded,
  bones,
  limit,
  settings = AS_THEY_ARE,
  busy,
  onMend,
  onHang,
}: {
  /** Names of bones that hold nothing. */
  unhung: readonly string[];
  loose: readonly LoosePiece[];
  /** Vertices that follow more than four bones. */
  crowded: number;
  bones: number;
  limit: number | null;
  /** Of the step that thins bones out, where there is one. */
  settings?: BonesSettings;
  busy: boolean;
  onMend: (settings: BonesSettings) => void;
  onHang: (loose: readonly LoosePiece[]) => void;
}) {
  const over = limit !== null && bones > limit ? bones - limit : 0;
  const some = (names: readonly string[]) => `${[...new Set(names)].slice(0, 3).join(', ')}${new Set(names).size > 3 ? ' …' : ''}`;
  const rows: readonly { key: string; says: string; all?: string; act: string; mend: () => void }[] = [
    unhung.length > 0 && {
      key: 'unhung',
      says: `${counted(unhung.length, 'bone holds', 'bones hold')} nothing: ${some(unhung)}`,
      all: unhung.join(', '),
      act: 'Take out',
      mend: () => onMend({ ...settings, dropUnused: true }),
    },
    loose.length > 0 && {
      key: 'loose',
      says: `${counted(loose.length, 'piece follows', 'pieces follow')} no bone: ${some(loose.map((l) => l.name))}`,
      all: loose.map((l) => `${l.name} would hang from ${l.bone}`).join(', '),
      act: 'Hang on the nearest',
      mend: () => onHang(loose),
    },
    crowded > 0 && {
      key: 'crowded',
      says: `${counted(crowded, 'vertex follows', 'vertices follow')} more than four bones`,
      act: 'Keep four',
      mend: () => onMend({ ...settings, fourInfluences: true }),
    },
    over > 0 && {
      key: 'over',
      says: `${counted(over, 'bone', 'bones')} over the limit of ${limit}: those that move least can follow the bones above them`,
      act: 'Thin out',
      mend: () => onMend({ ...settings, limit }),
    },
  ].filter((r) => r !== false);
  if (rows.length === 0) return null;
  return (
    <ul className="text-small mt-2 flex flex-col gap-1" aria-label="What is wrong with the bones">
      {rows.map((r) => (
        <li key={r.key} className="flex items-start gap-1.5">
          <Flag kind="warning" size={14} />
          <span title={r.all}>{r.says}</span>
          <button type="button" className="btn btn-line btn-sm btn-tight ml-auto" disabled={busy} onClick={r.mend}>
            {r.act}
          </button>
        </li>
      ))}
    </ul>
  );
}
