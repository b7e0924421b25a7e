/** A line through places seen from the side. */

export interface Line {
  /** Up a metre fore. */
  slope: number;
  at: (z: number) => number;
}

/** Least squares of height over depth. */
export function lineThrough(places: readonly { y: number; z: number }[]): Line {
  const n = places.length;
  const [mz, my] = [places.reduce((s, p) => s + p.z, 0) / n, places.reduce((s, p) => s + p.y, 0) / n];
  const [num, den] = places.reduce(([u, v], p) => [u + (p.z - mz) * (p.y - my), v + (p.z - mz) ** 2], [0, 0]);
  const slope = den > 0 ? num / den : 0;
  return { slope, at: (z) => my + slope * (z - mz) };
}
