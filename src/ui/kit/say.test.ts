import type { toast } from 'sonner';
import { expect, test, vi } from 'vitest';

test('what is said before anything shows it waits, in its order; later words do not', async () => {
  // tests share their modules: others have said something already
  vi.resetModules();
  const { say, speakBy } = await import('./say');
  say.message('the first');
  say.error('the second', { duration: 1 });
  const by = { message: vi.fn(), error: vi.fn() };
  speakBy(by as unknown as typeof toast);
  expect(by.message.mock.calls).toEqual([['the first', undefined]]);
  expect(by.error.mock.calls).toEqual([['the second', { duration: 1 }]]);
  expect(by.message.mock.invocationCallOrder[0]).toBeLessThan(by.error.mock.invocationCallOrder[0]);
  say.message('the third');
  expect(by.message).toHaveBeenCalledTimes(2);
});
