/** Lines of equal value on a surface, as a chart has lines of equal depth. */

/**
 * Within each triangle values run straight, so that a line of equal value is straight too (marching triangles).
 * @param values one a vertex
 * @returns for each level its pieces, six coordinates each, in no order
 */
export function contours(
  positions: ArrayLike<number>,
  triangles: ArrayLike<number>,
  values: ArrayLike<number>,
  levels: readonly number[],
): number[][] {
  const out: number[][] = levels.map(() => []);
  for (let t = 0; t < triangles.length; t += 3) {
    const [u, v, w] = [values[triangles[t]], values[triangles[t + 1]], values[triangles[t + 2]]];
    const [least, most] = [Math.min(u, v, w), Math.max(u, v, w)];
    // most triangles have none of the lines
    for (let l = 0; l < levels.length; l++) {
      const level = levels[l];
      if (most < level || least >= level) continue;
      const ends: number[] = [];
      for (let k = 0; k < 3; k++) {
        const [a, b] = [triangles[t + k], triangles[t + ((k + 1) % 3)]];
        // a vertex at the level counts as above it: a line through one does not end there
        if (values[a] >= level === values[b] >= level) continue;
        const share = (level - values[a]) / (values[b] - values[a]);
        for (let c = 0; c < 3; c++) ends.push(positions[a * 3 + c] + share * (positions[b * 3 + c] - positions[a * 3 + c]));
      }
      if (ends.length === 6) for (const x of ends) out[l].push(x);
    }
  }
  return out;
}

/** Of a line's pieces the middle of the one that lies farthest in a direction: where its figure is seen from there. */
export function foremost(pieces: readonly number[], towards: readonly [number, number, number]): [number, number, number] | null {
  let best: [number, number, number] | null = null;
  let far = -Infinity;
  for (let i = 0; i < pieces.length; i += 6) {
    const m: [number, number, number] = [0, 1, 2].map((k) => (pieces[i + k] + pieces[i + 3 + k]) / 2) as [number, number, number];
    const d = m[0] * towards[0] + m[1] * towards[1] + m[2] * towards[2];
    if (d > far) [best, far] = [m, d];
  }
  return best;
}
