/**
 * Nearest point of a surface, many times over: a tree of boxes in flat arrays, asked with the last answer as first guess. Half a
 * million questions are asked per candidate of the solver, of samples in the order of their triangles: a general tree that
 * allocates per question takes five times as long here.
 */
export interface Nearest {
  distance: number;
  triangle: number;
  /** Corners of the triangle, and the point's weights on them. */
  corners: [number, number, number];
  weights: [number, number, number];
}

export const nearest = (): Nearest => ({ distance: 0, triangle: 0, corners: [0, 0, 0], weights: [0, 0, 0] });

const LEAF = 4;

export class NearestTree {
  /** Minimum and maximum of each box, six numbers. */
  private readonly boxes: Float32Array;
  /** Of an inner node its second child (the first follows it); of a leaf −1 − its first triangle. */
  private readonly next: Int32Array;
  private readonly counts: Uint8Array;
  private readonly order: Uint32Array;
  private readonly stack = new Int32Array(128);
  private nodes = 0;
  private last = 0;
  // weights of the nearest point on the last triangle asked
  private u = 0;
  private v = 0;
  private w = 0;

  constructor(
    private positions: Float32Array,
    private readonly triangles: Uint32Array,
  ) {
    const all = triangles.length / 3;
    const whole: number[] = [];
    for (let t = 0; t < all; t++) if (this.isFinite(t)) whole.push(t);
    this.order = Uint32Array.from(whole);
    const n = whole.length;
    this.last = whole[0] ?? 0;
    const most = Math.max(1, 2 * Math.ceil(n / Math.ceil(LEAF / 2)) + 1);
    this.boxes = new Float32Array(most * 6);
    this.next = new Int32Array(most);
    this.counts = new Uint8Array(most);
    const middles = new Float32Array(all * 3);
    for (const t of whole)
      for (let k = 0; k < 3; k++)
        middles[t * 3 + k] =
          positions[triangles[t * 3] * 3 + k] + positions[triangles[t * 3 + 1] * 3 + k] + positions[triangles[t * 3 + 2] * 3 + k];
    if (n > 0) this.build(0, n, middles);
  }

  /** A corner that is no number lies nowhere: such a triangle is left out. */
  private isFinite(t: number): boolean {
    let sum = 0;
    for (let c = 0; c < 3; c++) for (let k = 0; k < 3; k++) sum += this.positions[this.triangles[t * 3 + c] * 3 + k];
    return Number.isFinite(sum);
  }

  private build(from: number, to: number, middles: Float32Array): void {
    const node = this.nodes++;
    if (to - from <= LEAF) {
      this.next[node] = -1 - from;
      this.counts[node] = to - from;
      this.boundLeaf(node);
      return;
    }
    const { order } = this;
    let [lx, ly, lz, hx, hy, hz] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
    for (let i = from; i < to; i++) {
      const t = order[i] * 3;
      const x = middles[t];
      const y = middles[t + 1];
      const z = middles[t + 2];
      if (x < lx) lx = x;
      if (x > hx) hx = x;
      if (y < ly) ly = y;
      if (y > hy) hy = y;
      if (z < lz) lz = z;
      if (z > hz) hz = z;
    }
    const [ex, ey, ez] = [hx - lx, hy - ly, hz - lz];
    const axis = ey > ex ? (ez > ey ? 2 : 1) : ez > ex ? 2 : 0;
    const half = axis === 0 ? (lx + hx) / 2 : axis === 1 ? (ly + hy) / 2 : (lz + hz) / 2;
    let [i, j] = [from, to - 1];
    while (i <= j) {
      if (middles[order[i] * 3 + axis] < half) i++;
      else {
        const swap = order[i];
        order[i] = order[j];
        order[j--] = swap;
      }
    }
    // all in one place, or so lopsided that the tree would get deep
    const mid = i - from < (to - from) / 16 || to - i < (to - from) / 16 ? this.median(from, to, axis, middles) : i;
    this.build(from, mid, middles);
    this.next[node] = this.nodes;
    this.build(mid, to, middles);
    this.boundInner(node);
  }

  private boundLeaf(node: number): void {
    const { boxes, order, positions: p, triangles } = this;
    const b = node * 6;
    const from = -1 - this.next[node];
    for (let k = 0; k < 3; k++) {
      let low = Infinity;
      let high = -Infinity;
      for (let i = from; i < from + this.counts[node]; i++)
        for (let c = order[i] * 3; c < order[i] * 3 + 3; c++) {
          const x = p[triangles[c] * 3 + k];
          if (x < low) low = x;
          if (x > high) high = x;
        }
      boxes[b + k] = low;
      boxes[b + 3 + k] = high;
    }
  }

  /** The box round those of both children. */
  private boundInner(node: number): void {
    const { boxes } = this;
    const [b, one, two] = [node * 6, (node + 1) * 6, this.next[node] * 6];
    for (let k = 0; k < 3; k++) {
      boxes[b + k] = Math.min(boxes[one + k], boxes[two + k]);
      boxes[b + 3 + k] = Math.max(boxes[one + 3 + k], boxes[two + 3 + k]);
    }
  }

  /** The same triangles with their vertices elsewhere: the tree stays, its boxes follow. Meant for small moves. */
  move(positions: Float32Array): void {
    this.positions = positions;
    // children stand behind their parent
    for (let n = this.nodes - 1; n >= 0; n--)
      if (this.next[n] < 0) this.boundLeaf(n);
      else this.boundInner(n);
  }

