/** Points of a surface, asked for sums over regions of their box in each of the 24 turns by quarters. */
import type { SurfaceSample } from './sample';

/** A turn by quarters as a signed permutation: axis `from[i]` with `sign[i]` becomes axis i. */
export interface QuarterTurn {
  from: readonly [number, number, number];
  sign: readonly [number, number, number];
  yawDeg: number;
  pitchDeg: number;
  rollDeg: number;
}

/** 0 to the side, 1 up, 2 fore. */
export type Axis = 0 | 1 | 2;
type Open = readonly [over: number, under: number];
/** A part of the turned box, −1 to 1 an axis, its bounds left out; of glass alone where that is said. */
export interface Region {
  side?: Open;
  up?: Open;
  fore?: Open;
  glass?: true;
}

/** Points of a region, and sums that several turns ask for. */
class Members {
  private readonly means: (number | undefined)[] = [];
  private readonly spreads: (number | undefined)[] = [];
  constructor(
    private readonly column: (axis: number) => Float32Array,
    private readonly points: Uint16Array,
  ) {}
  get count(): number {
    return this.points.length;
  }
  /** Mean along an axis of the cloud's own; 0 where there is no point. */
  mean(axis: number): number {
    const known = this.means[axis];
    if (known !== undefined) return known;
    const x = this.column(axis);
    let sum = 0;
    for (const i of this.points) sum += x[i];
    const mean = this.count > 0 ? sum / this.count : 0;
    this.means[axis] = mean;
    return mean;
  }
  spread(axis: number): number {
    const known = this.spreads[axis];
    if (known !== undefined) return known;
    const x = this.column(axis);
    const mean = this.mean(axis);
    let sum = 0;
    for (const i of this.points) sum += (x[i] - mean) ** 2;
    const spread = Math.sqrt(this.count > 0 ? sum / this.count : 0);
    this.spreads[axis] = spread;
    return spread;
  }
}

/** Most points a cloud may have: they are told by 16 bits. */
const MOST = 65_536;

export class Cloud {
  readonly count: number;
  readonly anyGlass: boolean;
  /** Half the box, metres, never 0. */
  readonly half: readonly [number, number, number];
  private readonly columns: readonly Float32Array[];
  private readonly glass: Uint8Array;
  private readonly known = new Map<string, Members>();
  private readonly covers = new Map<number, number>();

  constructor({ count, points, glass }: SurfaceSample) {
    if (count > MOST) throw new Error(`A cloud has at most ${MOST} points, not ${count}.`);
    this.count = count;
    this.glass = glass;
    this.anyGlass = glass.includes(1);
    const box = [0, 1, 2].map((k) => {
      let [lo, hi] = [Infinity, -Infinity];
      for (let i = k; i < count * 3; i += 3) {
        lo = Math.min(lo, points[i]);
        hi = Math.max(hi, points[i]);
      }
      return { lo, hi };
    });
    const widest = Math.max(...box.map(({ lo, hi }) => hi - lo));
    this.half = box.map(({ lo, hi }) => Math.max((hi - lo) / 2, widest * 1e-4, 1e-12)) as [number, number, number];
    this.columns = box.map(({ lo, hi }, k) =>
      Float32Array.from({ length: count }, (_, i) => (points[i * 3 + k] - (lo + hi) / 2) / this.half[k]),
    );
  }

  /** Points strictly within bounds along the cloud's own axes. */
  members(bounds: readonly (Open | undefined)[], glassOnly: boolean): Members {
    const key = `${bounds.map((b) => b ?? '').join(';')}${glassOnly}`;
    const known = this.known.get(key);
    if (known) return known;
    const points = new Uint16Array(this.count);
    let n = 0;
    const given = bounds.flatMap((b, k) => (b ? [{ x: this.columns[k], over: b[0], under: b[1] }] : []));
    for (let i = 0; i < this.count; i++) {
      let inside = !glassOnly || this.glass[i] === 1;
      for (const { x, over, under } of given) inside &&= x[i] > over && x[i] < under;
      if (inside) points[n++] = i;
    }
    const found = new Members((axis) => this.columns[axis], points.subarray(0, n));
    this.known.set(key, found);
    return found;
  }

