'use client';
/** One measure of who is shown: what it is, how many have less, a slider, a number. */
import { RotateCcw } from 'lucide-react';
import type { ReactNode } from 'react';
import { ordinal } from '@/core/words/counted';
import { Flag } from '../kit';

export interface Sliding {
  label: string;
  range: readonly [number, number];
  step?: number;
  value: number;
  onSlide: (x: number) => void;
  /** It is let go. */
  onKeep: () => void;
}
export function Slider({ label, range: [min, max], step = 0.1, value, onSlide, onKeep }: Sliding) {
  return (
    <input
      type="range"
      className="w-full h-[24px]"
      style={{ accentColor: 'var(--brass)' }}
      aria-label={label}
      min={min}
      max={max}
      step={step}
      value={value}
      onChange={(e) => onSlide(Number(e.target.value))}
      onPointerUp={onKeep}
      onKeyUp={onKeep}
      onBlur={onKeep}
    />
  );
}

/** Every measure at one share of people. */
export function AllAt({ label, share, onSlide, onKeep }: { label: string; share: number } & Pick<Sliding, 'onSlide' | 'onKeep'>) {
  return (
    <div className="grid items-center gap-x-2" style={{ gridTemplateColumns: 'auto 1fr 30px' }}>
      <span className="soft">All at</span>
      <Slider label={label} range={[1, 99]} step={1} value={share} onSlide={onSlide} onKeep={onKeep} />
      <span className="num text-right text-micro">{ordinal(share / 100)}</span>
    </div>
  );
}

export const Contradicting = ({ words }: { words: readonly string[] }) =>
  words.map((w) => (
    <p key={w} className="flex items-start gap-1.5 pt-1">
      <Flag kind="warning" size={13} />
      <span>{w}</span>
    </p>
  ));

export function Row({
  label,
  share,
  follows = false,
  onFollow = null,
  following = 'as it follows from the others',
  slider,
  children,
}: {
  label: string;
  share: number | null;
  follows?: boolean;
  onFollow?: (() => void) | null;
  /** What is said of one that nobody asked for. */
  following?: string;
  slider: ReactNode;
  children: ReactNode;
}) {
  return (
    <div className="grid items-center gap-x-3 pt-1" style={{ gridTemplateColumns: 'minmax(0, 1fr) 66px' }}>
      <span className="min-w-0">
        <span className="flex items-center leading-[16px]">
          <span className={`truncate ${follows ? 'soft italic' : ''}`} title={follows ? `${label}: ${following}` : label}>
            {label}
            {follows && <span className="sr-only">, as it follows</span>}
          </span>
          {onFollow && (
            <button
              type="button"
              className="btn btn-bare btn-icon h-[24px]! min-h-0!"
              aria-label={`${label} ${following}`}
              title={following[0].toUpperCase() + following.slice(1)}
              onClick={onFollow}
            >
              <RotateCcw className="ico" />
            </button>
          )}
          {share !== null && (
            <span className="num text-micro soft ml-auto" title="So many of a hundred people have less">
              {ordinal(share)}
            </span>
          )}
        </span>
        {slider}
      </span>
      {children}
    </div>
  );
}
