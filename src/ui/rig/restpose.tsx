'use client';
/** How a figure's arms are held at rest: as it came, or in one of the poses that figures are handed on in. */
import { REST_STANCE_NAMES, type RestStance } from '@/core/words/stances';
import { PickField } from '../kit';
import { STANCE_WORDS } from '../stock/recipe';

const AS_IT_CAME = 'came';

export function RestPose({
  rest,
  busy,
  onChange,
}: {
  rest: RestStance | null;
  busy: boolean;
  onChange: (rest: RestStance | null) => void;
}) {
  return (
    <section aria-label="Rest pose" className="flex flex-wrap items-center gap-2 py-2 rule-b">
      <h4 className="text-small font-semibold">Rest pose</h4>
      <PickField
        label="Rest pose"
        value={rest ?? AS_IT_CAME}
        options={[[AS_IT_CAME, 'as it came'], ...REST_STANCE_NAMES.map((s) => [s, STANCE_WORDS[s]] as const)]}
        onChange={(picked) => !busy && onChange(REST_STANCE_NAMES.find((s) => s === picked) ?? null)}
      />
      {rest !== null && <span className="soft text-small">joints and weights are put right in the pose it came in</span>}
    </section>
  );
}
