/**
 * Where a body hides nothing: a level a vertex, painted or worked out, kept as text. Vertices are the same for bodies of all measures, so what
 * was painted on one holds on each.
 */
import type { DrawnBody } from './body';

/** The highest level: nothing of the body hides there. From half of it on a place is bare. */
export const BARE = 15;
/** The greatest length of a mask as text. */
export const BARE_TEXT = 24_000;

/** Runs of one level as LEB128 of run × 16 + level, in base64. @param levels 0 … 15, one a vertex */
export function packBare(levels: Uint8Array): string {
  let bytes = '';
  for (let i = 0; i < levels.length; ) {
    let run = 1;
    while (i + run < levels.length && levels[i + run] === levels[i]) run++;
    for (let rest = run * 16 + levels[i]; ; rest >>>= 7) {
      bytes += String.fromCharCode((rest & 127) | (rest > 127 ? 128 : 0));
      if (rest <= 127) break;
    }
    i += run;
  }
  return btoa(bytes);
}

/** Levels of a mask. @returns null: it is none of so many vertices */
export function unpackBare(text: string, vertices: number): Uint8Array | null {
  const out = new Uint8Array(vertices);
  let bytes: string;
  try {
    bytes = atob(text);
  } catch {
    return null;
  }
  let [at, value, shift] = [0, 0, 0];
  for (let i = 0; i < bytes.length; i++) {
    const b = bytes.charCodeAt(i);
    value += (b & 127) * 2 ** shift;
    shift += 7;
    if (shift > 35) return null;
    if (b > 127) continue;
    const run = Math.floor(value / 16);
    if (run === 0 || at + run > vertices) return null;
    out.fill(value % 16, at, at + run);
    at += run;
    value = 0;
    shift = 0;
  }
  return at === vertices && shift === 0 ? out : null;
}

/** Of several masks the barest at each place; null: none of them is of this body. */
export function barest(masks: readonly string[], vertices: number): Uint8Array | null {
  let all: Uint8Array | null = null;
  for (const text of masks) {
    const one = unpackBare(text, vertices);
    if (!one) continue;
    if (!all) all = one;
    else for (let v = 0; v < vertices; v++) all[v] = Math.max(all[v], one[v]);
  }
  return all;
}

const isBare = (indices: Uint32Array, levels: Uint8Array, t: number) =>
  levels[indices[t]] + levels[indices[t + 1]] + levels[indices[t + 2]] > 1.5 * BARE;

/** Triangles that hide still, as near as whole triangles say it. */
export function hidingTriangles(indices: Uint32Array, levels: Uint8Array): Uint32Array {
  const out: number[] = [];
  for (let t = 0; t < indices.length; t += 3) if (!isBare(indices, levels, t)) out.push(indices[t], indices[t + 1], indices[t + 2]);
  return Uint32Array.from(out);
}

export interface BareBrush {
  radiusM: number;
  /** false: there the body hides again. */
  bares: boolean;
  mirrored: boolean;
}

/** Of the radius: nearer to the middle a brush does all it does. */
const FULL = 0.6;

/**
 * One dab at a place on the body at rest: whole in its middle, less towards its border. What looks away from the surface there, the other side
 * of a hand, is not reached.
 * @param levels changed in place @returns whether any level changed
 */
export function dabBare(
  levels: Uint8Array,
  { positions, normals }: Pick<DrawnBody, 'positions' | 'normals'>,
  at: readonly [number, number, number],
  brush: BareBrush,
): boolean {
  const one = dabOn(levels, positions, normals, at, brush);
  return brush.mirrored ? dabOn(levels, positions, normals, [-at[0], at[1], at[2]], brush) || one : one;
}

function dabOn(
  levels: Uint8Array,
  p: Float32Array,
  n: Float32Array,
  at: readonly [number, number, number],
  { radiusM, bares }: BareBrush,
): boolean {
  const away = (v: number) => Math.hypot(p[v * 3] - at[0], p[v * 3 + 1] - at[1], p[v * 3 + 2] - at[2]);
  let near = 0;
  for (let v = 1; v < levels.length; v++) if (away(v) < away(near)) near = v;
  let changed = false;
  for (let v = 0; v < levels.length; v++) {
    const far = away(v) / radiusM;
    if (far >= 1) continue;
    if (n[v * 3] * n[near * 3] + n[v * 3 + 1] * n[near * 3 + 1] + n[v * 3 + 2] * n[near * 3 + 2] < 0) continue;
    const share = Math.min(1, (1 - far) / (1 - FULL));
    const to = Math.round(BARE * (bares ? share : 1 - share));
    const level = bares ? Math.max(levels[v], to) : Math.min(levels[v], to);
    if (level !== levels[v]) changed = true;
    levels[v] = level;
  }
  return changed;
}

/** Levels at even steps between two places, so that a fast stroke has no holes. @returns whether any level changed */
export function strokeBare(
  levels: Uint8Array,
  body: Pick<DrawnBody, 'positions' | 'normals'>,
  from: readonly [number, number, number],
  to: readonly [number, number, number],
  brush: BareBrush,
): boolean {
  const way = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]);
  const steps = Math.min(64, Math.max(1, Math.ceil(way / (brush.radiusM / 2))));
  let changed = false;
  for (let i = 1; i <= steps; i++) {
    const t = i / steps;
    const at = [0, 1, 2].map((d) => from[d] + (to[d] - from[d]) * t) as [number, number, number];
    changed = dabBare(levels, body, at, brush) || changed;
  }
  return changed;
}

/** Share of a body's surface that is bare, 0 … 1. */
export function bareShare({ positions: p, indices }: Pick<DrawnBody, 'positions' | 'indices'>, levels: Uint8Array): number {
  let [all, bare] = [0, 0];
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t] * 3, indices[t + 1] * 3, indices[t + 2] * 3];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const area = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
    all += area;
    if (isBare(indices, levels, t)) bare += area;
  }
  return all > 0 ? bare / all : 0;
}