  private median(from: number, to: number, axis: number, middles: Float32Array): number {
    this.order.subarray(from, to).sort((p, q) => middles[p * 3 + axis] - middles[q * 3 + axis] || p - q);
    return (from + to) >> 1;
  }

  private boxDistance(node: number, x: number, y: number, z: number): number {
    const b = node * 6;
    const boxes = this.boxes;
    const dx = x < boxes[b] ? boxes[b] - x : x > boxes[b + 3] ? x - boxes[b + 3] : 0;
    const dy = y < boxes[b + 1] ? boxes[b + 1] - y : y > boxes[b + 4] ? y - boxes[b + 4] : 0;
    const dz = z < boxes[b + 2] ? boxes[b + 2] - z : z > boxes[b + 5] ? z - boxes[b + 5] : 0;
    return dx * dx + dy * dy + dz * dz;
  }

  /** Squared distance to a triangle; its weights are left in u, v, w. (Ericson, Real-Time Collision Detection, 2005, 5.1.5.) */
  private triangleDistance(t: number, x: number, y: number, z: number): number {
    const p = this.positions;
    const a = this.triangles[t * 3] * 3;
    const b = this.triangles[t * 3 + 1] * 3;
    const c = this.triangles[t * 3 + 2] * 3;
    const abx = p[b] - p[a];
    const aby = p[b + 1] - p[a + 1];
    const abz = p[b + 2] - p[a + 2];
    const acx = p[c] - p[a];
    const acy = p[c + 1] - p[a + 1];
    const acz = p[c + 2] - p[a + 2];
    const apx = x - p[a];
    const apy = y - p[a + 1];
    const apz = z - p[a + 2];
    const d1 = abx * apx + aby * apy + abz * apz;
    const d2 = acx * apx + acy * apy + acz * apz;
    let v = 0;
    let w = 0;
    if (d1 > 0 || d2 > 0) {
      const bpx = x - p[b];
      const bpy = y - p[b + 1];
      const bpz = z - p[b + 2];
      const d3 = abx * bpx + aby * bpy + abz * bpz;
      const d4 = acx * bpx + acy * bpy + acz * bpz;
      const cpx = x - p[c];
      const cpy = y - p[c + 1];
      const cpz = z - p[c + 2];
      const d5 = abx * cpx + aby * cpy + abz * cpz;
      const d6 = acx * cpx + acy * cpy + acz * cpz;
      const vc = d1 * d4 - d3 * d2;
      const vb = d5 * d2 - d1 * d6;
      const va = d3 * d6 - d5 * d4;
      if (d3 >= 0 && d4 <= d3) v = 1;
      else if (vc <= 0 && d1 >= 0 && d3 <= 0) v = d1 - d3 > 0 ? d1 / (d1 - d3) : 0;
      else if (d6 >= 0 && d5 <= d6) w = 1;
      else if (vb <= 0 && d2 >= 0 && d6 <= 0) w = d2 - d6 > 0 ? d2 / (d2 - d6) : 0;
      else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
        const s = d4 - d3 + d5 - d6;
        w = s > 0 ? (d4 - d3) / s : 0;
        v = 1 - w;
      } else {
        const s = va + vb + vc;
        v = s !== 0 ? vb / s : 0;
        w = s !== 0 ? vc / s : 0;
      }
    }
    const dx = apx - abx * v - acx * w;
    const dy = apy - aby * v - acy * w;
    const dz = apz - abz * v - acz * w;
    this.u = 1 - v - w;
    this.v = v;
    this.w = w;
    return dx * dx + dy * dy + dz * dz;
  }

  /** No triangle lies anywhere. */
  get isEmpty(): boolean {
    return this.nodes === 0;
  }

  /**
   * The nearest point to a place; infinitely far where there is no triangle.
   * @param guess a triangle that may be it; left out, the one found last
   */
  ask(x: number, y: number, z: number, out: Nearest, guess = this.last): Nearest {
    out.distance = Number.POSITIVE_INFINITY;
    if (this.nodes === 0) return out;
    let found = guess;
    let best = this.triangleDistance(found, x, y, z);
    let u = this.u;
    let v = this.v;
    let w = this.w;
    const { stack, next } = this;
    let depth = 0;
    let node = 0;
    let waiting = this.boxDistance(0, x, y, z) < best;
    while (waiting) {
      const at = next[node];
      if (at < 0) {
        const from = -1 - at;
        for (let i = from; i < from + this.counts[node]; i++) {
          const d = this.triangleDistance(this.order[i], x, y, z);
          if (d < best) {
            best = d;
            found = this.order[i];
            u = this.u;
            v = this.v;
            w = this.w;
          }
        }
      } else {
        const one = this.boxDistance(node + 1, x, y, z);
        const two = this.boxDistance(at, x, y, z);
        const near = one <= two ? node + 1 : at;
        const far = one <= two ? at : node + 1;
        if (Math.max(one, two) < best) stack[depth++] = far;
        if (Math.min(one, two) < best) {
          node = near;
          continue;
        }
      }
      waiting = false;
      while (depth > 0) {
        node = stack[--depth];
        if (this.boxDistance(node, x, y, z) < best) {
          waiting = true;
          break;
        }
      }
    }
    this.last = found;
    out.triangle = found;
    out.distance = Math.sqrt(best);
    out.corners[0] = this.triangles[found * 3];
    out.corners[1] = this.triangles[found * 3 + 1];
    out.corners[2] = this.triangles[found * 3 + 2];
    out.weights[0] = u;
    out.weights[1] = v;
    out.weights[2] = w;
    return out;
  }
}
