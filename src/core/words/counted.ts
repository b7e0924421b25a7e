/** "1 part", "3 parts", "2 meshes". */
export const counted = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;

/** Begins with a capital. */
export const capital = (words: string): string => words.replace(/^./u, (c) => c.toUpperCase());

/** “78th”, of a share: so many of a hundred; the 1st and the 99th are the ends. */
export function ordinal(share: number): string {
  const n = Math.min(99, Math.max(1, Math.round(share * 100)));
  const tail = n > 10 && n < 14 ? 'th' : (['th', 'st', 'nd', 'rd'][n % 10] ?? 'th');
  return `${n}${tail}`;
}
