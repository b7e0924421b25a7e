/** The fit sheet: a part on every wearer of a cast in every pose, its pictures and numbers laid out on pages of true size. */

/** Millimetres from a page's upper left. */
export type SheetItem =
  /** `y`: of the line it stands on; `size`: of its letters from line to line. `x` is where it starts, or ends where `end` says so. */
  | { kind: 'text'; x: number; y: number; size: number; text: string; strong?: boolean; soft?: boolean; wrong?: boolean; end?: boolean }
  | { kind: 'line'; x: number; y: number; width: number }
  | { kind: 'frame'; x: number; y: number; width: number; height: number }
  /** A mark of a fault, beside its words. */
  | { kind: 'mark'; x: number; y: number; size: number }
  | { kind: 'picture'; x: number; y: number; width: number; height: number; row: number; column: number };

export interface SheetPage {
  widthMm: number;
  heightMm: number;
  items: SheetItem[];
}

export interface SheetCell {
  /** Each a line below the picture. */
  lines: readonly { text: string; wrong: boolean }[];
}
export interface SheetAsked {
  title: string;
  subtitle: string;
  /** Said above the pictures, in whole sentences. */
  sentences: readonly string[];
  columns: readonly string[];
  rows: readonly { label: string; cells: readonly (SheetCell | null)[] }[];
  /** The worst cell; null: nothing is wrong. */
  worst: { row: number; column: number } | null;
}

/** ISO 216 A4, upright. */
const [WIDTH, HEIGHT] = [210, 297];
const MARGIN = 14;
const LABEL = 24;
const COLUMNS = 4;
const [TITLE, PLAIN, SMALL] = [6.2, 3.7, 3];
const LINE = 1.35;
/** Upright over its width; a picture of a head and its shoulders. */
export const PICTURE_SHAPE = 0.86;
const [LEAST_ROW, MOST_ROW] = [20, 46];

/** How wide a text is, mm. */
export type WidthOf = (text: string, size: number, strong: boolean) => number;

/** Cut with an ellipsis so that it fits. */
function cut(text: string, room: number, size: number, strong: boolean, width: WidthOf): string {
  if (width(text, size, strong) <= room) return text;
  let end = text.length - 1;
  while (end > 0 && width(`${text.slice(0, end)}…`, size, strong) > room) end--;
  return `${text.slice(0, end)}…`;
}

function wrapped(text: string, room: number, size: number, width: WidthOf): string[] {
  const lines: string[] = [];
  for (const word of text.split(' ')) {
    const last = lines.at(-1);
    if (last !== undefined && width(`${last} ${word}`, size, false) <= room) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines.map((l) => cut(l, room, size, false, width));
}

/** As many pages as it takes: at most four wearers beside one another, poses below one another. */
export function layOutSheet(asked: SheetAsked, width: WidthOf): SheetPage[] {
  const inside = WIDTH - 2 * MARGIN;
  const said = asked.sentences.flatMap((s) => wrapped(s, inside, PLAIN, width));
  const top = MARGIN + TITLE * 1.5 + PLAIN * LINE * (1 + said.length) + 5;
  const lines = Math.max(1, ...asked.rows.flatMap((r) => r.cells.map((c) => c?.lines.length ?? 0)));
  const below = lines * SMALL * LINE + 3.2;
  const room = HEIGHT - MARGIN - 6 - (top + PLAIN * 2);
  const row = Math.min(MOST_ROW + below, Math.max(LEAST_ROW + below, room / Math.max(1, asked.rows.length)));
  const onPage = Math.max(1, Math.floor(room / row + 1e-6));
  const pages: SheetPage[] = [];
  for (let c = 0; c < Math.max(1, asked.columns.length); c += COLUMNS)
    for (let r = 0; r < Math.max(1, asked.rows.length); r += onPage)
      pages.push(page(asked, { c, r, onPage, row, below, top, said, inside, width }));
  pages.forEach((p, i) => {
    p.items.push({ kind: 'text', x: MARGIN, y: HEIGHT - MARGIN, size: SMALL, text: 'mm from the skin; a fault is marked', soft: true });
    p.items.push({
      kind: 'text',
      x: WIDTH - MARGIN,
      y: HEIGHT - MARGIN,
      size: SMALL,
      text: `${i + 1} of ${pages.length}`,
      soft: true,
      end: true,
    });
  });
  return pages;
}

interface At {
  c: number;
  r: number;
  onPage: number;
  row: number;
  below: number;
  top: number;
  said: readonly string[];
  inside: number;
  width: WidthOf;
}
function page(asked: SheetAsked, { c, r, onPage, row, below, top, said, inside, width }: At): SheetPage {
  const items: SheetItem[] = [];
  const text = (
    x: number,
    y: number,
    size: number,
    words: string,
    room: number,
    more: { strong?: boolean; soft?: boolean; wrong?: boolean } = {},
  ) => items.push({ kind: 'text', x, y, size, text: cut(words, room, size, more.strong ?? false, width), ...more });
  let y = MARGIN + TITLE;
  text(MARGIN, y, TITLE, asked.title, inside, { strong: true });
  y += PLAIN * LINE * 1.3;
  text(MARGIN, y, PLAIN, asked.subtitle, inside, { soft: true });
  for (const line of said) {
    y += PLAIN * LINE;
    text(MARGIN, y, PLAIN, line, inside);
  }
  const columns = asked.columns.slice(c, c + COLUMNS);
  const wide = (inside - LABEL) / Math.max(3, columns.length);
  const x = (k: number) => MARGIN + LABEL + k * wide;
  y = top + PLAIN;
  columns.forEach((name, k) => {
    text(x(k), y, PLAIN, name, wide - 3, { strong: true });
  });
  const from = y + PLAIN * 0.6;
  for (const [i, { label, cells }] of asked.rows.slice(r, r + onPage).entries()) {
    const foot = from + i * row;
    items.push({ kind: 'line', x: MARGIN, y: foot, width: inside });
    text(MARGIN, foot + 1.4 + PLAIN, PLAIN, label, LABEL - 2);
    for (const [k, cell] of cells.slice(c, c + COLUMNS).entries()) {
      if (!cell) continue;
      const high = Math.min(row - below, (wide - 3) * PICTURE_SHAPE);
      const picture = { x: x(k), y: foot + 1.4, width: high / PICTURE_SHAPE, height: high };
      items.push({ kind: 'picture', ...picture, row: r + i, column: c + k });
      if (asked.worst?.row === r + i && asked.worst.column === c + k) items.push({ kind: 'frame', ...picture });
      cell.lines.forEach((l, n) => {
        const at = picture.y + high + (n + 1) * SMALL * LINE;
        if (l.wrong) items.push({ kind: 'mark', x: x(k), y: at, size: SMALL * 0.8 });
        text(x(k) + (l.wrong ? SMALL * 1.1 : 0), at, SMALL, l.text, wide - 3 - (l.wrong ? SMALL * 1.1 : 0), {
          wrong: l.wrong,
          strong: l.wrong,
        });
      });
    }
  }
  return { widthMm: WIDTH, heightMm: HEIGHT, items };
}
