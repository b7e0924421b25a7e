import { afterEach, beforeEach, expect, test, vi } from 'vitest';

/** A thread that takes calls and never answers. */
class Silent extends EventTarget {
  static made: Silent[] = [];
  ended = false;
  constructor() {
    super();
    Silent.made.push(this);
  }
  postMessage() {}
  terminate() {
    this.ended = true;
  }
}

beforeEach(() => {
  vi.useFakeTimers();
  vi.resetModules();
  Silent.made = [];
  vi.stubGlobal('Worker', Silent);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});
const wordsOf = (p: Promise<unknown>) =>
  p.then(
    () => 'answered',
    (e: Error) => e.message,
  );

test('a call that hangs is stopped with its thread, what is queued behind it is told, and the next starts another', async () => {
  const { forms } = await import('./client');
  const first = wordsOf(forms.makeForm('M'));
  await vi.advanceTimersByTimeAsync(150_000);
  const queued = wordsOf(forms.makeForm('L'));
  await vi.advanceTimersByTimeAsync(151_000);
  expect(await first).toMatch(/took too long/);
  expect(await queued).toMatch(/took too long/);
  expect(Silent.made.map((w) => w.ended)).toEqual([true]);
  void wordsOf(forms.makeForm('S'));
  expect(Silent.made).toHaveLength(2);
});

test('a thread that dies rejects all its calls', async () => {
  const { forms } = await import('./client');
  const call = wordsOf(forms.makeForm('M'));
  Silent.made[0].dispatchEvent(Object.assign(new Event('error'), { message: 'out of memory' }));
  expect(await call).toMatch(/failed: out of memory/);
  expect(Silent.made[0].ended).toBe(true);
});
