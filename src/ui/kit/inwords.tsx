'use client';
import { useEffect } from 'react';

/** From then on a page that cannot be fetched is answered in words. Browsers allow it over TLS and on the machine itself. */
export function InWords() {
  useEffect(() => {
    navigator.serviceWorker?.register('/words.js').catch(() => undefined);
  }, []);
  return null;
}
