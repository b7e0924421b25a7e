import { afterEach, expect, test, vi } from 'vitest';
import { countReading, readingOf } from './reading';

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllEnvs();
});

test('a yard’s readers have an hour’s share; what is over is refused with the figure, of that yard alone, until an hour has gone', async () => {
  vi.useFakeTimers({ toFake: ['Date'] });
  vi.stubEnv('SCAPHOS_READER_MINUTES', '2');
  const minutes = (n: number) => async () => void vi.advanceTimersByTime(n * 60_000);
  await countReading('A', minutes(1));
  // what fails was read all the same
  const failing = countReading('A', async () => {
    await minutes(1.5)();
    throw new Error('broken');
  });
  await expect(failing).rejects.toThrow('broken');
  expect(readingOf('A')).toEqual({ seconds: 150, most: 120 });
  const refused = countReading('A', async () => 'read').catch((e) => e);
  expect(await refused).toMatchObject({ status: 429, code: 'yard/reading', message: expect.stringMatching(/took 3 minutes.*up to 2/) });
  expect(await countReading('B', async () => 'read')).toBe('read');
  vi.advanceTimersByTime(59 * 60_000);
  expect(readingOf('A').seconds).toBe(90);
  expect(await countReading('A', async () => 'read')).toBe('read');
  vi.advanceTimersByTime(60 * 60_000);
  expect(readingOf('A').seconds).toBe(0);
});
