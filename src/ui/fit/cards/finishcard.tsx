'use client';
/** The materials of a part as finishes: what each wears, one for all, one of our own, or the file's own to be changed. */
import { SlidersHorizontal } from 'lucide-react';
import { useMemo, useState } from 'react';
import { ulid } from 'ulid';
import { BLEND_WORDS, EVERY, type FinishRow, finishOfMaterial, LIBRARY, libraryName } from '@/core/finish';
import {
  asUsual,
  bringFinish,
  copyFinish,
  dressSet,
  fileFinish,
  ownFinish,
  type Slot,
  saidHere,
  slotName,
  slotsOf,
  wearFinish,
  wornFinish,
} from '@/core/fit/dress';
import { pasteFinish } from '@/core/fit/paste';
import { matchSet } from '@/core/intake/sets';
import type { Model } from '@/core/model';
import { applyEdit, batch, change, type PartOf, type Piece, remove, shownColourway, wearersOf, wearing } from '@/core/piece';
import { counted } from '@/core/words/counted';
import { lazily } from '../../kit';
import { takeDrop } from '../../kit/drops';
import { say } from '../../kit/say';
import { useDocument, usePiece, usePieceStore } from '../../piece/context';
import { FinishBall } from './ball';
import { bringSet } from './bringset';
import { Card } from './card';
import { copiedFinish, copyFinishToClip, useKeptFinishes } from './keptfinishes';

const ManySheet = lazily(() => import('./manysheet'), 'ManySheet');
const FinishSheet = lazily(() => import('./finishsheet'), 'FinishSheet');

/** What a finish is, in a few words. */
function lookWords({ unlit, metal, transmission, blend }: Pick<FinishRow, 'unlit' | 'metal' | 'transmission' | 'blend'>): string {
  const kind = unlit ? 'as it is, in any light' : transmission > 0 ? 'glass' : metal > 0.5 ? 'metal' : 'no metal';
  return blend === 'opaque' ? kind : `${kind}, ${BLEND_WORDS[blend][0]}`;
}
const ofFile = (model: Model | null, { material }: Slot): string => {
  const own = model?.materials.find((m) => m.name === material);
  return own ? lookWords(finishOfMaterial(own, 'x', 'x')) : 'as it comes';
};

/** @param sha and model: of what it is made of; null: a solid */
export function FinishCard({ part, sha, model }: { part: PartOf<'model'> | PartOf<'solid'>; sha: string | null; model: Model | null }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const store = usePieceStore();
  const slots = useMemo(() => slotsOf(model), [model]);
  const [open, setOpen] = useState<{ id: string; slot: Slot } | null>(null);
  const [onMany, setMany] = useState<FinishRow | null>(null);
  const many = slots.length > 1;
  const shown = open && doc.finishes[open.id];
  const edit = (slot: Slot) => {
    const worn = wornFinish(doc, part, slot);
    // what is worn as usual is copied before a colourway changes it
    const here = worn && saidHere(doc, part, slot);
    const id = here ? worn.id : ulid();
    const made = worn ? copyFinish(doc, part, slots, slot, worn, id) : ownFinish(doc, part, model, slots, slot, id);
    if (here || commit(made)) setOpen({ id, slot });
  };
  const colourway = shownColourway(doc);
  const [over, setOver] = useState(false);
  const dress = async (files: readonly File[]) => {
    try {
      const pictures = await bringSet(store, files);
      const { doc: now } = store.getState().history;
      const sets = matchSet(
        slots.map((s) => s.material),
        pictures,
      );
      const edit = dressSet(now, now.parts[part.id], model, slots, sets, ulid);
      if (edit && commit(edit)) say.message(`${[...sets.keys()].filter(Boolean).join(', ') || part.name}: dressed.`);
      else if (pictures.length > 0)
        say.message('None of them says by its name or its content where it belongs: drop each on its role in a finish.');
    } catch (e) {
      say.error((e as Error).message);
    }
  };
  return (
    <Card title="Finish" extra={colourway ? `in ${colourway.name}` : many ? counted(slots.length, 'material') : undefined}>
      {many && <Pick doc={doc} part={part} slots={slots} slot={null} label="Every material" model={model} />}
      <ul
        className={`flex flex-col gap-1.5 ${over ? 'bg-[color:var(--brass-wash)]' : ''}`}
        aria-label="Materials"
        title="A set of pictures dropped here finds its materials"
        onDragOver={(e) => {
          if (part.locked || !e.dataTransfer.types.includes('Files')) return;
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          if (part.locked || e.dataTransfer.files.length === 0) return;
          takeDrop(e);
          setOver(false);
          void dress([...e.dataTransfer.files]);
        }}
      >
        {slots.map((slot) => {
          const worn = wornFinish(doc, part, slot);
          const name = slotName(slot, many);
          return (
            <li key={slot.material} className="flex items-center gap-2 min-w-0">
              <FinishBall finish={worn} material={slot.material} sha={sha} px={36} />
              <span className="min-w-0 flex-1">
                <span className="block truncate text-small leading-4" title={name}>
                  {name}
                </span>
                <span className="block truncate text-micro soft leading-4">{worn ? lookWords(worn) : ofFile(model, slot)}</span>
                <Pick doc={doc} part={part} slots={slots} slot={slot} label={`Finish of ${name}`} model={model} />
              </span>
              <button
                type="button"
                className="btn btn-bare btn-sm btn-icon self-start"
                aria-label={`Change the look of ${name}`}
                title={part.locked ? 'Unlock the part first' : 'Change its look'}
                aria-disabled={part.locked}
                onClick={() => !part.locked && edit(slot)}
              >
                <SlidersHorizontal className="ico" />
              </button>
            </li>
          );
        })}
      </ul>
      {open && shown && (
        <FinishSheet
          finish={shown}
          material={open.slot.material}
          sha={sha}
          usedBy={wearersOf(doc, shown.id)}
          onChange={(set) => commit(change('finishes', shown.id, set))}
          onCopy={() => {
            const id = ulid();
            if (commit(copyFinish(doc, part, slots, open.slot, shown, id))) setOpen({ ...open, id });
          }}
          onDiscard={() => {
            if (commit(remove('finishes', shown.id))) setOpen(null);
          }}
          onMany={() => setMany(shown)}
          onClose={() => setOpen(null)}
        />
      )}
      {onMany && <ManySheet finish={onMany} onClose={() => setMany(null)} />}
    </Card>
  );
}

