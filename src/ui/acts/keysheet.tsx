'use client';
import { RotateCcw } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Dialog } from '../kit/dialog';
import { keysOf, useKeys } from './acts';
import { ACT_IDS, ACTS, type ActId, PLACES, type Place } from './catalog';
import { chordOf, showChord } from './chords';

/** Acts that have this key where both could be meant. */
function alsoAt(id: ActId, chord: string): ActId[] {
  const near = (a: Place, b: Place) =>
    a === b || [a, b].some((p) => p === 'everywhere') || (a !== 'yard' && b !== 'yard' && [a, b].includes('piece'));
  return ACT_IDS.filter((other) => other !== id && near(ACTS[id].where, ACTS[other].where) && keysOf(other).includes(chord));
}

/** All keys, by where they hold; each can be changed or taken away. */
export function KeySheet({ onClose }: { onClose: () => void }) {
  const keys = useKeys();
  const [asking, setAsking] = useState<ActId | null>(null);
  const [said, setSaid] = useState('');
  const isChanged = Object.keys(keys.changed).length > 0 || !keys.singles;
  const take = (id: ActId, chord: string) => {
    setAsking(null);
    const taken = alsoAt(id, chord);
    // one key, one act
    for (const other of taken.filter((t) => !ACTS[t].fixed))
      keys.setKeys(
        other,
        keysOf(other).filter((k) => k !== chord),
      );
    const fixed = taken.find((t) => ACTS[t].fixed);
    if (fixed) return setSaid(`${showChord(chord)} stays with “${ACTS[fixed].name}”.`);
    keys.setKeys(id, [chord]);
    setSaid(
      taken.length > 0 ? `${showChord(chord)} was taken from “${ACTS[taken[0]].name}”.` : `${ACTS[id].name} has ${showChord(chord)} now.`,
    );
  };
  return (
    <Dialog title="Keys" wide onClose={onClose}>
      <div className="flex items-center gap-4 pb-2 text-small">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={keys.singles}
            onChange={(e) => keys.setSingles(e.target.checked)}
          />
          Single keys, such as P or Space, do what they say
        </label>
        <button
          type="button"
          className="btn btn-line btn-sm ml-auto"
          aria-disabled={!isChanged}
          onClick={() => {
            keys.reset();
            setSaid('All keys are as they came.');
          }}
        >
          <RotateCcw className="ico" />
          As they came
        </button>
      </div>
      <p className="text-small min-h-[20px]" role="status">
        {said}
      </p>
      <div className="columns-1 md:columns-2 gap-8">
        {(Object.keys(PLACES) as Place[]).map((place) => (
          <section key={place} className="mb-4 break-inside-avoid-column">
            <h3 className="text-[13px] font-semibold rule-b pb-1">{PLACES[place]}</h3>
            <dl>
              {ACT_IDS.filter((id) => ACTS[id].where === place).map((id) => (
                <div key={id} className="flex items-center gap-2 py-[3px] text-small border-b border-[color:var(--sheet-hair)]">
                  <dt className="min-w-0 mr-auto">
                    {ACTS[id].name}
                    {ACTS[id].about && <span className="block text-micro soft">{ACTS[id].about}</span>}
                  </dt>
                  <dd className="flex items-center gap-1.5 flex-none">
                    {asking === id ? (
                      <KeyQuestion id={id} onTake={take} onLeave={() => setAsking(null)} />
                    ) : (
                      <>
                        {keysOf(id, keys).map((k) => (
                          <span key={k} className="key">
                            {showChord(k)}
                          </span>
                        ))}
                        {keysOf(id, keys).length === 0 && <span className="soft text-micro">none</span>}
                        {!ACTS[id].fixed && (
                          <button
                            type="button"
                            className="fix"
                            aria-label={`Change the key of ${ACTS[id].name}`}
                            onClick={() => setAsking(id)}
                          >
                            Change
                          </button>
                        )}
                      </>
                    )}
                  </dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Dialog>
  );
}

const HELD = new Set(['Tab', 'Enter', 'Escape']);

/** Waits for a key. */
function KeyQuestion({ id, onTake, onLeave }: { id: ActId; onTake: (id: ActId, chord: string) => void; onLeave: () => void }) {
  const setKeys = useKeys((s) => s.setKeys);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  return (
    <>
      <input
        readOnly
        ref={field}
        className="field h-[24px]! w-[120px]! text-small"
        aria-label={`Press the new key of ${ACTS[id].name}; Esc leaves it as it is`}
        value="Press a key …"
        onBlur={(e) => e.currentTarget.parentElement?.contains(e.relatedTarget) || onLeave()}
        onKeyDown={(e) => {
          if (e.key === 'Tab') return;
          e.preventDefault();
          e.stopPropagation();
          if (e.key === 'Escape') return onLeave();
          const chord = chordOf(e.nativeEvent);
          if (chord && !HELD.has(chord)) onTake(id, chord);
        }}
      />
      <button
        type="button"
        className="fix"
        onPointerDown={(e) => e.preventDefault()}
        onClick={() => {
          setKeys(id, []);
          onLeave();
        }}
      >
        No key
      </button>
    </>
  );
}
