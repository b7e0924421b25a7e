'use client';
import { useSearchParams } from 'next/navigation';
import { useCallback } from 'react';

/**
 * Something that stands in the address, so that reload, Back and a link find it again. `visit`: Back leads to what stood there before;
 * else it takes its place. What it is on other pages is theirs.
 */
export function useAddress(name: string): [value: string | null, put: (value: string | null, how?: 'visit') => void] {
  const value = useSearchParams().get(name);
  const put = useCallback(
    (to: string | null, how?: 'visit') => {
      const address = new URL(window.location.href);
      if (address.searchParams.get(name) === to) return;
      if (to === null) address.searchParams.delete(name);
      else address.searchParams.set(name, to);
      if (how === 'visit') window.history.pushState(null, '', address);
      else window.history.replaceState(null, '', address);
    },
    [name],
  );
  return [value, put];
}
