'use client';
/** Ends of a figure that belong to none of its limbs, a tail, a brim: each can become a chain. */
import { Spline } from 'lucide-react';
import type { Spar, SparChain } from '@/core/rig';
import type { Place } from './picture';

export interface End {
  rootM: Place;
  tipM: Place;
}
const far = (a: Place, b: Place) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
/** Of its length: as near as this to its tip a chain ends that is made of it. */
const SAME = 0.25;

/** Those that no chain was made of yet. @param before a place that is drawn → where it was when the bones were raised */
export const freeEnds = (
  ends: readonly End[],
  { spars, chains }: { spars: readonly Spar[]; chains: readonly SparChain[] },
  before: (p: Place) => Place,
): End[] => {
  const tips = chains.flatMap((c) => (c.found ? [before(spars[c.spars[c.spars.length - 1]].tail)] : []));
  return ends.filter((e) => !tips.some((tip) => far(tip, e.tipM) < SAME * far(e.rootM, e.tipM)));
};

export function Ends({ ends, busy, onChain }: { ends: readonly End[]; busy: boolean; onChain: (end: End) => void }) {
  if (ends.length === 0) return null;
  return (
    <ul className="mt-2 pt-2 border-t border-[color:var(--hair)] text-small" aria-label="Ends that belong to no limb">
      {ends.map((e) => (
        <li key={e.tipM.join()} className="flex items-center gap-2 py-[2px]">
          <span className="flex-1">
            An end of <span className="num">{Math.round(far(e.rootM, e.tipM) * 1000)}</span>
            <span className="unit">mm</span> that belongs to no limb
          </span>
          <button type="button" className="btn btn-line btn-sm" disabled={busy} onClick={() => onChain(e)}>
            <Spline className="ico" />
            Make it a chain
          </button>
        </li>
      ))}
    </ul>
  );
}
