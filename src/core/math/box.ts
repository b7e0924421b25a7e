/** Axis-aligned box, metres: [least x, y, z, greatest x, y, z]; the empty box has least > greatest. */
export type Box = [number, number, number, number, number, number];

export const emptyBox = (): Box => [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];

/** Grows `box` in place by positions (three numbers a vertex); positions that are not finite are passed over. */
export function growBox(box: Box, positions: ArrayLike<number>): Box {
  for (let i = 0; i + 2 < positions.length; i += 3) {
    const x = positions[i];
    const y = positions[i + 1];
    const z = positions[i + 2];
    if (!Number.isFinite(x + y + z)) continue;
    if (x < box[0]) box[0] = x;
    if (y < box[1]) box[1] = y;
    if (z < box[2]) box[2] = z;
    if (x > box[3]) box[3] = x;
    if (y > box[4]) box[4] = y;
    if (z > box[5]) box[5] = z;
  }
  return box;
}

export const boxOf = (positions: ArrayLike<number>): Box => growBox(emptyBox(), positions);
