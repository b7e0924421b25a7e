'use client';
/** Small fields of a step's settings. */
import type { ComponentProps, ReactNode } from 'react';
import { CountField } from '../kit';

export const grid = (children: ReactNode, columns = 2) => (
  <div className="grid gap-x-5 gap-y-1.5 items-center" style={{ gridTemplateColumns: `repeat(${columns}, minmax(0,1fr))` }}>
    {children}
  </div>
);

/** A plain number of a step's setting. `words`: its label stands before it. */
export function Num({ words = false, ...field }: Omit<ComponentProps<typeof CountField>, 'before'> & { words?: boolean }) {
  return <CountField {...field} before={words ? 'row' : undefined} />;
}
