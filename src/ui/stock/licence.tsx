'use client';
import { useEffect, useState } from 'react';
import { isLicence, LICENCES, licencePermits, OWN_WORK } from '@/core/intake';
import type { StockCredit } from '@/core/piece';
import { Flag } from '../kit';

const DATALIST = 'licences';
const labelOf = (id: string) => LICENCES.find((l) => l.id === id)?.label ?? id;
const idOf = (text: string) => LICENCES.find((l) => l.label.toLowerCase() === text.trim().toLowerCase())?.id ?? text.trim();

function permitWords(licence: string): ['done' | 'warning', string][] {
  if (licence === '') return [['warning', 'unknown: nothing may be done with it yet']];
  const p = licencePermits(licence);
  if (!p) return [['warning', 'to be read: what it permits cannot be told here']];
  return [
    [p.publish ? 'done' : 'warning', p.publish ? 'publish' : 'not publish'],
    [p.change ? 'done' : 'warning', p.change ? 'change' : 'not change'],
    [p.sell ? 'done' : 'warning', p.sell ? 'sell' : 'not sell'],
    ['done', p.credit ? 'with credit' : 'no credit needed'],
  ];
}

/** Author, source and licence of a file, and what the licence permits. */
export function Licence({ credit, says, onChange }: { credit: StockCredit; says: string; onChange: (c: StockCredit) => void }) {
  const [wrong, setWrong] = useState<string | null>(null);
  const set = (key: keyof StockCredit, value: string) => {
    if (value !== credit[key]) onChange({ ...credit, [key]: value });
  };
  return (
    <section aria-label="Licence" className="pt-2">
      <div className="flex items-baseline gap-2 pb-1">
        <h4 className="text-[13px] font-semibold">Where it came from</h4>
        {says && (
          <span className="text-micro soft truncate" title={says}>
            the file says “{says}”
          </span>
        )}
        {credit.licence !== OWN_WORK && (
          <button type="button" className="fix ml-auto" onClick={() => onChange({ ...credit, licence: OWN_WORK })}>
            Own work
          </button>
        )}
      </div>
      <div className="grid gap-2" style={{ gridTemplateColumns: '1fr 1.2fr 1fr' }}>
        <Field label="Author" value={credit.author} max={200} onDone={(v) => set('author', v)} />
        <Field label="Source" value={credit.source} max={500} onDone={(v) => set('source', v)} />
        <Field
          label="Licence"
          value={labelOf(credit.licence)}
          max={64}
          list={DATALIST}
          onDone={(v) => {
            const id = idOf(v);
            if (!isLicence(id)) return setWrong(`${v} is no SPDX id. Pick one of the list, or leave it empty where it is not known.`);
            setWrong(null);
            set('licence', id);
          }}
        />
      </div>
      <datalist id={DATALIST}>
        {LICENCES.map((l) => (
          <option key={l.id} value={l.label} />
        ))}
      </datalist>
      {wrong && (
        <p role="alert" className="text-micro pt-1" style={{ color: 'var(--vermilion)' }}>
          {wrong}
        </p>
      )}
      <p className="flex flex-wrap gap-x-3 gap-y-1 pt-1.5">
        {permitWords(credit.licence).map(([kind, words]) => (
          <span key={words} className="flag" style={{ fontWeight: 450 }}>
            <Flag kind={kind} />
            {words}
          </span>
        ))}
      </p>
    </section>
  );
}

function Field({
  label,
  value,
  max,
  list,
  onDone,
}: {
  label: string;
  value: string;
  max: number;
  list?: string;
  onDone: (v: string) => void;
}) {
  const [draft, setDraft] = useState(value);
  useEffect(() => setDraft(value), [value]);
  return (
    <label className="block text-micro soft">
      {label}
      <input
        className="field w-full"
        value={draft}
        maxLength={max}
        list={list}
        placeholder="unknown"
        onChange={(e) => {
          setDraft(e.target.value);
          // a choice from the list counts at once
          if (list && LICENCES.some((l) => l.label === e.target.value)) onDone(e.target.value);
        }}
        onBlur={() => draft !== value && onDone(draft.trim())}
        onKeyDown={(e) => e.key === 'Enter' && draft !== value && onDone(draft.trim())}
      />
    </label>
  );
}
