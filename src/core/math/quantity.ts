/** Typed quantities: numbers with or without a unit, and sums of them. `14.2cm`, `5 1/2 in`, `142/2`, `90deg`. */

export type Dimension = 'length' | 'angle' | 'factor' | 'share' | 'stops' | 'time' | 'count';
export type QuantityResult = { ok: true; value: number } | { ok: false; message: string };

/** Units → SI (metre, radian, plain). International inch and foot are exact (NIST SP 811, from memory). */
const UNITS: Readonly<Record<Dimension, Readonly<Record<string, number>>>> = {
  length: { mm: 0.001, cm: 0.01, dm: 0.1, m: 1, in: 0.0254, inch: 0.0254, '"': 0.0254, ft: 0.3048 },
  angle: { '°': Math.PI / 180, deg: Math.PI / 180, rad: 1, turn: 2 * Math.PI },
  factor: { '×': 1, x: 1, '%': 0.01 },
  share: { '%': 0.01 },
  stops: { EV: 1 },
  time: { ms: 0.001, s: 1, min: 60 },
  // plain numbers of whatever the field names: pixels, bits, percent
  count: { '': 1, px: 1, bits: 1, '%': 1, mm: 1, m: 1, '°': 1, s: 1 },
};

type Token = { kind: 'number'; value: number } | { kind: 'unit'; scale: number } | { kind: 'op'; op: string };

