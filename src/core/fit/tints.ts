/** Tints of how near a wearer a place lies. */

/** From so far above the skin on, mm, a tint holds; the first of all that is further. */
export const TINTS = [
  { underMm: Infinity, color: '#f6f1e2', words: 'over 5 mm' },
  { underMm: 5, color: '#c4dde0', words: 'under 5' },
  { underMm: 2, color: '#86b6c4', words: 'touches, under 2' },
  { underMm: 0, color: '#e0907c', words: 'cuts in' },
  { underMm: -2, color: '#b23a2b', words: 'over 2 deep' },
] as const;

/** Number of the tint of a distance, mm. */
export function tintOf(mm: number): number {
  let tint = 0;
  while (tint + 1 < TINTS.length && mm < TINTS[tint + 1].underMm) tint++;
  return tint;
}
/** Red, green and blue as they are coded, 0 … 255. */
export const TINT_RGB: readonly (readonly number[])[] = TINTS.map(({ color }) =>
  [1, 3, 5].map((i) => Number.parseInt(color.slice(i, i + 2), 16)),
);
