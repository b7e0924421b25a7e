'use client';
/** A garment's bones, as the body it lies on has them: which body, how many, how even its weights are. */
import type { RecipeStep } from '@/core/piece';
import type { Spar } from '@/core/rig';
import { counted } from '@/core/words/counted';
import { HUMANOID_DETAILS, jointWords } from '@/core/words/humanoid';
import { NumField, PickField } from '../kit';

type GarmentStep = Extract<RecipeStep, { step: 'garment' }>;

const SIZES = ['S', 'M', 'L'] as const;

export function GarmentSheet({
  settings,
  spars,
  busy,
  chosen,
  onChoose,
  onChange,
}: {
  settings: GarmentStep['settings'];
  spars: readonly Spar[];
  busy: boolean;
  chosen: string | null;
  onChoose: (bone: string | null) => void;
  onChange: (settings: GarmentStep['settings']) => void;
}) {
  return (
    <section aria-label="Garment" className="mt-1">
      <p className="text-small soft">
        Its bones are the body’s, its weights those of the skin below it. Fit hangs it on the body: “Let the body wear it”.
      </p>
      <div className="flex flex-wrap gap-2 items-center mt-2">
        <PickField
          label="Body"
          value={settings.form}
          options={SIZES.map((s) => [s, `lies on form ${s}`] as const)}
          onChange={(form) => onChange({ ...settings, form })}
        />
        <PickField
          label="Bones"
          value={String(settings.detail)}
          options={HUMANOID_DETAILS.map((d) => [String(d), `of ${d} bones`] as const)}
          onChange={(d) => onChange({ ...settings, detail: HUMANOID_DETAILS.find((x) => String(x) === d) ?? 22 })}
        />
        <span className="flex items-center gap-1.5 text-small">
          <span className="soft">evened out, times</span>
          <span className="inline-block w-[64px]">
            <NumField
              label="Evened out"
              value={settings.smooth}
              dimension="factor"
              unit="×"
              decimals={0}
              step={1}
              min={0}
              max={60}
              disabledWhy={busy ? 'Weights are being found' : undefined}
              onChange={(smooth) => onChange({ ...settings, smooth: Math.round(smooth) })}
            />
          </span>
        </span>
      </div>
      {spars.length > 0 && (
        <>
          <h4 className="text-small font-semibold mt-3">{counted(spars.length, 'bone')}</h4>
          <ul className="grid text-small">
            {spars.map((s) => (
              <li key={s.name}>
                <button
                  type="button"
                  className={`flex w-full text-left rule-b py-[3px] ${chosen === s.name ? 'font-semibold' : ''}`}
                  aria-pressed={chosen === s.name}
                  onClick={() => onChoose(chosen === s.name ? null : s.name)}
                >
                  {jointWords(s.name)}
                  <span className="num soft ml-auto">{s.name}</span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