function tokenize(text: string, dimension: Dimension): Token[] | string {
  const units = UNITS[dimension];
  const tokens: Token[] = [];
  let rest = text
    .replaceAll('−', '-')
    // a comma is how half of the world writes a point
    .replace(/(\d),(?=\d)/g, '$1.')
    .replace(/[\u00a0\u2009]/g, ' ')
    .trim();
  while (rest.length > 0) {
    const number = /^(\d+\.?\d*|\.\d+)(e[+-]?\d+)?/i.exec(rest);
    const word = /^(["°×%]|[a-zµ]+)/i.exec(rest);
    if (number) {
      tokens.push({ kind: 'number', value: Number(number[0]) });
      rest = rest.slice(number[0].length);
    } else if ('+-*/()'.includes(rest[0])) {
      tokens.push({ kind: 'op', op: rest[0] });
      rest = rest.slice(1);
    } else if (word) {
      const scale = units[word[0].toLowerCase()];
      if (scale === undefined) return `“${word[0]}” is not a unit here; use ${Object.keys(units).join(', ')}.`;
      tokens.push({ kind: 'unit', scale });
      rest = rest.slice(word[0].length);
    } else return `“${rest[0]}” cannot be read here.`;
    rest = rest.trimStart();
  }
  return tokens;
}

/** A value and whether it already carries a unit (null: a plain number so far). */
interface Value {
  n: number;
  unit: boolean;
}

class Parser {
  private at = 0;
  constructor(
    private readonly tokens: Token[],
    private readonly defaultScale: number,
  ) {}

  sum(): Value {
    let left = this.product();
    for (let op = this.takeOp('+-'); op; op = this.takeOp('+-')) {
      const right = this.product();
      // a plain number beside one with a unit takes the field's unit
      const a = this.inUnits(left, right.unit);
      const b = this.inUnits(right, left.unit);
      left = { n: op === '+' ? a + b : a - b, unit: left.unit || right.unit };
    }
    return left;
  }

  end(): boolean {
    return this.at === this.tokens.length;
  }

  private inUnits(v: Value, wanted: boolean): number {
    return wanted && !v.unit ? v.n * this.defaultScale : v.n;
  }

  private product(): Value {
    let left = this.factor();
    for (let op = this.takeOp('*/'); op; op = this.takeOp('*/')) {
      const right = this.factor();
      if (op === '/') {
        if (right.n === 0) throw new Error('Nothing can be divided by 0.');
        left = { n: left.n / right.n, unit: left.unit !== right.unit };
      } else left = { n: left.n * right.n, unit: left.unit || right.unit };
    }
    return left;
  }

  private factor(): Value {
    const sign = this.takeOp('+-');
    if (sign) {
      const v = this.factor();
      return sign === '-' ? { n: -v.n, unit: v.unit } : v;
    }
    if (this.takeOp('(')) {
      const v = this.sum();
      if (!this.takeOp(')')) throw new Error('A bracket is not closed.');
      return this.withUnit(v);
    }
    const t = this.tokens[this.at];
    if (t?.kind !== 'number') throw new Error(t ? 'A number is missing.' : 'The sum stops half way.');
    this.at++;
    return this.withUnit({ n: this.mixedFraction(t.value), unit: false });
  }

  /** `5 1/2`: a whole number followed at once by a fraction; `3/4 in`: a fraction that a unit belongs to as a whole. */
  private mixedFraction(whole: number): number {
    const [slash, below, unit] = this.tokens.slice(this.at, this.at + 3);
    if (slash?.kind === 'op' && slash.op === '/' && below?.kind === 'number' && below.value !== 0 && unit?.kind === 'unit') {
      this.at += 2;
      return whole / below.value;
    }
    const [a, op, b] = this.tokens.slice(this.at, this.at + 3);
    if (a?.kind !== 'number' || op?.kind !== 'op' || op.op !== '/' || b?.kind !== 'number' || !Number.isInteger(whole) || b.value === 0)
      return whole;
    this.at += 3;
    return whole + a.value / b.value;
  }

  private withUnit(v: Value): Value {
    const t = this.tokens[this.at];
    if (t?.kind !== 'unit') return v;
    if (v.unit) throw new Error('There are two units in a row.');
    this.at++;
    return { n: v.n * t.scale, unit: true };
  }

  private takeOp(ops: string): string | null {
    const t = this.tokens[this.at];
    if (t?.kind !== 'op' || !ops.includes(t.op)) return null;
    this.at++;
    return t.op;
  }
}

/**
 * Reads a typed quantity into metres, radians, a factor, a share 0..1, or the number itself.
 * A leading `+` adds to `present`; a leading minus is a negative value. A plain number counts in `unit`.
 */
export function parseQuantity(text: string, dimension: Dimension, unit: string, present = 0): QuantityResult {
  const scale = UNITS[dimension][unit];
  if (scale === undefined) throw new RangeError(`parseQuantity: ${unit} is no unit of ${dimension}.`);
  const tokens = tokenize(text, dimension);
  if (typeof tokens === 'string') return { ok: false, message: tokens };
  if (tokens.length === 0) return { ok: false, message: 'Type a number.' };
  try {
    const parser = new Parser(tokens, scale);
    const v = parser.sum();
    if (!parser.end()) return { ok: false, message: 'There is a number or a sign too many.' };
    const value = (v.unit ? v.n : v.n * scale) + (text.trimStart().startsWith('+') ? present : 0);
    return Number.isFinite(value) ? { ok: true, value } : { ok: false, message: 'The result is not a finite number.' };
  } catch (error) {
    return { ok: false, message: (error as Error).message };
  }
}

/** SI → the number shown in a field, with a true minus sign and a fixed count of decimals. */
export function showQuantity(value: number, dimension: Dimension, unit: string, decimals: number): string {
  const shown = (value / UNITS[dimension][unit]).toFixed(decimals);
  return /^-0(\.0*)?$/.test(shown) ? shown.slice(1) : shown.replace('-', '−');
}

/** Bytes as megabytes of 1 000 000: one decimal, two below 0.1 MB, three below 0.01 MB. */
export function showMegabytes(bytes: number): string {
  const mb = bytes / 1e6;
  return mb.toFixed(bytes === 0 || mb >= 0.095 ? 1 : mb >= 0.0095 ? 2 : 3);
}

/** Whole numbers with a thin space between thousands. */
export function showCount(n: number): string {
  return String(n).replace(/\B(?=(\d{3})+(?!\d))/g, '\u2009');
}

/** Seeded random numbers in [0, 1): mulberry32 (public domain, from memory). The same seed gives the same row. */
export function seededRandom(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const SIZES: Record<string, number> = { '': 1, b: 1, kb: 1e3, mb: 1e6, gb: 1e9, kib: 1024, mib: 1024 ** 2, gib: 1024 ** 3 };

/** Bytes as one reads them: kB under a tenth of a megabyte, GB from one on. */
export const showBytes = (bytes: number): string =>
  Math.abs(bytes) >= 1e9
    ? `${(bytes / 1e9).toFixed(1)} GB`
    : Math.abs(bytes) < 1000
      ? `${bytes} bytes`
      : Math.abs(bytes) < 100_000
        ? `${(bytes / 1000).toFixed(1)} kB`
        : `${showMegabytes(bytes)} MB`;
/** Where savings are compared: whole kilobytes up to a megabyte, then hundredths. */
export const showBytesFinely = (bytes: number): string => {
  const size = Math.abs(bytes);
  if (size < 100_000) return showBytes(bytes);
  return size < 999_500 ? `${Math.round(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(2)} MB`;
};

/** Bytes of a typed size: `800000`, `1MB`, `1.5 MiB`; null where it is none. 1 MB = 1 000 000 bytes. */
export function parseBytes(text: string): number | null {
  const m = /^\s*(\d+(?:\.\d+)?)\s*([a-z]*)\s*$/i.exec(text);
  const unit = m ? SIZES[m[2].toLowerCase()] : undefined;
  const bytes = m && unit !== undefined ? Math.floor(Number(m[1]) * unit) : Number.NaN;
  return Number.isSafeInteger(bytes) ? bytes : null;
}
