/** How often each value stands in a picture's channels. */
import type { Pixels } from '../../math/pixels';

export type Histogram = Record<'red' | 'green' | 'blue' | 'alpha', number[]>;

/** Counts by value, 256 numbers a channel; each sums to the number of pixels. */
export function histogram({ data }: Pixels): Histogram {
  const counts = [0, 1, 2, 3].map(() => new Array<number>(256).fill(0));
  for (let i = 0; i < data.length; i += 4) for (let k = 0; k < 4; k++) counts[k][data[i + k]]++;
  const [red, green, blue, alpha] = counts;
  return { red, green, blue, alpha };
}
