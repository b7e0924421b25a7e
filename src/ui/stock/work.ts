'use client';
import { useState } from 'react';
import { say } from '../kit/say';

/** One thing at a time; a refusal is said and changes nothing. */
export function useWork(): { busy: boolean; work: (what: () => Promise<void>) => Promise<boolean> } {
  const [busy, setBusy] = useState(false);
  return {
    busy,
    work: async (what) => {
      setBusy(true);
      try {
        await what();
        return true;
      } catch (e) {
        say.error((e as Error).message);
        return false;
      } finally {
        setBusy(false);
      }
    },
  };
}
