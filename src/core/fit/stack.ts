/**
 * What is in front of this? At one pixel of the picture, everything that lies there, front to back: its own cover (its alpha), what of it
 * the eye sees (cover × what all before it let through: W3C Compositing and Blending 1, “source over”), why, and the press that changes it.
 */
import { MAIN_LAYER_ID } from '../parts';
import { changePart, type Edit } from '../piece/edits';
import { type Layer, layerName } from '../piece/layers';
import type { Piece } from '../piece/schema';
import { putBefore, putBehind, showLayer } from './acts';
import { putOnTop } from './stackacts';

/** A part at the pixel. */
export interface PartSample {
  part: string;
  /** How far from the camera its nearest surface on the line of sight is, metres; null: none is there. */
  distanceM: number | null;
  /** Its alpha drawn alone, 0 … 1. */
  alone: number;
  /** With what occludes in its layer before it. */
  unhidden: number;
  /** With all else of its layer in the depth too: what is left of it. */
  left: number;
}
export interface LayerSample {
  layer: string;
  /** Of what draws the camera's picture, or some of it again: its alpha, 0 … 1. */
  cover: number;
  /** Parts drawn in it, in the order of the rack; none where it draws the camera's picture. */
  parts: readonly PartSample[];
}

export type StackWhy =
  | 'whole'
  | 'through'
  | 'covered'
  | 'part-off'
  | 'layer-off'
  | 'occluded'
  | 'behind-part'
  | 'cut-out'
  | 'outside-matte'
  | 'not-found'
  | 'host-off'
  | 'nothing';
export interface StackRow {
  /** Of the layer, from the back, 1 the first. */
  place: number;
  layer: string;
  part: string | null;
  name: string;
  /** 0 … 1. */
  cover: number;
  seen: number;
  why: StackWhy;
  /** Who covers it, where something does. */
  by: string | null;
}

/** Which parts are on stage, and of which the anchor is seen. */
interface Parts {
  drawn: ReadonlySet<string>;
  found: ReadonlySet<string>;
}

/** Less than a step of eight bits. */
const NOTHING = 1 / 512;

/**
 * @param samples of every layer of the piece, back to front
 * @param drawn parts that are on stage; found: parts whose anchor the capture sees
 * @returns front to back; what is seen adds up to 1, with a row of no layer for what shows through all of them
 */
export function stackRows(piece: Piece, samples: readonly LayerSample[], parts: Parts): StackRow[] {
  const rows: StackRow[] = [];
  // what all before let through, and who was the first to let nothing through
  let through = 1;
  let wall: string | null = null;
  const take = (row: Omit<StackRow, 'seen' | 'by'>, by: string | null = null) => {
    const seen = row.cover * through;
    const hidden = row.cover > NOTHING && seen <= NOTHING;
    rows.push({ ...row, seen, ...(hidden ? { why: 'covered', by: wall } : { by }) });
    through *= 1 - row.cover;
    if (through <= NOTHING) wall ??= row.name;
  };
  for (let i = samples.length - 1; i >= 0; i--) {
    const sample = samples[i];
    const layer = piece.layers[sample.layer];
    const at = { place: i + 1, layer: layer.id };
    if (layer.kind === 'camera' || layer.kind === 'matte') {
      const why = !layer.visible ? 'layer-off' : sample.cover > NOTHING ? whyOf(sample.cover) : 'outside-matte';
      take({ ...at, part: null, name: layerName(layer), cover: layer.visible ? sample.cover : 0, why });
      continue;
    }
    for (const p of frontToBack(layer, sample.parts)) {
      const part = piece.parts[p.part];
      const { why, by } = whyPart(piece, layer, p, sample.parts, parts);
      // what was never there is no row
      if (why === null) continue;
      take({ ...at, part: p.part, name: part.name, cover: layer.visible && parts.drawn.has(p.part) ? p.left : 0, why }, by);
    }
  }
  if (through > NOTHING) rows.push({ place: 0, layer: '', part: null, name: 'Nothing', cover: 1, seen: through, why: 'nothing', by: null });
  return rows;
}

const whyOf = (cover: number): StackWhy => (cover > 1 - 1 / 256 ? 'whole' : 'through');

