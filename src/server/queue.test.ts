import { expect, test } from 'vitest';
import { queue, turnsByKey } from './queue';

/** Work that ends when it is told to. */
function work() {
  let end: () => void = () => undefined;
  const ended = new Promise<void>((r) => {
    end = r;
  });
  return { run: () => ended, end };
}
const refuse = () => new Error('full');
const settle = () => new Promise((r) => setTimeout(r));

test('few at a time, in the order they came; what fails lets the next one in', async () => {
  const inLine = queue(2, 10, () => new Error('full'));
  const [a, b, c, d] = [work(), work(), work(), work()];
  const begun: string[] = [];
  const go = (name: string, w: { run: () => Promise<void> }) =>
    inLine(() => {
      begun.push(name);
      return w.run();
    });
  const all = [go('a', a), go('b', b), go('c', c), go('d', d)];
  expect(begun).toEqual(['a', 'b']);
  b.end();
  await settle();
  expect(begun).toEqual(['a', 'b', 'c']);
  const failing = inLine(async () => {
    throw new Error('mine');
  });
  for (const w of [a, c, d]) w.end();
  await Promise.all(all);
  await expect(failing).rejects.toThrow('mine');
  expect(await inLine(async () => 7)).toBe(7);
});

test('turns go by whose work it is, whoever has more of it', async () => {
  const inTurn = turnsByKey({ slots: 1, most: 100, refuse });
  const order: string[] = [];
  const add = (key: string) => inTurn(key, async () => void order.push(key));
  const first = work();
  const all = [inTurn('A', first.run), ...Array.from({ length: 4 }, () => add('A')), add('B'), add('B'), add('C')];
  first.end();
  await Promise.all(all);
  expect(order.join('')).toBe('BCABAAA');
  // who had a turn just now does not come before who waits
  const second = work();
  const later = [inTurn('B', second.run), add('B'), add('A')];
  second.end();
  await Promise.all(later);
  expect(order.join('').slice(-2)).toBe('AB');
});

test('what would wait too far behind is refused, of one key alone', async () => {
  const inTurn = turnsByKey({ slots: 1, most: 2, refuse });
  const w = work();
  const all = [inTurn('A', w.run), inTurn('A', w.run), inTurn('A', w.run)];
  await expect(inTurn('A', w.run)).rejects.toThrow('full');
  all.push(inTurn('B', w.run));
  expect(inTurn.counts()).toEqual({ running: 1, waiting: 3 });
  w.end();
  await Promise.all(all);
  expect(inTurn.counts()).toEqual({ running: 0, waiting: 0 });
});

test('one key never holds all: another’s work begins at once, and what waits goes on when its own ends', async () => {
  const inTurn = turnsByKey({ slots: 3, each: 2, most: 9, refuse });
  const begun: string[] = [];
  const [a, b, c] = [work(), work(), work()];
  const go = (key: string, w: { run: () => Promise<void> }) =>
    inTurn(key, () => {
      begun.push(key);
      return w.run();
    });
  const all = [go('A', a), go('A', b), go('A', b), go('B', c)];
  expect(begun.join('')).toBe('AAB');
  // a place that B leaves is not for A
  c.end();
  await settle();
  expect(begun.join('')).toBe('AAB');
  a.end();
  await settle();
  expect(begun.join('')).toBe('AABA');
  b.end();
  await Promise.all(all);
  expect(inTurn.counts()).toEqual({ running: 0, waiting: 0 });
});
