/** Measures along a limb as a table that an artist can read. */
import { clamp } from '../vec';

/** Values by a first one: `table(x, k)`, x held to what the table spans. */
export interface Table {
  (x: number, k: number): number;
  lo: number;
  hi: number;
}

/** Non-uniform cubic through rows [x, v0, v1, …], tabulated at 1 mm. */
export function table(rows: readonly (readonly number[])[]): Table {
  const n = rows.length,
    K = rows[0].length - 1,
    x0 = rows[0][0],
    x1 = rows[n - 1][0],
    m = Math.ceil(x1 - x0) + 1,
    T: Float64Array[] = [];
  for (let k = 1; k <= K; k++) {
    const d: number[] = [];
    for (let i = 0; i + 1 < n; i++) d.push((rows[i + 1][k] - rows[i][k]) / (rows[i + 1][0] - rows[i][0]));
    const s = rows.map((_, i) => {
      if (i === 0) return d[0];
      if (i === n - 1) return d[n - 2];
      const h0 = rows[i][0] - rows[i - 1][0],
        h1 = rows[i + 1][0] - rows[i][0];
      return (d[i - 1] * h1 + d[i] * h0) / (h0 + h1);
    });
    const t = new Float64Array(m + 1);
    let i = 0;
    for (let q = 0; q <= m; q++) {
      const x = Math.min(x0 + q, x1);
      while (i < n - 2 && x > rows[i + 1][0]) i++;
      const h = rows[i + 1][0] - rows[i][0],
        u = (x - rows[i][0]) / h,
        u2 = u * u,
        u3 = u2 * u;
      t[q] =
        (2 * u3 - 3 * u2 + 1) * rows[i][k] + (u3 - 2 * u2 + u) * h * s[i] + (-2 * u3 + 3 * u2) * rows[i + 1][k] + (u3 - u2) * h * s[i + 1];
    }
    T.push(t);
  }
  const f = (x: number, k: number) => {
    const q = clamp(x - x0, 0, m - 1e-6),
      i = q | 0,
      u = q - i,
      t = T[k];
    return t[i] + (t[i + 1] - t[i]) * u;
  };
  return Object.assign(f, { lo: x0, hi: x1 });
}