/** Nearest first, or the last drawn first. */
function frontToBack(layer: Layer, parts: readonly PartSample[]): PartSample[] {
  if (layer.kind !== 'parts' || layer.sort === 'order') return [...parts].reverse();
  return [...parts].sort((a, b) => (a.distanceM ?? Number.POSITIVE_INFINITY) - (b.distanceM ?? Number.POSITIVE_INFINITY));
}

function whyPart(
  piece: Piece,
  layer: Layer,
  p: PartSample,
  all: readonly PartSample[],
  { drawn, found }: Parts,
): { why: StackWhy | null; by: string | null } {
  const just = (why: StackWhy | null, by: string | null = null) => ({ why, by });
  const part = piece.parts[p.part];
  const there = p.distanceM !== null || p.alone > NOTHING;
  if (!there) return just(null);
  if (!part.visible) return just('part-off');
  if (!layer.visible) return just('layer-off');
  if (!found.has(p.part)) return just('not-found');
  if (!drawn.has(p.part)) return just('host-off');
  if (p.left > NOTHING) return just(whyOf(p.left));
  if (p.alone <= NOTHING) return just('cut-out');
  if (p.unhidden <= NOTHING) return just('occluded');
  const before = all.find((o) => o !== p && drawn.has(o.part) && o.left > NOTHING && (o.distanceM ?? 0) <= (p.distanceM ?? 0));
  return just('behind-part', before ? piece.parts[before.part].name : null);
}

/** Why a row is as it is, in words. */
export function stackWords({ why, by, cover }: Pick<StackRow, 'why' | 'by' | 'cover'>): string {
  const percent = `${Math.round(cover * 100)} %`;
  const words: Readonly<Record<StackWhy, string>> = {
    nothing: 'Shows through all layers',
    whole: 'Covers all of it',
    through: `Covers ${percent}, lets the rest through`,
    covered: by ? `Covered by ${by}` : 'Covered by what is before it',
    'part-off': 'The part is switched off',
    'layer-off': 'The layer is switched off',
    occluded: 'An occluder hides it here',
    'behind-part': by ? `Behind ${by}` : 'Behind another part of its layer',
    'cut-out': 'Its finish is clear here',
    'outside-matte': 'Outside its matte',
    'not-found': 'The capture does not see what it hangs on',
    'host-off': 'What it hangs from is switched off',
  };
  return words[why];
}

/** What one press does to a row. */
export interface StackPress {
  label: string;
  edit: Edit;
}

/** The press that changes a row; null: nothing does in one. */
export function stackPress(piece: Piece, row: StackRow, newId: () => string): StackPress | null {
  const part = row.part === null ? undefined : piece.parts[row.part];
  const layer = piece.layers[row.layer];
  if (!layer) return null;
  if (row.why === 'layer-off') return { label: 'Show the layer', edit: showLayer(layer.id, true) };
  if (!part) return layer.kind === 'camera' ? null : { label: 'Hide the layer', edit: showLayer(layer.id, false) };
  if (part.locked) return null;
  if (row.why === 'part-off') return { label: 'Show it', edit: changePart(part.id, { visible: true }) };
  if (layer.kind !== 'parts') return { label: 'Hide it', edit: changePart(part.id, { visible: false }) };
  if (row.why === 'occluded' || row.why === 'behind-part' || (row.why === 'covered' && layer.id === MAIN_LAYER_ID))
    return { label: 'Draw it on top', edit: putOnTop(piece, [part.id], newId) };
  if (row.why === 'covered') return { label: 'Before the wearer', edit: putBefore(piece, [part.id]) };
  if (row.seen <= NOTHING) return null;
  if (layer.id === MAIN_LAYER_ID) return { label: 'Behind the wearer', edit: putBehind(piece, [part.id], newId) };
  return { label: 'Before the wearer', edit: putBefore(piece, [part.id]) };
}

/** Shares as whole percents that add up to what all of them are (largest remainders). */
export function wholePercents(shares: readonly number[]): number[] {
  const exact = shares.map((s) => s * 100);
  const out = exact.map(Math.floor);
  let left = Math.round(exact.reduce((a, b) => a + b, 0)) - out.reduce((a, b) => a + b, 0);
  const byRest = exact.map((x, i) => ({ i, rest: x - out[i] })).sort((a, b) => b.rest - a.rest);
  for (const { i } of byRest) {
    if (left <= 0) break;
    out[i]++;
    left--;
  }
  return out;
}
