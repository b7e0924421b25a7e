/** Frames on one sheet: the layout that keeps the most of them, and the packing itself. */
import type { Pixels } from '../math/pixels';

export interface SheetLayout {
  columns: number;
  rows: number;
  frameWidth: number;
  frameHeight: number;
  width: number;
  height: number;
  /** Of a frame on the sheet to a frame as it came; 1: bit by bit. */
  scale: number;
}

/**
 * The grid for `count` frames of width × height pixels on a sheet of at most `maxEdge`: frames as large as they may be (never
 * enlarged), then the least area, then the squarest.
 */
export function sheetLayout(count: number, width: number, height: number, maxEdge: number): SheetLayout {
  let best: SheetLayout | null = null;
  const better = (a: SheetLayout, b: SheetLayout) =>
    a.scale - b.scale || b.width * b.height - a.width * a.height || Math.max(b.width, b.height) - Math.max(a.width, a.height);
  for (let columns = 1; columns <= count; columns++) {
    const rows = Math.ceil(count / columns);
    const scale = Math.min(1, maxEdge / (columns * width), maxEdge / (rows * height));
    const frameWidth = Math.max(1, Math.floor(width * scale + 1e-9));
    const frameHeight = Math.max(1, Math.floor(height * scale + 1e-9));
    const layout = { columns, rows, frameWidth, frameHeight, width: columns * frameWidth, height: rows * frameHeight, scale };
    if (!best || better(layout, best) > 0) best = layout;
  }
  if (!best) throw new RangeError('sheetLayout: no frames.');
  return best;
}

/** Upper left corner of a frame on the sheet, in pixels. */
export const framePlace = (s: Pick<SheetLayout, 'columns' | 'frameWidth' | 'frameHeight'>, frame: number): [number, number] => [
  (frame % s.columns) * s.frameWidth,
  Math.floor(frame / s.columns) * s.frameHeight,
];

/** Copies a frame, already of the layout's frame size, to its place on the sheet. */
export function putFrame(sheet: Pixels, frame: Pixels, layout: SheetLayout, index: number): void {
  const [x, y] = framePlace(layout, index);
  const w = Math.min(frame.width, layout.frameWidth);
  for (let row = 0; row < Math.min(frame.height, layout.frameHeight); row++)
    sheet.data.set(frame.data.subarray(row * frame.width * 4, (row * frame.width + w) * 4), ((y + row) * sheet.width + x) * 4);
}

/** A frame taken off the sheet again. */
export function takeFrame(sheet: Pixels, layout: Pick<SheetLayout, 'columns' | 'frameWidth' | 'frameHeight'>, index: number): Pixels {
  const [x, y] = framePlace(layout, index);
  const { frameWidth: width, frameHeight: height } = layout;
  const data = new Uint8Array(width * height * 4);
  for (let row = 0; row < height; row++)
    data.set(sheet.data.subarray(((y + row) * sheet.width + x) * 4, ((y + row) * sheet.width + x + width) * 4), row * width * 4);
  return { width, height, data };
}
