'use client';
/** Motions of our own for a figure: each a clip of the model, with a speed where it has one. */
import type { RecipeStep } from '@/core/piece';
import { MOTION_NAMES, MOTION_SPEEDS, type MotionName } from '@/core/words/humanoid';
import { Check, PickField } from '../kit';
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
/** Steps between the least and the most speed that are offered. */
const SPEEDS = 8;

function speedsOf(motion: MotionName): (readonly [string, string])[] {
  const s = MOTION_SPEEDS[motion];
  if (!s) return [];
  const each = (s.most - s.least) / SPEEDS;
  const list = [...Array.from({ length: SPEEDS + 1 }, (_, k) => Number((s.least + k * each).toPrecision(3))), s.usual];
  return [...new Set(list)].sort((a, b) => a - b).map((v) => [String(v), `${v} ${s.unit}`] as const);
}

export function Motions({ clips: kept, busy, onChange }: { clips: Clips; busy: boolean; onChange: (clips: Clips) => void }) {
  const [clips, ask] = useAsked(kept, busy, onChange);
  return (
    <fieldset className="mb-2 pb-2 border-b border-[color:var(--hair)]" disabled={busy}>
      <legend className="text-small">
        <b>Motions</b> <span className="soft">loops without a seam; feet stay where they stand</span>
      </legend>
      <div className="grid grid-cols-2 gap-x-3 gap-y-1 text-small mt-1">
        {MOTION_NAMES.map((motion) => {
          const own = clips.find((c) => c.motion === motion);
          const usual = MOTION_SPEEDS[motion]?.usual;
          return (
            <div key={motion} className="flex items-center gap-2 min-h-[28px]">
              <Check
                label={WORDS[motion]}
                checked={own !== undefined}
                onChange={(on) =>
                  ask(on ? [...clips, { motion, speed: null, energy: 1, inPlace: true }] : clips.filter((c) => c.motion !== motion))
                }
              />
              {own && usual !== undefined && (
                <PickField
                  label={`Speed of ${WORDS[motion].toLowerCase()}`}
                  value={String(own.speed ?? usual)}
                  options={speedsOf(motion)}
                  onChange={(v) => ask(clips.map((c) => (c === own ? { ...c, speed: Number(v) } : c)))}
                />
              )}
            </div>
          );
        })}
      </div>
    </fieldset>
  );
}
