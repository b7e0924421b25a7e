/**
 * Symmetric positive definite systems over a surface's vertices: conjugate gradients, preconditioned by symmetric Gauss-Seidel.
 * (Saad, "Iterative Methods for Sparse Linear Systems", 2nd ed., 2003, sections 4.1 and 9.2.)
 */

/** Off-diagonal entries of row v stand from `start[v]` to `start[v + 1]`. */
export interface Sparse {
  diagonal: Float64Array;
  start: Uint32Array;
  to: Uint32Array;
  values: Float64Array;
}

const MOST_ROUNDS = 2_000;

function times(m: Sparse, x: Float64Array, out: Float64Array): void {
  const { diagonal, start, to, values } = m;
  for (let v = 0; v < x.length; v++) {
    let sum = diagonal[v] * x[v];
    for (let e = start[v]; e < start[v + 1]; e++) sum += values[e] * x[to[e]];
    out[v] = sum;
  }
}

/** One sweep forth and one back from zero: z ≈ M⁻¹ r, and symmetric. */
function sweep(m: Sparse, r: Float64Array, z: Float64Array): void {
  const { diagonal, start, to, values } = m;
  z.fill(0);
  for (let v = 0; v < z.length; v++) {
    let sum = r[v];
    for (let e = start[v]; e < start[v + 1]; e++) sum -= values[e] * z[to[e]];
    z[v] = sum / diagonal[v];
  }
  for (let v = z.length - 1; v >= 0; v--) {
    let sum = r[v];
    for (let e = start[v]; e < start[v + 1]; e++) sum -= values[e] * z[to[e]];
    z[v] = sum / diagonal[v];
  }
}

const dot = (a: Float64Array, b: Float64Array) => {
  let s = 0;
  for (let i = 0; i < a.length; i++) s += a[i] * b[i];
  return s;
};

/**
 * Solves m x = b to a residual of `tolerance` times b's own.
 * @param x where to begin; the solution stands in it afterwards
 * @returns rounds it took
 */
export function solve(m: Sparse, b: Float64Array, x: Float64Array, tolerance = 1e-6): number {
  const [r, z, ap] = [new Float64Array(x.length), new Float64Array(x.length), new Float64Array(x.length)];
  times(m, x, r);
  for (let i = 0; i < r.length; i++) r[i] = b[i] - r[i];
  const bound = tolerance * Math.sqrt(dot(b, b));
  if (Math.sqrt(dot(r, r)) <= bound) return 0;
  sweep(m, r, z);
  const p = z.slice();
  let rz = dot(r, z);
  for (let round = 1; round <= MOST_ROUNDS; round++) {
    times(m, p, ap);
    const alpha = rz / dot(p, ap);
    for (let i = 0; i < x.length; i++) {
      x[i] += alpha * p[i];
      r[i] -= alpha * ap[i];
    }
    if (Math.sqrt(dot(r, r)) <= bound) return round;
    sweep(m, r, z);
    const next = dot(r, z);
    const beta = next / rz;
    rz = next;
    for (let i = 0; i < p.length; i++) p[i] = z[i] + beta * p[i];
  }
  return MOST_ROUNDS;
}
