/** Projective maps of the plane. */
export type Point2 = readonly [number, number];
export type Corners = readonly [Point2, Point2, Point2, Point2];
/** Row by row; the last is 1 where the map fixes it so. */
export type Homography = readonly [number, number, number, number, number, number, number, number, number];

/** Solves a·x = b by elimination with row pivots; null where rows depend on each other. `a` and `b` are used up. */
function solve(a: number[][], b: number[]): number[] | null {
  const n = b.length;
  for (let k = 0; k < n; k++) {
    let p = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(a[i][k]) > Math.abs(a[p][k])) p = i;
    if (Math.abs(a[p][k]) < 1e-12) return null;
    [a[k], a[p]] = [a[p], a[k]];
    [b[k], b[p]] = [b[p], b[k]];
    for (let i = k + 1; i < n; i++) {
      const f = a[i][k] / a[k][k];
      for (let j = k; j < n; j++) a[i][j] -= f * a[k][j];
      b[i] -= f * b[k];
    }
  }
  const x = new Array<number>(n);
  for (let i = n - 1; i >= 0; i--) x[i] = (b[i] - x.slice(i + 1).reduce((s, v, j) => s + v * a[i][i + 1 + j], 0)) / a[i][i];
  return x;
}

/**
 * The map that takes four points to four points; null where three of either lie on a line.
 * (Hartley and Zisserman, Multiple View Geometry, section 4.1: the direct linear transform, exact for four points.)
 */
export function homographyOf(from: Corners, to: Corners): Homography | null {
  const rows: number[][] = [];
  const right: number[] = [];
  from.forEach(([x, y], i) => {
    const [u, v] = to[i];
    rows.push([x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]);
    right.push(u, v);
  });
  const h = solve(rows, right);
  return h ? ([...h, 1] as unknown as Homography) : null;
}

export function mapPoint(h: Homography, [x, y]: Point2): [number, number] {
  const w = h[6] * x + h[7] * y + h[8];
  return [(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w];
}

/** A quadrilateral whose corners go round once, no corner pushed in. */
export function isConvex(c: Corners): boolean {
  const turns = c.map((p, i) => {
    const q = c[(i + 1) % 4];
    const r = c[(i + 2) % 4];
    return (q[0] - p[0]) * (r[1] - q[1]) - (q[1] - p[1]) * (r[0] - q[0]);
  });
  return turns.every((t) => t > 0) || turns.every((t) => t < 0);
}
