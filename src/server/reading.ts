/** How long the readers were at work on a yard's files in the last hour: what they give to one, others wait for. */
import { given } from './config';
import { HttpError } from './errors';

const HOUR_MS = 3_600_000;
type Read = { until: number; ms: number };
const held = globalThis as { scaphosRead?: Map<string, Read[]> };
const reads = () => {
  held.scaphosRead ??= new Map();
  return held.scaphosRead;
};

/** Seconds in the last hour, and the most there may be: SCAPHOS_READER_MINUTES. */
export function readingOf(yardId: string, nowMs = Date.now()): { seconds: number; most: number } {
  const list = (reads().get(yardId) ?? []).filter((r) => r.until > nowMs - HOUR_MS);
  if (list.length > 0) reads().set(yardId, list);
  else reads().delete(yardId);
  return { seconds: list.reduce((s, r) => s + r.ms, 0) / 1000, most: given('SCAPHOS_READER_MINUTES', 60) * 60 };
}

/** Does the work and counts its time, however it ends. @throws {HttpError} 429 the hour's time is used up */
export async function countReading<T>(yardId: string, work: () => Promise<T>): Promise<T> {
  const { seconds, most } = readingOf(yardId);
  if (seconds >= most)
    throw new HttpError(
      429,
      'yard/reading',
      `Reading the files of this yard took ${Math.round(seconds / 60)} minutes of the last hour; up to ${Math.round(most / 60)} may be. What is in Stock can be worked on; go on adding in a while.`,
    );
  const from = Date.now();
  try {
    return await work();
  } finally {
    const until = Date.now();
    reads().set(yardId, [...(reads().get(yardId) ?? []), { until, ms: until - from }]);
  }
}