function Pick({
  doc,
  part,
  slots,
  slot,
  label,
  model,
}: {
  doc: Piece;
  part: PartOf<'model'> | PartOf<'solid'>;
  slots: readonly Slot[];
  /** null: all. */
  slot: Slot | null;
  label: string;
  model: Model | null;
}) {
  const { kept } = useKeptFinishes();
  const commit = usePiece((s) => s.commit);
  const own = Object.values(doc.finishes).sort((a, b) => a.name.localeCompare(b.name));
  const colourway = shownColourway(doc);
  const now = wearing(doc, part);
  const usual = colourway && (slot ? !saidHere(doc, part, slot) : !colourway.looks.some((l) => l.part === part.id));
  const worn = slot ? wornFinish(doc, part, slot)?.id : now[EVERY];
  const mixed = !slot && !usual && worn === undefined && Object.keys(now).length > 0;
  const put = (value: string) => {
    const back = value === 'usual' && asUsual(doc, part, slots, slot);
    const clip = value === 'paste' ? copiedFinish() : (kept.find((k) => `kept ${k.id}` === value)?.clip ?? null);
    if (value === 'copy' && slot) copyFinishToClip(doc, wornFinish(doc, part, slot) ?? fileFinish(part, model, slot));
    else if (clip) {
      const { edits, id } = pasteFinish(doc, clip, ulid);
      const there = edits.reduce(applyEdit, doc);
      commit(batch([...edits, wearFinish(there, part, slots, slot, id)]));
    } else if (value === 'paste') say.message('There is no look to paste: copy one first.');
    else if (back) commit(back);
    else if (value.startsWith('new ')) commit(bringFinish(doc, part, slots, slot, value.slice(4), ulid()));
    else commit(wearFinish(doc, part, slots, slot, value || null));
  };
  return (
    <select
      className={`field h-[26px]! px-1! text-small w-full ${slot ? '' : 'mb-2'}`}
      aria-label={label}
      value={usual ? 'usual' : mixed ? 'mixed' : (worn ?? '')}
      disabled={part.locked}
      title={part.locked ? 'Unlock the part first' : undefined}
      onChange={(e) => put(e.target.value)}
    >
      {mixed && (
        <option value="mixed" disabled>
          each its own
        </option>
      )}
      {colourway && <option value="usual">as usual</option>}
      <option value="">{slot || part.kind === 'solid' ? 'as it comes' : 'all as they come'}</option>
      {own.length > 0 && (
        <optgroup label="Of this piece">
          {own.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </optgroup>
      )}
      {kept.length > 0 && (
        <optgroup label="Of the yard">
          {kept.map((k) => (
            <option key={k.id} value={`kept ${k.id}`}>
              {k.name}
            </option>
          ))}
        </optgroup>
      )}
      <optgroup label="From one to another">
        {slot && <option value="copy">Copy this look</option>}
        <option value="paste">Paste the copied look</option>
      </optgroup>
      <optgroup label="Bring one">
        {LIBRARY.map((key) => (
          <option key={key} value={`new ${key}`}>
            {libraryName(key)}
          </option>
        ))}
      </optgroup>
    </select>
  );
}
