/** A flat grid laid onto triangles along the ways from an eye: of each of its places, how far from the grid's plane the first surface is. */

/** Cells each way. */
export interface Grid {
  across: number;
  up: number;
}

export interface LaidOn {
  positions: ArrayLike<number>;
  triangles: ArrayLike<number>;
}

/**
 * @param shapes in the frame of the grid, which lies about its origin in the plane z = 0 @param size of the grid, side and up
 * @param eye before the plane (z > 0); what is not before it is not seen
 * @returns z of the place that is seen through each place of the grid, row after row from below; NaN where nothing is
 */
export function layOnto(
  shapes: readonly LaidOn[],
  { across, up }: Grid,
  [width, height]: readonly [number, number],
  [ex, ey, ez]: readonly [number, number, number],
): Float64Array {
  const row = across + 1;
  // 1 / distance from the eye along z: runs evenly over the picture of a triangle
  const nearest = new Float64Array(row * (up + 1));
  const [su, sv] = [width / across, height / up];
  const flat = new Float64Array(9);
  for (const { positions, triangles } of shapes)
    for (let t = 0; t < triangles.length; t += 3) {
      let seen = true;
      for (let k = 0; k < 3; k++) {
        const i = triangles[t + k] * 3;
        const w = 1 / (ez - positions[i + 2]);
        seen &&= w > 0 && Number.isFinite(w);
        flat[k * 3] = (ex + (positions[i] - ex) * w * ez) / su + across / 2;
        flat[k * 3 + 1] = (ey + (positions[i + 1] - ey) * w * ez) / sv + up / 2;
        flat[k * 3 + 2] = w;
      }
      if (!seen) continue;
      const [ax, ay, aw, bx, by, bw, cx, cy, cw] = flat;
      const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      if (!(Math.abs(area) > 1e-12)) continue;
      const i0 = Math.max(0, Math.ceil(Math.min(ax, bx, cx) - EDGE));
      const i1 = Math.min(across, Math.floor(Math.max(ax, bx, cx) + EDGE));
      const j0 = Math.max(0, Math.ceil(Math.min(ay, by, cy) - EDGE));
      const j1 = Math.min(up, Math.floor(Math.max(ay, by, cy) + EDGE));
      for (let j = j0; j <= j1; j++)
        for (let i = i0; i <= i1; i++) {
          const v = ((i - ax) * (cy - ay) - (j - ay) * (cx - ax)) / area;
          const w = ((bx - ax) * (j - ay) - (by - ay) * (i - ax)) / area;
          if (v < -EDGE || w < -EDGE || v + w > 1 + EDGE) continue;
          const at = j * row + i;
          nearest[at] = Math.max(nearest[at], aw + v * (bw - aw) + w * (cw - aw));
        }
    }
  return nearest.map((w) => (w > 0 ? ez - 1 / w : Number.NaN));
}

/** What lies on an edge of two triangles belongs to both. */
const EDGE = 1e-9;
