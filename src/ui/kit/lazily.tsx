'use client';
import { type ComponentType, lazy, Suspense } from 'react';

/** A component whose file is fetched when it is first shown; until then nothing stands in its place. */
export function lazily<K extends string, P extends object>(load: () => Promise<Record<K, ComponentType<P>>>, name: K): ComponentType<P> {
  const Loaded = lazy(async () => ({ default: (await load())[name] as ComponentType<object> }));
  return (props) => (
    <Suspense fallback={null}>
      <Loaded {...props} />
    </Suspense>
  );
}
