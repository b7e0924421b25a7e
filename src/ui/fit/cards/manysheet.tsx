'use client';
/** One finish on many materials in one act: ticked, or by a pattern of names. */
import { useMemo, useState } from 'react';
import type { FinishRow } from '@/core/finish';
import { wornFinish } from '@/core/fit/dress';
import { named, namesOf, type Wearable, wearables, wearMany } from '@/core/fit/many';
import { drawnModel } from '@/core/piece';
import { counted } from '@/core/words/counted';
import { Dialog } from '../../kit';
import { useDocument, usePiece } from '../../piece/context';
import { useFitModels } from '../run';

const keyOf = ({ part, material }: Wearable) => `${part.id} ${material}`;

export function ManySheet({ finish, onClose }: { finish: FinishRow; onClose: () => void }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const models = useFitModels();
  const all = useMemo(
    () => wearables(doc, (part) => (part.kind === 'model' ? (models[drawnModel(doc, part.stock) ?? ''] ?? null) : null)),
    [doc, models],
  );
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [pattern, setPattern] = useState('');
  const byPattern = (text: string) => {
    setPattern(text);
    setTicked(new Set(all.filter((w) => named(text, namesOf(w))).map(keyOf)));
  };
  const on = all.filter((w) => ticked.has(keyOf(w)));
  const put = () => {
    const edit = wearMany(doc, on, finish.id);
    if (edit && commit(edit)) onClose();
  };
  return (
    <Dialog title={`${finish.name} on many`} wide onClose={onClose}>
      <div className="flex flex-wrap items-center gap-3 text-small mb-2">
        <label className="flex items-center gap-2">
          <span className="soft">Named</span>
          <input
            className="field h-[28px]! w-[200px]"
            aria-label="Pattern of names"
            placeholder="rim, *ball …"
            value={pattern}
            onChange={(e) => byPattern(e.target.value)}
          />
        </label>
        <span className="soft">by part, mesh or material; * stands for anything</span>
        <button type="button" className="btn btn-bare btn-sm ml-auto" onClick={() => setTicked(new Set(all.map(keyOf)))}>
          Tick all
        </button>
        <button type="button" className="btn btn-bare btn-sm" onClick={() => setTicked(new Set())}>
          Tick none
        </button>
      </div>
      {all.length === 0 && <p className="empty text-small">Nothing here can wear a finish: hang a model or a solid, and unlock it.</p>}
      <ul className="text-small max-h-[52vh] overflow-y-auto" aria-label="What can wear it">
        {all.map((w) => {
          const now = wornFinish(doc, w.part, w);
          return (
            <li key={keyOf(w)} className="border-t border-[color:var(--hair)]">
              <label className="grid items-center gap-3 py-1 cursor-pointer" style={{ gridTemplateColumns: '24px 1fr 1.3fr 1.6fr 1fr' }}>
                <input
                  type="checkbox"
                  className="check"
                  checked={ticked.has(keyOf(w))}
                  onChange={(e) => {
                    const next = new Set(ticked);
                    if (e.target.checked) next.add(keyOf(w));
                    else next.delete(keyOf(w));
                    setTicked(next);
                  }}
                />
                <span className="named text-[14px] truncate" dir="auto">
                  {w.part.name}
                </span>
                <span className="truncate">{w.material || 'Surface'}</span>
                <span className="truncate soft" title={w.meshes.join(', ')}>
                  {w.meshes.join(', ')}
                </span>
                <span className="truncate soft">{now ? now.name : 'as it comes'}</span>
              </label>
            </li>
          );
        })}
      </ul>
      <p className="flex gap-2 mt-3">
        <button type="button" className="btn btn-primary" aria-disabled={on.length === 0} onClick={() => on.length > 0 && put()}>
          Wear it on {counted(on.length, 'material')}
        </button>
        <button type="button" className="btn btn-line" onClick={onClose}>
          Leave it
        </button>
      </p>
    </Dialog>
  );
}
