'use client';
import { Flag } from '../kit';
import { tryAgain } from './stagehooks';

/** In the place of a thing that is not there yet: that it is on its way, or why it did not come, and a press to ask again. */
export function NotThere({ what, why, again = tryAgain }: { what: string; why: string | null; again?: () => void }) {
  return (
    <div className="absolute inset-0 grid place-items-center text-small" role="status">
      {why === null ? (
        <p className="soft">{what} is being fetched …</p>
      ) : (
        <p className="flex items-center gap-2 px-3">
          <Flag kind="blocker" />
          {what} could not be fetched: {why}.
          <button type="button" className="fix" onClick={again}>
            Try again
          </button>
        </p>
      )}
    </div>
  );
}
