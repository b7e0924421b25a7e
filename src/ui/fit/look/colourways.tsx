'use client';
/** Colourways: which is shown, new ones, those that files bring, all of them side by side. */
import { Copy, Pencil, Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { ulid } from 'ulid';
import { addColourway, offeredColourways, takeColourways } from '@/core/fit/dress';
import { type ColourwayRow, change, colourwaysOf, drawnModel, type Part, remove, settings, shownColourway } from '@/core/piece';
import { counted } from '@/core/words/counted';
import { lazily, NameInPlace } from '../../kit';
import { useDocument, usePiece } from '../../piece/context';
import { Card } from '../cards/card';
import { useFitModels } from '../run';

const ColourwaySheet = lazily(() => import('./colourwaysheet'), 'ColourwaySheet');

export function Colourways() {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const models = useFitModels();
  const [naming, setNaming] = useState<string | null>(null);
  const [comparing, setComparing] = useState(false);
  const shown = shownColourway(doc);
  const all = colourwaysOf(doc);
  const modelOf = (part: Part) => (part.kind === 'model' ? (models[drawnModel(doc, part.stock) ?? ''] ?? null) : null);
  const offered = offeredColourways(doc, modelOf);
  const show = (id: string | null) => commit(settings({ colourway: id }));
  const take = ({ part, names }: (typeof offered)[number]) => {
    const model = modelOf(part);
    const edit = model && takeColourways(doc, part, model, names, ulid);
    if (edit) commit(edit);
  };
  const add = (like: ColourwayRow | null) => {
    const id = ulid();
    commit(addColourway(doc, id, like));
  };
  return (
    <Card title="Colourways">
      {all.length > 0 && (
        <ul className="flex flex-col mb-1.5" aria-label="Colourways">
          <Way name="As usual" words="what parts wear when nothing else is said" on={!shown} onShow={() => show(null)} />
          {all.map((c) => (
            <Way
              key={c.id}
              name={c.name}
              words={c.looks.length === 0 ? 'as usual so far: choose a part, give it another finish' : wordsOf(c)}
              on={c.id === shown?.id}
              naming={naming === c.id}
              onShow={() => show(c.id)}
              onName={() => setNaming(c.id)}
              onNamed={(name) => commit(change('colourways', c.id, { name }))}
              onLeave={() => setNaming(null)}
              onCopy={() => add(c)}
              onDiscard={() => commit(remove('colourways', c.id))}
            />
          ))}
        </ul>
      )}
      {offered.map((o) => (
        <p key={o.part.id} className="text-small mb-1.5">
          {o.part.name} brings {o.names.join(', ')}.{' '}
          <button type="button" className="btn btn-line btn-sm btn-tight" onClick={() => take(o)}>
            Take {o.names.length === 1 ? 'it' : 'them'} in
          </button>
        </p>
      ))}
      <p className="flex gap-1.5">
        <button type="button" className="btn btn-line btn-sm btn-tight" onClick={() => add(null)}>
          <Plus className="ico" />
          Add a colourway
        </button>
        {all.length > 0 && (
          <button type="button" className="btn btn-line btn-sm btn-tight" onClick={() => setComparing(true)}>
            Side by side …
          </button>
        )}
      </p>
      <p className="text-micro soft mt-1.5">
        {shown
          ? `What you change on parts now, you change in ${shown.name}.`
          : all.length > 0
            ? 'Show one, and change what parts wear in it.'
            : 'The same piece in other finishes: named, switched, delivered in one GLB.'}
      </p>
      {comparing && <ColourwaySheet onClose={() => setComparing(false)} />}
    </Card>
  );
}

const wordsOf = ({ looks }: ColourwayRow): string => `${counted(new Set(looks.map((l) => l.part)).size, 'part')} otherwise`;

function Way({
  name,
  words,
  on,
  naming = false,
  onShow,
  onName,
  onNamed,
  onLeave,
  onCopy,
  onDiscard,
}: {
  name: string;
  words: string;
  on: boolean;
  naming?: boolean;
  onShow: () => void;
  onName?: () => void;
  onNamed?: (name: string) => void;
  onLeave?: () => void;
  onCopy?: () => void;
  onDiscard?: () => void;
}) {
  return (
    <li className="flex items-center gap-1.5 min-h-[34px]">
      {naming && onNamed && onLeave ? (
        <NameInPlace label="Name of the colourway" initial={name} className="h-[28px]! flex-1" onDone={onNamed} onLeave={onLeave} />
      ) : (
        <label className="flex items-center gap-2 flex-1 min-w-0 cursor-pointer" onDoubleClick={onName}>
          <input
            type="radio"
            className="w-[18px] h-[18px] shrink-0 accent-(--brass)"
            name="colourway"
            checked={on}
            onChange={onShow}
            aria-label={`Show ${name}`}
          />
          <span className="min-w-0">
            <span className={`block truncate leading-4 ${onName ? 'named text-[13.5px]' : 'text-small'}`} title={name} dir="auto">
              {name}
            </span>
            <span className="block truncate text-micro soft leading-4" title={words}>
              {words}
            </span>
          </span>
        </label>
      )}
      {onName && !naming && (
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon"
          aria-label={`Name ${name} otherwise`}
          title="Name it otherwise"
          onClick={onName}
        >
          <Pencil className="ico" />
        </button>
      )}
      {onCopy && (
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon"
          aria-label={`Another like ${name}`}
          title="Another like it"
          onClick={onCopy}
        >
          <Copy className="ico" />
        </button>
      )}
      {onDiscard && (
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon"
          aria-label={`Discard ${name}`}
          title="Discard it; its finishes stay"
          onClick={onDiscard}
        >
          <Trash2 className="ico" />
        </button>
      )}
    </li>
  );
}
