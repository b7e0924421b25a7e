'use client';
/** Motions of our own for a figure: each a clip of the model, with a speed where it has one, and how lively. */
import type { RecipeStep } from '@/core/piece';
import { MOTION_NAMES, MOTION_SPEEDS, type MotionName } from '@/core/words/humanoid';
import { Check, NumField } from '../kit';
import { useAsked } from './asked';

type Clips = Extract<RecipeStep, { step: 'motion' }>['settings']['clips'];

const WORDS: Readonly<Record<MotionName, string>> = {
  idle: 'Idle',
  walk: 'Walk',
  turn: 'Turn about',
  wave: 'Wave',
  bow: 'Bow',
  'sway-dance': 'Sway-dance',
};
type Clip = Clips[number];
/** What carries the figure along. */
const TRAVELS: ReadonlySet<MotionName> = new Set(['walk']);

export function Motions({ clips: kept, busy, onChange }: { clips: Clips; busy: boolean; onChange: (clips: Clips) => void }) {
  const [clips, ask] = useAsked(kept, busy, onChange);
  return (
    <fieldset className="mb-2 pb-2 border-b border-[color:var(--hair)]" disabled={busy}>
      <legend className="text-small">
        <b>Motions</b> <span className="soft">loops without a seam; feet stay where they stand</span>
      </legend>
      <div className="text-small mt-1">
        {MOTION_NAMES.map((motion) => {
          const own = clips.find((c) => c.motion === motion);
          const set = (change: Partial<Clip>) => ask(clips.map((c) => (c === own ? { ...c, ...change } : c)));
          return (
            <div key={motion}>
              <div className="flex items-center min-h-[28px]">
                <Check
                  label={WORDS[motion]}
                  checked={own !== undefined}
                  onChange={(on) =>
                    ask(on ? [...clips, { motion, speed: null, energy: 1, inPlace: true }] : clips.filter((c) => c.motion !== motion))
                  }
                />
              </div>
              {own && <Own clip={own} onChange={set} />}
            </div>
          );
        })}
      </div>
    </fieldset>
  );
}

function Own({ clip, onChange }: { clip: Clip; onChange: (change: Partial<Clip>) => void }) {
  const bears = MOTION_SPEEDS[clip.motion];
  const of = WORDS[clip.motion].toLowerCase();
  return (
    <div className="pl-6 pb-1">
      <div className="grid grid-cols-3 gap-x-3">
        {bears && (
          <div>
            <span className="soft" aria-hidden>
              Speed
            </span>
            <NumField
              label={`Speed of ${of}`}
              dimension="count"
              unit=""
              after={bears.unit}
              decimals={bears.usual < 10 ? 2 : 0}
              step={Number(((bears.most - bears.least) / 16).toPrecision(1))}
              min={bears.least}
              max={bears.most}
              value={clip.speed ?? bears.usual}
              onChange={(speed) => onChange({ speed })}
            />
          </div>
        )}
        <div title="Of the turns of trunk, arms and head about their mean; legs keep to the ground">
          <span className="soft" aria-hidden>
            Energy
          </span>
          <NumField
            label={`Energy of ${of}`}
            dimension="factor"
            unit="×"
            after="×"
            decimals={2}
            step={0.05}
            min={0}
            max={2}
            value={clip.energy}
            onChange={(energy) => onChange({ energy })}
          />
        </div>
      </div>
      {TRAVELS.has(clip.motion) && (
        <div className="mt-1">
          <Check label="On the spot" checked={clip.inPlace} onChange={(inPlace) => onChange({ inPlace })} />
        </div>
      )}
    </div>
  );
}
