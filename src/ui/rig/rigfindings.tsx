'use client';
/** What is wrong with the bones of a model, each with what mends it. */
import type { RecipeStep } from '@/core/piece';
import { counted } from '@/core/words/counted';
import { Flag } from '../kit';

type BonesSettings = Extract<RecipeStep, { step: 'bones' }>['settings'];
const AS_THEY_ARE: BonesSettings = { dropUnused: false, fourInfluences: false, limit: null };

export function RigFindings({
  unhung,
  bones,
  limit,
  settings = AS_THEY_ARE,
  busy,
  onMend,
}: {
  /** Names of bones that hold nothing. */
  unhung: readonly string[];
  bones: number;
  limit: number | null;
  /** Of the step that thins bones out, where there is one. */
  settings?: BonesSettings;
  busy: boolean;
  onMend: (settings: BonesSettings) => void;
}) {
  const over = limit !== null && bones > limit ? bones - limit : 0;
  if (unhung.length === 0 && over === 0) return null;
  return (
    <ul className="text-small mt-2 flex flex-col gap-1" aria-label="What is wrong with the bones">
      {unhung.length > 0 && (
        <li className="flex items-start gap-1.5">
          <Flag kind="warning" size={14} />
          <span title={unhung.join(', ')}>
            {counted(unhung.length, 'bone holds', 'bones hold')} nothing: {unhung.slice(0, 3).join(', ')}
            {unhung.length > 3 ? ' …' : ''}
          </span>
          <button
            type="button"
            className="btn btn-line btn-sm btn-tight ml-auto"
            disabled={busy}
            onClick={() => onMend({ ...settings, dropUnused: true })}
          >
            Take out
          </button>
        </li>
      )}
      {over > 0 && (
        <li className="flex items-start gap-1.5">
          <Flag kind="warning" size={14} />
          <span>
            {counted(over, 'bone', 'bones')} over the limit of {limit}: those that move least can follow the bones above them
          </span>
          <button
            type="button"
            className="btn btn-line btn-sm btn-tight ml-auto"
            disabled={busy}
            onClick={() => onMend({ ...settings, limit })}
          >
            Thin out
          </button>
        </li>
      )}
    </ul>
  );
}