  /** Share of the directions around one way along an axis, seen from the box's middle, in which there is surface. */
  cover(axis: number, sign: number): number {
    const key = sign * (axis + 1);
    const known = this.covers.get(key);
    if (known !== undefined) return known;
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    const seen = new Set<number>();
    for (let i = 0; i < this.count; i++) {
      const d = sign * this.columns[axis][i] * this.half[axis];
      const [a, b] = [this.columns[u][i] * this.half[u], this.columns[v][i] * this.half[v]];
      if (d <= 0 || Math.sqrt(a * a + b * b) > 0.6 * d) continue;
      seen.add(Math.floor((a / d + 0.6) / 0.3) * 4 + Math.floor((b / d + 0.6) / 0.3));
    }
    this.covers.set(key, seen.size / 12);
    return seen.size / 12;
  }

  private skewed: [number, number, number] | undefined;
  /** How unlike its mirror image it is across each axis, 0 alike .. 1 nothing in common. */
  get skew(): readonly [number, number, number] {
    this.skewed ??= asymmetry(this.columns);
    return this.skewed;
  }
}

const GRID = 9;

function asymmetry(columns: readonly Float32Array[]): [number, number, number] {
  const cells = new Float32Array(GRID ** 3);
  const cell = (x: number) => Math.min(GRID - 1, Math.max(0, Math.floor((x + 1) * 0.5 * GRID)));
  const n = columns[0].length;
  for (let i = 0; i < n; i++) cells[(cell(columns[0][i]) * GRID + cell(columns[1][i])) * GRID + cell(columns[2][i])] += 1 / n;
  const out: [number, number, number] = [0, 0, 0];
  const flip = (i: number) => GRID - 1 - i;
  for (let a = 0; a < GRID; a++)
    for (let b = 0; b < GRID; b++)
      for (let c = 0; c < GRID; c++) {
        const here = cells[(a * GRID + b) * GRID + c];
        out[0] += Math.abs(here - cells[(flip(a) * GRID + b) * GRID + c]) / 2;
        out[1] += Math.abs(here - cells[(a * GRID + flip(b)) * GRID + c]) / 2;
        out[2] += Math.abs(here - cells[(a * GRID + b) * GRID + flip(c)]) / 2;
      }
  return out;
}

/** The cloud as one of the turns shows it. */
export class Turned {
  constructor(
    private readonly cloud: Cloud,
    private readonly turn: QuarterTurn,
  ) {}
  get anyGlass(): boolean {
    return this.cloud.anyGlass;
  }
  /** Half the turned box, metres. */
  size(k: Axis): number {
    return this.cloud.half[this.turn.from[k]];
  }
  private members({ side, up, fore, glass }: Region): Members {
    const bounds: (Open | undefined)[] = [undefined, undefined, undefined];
    [side, up, fore].forEach((b, k) => {
      if (b) bounds[this.turn.from[k]] = this.turn.sign[k] > 0 ? b : [-b[1], -b[0]];
    });
    return this.cloud.members(bounds, glass === true);
  }
  /** Mean place along an axis, −1 to 1, of the points of a region; 0 where there is none. */
  mean(k: Axis, region: Region = {}): number {
    return this.turn.sign[k] * this.members(region).mean(this.turn.from[k]);
  }
  /** Standard deviation along an axis, in halves of the box. */
  spread(k: Axis, region: Region): number {
    return this.members(region).spread(this.turn.from[k]);
  }
  /** Share of all points. */
  share(region: Region): number {
    return this.cloud.count > 0 ? this.members(region).count / this.cloud.count : 0;
  }
  /** Share of the directions around one way along an axis in which there is surface. */
  cover(k: Axis, sign: 1 | -1): number {
    return this.cloud.cover(this.turn.from[k], sign * this.turn.sign[k]);
  }
}
