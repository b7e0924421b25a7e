'use client';
/** The cast in the rack's place: who a piece is looked at on, their measures by number, slider and share of people. */
import { Copy, Plus, Trash2, X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { ulid } from 'ulid';
import { PEOPLE, type People } from '@/core/form/people';
import {
  add,
  askOf,
  batch,
  castOf,
  change,
  type FormRow,
  formRow,
  measuresOf,
  type Piece,
  remove,
  seesBody,
  settings,
  shownWearer,
  wearerWords,
} from '@/core/piece';
import { capital } from '@/core/words/counted';
import { NameInPlace, PickField } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { CastMeasures } from './castmeasures';
import { useFit } from './state';

const GROUPS = (Object.keys(PEOPLE) as People[]).map((p) => [p, PEOPLE[p].toLowerCase()] as const);

function freeName(doc: Piece): string {
  const names = new Set(Object.values(doc.forms).map((f) => f.name));
  for (let n = 1; ; n++) if (!names.has(`Wearer ${n}`)) return `Wearer ${n}`;
}

export function CastPanel() {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const set = useFit((s) => s.set);
  const [people, setPeople] = useState<People>('both');
  const body = useFit((s) => s.pose.body);
  const whole = body !== undefined || seesBody(doc);
  const { forms, settings: shown } = doc;
  const who = useMemo(() => shownWearer({ forms, settings: shown }), [forms, shown]);
  const { row } = who;
  // a size's tape goes with its other measures, and follows them once they are changed
  const shape = useMemo(
    () => row ?? formRow('', '', who.set.form, { ...measuresOf(askOf(who)), headCircumference: undefined }),
    [row, who],
  );
  const bring = (of: FormRow) => {
    const made = { ...of, id: ulid(), name: freeName(doc) };
    commit(batch([add('forms', made), settings({ form: made.size, wearer: made.id })]));
  };
  return (
    <aside className="rack flex flex-col min-h-0 border-r border-[color:var(--hair-strong)] text-small" aria-label="Cast" data-open="">
      <header className="flex items-center gap-1 pl-3 pr-2 h-[38px] rule-b">
        <h2 className="text-[14px] font-semibold mr-auto">Cast</h2>
        <button
          type="button"
          className="btn btn-line btn-sm"
          title="Another wearer, with the measures of who is shown"
          onClick={() => bring({ ...shape, size: doc.settings.form })}
        >
          <Plus className="ico" />
          Wearer
        </button>
        <button type="button" className="btn btn-bare btn-sm btn-icon" aria-label="Close the cast" onClick={() => set({ panel: null })}>
          <X className="ico" />
        </button>
      </header>
      <div className="overflow-y-auto min-h-0 flex-1 px-3 pb-2">
        <ul className="flex flex-wrap gap-1 py-2" aria-label="Wearers">
          {castOf(doc).map((w) => (
            <li key={w.key} className="min-w-0">
              <button
                type="button"
                className="btn btn-line btn-sm btn-tight max-w-[196px]"
                aria-pressed={w.key === who.key}
                onClick={() => commit(settings(w.set))}
              >
                <span className="truncate">{capital(wearerWords(w))}</span>
              </button>
            </li>
          ))}
        </ul>
        {row ? (
          <OwnWearer key={row.id} row={row} onCopy={() => bring(row)} />
        ) : (
          <p className="soft pt-1.5 border-t border-[color:var(--hair)]">
            Form {who.name} stays as it is: press “Wearer” for one of these measures that may be changed.
          </p>
        )}
        <p className="flex items-center gap-2 mt-1.5">
          <span className="soft">Among</span>
          <PickField label="Among whom" value={people} options={GROUPS} onChange={setPeople} />
        </p>
        <CastMeasures key={who.key} who={who} shape={shape} people={people} whole={whole} />
        <p className="text-micro soft mt-2">
          Shares by the survey of heads of 2003 that respirators are sized by, ears, necks and bodies by one of soldiers of 2012; from
          memory: a guide, no standard.
        </p>
      </div>
    </aside>
  );
}

function OwnWearer({ row, onCopy }: { row: FormRow; onCopy: () => void }) {
  const commit = usePiece((s) => s.commit);
  const [naming, setNaming] = useState(false);
  return (
    <div className="flex items-center gap-1 pt-1 border-t border-[color:var(--hair)]">
      {naming ? (
        <NameInPlace
          label="Name of the wearer"
          initial={row.name}
          className="h-[26px]! flex-1 min-w-0"
          onDone={(name) => commit(change('forms', row.id, { name }))}
          onLeave={() => setNaming(false)}
        />
      ) : (
        <button
          type="button"
          className="named text-[17px] leading-[26px] truncate flex-1 text-left cursor-text"
          aria-label={`Name the wearer ${row.name} otherwise`}
          title="Press to name them otherwise"
          dir="auto"
          onClick={() => setNaming(true)}
        >
          {row.name}
        </button>
      )}
      <button type="button" className="btn btn-bare btn-sm btn-icon" aria-label="Copy the wearer" title="Copy the wearer" onClick={onCopy}>
        <Copy className="ico" />
      </button>
      <button
        type="button"
        className="btn btn-bare btn-sm btn-icon"
        aria-label="Take out of the cast"
        title="Take out of the cast"
        onClick={() => commit(batch([settings({ wearer: null }), remove('forms', row.id)]))}
      >
        <Trash2 className="ico" />
      </button>
    </div>
  );
}
