'use client';
import { type ComponentType, lazy, Suspense } from 'react';
import { toast } from 'sonner';

const AWAY = 'What this needs could not be fetched: the server does not answer. Try again when it is back.';

/** A component whose file is fetched when it is first shown; until then, and where it does not come, nothing stands in its place. */
export function lazily<K extends string, P extends object>(load: () => Promise<Record<K, ComponentType<P>>>, name: K): ComponentType<P> {
  const make = () =>
    lazy(() =>
      load().then(
        (file) => ({ default: file[name] as ComponentType<object> }),
        () => {
          toast.error(AWAY);
          // the next time it is shown it is asked for again; the page lives on
          Loaded = make();
          return { default: () => null };
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
