'use client';
import type { MeasureResult } from '@/api';
import { PROFILES } from '@/core/deliver';
import { showBytes, showBytesFinely } from '@/core/math';
import type { ModelItem } from '@/core/piece';
import { spareText, Waterline } from '../kit';
import { useDocument, useWeight } from '../piece/context';
import { wearers } from '../stock/mending';
import { Weights } from './weights';

/**
 * What of the model weighs most, and how deep the package would lie with what stands in the table.
 * @param kept bytes the model has in the package as it is kept; null while that is not known
 */
export function Load({ item, result, kept }: { item: ModelItem; result: MeasureResult | null; kept: number | null }) {
  const doc = useDocument();
  const weight = useWeight();
  const now = weight.is === 'known' ? weight.bytes : null;
  const limit = PROFILES[doc.settings.profile].bytes;
  const hung = wearers(doc, item.id).length > 0;
  const change = hung && result && kept !== null ? result.after.bytes - kept : 0;
  const bytes = now === null ? null : Math.max(0, now + change);
  return (
    <section className="sheet px-3 pt-2 pb-1 flex flex-col min-h-0" aria-label="Weight">
      <header className="flex items-baseline justify-between pb-1">
        <h3 className="text-[15px] font-semibold">What weighs most</h3>
        <span className="text-micro soft">
          {result ? `on a device ${showBytesFinely(result.after.deviceBytes)}, ${result.after.drawCalls} draw calls` : ''}
        </span>
      </header>
      <div className="flex-1 min-h-0 overflow-y-auto">
        {result ? <Weights parts={result.parts.after} /> : <p className="text-small soft">Being weighed …</p>}
      </div>
      <div className="water border border-[color:var(--hair)] overflow-hidden mt-1">
        <Waterline bytes={bytes} limit={limit} width={394} height={60} viewWidth={496} at={0.75} />
      </div>
      <p className="flex justify-between text-small pt-1 gap-3">
        <span className="soft truncate">
          {!hung
            ? 'It is not hung yet and weighs nothing'
            : weight.is !== 'known'
              ? weight.is === 'waits'
                ? 'The package is being weighed …'
                : 'The package could not be weighed'
              : change === 0
                ? 'The package as it would be built now'
                : 'The package with this result'}
        </span>
        <span className="whitespace-nowrap flex gap-2">
          {bytes !== null && (
            <>
              <b className="num">{showBytes(bytes)}</b>
              {spareText(bytes, limit)}
            </>
          )}
        </span>
      </p>
    </section>
  );
}
