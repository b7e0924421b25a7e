import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { type Kept, supervise } from './supervise';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());
vi.mock('./failure', () => ({ say: () => undefined }));

/** A process that ends when it is told to. */
function child(pid: number): Kept & { end: () => void } {
  let end: () => void = () => undefined;
  const ended = new Promise<void>((r) => {
    end = r;
  });
  return { pid, ended, end, stop: async () => end() };
}

test('what ends is started again, later each time it ends soon, and soon again once it ran for long', async () => {
  const made = [child(1)];
  const begun: number[] = [];
  const kept = supervise(
    'It',
    made[0],
    async () => {
      made.push(child(made.length + 1));
      return made[made.length - 1];
    },
    async () => void begun.push(kept.pid()),
  );
  /** Milliseconds until the next one runs. */
  const again = async () => {
    const n = made.length;
    made[n - 1].end();
    for (let ms = 0; ; ms += 50) {
      await vi.advanceTimersByTimeAsync(50);
      if (made.length > n) return ms + 50;
    }
  };
  const waits: number[] = [];
  for (let i = 0; i < 6; i++) waits.push(await again());
  // never so long that those who wait would go away
  expect(waits).toEqual([250, 500, 1000, 2000, 4000, 4000]);
  expect(begun).toEqual([2, 3, 4, 5, 6, 7]);
  await vi.advanceTimersByTimeAsync(11_000);
  expect(await again()).toBe(250);
  await kept.stop();
  await vi.advanceTimersByTimeAsync(60_000);
  expect(made).toHaveLength(8);
});

test('one that cannot be started is tried again; a stop ends the trying', async () => {
  const first = child(1);
  const start = vi.fn(async (): Promise<Kept> => {
    throw new Error('no room');
  });
  const kept = supervise('It', first, start, async () => undefined);
  first.end();
  await vi.advanceTimersByTimeAsync(250 + 500 + 1000 + 100);
  expect(start).toHaveBeenCalledTimes(3);
  const stopping = kept.stop();
  await vi.advanceTimersByTimeAsync(2_000);
  await stopping;
  await vi.advanceTimersByTimeAsync(120_000);
  expect(start).toHaveBeenCalledTimes(3);
});
