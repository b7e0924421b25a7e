'use client';
/** The form of a dialog that asks for a name; fetched with the first dialog. */
import { zodResolver } from '@hookform/resolvers/zod';
import { useEffect } from 'react';
import { useForm } from 'react-hook-form';
import * as z from 'zod';
import { Flag } from './flags';

const MOST = 120;
const Fields = z.object({
  name: z.string().trim().min(1, 'Write a name first.').max(MOST, `A name has at most ${MOST} letters.`),
});

export interface NameFormProps {
  label: string;
  initial: string;
  action: string;
  /** Closes by itself, or rejects with a sentence: then it stays open, with what was typed. */
  onDone: (name: string) => unknown;
  onClose: () => void;
}

export function NameForm({ label, initial, action, onDone, onClose }: NameFormProps) {
  const { register, handleSubmit, setError, setFocus, formState } = useForm({
    resolver: zodResolver(Fields),
    defaultValues: { name: initial },
  });
  useEffect(() => setFocus('name', { shouldSelect: true }), [setFocus]);
  const done = handleSubmit(async ({ name }) => {
    try {
      await onDone(name);
    } catch (e) {
      setError('name', { message: (e as Error).message });
    }
  });
  const why = formState.errors.name?.message;
  const busy = formState.isSubmitting;
  return (
    <form onSubmit={(e) => (busy ? e.preventDefault() : void done(e))} noValidate>
      <label className="block text-small">
        <span className="font-medium block mb-1">{label}</span>
        <input className="field" maxLength={MOST} dir="auto" aria-invalid={why !== undefined} {...register('name')} />
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
  );
}
