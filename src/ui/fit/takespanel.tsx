'use client';
/** Takes in the rack's place: what a wearer does over time, as keys that may be set, moved and typed; read from a capture log and written as one. */
import { Copy, Download, FileUp, Trash2, X } from 'lucide-react';
import { useRef, useState } from 'react';
import { ulid } from 'ulid';
import { type HeadTurn, skeletonFor, type Take, type TakeKey } from '@/core/form';
import { add, change, partNameOf, remove, shownAsk, type TakeRow, takeRow } from '@/core/piece';
import { counted } from '@/core/words/counted';
import { Check, Choice, give, NameInPlace, NumField } from '../kit';
import { say } from '../kit/say';
import { useDocument, usePiece } from '../piece/context';
import { KeyHere, SAME_S } from './keyhere';
import { useFit } from './state';
import { freeTakeName, keyWords, ownTakes, takeNow } from './takechoice';

/** More keys than this are shown around the moment alone. */
const MOST_SHOWN = 60;

export function TakesPanel() {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const shown = useFit((s) => s.take);
  const { set, chooseTake } = useFit.getState();
  const take = takeNow(doc, shown);
  const row = Object.hasOwn(doc.takes, take.id) ? doc.takes[take.id] : null;
  const bring = (name: string, from: Pick<Take, 'seconds' | 'straight' | 'keys'>) => {
    const made = takeRow(ulid(), freeTakeName(doc, name.slice(0, 100)), from);
    commit(add('takes', made));
    chooseTake({ id: made.id, label: made.name, seconds: made.seconds, keys: from.keys, ...(from.straight ? { straight: true } : {}) });
  };
  const read = async (file: File) => {
    const [{ readCaptureLog }, { takeOfLog, takeLogWords }] = await Promise.all([
      import('@/core/capture/log'),
      import('@/core/run/takelog'),
    ]);
    const of = takeOfLog(readCaptureLog(await file.text()), skeletonFor(shownAsk(doc)));
    bring(partNameOf(file.name), of);
    const told = takeLogWords(of);
    say.message(`${file.name}: ${counted(of.keys.length, 'key')} over ${of.seconds.toFixed(1)} s.${told ? ` ${told}` : ''}`);
  };
  const write = async () => {
    const { logOfTake } = await import('@/core/run/takelog');
    give(logOfTake(take, doc), 'application/jsonl', `${take.label}.jsonl`);
  };
  return (
    <aside className="rack flex flex-col min-h-0 border-r border-[color:var(--hair-strong)] text-small" aria-label="Takes" data-open="">
      <header className="flex items-center gap-1 pl-3 pr-2 h-[38px] rule-b">
        <h2 className="text-[14px] font-semibold mr-auto">Takes</h2>
        <LogButton onFile={(file) => read(file).catch((e: Error) => say.error(`${file.name}: ${e.message}`))} />
        <button type="button" className="btn btn-bare btn-sm btn-icon" aria-label="Close the takes" onClick={() => set({ panel: null })}>
          <X className="ico" />
        </button>
      </header>
      <div className="px-3 pb-1.5">
        {ownTakes(doc).length > 0 && (
          <ul className="flex flex-wrap gap-1 pt-2" aria-label="Takes of the piece">
            {ownTakes(doc).map((t) => (
              <li key={t.id} className="min-w-0">
                <button
                  type="button"
                  className="btn btn-line btn-sm btn-tight max-w-[196px]"
                  aria-pressed={t.id === take.id}
                  onClick={() => chooseTake(t)}
                >
                  <span className="truncate" dir="auto">
                    {t.label}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        )}
        <TakeHead
          key={take.id}
          take={take}
          row={row}
          onCopy={take.motion ? null : () => bring(row ? row.name : take.label, take)}
          onWrite={() => void write()}
        />
        <Scrub take={take} />
      </div>
      {take.motion ? (
        <p className="soft px-3">The whole body moves by a motion of its own; there are no keys to change.</p>
      ) : row ? (
        <Keys key={row.id} row={row} take={take} />
      ) : (
        <>
          <p className="soft px-3 pb-1.5">This take comes with every piece: copy it to change its keys.</p>
          <KeyList take={take} />
        </>
      )}
    </aside>
  );
}

function LogButton({ onFile }: { onFile: (file: File) => void }) {
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <button
        type="button"
        className="btn btn-line btn-sm"
        title="A capture log (.jsonl) becomes a take of the piece"
        onClick={() => field.current?.click()}
      >
        <FileUp className="ico" />
        Read a log …
      </button>
      <input
        ref={field}
        type="file"
        className="hidden"
        accept=".jsonl"
        aria-label="Capture log"
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) onFile(file);
          e.target.value = '';
        }}
      />
    </>
  );
}

