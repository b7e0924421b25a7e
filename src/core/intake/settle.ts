/** Files put into the words their reader knows: comments of OFF, numbers of PLY. What a header promises is held against what follows. */
import { holdsNothing, IntakeError } from './errors';

const text = new TextEncoder();

/** Text without its comments, and how many triangles its faces are, each cut into a fan. */
export interface SettledOff {
  bytes: Uint8Array;
  /** null: its lines cannot be told apart. */
  triangles: number | null;
}

/**
 * OFF as its reader takes it: comments (from # to the end of a line) and empty lines go, on which faces would be lost.
 * (Geomview's OFF format: key word, counts of vertices, faces and edges, then a line each.)
 * @throws {IntakeError} fewer lines than the header says; none
 */
export function settleOff(bytes: Uint8Array): SettledOff {
  const source = new TextDecoder('latin1').decode(bytes);
  const first = source.slice(0, 80).split(/\r?\n|\r/)[0];
  if (/\bBINARY\b/.test(first)) return { bytes, triangles: null };
  const lines: string[] = [];
  for (const raw of source.split(/\r\n|\n|\r/)) {
    const hash = raw.indexOf('#');
    const line = (hash < 0 ? raw : raw.slice(0, hash)).trim();
    if (line) lines.push(line);
  }
  const out = { bytes: text.encode(`${lines.join('\n')}\n`), triangles: null };
  const [word, ...rest] = (lines[0] ?? '').split(/\s+/);
  const own = rest.length >= 2;
  const [vertices, faces] = (own ? rest : (lines[1] ?? 'none').split(/\s+/)).map(Number);
  if (/OFF$/.test(word) && vertices === 0) throw holdsNothing('off', 'OFF');
  // counts that are none, 4 dimensions, or all on one line: left to the reader
  if (!/OFF$/.test(word) || !Number.isInteger(vertices) || !Number.isInteger(faces) || lines.length < 3) return out;
  const from = own ? 1 : 2;
  const numbers = (lines[from] ?? '').split(/\s+/).length;
  if (numbers > 12) return out;
  if (lines.length - from < vertices + faces)
    throw new IntakeError(
      'off/truncated',
      `The OFF says it has ${vertices} vertices and ${faces} faces, but only ${lines.length - from} lines of them. Export or copy it again.`,
    );
  let triangles = 0;
  for (let i = 0; i < faces; i++) triangles += Math.max(0, Number.parseInt(lines[from + vertices + i], 10) - 2);
  return { ...out, triangles: Number.isFinite(triangles) ? triangles : null };
}

const SIZES: Record<string, number> = {
  char: 1,
  uchar: 1,
  int8: 1,
  uint8: 1,
  short: 2,
  ushort: 2,
  int16: 2,
  uint16: 2,
  int: 4,
  uint: 4,
  int32: 4,
  uint32: 4,
  float: 4,
  float32: 4,
  double: 8,
  float64: 8,
};
const isDouble = (type: string) => SIZES[type] === 8;

/**
 * A binary PLY whose vertices are doubles, with floats in their place: their reader takes eight bytes for four where no faces follow.
 * Anything else comes back as it is. (Turk, The PLY Polygon File Format, 1994.)
 */
export function settlePly(bytes: Uint8Array): Uint8Array {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 100_000));
  const end = head.match(/end_header\r?\n/);
  const binary = head.match(/^format\s+binary_(little|big)_endian/m);
  if (!end || !binary) return bytes;
  const length = (end.index ?? 0) + end[0].length;
  const lines = head.slice(0, length).split(/\r?\n/);
  const at = lines.findIndex((l) => /^element\s/.test(l));
  const vertex = lines[at]?.match(/^element\s+vertex\s+(\d+)/);
  // what comes before the vertices would have to be walked through
  if (!vertex) return bytes;
  const types: string[] = [];
  for (let i = at + 1; /^(property|comment|obj_info)\b/.test(lines[i] ?? ''); i++) {
    const property = lines[i].match(/^property\s+(\S+)\s+\S+/);
    if (!property) continue;
    if (!(property[1] in SIZES)) return bytes;
    types.push(property[1]);
  }
  const count = Number(vertex[1]);
  const [was, is] = [types.reduce((s, t) => s + SIZES[t], 0), types.reduce((s, t) => s + (isDouble(t) ? 4 : SIZES[t]), 0)];
  if (length + count * was > bytes.length)
    throw new IntakeError(
      'ply/truncated',
      `The PLY says it has ${count} vertices of ${was} bytes, but only ${bytes.length - length} bytes. Export or copy it again.`,
    );
  if (!types.some(isDouble)) return bytes;
  const little = binary[1] === 'little';
  let properties = false;
  const header = text.encode(
    lines
      .map((l, i) => {
        if (/^element\s/.test(l)) properties = i === at;
        return properties ? l.replace(/^(property\s+)(double|float64)\b/, '$1float') : l;
      })
      .join('\n'),
  );
  const out = new Uint8Array(header.length + count * is + (bytes.length - length - count * was));
  out.set(header);
  const [from, to] = [
    new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength),
    new DataView(out.buffer, out.byteOffset, out.byteLength),
  ];
  let [a, b] = [length, header.length];
  for (let v = 0; v < count; v++)
    for (const t of types) {
      const size = SIZES[t];
      if (isDouble(t)) to.setFloat32(b, from.getFloat64(a, little), little);
      else for (let k = 0; k < size; k++) out[b + k] = bytes[a + k];
      a += size;
      b += isDouble(t) ? 4 : size;
    }
  out.set(bytes.subarray(a), b);
  return out;
}
