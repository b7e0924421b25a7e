'use client';
import { type ComponentType, lazy, Suspense, useEffect } from 'react';
import { say } from './say';

const AWAY = 'What this needs could not be fetched: the server does not answer. Try again when it is back.';

/** Stands where something could not be fetched: says so, and closes what was to be opened, so that pressing again asks again. */
function Away({ onClose }: { onClose?: () => void }) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: said once
  useEffect(() => {
    say.error(AWAY, { id: 'away', duration: 10_000 });
    onClose?.();
  }, []);
  return null;
}

/** As `lazily`, of what is shown at once: fetched as soon as the page's first file runs, beside what else that one begins. */
export function soon<K extends string, P extends object>(load: () => Promise<Record<K, ComponentType<P>>>, name: K): ComponentType<P> {
  // what fails here is asked for again, and told, where it is shown
  if (typeof window !== 'undefined') load().catch(() => undefined);
  return lazily(load, name);
}

/** As `lazily`, of what is shown at the first press: fetched when the page itself is there. */
export function afterwards<K extends string, P extends object>(
  load: () => Promise<Record<K, ComponentType<P>>>,
  name: K,
): ComponentType<P> {
  const begin = () => void load().catch(() => undefined);
  if (typeof window !== 'undefined') {
    if (document.readyState === 'complete') begin();
    else window.addEventListener('load', begin, { once: true });
  }
  return lazily(load, name);
}

/** A component whose file is fetched when it is first shown; until then, and where it does not come, nothing stands in its place. */
export function lazily<K extends string, P extends object>(load: () => Promise<Record<K, ComponentType<P>>>, name: K): ComponentType<P> {
  const make = () =>
    lazy(() =>
      load().then(
        (file) => ({ default: file[name] as ComponentType<object> }),
        () => {
          // the next time it is shown it is asked for again; the page lives on
          Loaded = make();
          return { default: Away as ComponentType<object> };
        },
      ),
    );
  let Loaded = make();
  return (props) => (
    <Suspense fallback={null}>
      <Loaded {...props} />
    </Suspense>
  );
}