function TakeHead({ take, row, onCopy, onWrite }: { take: Take; row: TakeRow | null; onCopy: (() => void) | null; onWrite: () => void }) {
  const commit = usePiece((s) => s.commit);
  const [naming, setNaming] = useState(false);
  const name = 'named text-[17px] leading-[26px] truncate flex-1 text-left min-w-0';
  return (
    <div className="flex items-center gap-0.5 pt-1.5">
      {!row ? (
        <span className={name} title={take.label}>
          {take.label}
        </span>
      ) : naming ? (
        <NameInPlace
          label="Name of the take"
          initial={row.name}
          className="h-[26px]! flex-1 min-w-0"
          onDone={(n) => commit(change('takes', row.id, { name: n }))}
          onLeave={() => setNaming(false)}
        />
      ) : (
        <button
          type="button"
          className={`${name} cursor-text`}
          aria-label={`Name the take ${row.name} otherwise`}
          title="Press to name it otherwise"
          dir="auto"
          onClick={() => setNaming(true)}
        >
          {row.name}
        </button>
      )}
      {onCopy && (
        <button type="button" className="btn btn-bare btn-sm btn-icon" aria-label="Copy the take" title="Copy the take" onClick={onCopy}>
          <Copy className="ico" />
        </button>
      )}
      <button
        type="button"
        className="btn btn-bare btn-sm btn-icon"
        aria-label="Save as a capture log"
        title="Save as a capture log"
        onClick={onWrite}
      >
        <Download className="ico" />
      </button>
      {row && (
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon"
          aria-label="Take it out of the piece"
          title="Take it out of the piece"
          onClick={() => commit(remove('takes', row.id))}
        >
          <Trash2 className="ico" />
        </button>
      )}
    </div>
  );
}

/** The moment of the take that is shown. */
function Scrub({ take }: { take: Take }) {
  const timeS = useFit((s) => s.timeS);
  const { set, tick, play } = useFit.getState();
  const at = timeS - Math.floor(timeS / take.seconds) * take.seconds;
  return (
    <label className="grid items-center gap-x-2 h-[25px]" style={{ gridTemplateColumns: '1fr 52px' }}>
      <input
        type="range"
        style={{ accentColor: 'var(--brass)', width: '100%' }}
        aria-label="Moment of the take"
        aria-valuetext={`${at.toFixed(2)} s`}
        min={0}
        max={take.seconds}
        step={0.01}
        value={at}
        onChange={(e) => {
          play(false);
          set({ running: true, poseId: null });
          // the end is the end here, not the beginning of the next time round
          tick(Math.min(Number(e.target.value), take.seconds - 1e-6));
        }}
      />
      <span className="num text-right">{at.toFixed(2)} s</span>
    </label>
  );
}

const OF = (['head', 'neck', 'shoulders'] as const).map((value) => ({ value, label: value, title: `Turn of the ${value}` }));
const TURNS = [
  ['yawDeg', 'yaw', 'towards the wearer’s left'],
  ['pitchDeg', 'pitch', 'down'],
  ['rollDeg', 'roll', 'towards the wearer’s right shoulder'],
] as const;
const D = Math.PI / 180;

