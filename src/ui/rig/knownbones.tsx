'use client';
/** A figure's skeleton that a file brought: what each of its bones was taken for, and what is said otherwise by hand. */
import type { Model } from '@/core/model';
import type { ToldSkeleton } from '@/core/rig';
import { counted } from '@/core/words/counted';
import { HUMANOID_SETS, jointWords } from '@/core/words/humanoid';
import { Flag } from '../kit';
import { type Joints, NONE, tell } from './telling';

const BY = { names: 'their names', tree: 'how they branch and how long they are, for their names say nothing' } as const;

export function KnownBones({
  told,
  model,
  joints,
  busy,
  onTell,
}: {
  told: ToldSkeleton;
  model: Model;
  /** Said by hand. */
  joints: Joints;
  busy: boolean;
  onTell: (joints: Joints) => void;
}) {
  const nameOf = (node: number | undefined) => (node === undefined ? null : model.nodes[node].name);
  const others = told.others.map((n) => model.nodes[n].name).filter((n) => n !== '');
  const all = [...new Set([...told.nodeOf.values(), ...told.others].map((n) => model.nodes[n].name).filter((n) => n !== ''))].sort();
  const bones = [...HUMANOID_SETS[22], ...[...told.nodeOf.keys()].filter((b) => !HUMANOID_SETS[22].includes(b))];
  const whole = told.missing.length === 0;
  const byHand = Object.keys(joints).length;
  return (
    <section className="mb-2 pb-2 border-b border-[color:var(--hair)] text-small" aria-label="The figure in it">
      <p className="flex gap-1.5 items-start">
        <Flag kind={whole ? 'done' : 'note'} size={14} />
        <span>
          {whole ? (
            <>
              The file came with a figure’s bones: {counted(told.nodeOf.size, 'bone')} known by {BY[told.by]}
              {byHand > 0 && `, ${byHand} as you said`}.
            </>
          ) : (
            <>
              Not known as a figure’s bones: of those that motions need {told.missing.slice(0, 3).map(jointWords).join(', ')}
              {told.missing.length > 3 ? ` and ${told.missing.length - 3} more are` : told.missing.length === 1 ? ' is' : ' are'} not told.
            </>
          )}
          {whole && others.length > 0 && (
            <>
              {' '}
              <span className="soft">
                None of a figure’s: {others.slice(0, 6).join(', ')}
                {others.length > 6 ? ` and ${others.length - 6} more` : ''}.
              </span>
            </>
          )}
        </span>
      </p>
      <details className="mt-1">
        <summary className="soft cursor-pointer">{whole ? 'What each was taken for' : 'Say which is which'}</summary>
        <fieldset className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1" disabled={busy}>
          {bones.map((bone) => {
            const name = nameOf(told.nodeOf.get(bone));
            return (
              <label key={bone} className="flex items-center gap-2 min-w-0">
                <span className={name !== null && joints[name] === bone ? 'font-semibold' : ''}>{jointWords(bone)}</span>
                <select
                  className="field h-[24px]! px-1! text-small w-[120px]! ml-auto"
                  value={name ?? NONE}
                  onChange={(e) => onTell(tell(joints, bone, e.target.value, name))}
                >
                  <option value={NONE}>none</option>
                  {all.map((n) => (
                    <option key={n} value={n}>
                      {n}
                    </option>
                  ))}
                </select>
              </label>
            );
          })}
        </fieldset>
        {byHand > 0 && (
          <button type="button" className="btn btn-bare btn-sm mt-1" disabled={busy} onClick={() => onTell({})}>
            All as found
          </button>
        )}
      </details>
    </section>
  );
}
