'use client';
/** Motions of Stock on a figure: each captured clip can be taken, and is told how fast, how lively, where and how it ends. */
import { MOST_BLEND, type RecipeStep } from '@/core/piece';
import { Check, CountField, NumField } from '../kit';
import { useAsked } from './asked';

type Clips = Extract<RecipeStep, { step: 'retarget' }>['settings']['clips'];
type Taken = Clips[number];

/** A clip that lies in Stock. */
export interface StockClip {
  /** Of its file, and the file as it is used. */
  name: string;
  file: string;
  clip: string;
  /** Null: not known here. */
  seconds: number | null;
}

const AS_TAKEN = { speed: 1, energy: 1, inPlace: true, blend: 12, standing: true } as const;

export function TakenMotions({
  clips: kept,
  stock,
  busy,
  onChange,
}: {
  clips: Clips;
  stock: readonly StockClip[];
  busy: boolean;
  onChange: (clips: Clips) => void;
}) {
  const [clips, ask] = useAsked(kept, busy, onChange);
  const isOf = (s: StockClip) => (c: Taken) => c.motion === s.file && (c.clip ?? s.clip) === s.clip;
  const gone = clips.filter((c) => !stock.some((s) => isOf(s)(c)));
  return (
    <fieldset className="mb-2 pb-2 border-b border-[color:var(--hair)]" disabled={busy}>
      <legend className="text-small">
        <b>Motions of Stock</b> <span className="soft">turned onto these bones, whatever theirs are called</span>
      </legend>
      {stock.length === 0 && clips.length === 0 && (
        <p className="soft text-small mt-1">There are none. Drop a BVH, an FBX or a GLB with a motion on the window.</p>
      )}
      <div className="text-small mt-1 flex flex-col gap-1">
        {stock.map((s) => {
          const own = clips.find(isOf(s));
          const set = (change: Partial<Taken>) => ask(clips.map((c) => (c === own ? { ...c, ...change } : c)));
          const label = s.clip || s.name;
          return (
            <fieldset key={`${s.file} ${s.clip}`} aria-label={label}>
              <div className="flex items-center gap-2 min-h-[28px]">
                <Check
                  label={label}
                  checked={own !== undefined}
                  onChange={(on) =>
                    ask(
                      on ? [...clips, { motion: s.file, name: s.name, clip: s.clip || null, ...AS_TAKEN }] : clips.filter((c) => c !== own),
                    )
                  }
                />
                {s.seconds !== null && <span className="soft num ml-auto">{s.seconds.toFixed(1)} s</span>}
              </div>
              {own && (
                <div className="pl-6 pb-1">
                  <div className="grid grid-cols-3 gap-x-3">
                    {(
                      [
                        ['Speed', 'speed', 0.25, 4],
                        ['Energy', 'energy', 0, 2],
                      ] as const
                    ).map(([word, key, min, max]) => (
                      <div key={key}>
                        <span className="soft" aria-hidden>
                          {word}
                        </span>
                        <NumField
                          label={`${word} of ${label}`}
                          dimension="factor"
                          unit="×"
                          after="×"
                          decimals={2}
                          step={0.05}
                          min={min}
                          max={max}
                          value={own[key]}
                          onChange={(v) => set({ [key]: v })}
                        />
                      </div>
                    ))}
                    <div title="Keys at its end that go over to its beginning, thirty a second">
                      <span className="soft" aria-hidden>
                        Blend at the end
                      </span>
                      <CountField
                        label={`Blend at the end of ${label}`}
                        unit="keys"
                        whole
                        min={0}
                        max={MOST_BLEND}
                        value={own.blend}
                        onChange={(blend) => set({ blend })}
                      />
                    </div>
                  </div>
                  <div className="flex flex-wrap gap-x-4 mt-1">
                    <Check label="On the spot" checked={own.inPlace} onChange={(inPlace) => set({ inPlace })} />
                    <Check label="Feet stay where they stand" checked={own.standing} onChange={(standing) => set({ standing })} />
                  </div>
                </div>
              )}
            </fieldset>
          );
        })}
        {gone.map((c) => (
          <div key={`${c.motion} ${c.clip}`} className="flex items-center gap-2">
            <Check label={`${c.clip || c.name}, no longer in Stock`} checked onChange={() => ask(clips.filter((x) => x !== c))} />
          </div>
        ))}
      </div>
    </fieldset>
  );
}
