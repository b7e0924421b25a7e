import { STEP_NAMES, type Step } from './steps';

/** What a step will be for, in one line, until it is there. */
const PURPOSE: Partial<Record<Step, string>> = {
  trial: 'Here the piece will be tried on other wearers, in other light and in motion, before anyone wears it.',
};

export function Unbuilt({ step }: { step: Step }) {
  return (
    <div className="h-full p-3">
      <h2 className="text-[15px] font-semibold mb-2">{STEP_NAMES[step]}</h2>
      <div className="empty h-[220px] text-small">{PURPOSE[step]}</div>
    </div>
  );
}
