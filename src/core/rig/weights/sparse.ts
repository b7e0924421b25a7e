/**
 * Symmetric positive definite systems over a surface's vertices: conjugate gradients, preconditioned by cycles over coarser systems whose
 * unknowns are small groups of vertices, so that rounds hardly grow with the mesh. (Saad, "Iterative Methods for Sparse Linear Systems",
 * 2nd ed., 2003, sections 4.1, 9.2 and 13.5; groups after Vaněk, Mandel & Brezina, Computing 56, 1996.)
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

/** A system, the groups of its vertices, and the system of those groups. */
interface Level {
  m: Sparse;
  /** Group of each vertex; null at the coarsest. */
  group: Uint32Array | null;
  z: Float64Array;
  r: Float64Array;
  /** Of the level: b, and what a second cycle adds. */
  b: Float64Array;
  more: Float64Array;
}
/** So few unknowns are solved by sweeps alone. */
const COARSEST = 60;
const LAST_SWEEPS = 12;

/** A system ready to be solved for many sides. */
export function prepared(m: Sparse): Level[] {
  const levels: Level[] = [];
  for (let at = m; ; ) {
    const n = at.diagonal.length;
    const group = n > COARSEST ? groupsOf(at) : null;
    const level = { m: at, group, z: new Float64Array(n), r: new Float64Array(n), b: new Float64Array(n), more: new Float64Array(n) };
    levels.push(level);
    if (!group) return levels;
    const next = groupedSystem(at, group);
    if (next.diagonal.length > n * 0.8) {
      level.group = null;
      return levels;
    }
    at = next;
  }
}

/** Vertices and their neighbours while all of these are free; who is left joins the group it is most bound to. */
function groupsOf({ start, to, values }: Sparse): Uint32Array {
  const n = start.length - 1;
  const group = new Int32Array(n).fill(-1);
  let count = 0;
  for (let v = 0; v < n; v++) {
    if (group[v] >= 0) continue;
    let free = true;
    for (let e = start[v]; e < start[v + 1] && free; e++) free = group[to[e]] < 0;
    if (!free) continue;
    group[v] = count;
    for (let e = start[v]; e < start[v + 1]; e++) if (values[e] !== 0) group[to[e]] = count;
    count++;
  }
  const seeds = group.slice();
  for (let v = 0; v < n; v++) {
    if (group[v] >= 0) continue;
    let [best, bound] = [-1, 0];
    for (let e = start[v]; e < start[v + 1]; e++) if (seeds[to[e]] >= 0 && -values[e] > bound) [best, bound] = [seeds[to[e]], -values[e]];
    group[v] = best >= 0 ? best : count++;
  }
  return Uint32Array.from(group);
}

function groupedSystem({ diagonal, start, to, values }: Sparse, group: Uint32Array): Sparse {
  const n = group.reduce((m, g) => Math.max(m, g + 1), 0);
  const rows = Array.from({ length: n }, () => new Map<number, number>());
  const out = new Float64Array(n);
  for (let v = 0; v < group.length; v++) {
    const g = group[v];
    out[g] += diagonal[v];
    for (let e = start[v]; e < start[v + 1]; e++) {
      const h = group[to[e]];
      if (h === g) out[g] += values[e];
      else if (values[e] !== 0) rows[g].set(h, (rows[g].get(h) ?? 0) + values[e]);
    }
  }
  const starts = new Uint32Array(n + 1);
  rows.forEach((r, g) => {
    starts[g + 1] = starts[g] + r.size;
  });
  return {
    diagonal: out,
    start: starts,
    to: Uint32Array.from(rows.flatMap((r) => [...r.keys()])),
    values: Float64Array.from(rows.flatMap((r) => [...r.values()])),
  };
}

/** One sweep over z, forth or back. */
function sweep({ diagonal, start, to, values }: Sparse, r: Float64Array, z: Float64Array, forth: boolean): void {
  const n = z.length;
  for (let i = 0; i < n; i++) {
    const v = forth ? i : n - 1 - i;
    let sum = r[v];
    for (let e = start[v]; e < start[v + 1]; e++) sum -= values[e] * z[to[e]];
    z[v] = sum / diagonal[v];
  }
}

/** z ≈ M⁻¹ b of a level, symmetric: a sweep forth, two cycles of the groups, a sweep back. */
function cycle(levels: readonly Level[], at: number): void {
  const { m, group, z, r, b } = levels[at];
  z.fill(0);
  if (!group) {
    for (let k = 0; k < LAST_SWEEPS; k++) {
      sweep(m, b, z, true);
      sweep(m, b, z, false);
    }
    return;
  }
  sweep(m, b, z, true);
  const below = levels[at + 1];
  times(m, z, r);
  below.b.fill(0);
  for (let v = 0; v < z.length; v++) below.b[group[v]] += b[v] - r[v];
  cycle(levels, at + 1);
  // once more upon what is left: groups by themselves are too stiff
  const first = below.z.slice();
  times(below.m, first, below.more);
  for (let g = 0; g < first.length; g++) below.b[g] -= below.more[g];
  cycle(levels, at + 1);
  for (let v = 0; v < z.length; v++) z[v] += first[group[v]] + below.z[group[v]];
  sweep(m, b, z, false);
}

const dot = (a: Float64Array, b: Float64Array) => {
  let s = 0;
  for (let i = 0; i < a.length; i++) s += a[i] * b[i];
  return s;
};

/**
 * Solves m x = b, m prepared, to a residual of `tolerance` times b's own.
 * @param x where to begin; the solution stands in it afterwards
 * @returns rounds it took
 */
export function solve(levels: readonly Level[], b: Float64Array, x: Float64Array, tolerance = 1e-6): number {
  const { m, z, b: side } = levels[0];
  const [r, ap] = [new Float64Array(x.length), new Float64Array(x.length)];
  const precondition = () => {
    side.set(r);
    cycle(levels, 0);
  };
  times(m, x, r);
  for (let i = 0; i < r.length; i++) r[i] = b[i] - r[i];
  const bound = tolerance * Math.sqrt(dot(b, b));
  if (Math.sqrt(dot(r, r)) <= bound) return 0;
  precondition();
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
    precondition();
    const next = dot(r, z);
    const beta = next / rz;
    rz = next;
    for (let i = 0; i < p.length; i++) p[i] = z[i] + beta * p[i];
  }
  return MOST_ROUNDS;
}
