'use client';
import { useState } from 'react';
import { Flag } from './flags';
import { lazily } from './lazily';
import type { SheetProps } from './sheet';

const load = () => import('./sheet');
const Sheet = lazily(load, 'Sheet');

/** Before one is needed: what a save that failed asks must not wait for the server. */
export const fetchDialogs = () => void load().catch(() => undefined);

/** A modal sheet. What it is made of comes with the first. */
export const Dialog = (props: SheetProps) => <Sheet {...props} />;

/** Asks for a name and calls back with it. */
export function NameDialog({
  title,
  label,
  initial,
  action,
  onDone,
  onClose,
}: {
  title: string;
  label: string;
  initial: string;
  action: string;
  /** Closes by itself, or rejects with a sentence: then it stays open, with what was typed. */
  onDone: (name: string) => unknown;
  onClose: () => void;
}) {
  const [why, setWhy] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const done = async (name: string) => {
    setBusy(true);
    setWhy(null);
    try {
      await onDone(name);
    } catch (e) {
      setWhy((e as Error).message);
    }
    setBusy(false);
  };
  return (
    <Dialog title={title} onClose={onClose}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          const name = String(new FormData(e.currentTarget).get('name')).trim().slice(0, 120);
          if (name && !busy) void done(name);
        }}
      >
        <label className="block text-small">
          <span className="font-medium block mb-1">{label}</span>
          <input
            className="field"
            name="name"
            defaultValue={initial}
            maxLength={120}
            autoFocus
            onFocus={(e) => e.target.select()}
            required
          />
        </label>
        {why && (
          <p className="flex gap-2 text-small mt-2 max-w-[340px]" role="alert">
            <Flag kind="blocker" />
            <span>{why}</span>
          </p>
        )}
        <div className="flex justify-end gap-2 mt-4">
          <button type="button" className="btn btn-line btn-sm" onClick={onClose}>
            Cancel
          </button>
          <button type="submit" className={`btn btn-primary btn-sm ${busy ? 'busy' : ''}`} aria-disabled={busy}>
            {action}
          </button>
        </div>
      </form>
    </Dialog>
  );
}
