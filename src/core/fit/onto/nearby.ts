/** How far places are from a cloud of points, told by a grid of its own: roughly, and thousands of times as fast as by a search. */

/** Nodes along an edge of the grid. */
const NODES = 80;

export class Nearby {
  private readonly spacing: number;
  private readonly start: number;
  private readonly far: number;
  /** Distances of the nodes. */
  private readonly grid: Float32Array;

  /** @param points three numbers each, about 0 */
  constructor(points: Float32Array) {
    let reach = 0;
    for (const x of points) reach = Math.max(reach, Math.abs(x));
    reach *= 1.1;
    this.spacing = (2 * reach) / (NODES - 1);
    this.start = -reach;
    this.far = reach;
    this.grid = new Float32Array(NODES ** 3).fill(NODES * NODES * 3);
    for (let i = 0; i < points.length; i += 3) this.grid[this.key(points[i], points[i + 1], points[i + 2])] = 0;
    this.spread();
  }

  private cell(x: number): number {
    return Math.min(NODES - 1, Math.max(0, Math.round((x - this.start) / this.spacing)));
  }
  private key(x: number, y: number, z: number): number {
    return (this.cell(x) * NODES + this.cell(y)) * NODES + this.cell(z);
  }

  /** Squares of distances from node to node, exact, axis by axis (Felzenszwalb & Huttenlocher 2012). */
  private spread(): void {
    const { grid } = this;
    const row = new Float64Array(NODES);
    const at = new Int32Array(NODES);
    const from = new Float64Array(NODES + 1);
    for (const step of [1, NODES, NODES * NODES])
      for (let a = 0; a < NODES; a++)
        for (let b = 0; b < NODES; b++) {
          const first = step === 1 ? (a * NODES + b) * NODES : step === NODES ? a * NODES * NODES + b : a * NODES + b;
          for (let i = 0; i < NODES; i++) row[i] = grid[first + i * step];
          let k = 0;
          at[0] = 0;
          from[0] = -Infinity;
          from[1] = Infinity;
          for (let q = 1; q < NODES; q++) {
            let s = 0;
            for (;;) {
              const p = at[k];
              s = (row[q] + q * q - row[p] - p * p) / (2 * q - 2 * p);
              if (s > from[k]) break;
              k--;
            }
            at[++k] = q;
            from[k] = s;
            from[k + 1] = Infinity;
          }
          k = 0;
          for (let q = 0; q < NODES; q++) {
            while (from[k + 1] < q) k++;
            grid[first + q * step] = (q - at[k]) ** 2 + row[at[k]];
          }
        }
    for (let i = 0; i < grid.length; i++) grid[i] = Math.sqrt(grid[i]) * this.spacing;
  }

  /** To about the spacing of the grid. */
  away(x: number, y: number, z: number): number {
    if (Math.abs(x) > this.far || Math.abs(y) > this.far || Math.abs(z) > this.far) return this.far;
    return this.grid[this.key(x, y, z)];
  }
}
