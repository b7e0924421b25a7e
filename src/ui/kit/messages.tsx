'use client';
import { useEffect } from 'react';
import { Toaster, toast } from 'sonner';
import { speakBy } from './say';

/** Where messages are shown. */
export function Messages() {
  useEffect(() => speakBy(toast), []);
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
