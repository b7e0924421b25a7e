import { afterEach, expect, test, vi } from 'vitest';
import { isStopping, onStop, stopOnSignal } from './stopping';

afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
  const held = globalThis as { scaphosStreams?: unknown; scaphosStopping?: unknown };
  delete held.scaphosStreams;
  delete held.scaphosStopping;
});

test('a signal closes every stream that still waits for it, none that stopped waiting, and ends the process a moment later', () => {
  vi.useFakeTimers();
  const exit = vi.spyOn(process, 'exit').mockImplementation((() => undefined) as never);
  let signal: (() => void) | undefined;
  vi.spyOn(process, 'on').mockImplementation(((name: string, work: () => void) => {
    if (name === 'SIGTERM') signal = work;
    return process;
  }) as never);
  stopOnSignal();
  const [waits, gone] = [vi.fn(), vi.fn()];
  onStop(waits);
  const noMore = onStop(gone);
  noMore();
  expect(isStopping()).toBe(false);
  signal?.();
  expect(isStopping()).toBe(true);
  expect(waits).toHaveBeenCalledTimes(1);
  expect(gone).not.toHaveBeenCalled();
  expect(exit).not.toHaveBeenCalled();
  vi.advanceTimersByTime(2_000);
  expect(exit).toHaveBeenCalledWith(0);
});
