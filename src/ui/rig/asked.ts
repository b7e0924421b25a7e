'use client';
import { useEffect, useState } from 'react';

/** What was asked for shows at once, while it is worked out; when that is done, what is kept. */
export function useAsked<T>(kept: T, busy: boolean, onChange: (next: T) => void): [T, (next: T) => void] {
  const [asked, setAsked] = useState<T | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is kept has changed, or nothing comes any more
  useEffect(() => {
    if (!busy) setAsked(null);
  }, [busy, kept]);
  const ask = (next: T) => {
    setAsked(next);
    onChange(next);
  };
  return [asked ?? kept, ask];
}
