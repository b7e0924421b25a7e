'use client';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Flag } from './flags';

/** A modal sheet; Esc and a press beside it close it. */
export function Dialog({
  title,
  onClose,
  children,
  mustChoose = false,
  wide = false,
}: {
  title: string;
  onClose: () => void;
  children: ReactNode;
  mustChoose?: boolean;
  /** For what is looked at rather than answered. */
  wide?: boolean;
}) {
  const ref = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const dialog = ref.current;
    if (dialog && !dialog.open) dialog.showModal();
  }, []);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: Esc closes a dialog of itself
    <dialog
      ref={ref}
      className="sheet"
      style={wide ? { maxWidth: 'min(920px, 94vw)', width: 920 } : undefined}
      aria-label={title}
      onClose={onClose}
      onCancel={(e) => (mustChoose ? e.preventDefault() : onClose())}
      onClick={(e) => {
        if (e.target === ref.current && !mustChoose) onClose();
      }}
    >
      <div className="px-5 py-4" style={{ minWidth: 340 }}>
        <div className="flex items-start gap-3 rule-double pb-2 mb-3">
          <h2 className="text-[15px] font-semibold mr-auto min-w-0 truncate">{title}</h2>
          {wide && (
            <button type="button" className="btn btn-line btn-sm btn-tight" onClick={onClose}>
              Close
            </button>
          )}
        </div>
        {children}
      </div>
    </dialog>
  );
}

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
            Leave it
          </button>
          <button type="submit" className={`btn btn-primary btn-sm ${busy ? 'busy' : ''}`} aria-disabled={busy}>
            {action}
          </button>
        </div>
      </form>
    </Dialog>
  );
}
