'use client';
import { Toaster } from 'sonner';

/** Messages that do not stop the work. */
export function Toasts() {
  return (
    <Toaster
      style={{ fontFamily: 'inherit' }}
      position="bottom-right"
      toastOptions={{
        className: 'sheet',
        style: {
          background: 'var(--color-base-100)',
          color: 'var(--ink)',
          border: '1px solid var(--hair-strong)',
          borderRadius: 3,
          boxShadow: 'var(--lift)',
          fontSize: 12,
          fontFamily: 'inherit',
        },
      }}
    />
  );
}
