'use client';
import { useEffect, useRef, useState } from 'react';
import { Dialog } from '../kit';

export interface Asking {
  title: string;
  changes: string[];
  action: string;
  /** Parts that hang with this model and would change with it. */
  worn: string[];
  go: (keepFit: boolean) => void;
}

/** What will change, before it does; where the model hangs already, whether what was fitted stays as it is. */
export function AskDialog({ asking, onClose }: { asking: Asking; onClose: () => void }) {
  const [keep, setKeep] = useState(true);
  const main = useRef<HTMLButtonElement>(null);
  // one press says yes to what was read; where there is a choice, that comes first
  const chooses = asking.worn.length > 0;
  useEffect(() => {
    if (!chooses) main.current?.focus();
  }, [chooses]);
  return (
    <Dialog title={asking.title} onClose={onClose}>
      <ul className="text-small overflow-y-auto" style={{ maxHeight: 260, maxWidth: 480 }} aria-label="What will change">
        {asking.changes.map((c, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the same sentence may stand for two places
          <li key={i} className="py-0.5 border-b border-[color:var(--sheet-hair)] break-words">
            {c}
          </li>
        ))}
        {asking.changes.length === 0 && <li className="soft">Everything of the old file is found in the new one.</li>}
      </ul>
      {asking.worn.length > 0 && (
        <fieldset className="mt-3 text-small">
          <legend className="font-medium pb-1">
            {asking.worn.join(', ')} {asking.worn.length === 1 ? 'hangs' : 'hang'} with it already
          </legend>
          <label className="flex gap-2 items-baseline py-0.5">
            <input type="radio" name="keep" checked={keep} onChange={() => setKeep(true)} /> Keep what I fitted
          </label>
          <label className="flex gap-2 items-baseline py-0.5">
            <input type="radio" name="keep" checked={!keep} onChange={() => setKeep(false)} /> Let it change
          </label>
        </fieldset>
      )}
      <div className="flex justify-end gap-2 mt-4">
        <button type="button" className="btn btn-line btn-sm" onClick={onClose}>
          Cancel
        </button>
        <button
          ref={main}
          type="button"
          className="btn btn-primary btn-sm"
          onClick={() => {
            onClose();
            asking.go(keep);
          }}
        >
          {asking.action}
        </button>
      </div>
    </Dialog>
  );
}
