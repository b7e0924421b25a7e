/** Vertices at one place are one: of each, the first at its place. @param positions three numbers a vertex */
export function weldPlaces(positions: ArrayLike<number>): Uint32Array {
  const known = new Map<string, number>();
  return Uint32Array.from({ length: positions.length / 3 }, (_, v) => {
    const key = `${positions[v * 3]} ${positions[v * 3 + 1]} ${positions[v * 3 + 2]}`;
    const first = known.get(key) ?? v;
    known.set(key, first);
    return first;
  });
}
