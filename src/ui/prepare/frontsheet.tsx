'use client';
/** What the search found, as size against visible error: either end of it in one press, any point by the chart. */
import { WandSparkles } from 'lucide-react';
import type { SolveResult } from '@/api';
import { PROFILES } from '@/core/deliver';
import { showBytes } from '@/core/math';
import { type ProfileId, settings } from '@/core/piece';
import { lazily } from '../kit';
import { usePiece, usePieceStore } from '../piece/context';
import { FORMULA } from './steps';

const FrontChart = lazily(() => import('./chart'), 'FrontChart');

interface FrontSheetProps {
  found: SolveResult | null;
  /** Of the front: what is proposed, and what stands in the table; −1: none. */
  pick: number;
  tried: number;
  /** Bytes of the place of delivery. */
  limit: number | null;
  /** What no view draws, in words. */
  undrawn: readonly string[];
  searching: boolean;
  onSearch: () => void;
  onTry: (point: number) => void;
}

export function FrontSheet({ found, pick, tried, limit, undrawn, searching, onSearch, onTry }: FrontSheetProps) {
  return (
    <section className="sheet px-3 pt-2 pb-1 flex flex-col min-h-0">
      <header className="flex items-baseline justify-between pb-1">
        <h3 className="text-[15px] font-semibold">Size against visible error</h3>
        <ProfilePick />
      </header>
      {found && pick >= 0 && pick !== found.chosen && (
        <div className="flex gap-1.5 pb-0.5">
          {(
            [
              ['Lightest that is not seen', pick],
              ['Least error', found.chosen],
            ] as const
          ).map(([words, i]) => (
            <button key={words} type="button" className="btn btn-line btn-sm" aria-pressed={tried === i} onClick={() => onTry(i)}>
              {words} <span className="num">{showBytes(found.front[i].bytes)}</span>
            </button>
          ))}
        </div>
      )}
      <div className="flex-1 min-h-0">
        {found && found.front.length > 0 ? (
          <FrontChart front={found.front} chosen={pick} tried={tried} limit={limit} onTry={onTry} />
        ) : (
          <div className="empty h-full text-small">
            <div className="flex flex-col items-center gap-2">
              <span>Find the lightest model that still looks the same, under {showBytes(limit ?? 0)}.</span>
              <button type="button" className="btn btn-line btn-sm" aria-disabled={searching} onClick={onSearch}>
                <WandSparkles className="ico" />
                Find the lightest
              </button>
            </div>
          </div>
        )}
      </div>
      {found && !found.met && (
        <p className="text-micro" style={{ color: 'var(--vermilion)' }}>
          {found.unmet.join(' ')}
        </p>
      )}
      {undrawn.length > 0 && <p className="text-micro">The views do not draw {undrawn.join(', ')}: E does not speak of it.</p>}
      <p className="text-micro soft" title="E of 1 or less is not seen; the thresholds are ours, millimetres as seen from half a metre">
        {FORMULA}
      </p>
    </section>
  );
}

/** For which place of delivery: its limits are what the search meets. */
function ProfilePick() {
  const store = usePieceStore();
  const profile = usePiece((s) => s.history.doc.settings.profile);
  return (
    <select
      className="field h-[24px]! w-[170px]! px-1! text-small"
      aria-label="Limits"
      value={profile}
      onChange={(e) => store.getState().commit(settings({ profile: e.target.value as ProfileId }))}
    >
      {Object.values(PROFILES).map((p) => (
        <option key={p.id} value={p.id}>
          {p.label}: under {showBytes(p.bytes)}
        </option>
      ))}
    </select>
  );
}
