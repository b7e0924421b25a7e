'use client';
/** Hears the keys of all acts, and shows the finder and the sheet of keys. One a page. */
import { type ReactNode, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { lazily } from '../kit/lazily';
import { switchTheme } from '../kit/theme';
import { actFor, doAct, useActs } from './acts';

const loadFinder = () => import('./finder');
const Finder = lazily(loadFinder, 'Finder');
const KeySheet = lazily(() => import('./keysheet'), 'KeySheet');

/** @param more what else can be found here: groups for the finder, made when it is opened */
export function ActsLayer({ more }: { more: (close: () => void) => ReactNode }) {
  const [shown, setShown] = useState<'finder' | 'keys' | null>(null);
  // typed before the finder was there
  const early = useRef({ words: '', enter: false });
  const ready = useRef(false);
  // known at once, before anything is drawn
  const finding = useRef(false);
  const close = () => {
    finding.current = false;
    setShown(null);
  };
  useActs({
    find: {
      run: () => {
        if (finding.current) return close();
        early.current = { words: '', enter: false };
        ready.current = false;
        finding.current = true;
        setShown('finder');
      },
    },
    keys: { run: () => setShown('keys') },
    theme: { run: switchTheme },
  });
  useEffect(() => {
    const whenIdle = window.requestIdleCallback ?? ((work: () => void) => setTimeout(work, 1000));
    whenIdle(() => void loadFinder().catch(() => undefined));
  }, []);
  useLayoutEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (finding.current && !ready.current && !e.ctrlKey && !e.metaKey && !e.altKey) {
        // nothing under it is pressed meanwhile
        if (e.key.length === 1 || e.key === 'Enter') e.preventDefault();
        if (e.key.length === 1) early.current.words += e.key;
        if (e.key === 'Enter') early.current.enter = true;
        return;
      }
      const id = actFor(e);
      if (!id) return;
      e.preventDefault();
      doAct(id);
    };
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, []);
  return (
    <>
      {shown === 'finder' && (
        <Finder
          takeEarly={() => {
            ready.current = true;
            return early.current;
          }}
          onClose={close}
        >
          {more(close)}
        </Finder>
      )}
      {shown === 'keys' && <KeySheet onClose={close} />}
    </>
  );
}