function Keys({ row, take }: { row: TakeRow; take: Take }) {
  const commit = usePiece((s) => s.commit);
  const timeS = useFit((s) => s.timeS);
  const at = timeS - Math.floor(timeS / take.seconds) * take.seconds;
  const [of, setOf] = useState<'head' | 'neck' | 'shoulders'>('head');
  const here = take.keys.findIndex((k) => Math.abs(k.atS - at) < SAME_S);
  const key = here < 0 ? null : take.keys[here];
  const put = (keys: readonly TakeKey[]) => commit(change('takes', row.id, { keys: [...keys].sort((a, b) => a.atS - b.atS) as never }));
  const setKey = (changed: Partial<TakeKey>) => put(take.keys.map((k, i) => (i === here ? { ...k, ...changed } : k)));
  const away = key?.awayM ?? [0, 0, 0];
  return (
    <>
      <div className="flex items-center gap-2 px-3 pb-1.5">
        <span className="soft">Lasts</span>
        <span className="w-[76px]">
          <NumField
            label="Seconds of the take"
            dimension="time"
            unit="s"
            after="s"
            decimals={2}
            step={0.5}
            min={Math.max(0.1, take.keys[take.keys.length - 1].atS)}
            max={600}
            value={row.seconds}
            onChange={(seconds) => commit(change('takes', row.id, { seconds: Math.round(seconds * 1000) / 1000 }))}
          />
        </span>
        <Check label="eased" checked={!row.straight} onChange={(on) => commit(change('takes', row.id, { straight: !on }))} />
      </div>
      <KeyList
        take={take}
        onRemove={(i) =>
          take.keys.length > 1
            ? put(take.keys.filter((_, k) => k !== i))
            : say.message('A take has at least one key; take the whole take out instead.')
        }
      />
      <div className="px-3 py-1.5 border-t border-[color:var(--hair)] flex flex-col gap-1.5">
        {key && !key.lost && (
          <>
            <Choice label="Turn of" options={OF} value={of} onChange={setOf} />
            <div className="grid gap-x-1.5 gap-y-1" style={{ gridTemplateColumns: 'repeat(3, minmax(0, 1fr))' }}>
              {TURNS.map(([k, label, way]) => (
                <Labelled key={k} label={label} title={`+ ${way}`}>
                  <NumField
                    label={`${of} ${label}`}
                    dimension="angle"
                    unit="°"
                    after="°"
                    decimals={1}
                    step={5 * D}
                    value={key[of][k] * D}
                    onChange={(rad) => setKey({ [of]: { ...(key[of] as HeadTurn), [k]: Math.round((rad / D) * 100) / 100 } })}
                  />
                </Labelled>
              ))}
              {(['side', 'up', 'fore'] as const).map((label, i) => (
                <Labelled key={label} label={`gone ${label}`} title="How far the wearer has gone">
                  <NumField
                    label={`gone ${label}`}
                    dimension="length"
                    unit="cm"
                    after="cm"
                    decimals={1}
                    step={0.05}
                    min={-100}
                    max={100}
                    value={away[i]}
                    onChange={(m) => setKey({ awayM: away.map((x, j) => (j === i ? m : x)) as [number, number, number] })}
                  />
                </Labelled>
              ))}
            </div>
          </>
        )}
        <KeyHere row={row} take={take} />
      </div>
    </>
  );
}

function Labelled({ label, title, children }: { label: string; title: string; children: React.ReactNode }) {
  return (
    <span className="min-w-0" title={title}>
      <span className="soft text-micro block truncate">{label}</span>
      {children}
    </span>
  );
}

function KeyList({ take, onRemove }: { take: Take; onRemove?: (at: number) => void }) {
  const timeS = useFit((s) => s.timeS);
  const { set, tick, play } = useFit.getState();
  const at = timeS - Math.floor(timeS / take.seconds) * take.seconds;
  const many = take.keys.length > MOST_SHOWN;
  const next = take.keys.findIndex((k) => k.atS > at);
  const middle = next < 0 ? take.keys.length - 1 : Math.max(0, next - 1);
  const from = many ? Math.max(0, Math.min(take.keys.length - MOST_SHOWN, middle - MOST_SHOWN / 2)) : 0;
  const rows = take.keys.slice(from, from + MOST_SHOWN);
  return (
    <>
      {many && (
        <p className="soft px-3 text-micro">
          {MOST_SHOWN} of {take.keys.length} keys, around the moment
        </p>
      )}
      <ol className="overflow-y-auto min-h-0 flex-1 px-1.5" aria-label="Keys">
        {rows.map((k, i) => (
          <li key={k.atS} className="flex items-center">
            <button
              type="button"
              className="flex items-center gap-2 flex-1 min-w-0 text-left h-[25px] px-1.5 cursor-pointer"
              aria-current={Math.abs(k.atS - at) < SAME_S ? 'true' : undefined}
              onClick={() => {
                play(false);
                set({ running: true, poseId: null });
                tick(Math.min(k.atS, take.seconds - 1e-6));
              }}
            >
              <span className={`num w-[38px] shrink-0 text-right ${Math.abs(k.atS - at) < SAME_S ? 'font-semibold' : ''}`}>
                {k.atS.toFixed(2)}
              </span>
              <span className="truncate" title={keyWords(k)}>
                {keyWords(k)}
              </span>
            </button>
            {onRemove && (
              <button
                type="button"
                className="btn btn-bare btn-sm btn-icon"
                aria-label={`Take out the key at ${k.atS.toFixed(2)} s`}
                onClick={() => onRemove(from + i)}
              >
                <X className="ico" />
              </button>
            )}
          </li>
        ))}
      </ol>
    </>
  );
}
