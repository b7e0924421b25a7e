'use client';
import type { YardUse } from '@/api';
import { showBytes } from '@/core/math/quantity';
import { NameInPlace } from '../kit';

/** Name of the yard, to be written where it stands, and what it uses. */
export function Cartouche({
  name,
  pieces,
  use,
  naming,
  onName,
  onNaming,
}: {
  name: string;
  pieces: number;
  use: YardUse;
  naming: boolean;
  onName: (name: string) => void;
  onNaming: (on: boolean) => void;
}) {
  return (
    <section className="flex border border-[color:var(--ink)] outline outline-1 outline-offset-2 outline-[color:var(--hair-strong)] m-[3px]">
      <div className="sheet border-0! rounded-none! px-4 py-2.5 flex flex-col justify-center min-w-0 w-[min(520px,60%)]">
        {naming ? (
          <NameInPlace
            label="Name of the yard"
            initial={name}
            className="named text-[24px] h-[34px]!"
            onDone={onName}
            onLeave={() => onNaming(false)}
          />
        ) : (
          <h1
            className="named text-chart leading-[34px]! truncate"
            style={{ fontSize: 30 }}
            dir="auto"
            title={name}
            onDoubleClick={() => onNaming(true)}
          >
            {name}
          </h1>
        )}
        <p className="text-small soft mt-1">
          <span className="num">{pieces}</span> piece{pieces === 1 ? '' : 's'} in the yard; its files take{' '}
          <span className="num">{showBytes(use.bytes)}</span> of <span className="num">{showBytes(use.most)}</span>.
          {use.readS >= 60 && (
            <>
              {' '}
              Reading files took <span className="num">{Math.round(use.readS / 60)}</span> of{' '}
              <span className="num">{Math.round(use.mostReadS / 60)}</span> minutes that a yard has in an hour.
            </>
          )}
        </p>
      </div>
      <div className="flex-1 water border-l border-[color:var(--ink)] overflow-hidden min-h-[74px]" aria-hidden="true">
        <svg width="100%" height="100%" viewBox="0 0 866 92" preserveAspectRatio="none" aria-hidden="true">
          <path d={`${TIDE}L866 92L0 92Z`} fill="var(--shoal)" />
          <path d={TIDE} fill="none" stroke="var(--water-line)" strokeWidth="1.3" />
        </svg>
      </div>
    </section>
  );
}
const TIDE = Array.from({ length: 145 }, (_, i) => {
  const x = i * 6;
  return `${i ? 'L' : 'M'}${x} ${(50 - Math.sin((x / 866) * Math.PI * 11.6 + 0.6) * (12 + 8 * Math.sin((x / 866) * Math.PI * 1.1 + 0.1))).toFixed(1)}`;
}).join('');
