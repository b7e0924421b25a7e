/** A number found by what comes of it: the nearest value at which something reaches what is wished. */

/** Steps outwards to either side, each as long again as the one before. */
const MOST_STEPS = 9;
const HALVINGS = 14;

/**
 * @param of what comes of a value; falls or rises with it near there @param from where it is now @param step of the first tries
 * @returns the value nearest to `from`, of those tried between, at which `of` is `wish`, and what comes of it; null: none is within reach
 */
export async function reach(
  of: (x: number) => Promise<number | null>,
  wish: number,
  from: number,
  step: number,
  [low, high]: readonly [number, number] = [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY],
): Promise<{ value: number; comes: number } | null> {
  const start = await of(from);
  if (start === null) return null;
  if (start === wish) return { value: from, comes: start };
  // both sides by turns: the first that crosses is the nearest
  const ends = [1, -1].map((side) => ({ side, x: from, comes: start, over: false }));
  for (let k = 0; k < MOST_STEPS; k++)
    for (const end of ends) {
      if (end.over) continue;
      const x = Math.min(high, Math.max(low, from + end.side * step * (2 ** (k + 1) - 1)));
      const comes = x === end.x ? null : await of(x);
      if (comes === null) {
        end.over = true;
        continue;
      }
      if (comes - wish === 0 || comes - wish < 0 !== end.comes - wish < 0) return between(of, wish, end, { x, comes });
      Object.assign(end, { x, comes });
    }
  return null;
}

interface At {
  x: number;
  comes: number;
}
async function between(
  of: (x: number) => Promise<number | null>,
  wish: number,
  near: At,
  far: At,
): Promise<{ value: number; comes: number }> {
  let [a, b] = [near, far];
  for (let i = 0; i < HALVINGS && a.comes !== wish; i++) {
    const x = (a.x + b.x) / 2;
    const comes = await of(x);
    if (comes === null) break;
    if (comes - wish < 0 === a.comes - wish < 0) a = { x, comes };
    else b = { x, comes };
  }
  const best = Math.abs(a.comes - wish) <= Math.abs(b.comes - wish) ? a : b;
  return { value: best.x, comes: best.comes };
}
