/** SVG made safe to be drawn: nothing runs, nothing is fetched, nothing multiplies. */
import { IntakeError } from '../errors';

const MOST_BYTES = 20e6;

/** Elements that run, embed or fetch. */
const OUT = [
  'script',
  'foreignObject',
  'iframe',
  'audio',
  'video',
  'handler',
  'listener',
  'set',
  'animate',
  'animateTransform',
  'animateMotion',
];

/**
 * The text of an SVG without a document type (entities), scripts, handlers and links out of the file. Pictures held in the file
 * itself (`data:`) and links within it (`#…`) stay.
 * @throws {IntakeError} no SVG, or too large.
 */
export function safeSvg(bytes: Uint8Array): string {
  if (bytes.length > MOST_BYTES)
    throw new IntakeError('picture/too-large', `The SVG has ${bytes.length} bytes; up to ${MOST_BYTES} are read.`);
  const kind = bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : 'utf-8';
  let text = new TextDecoder(kind).decode(bytes);
  text = text.replace(/<\?xml[^>]*\?>/gi, '').replace(/<\?[^>]*\?>/g, '');
  text = withoutDoctype(text);
  if (!/<(\w+:)?svg[\s/>]/.test(text)) throw new IntakeError('picture/unreadable', 'The SVG holds no picture. Export it again.');
  for (const name of OUT) {
    text = text.replace(new RegExp(`<((?:\\w+:)?${name})\\b[^<>]*/>`, 'gi'), '');
    text = text.replace(new RegExp(`<((?:\\w+:)?${name})\\b[\\s\\S]*?(</\\1\\s*>|$)`, 'gi'), '');
  }
  return (
    text
      .replace(/\son[a-z]+\s*=\s*("[^"]*"|'[^']*')/gi, '')
      .replace(
        /\s((?:xlink:)?href|src)\s*=\s*("(?!#|data:image\/(?:png|jpe?g|webp|gif))[^"]*"|'(?!#|data:image\/(?:png|jpe?g|webp|gif))[^']*')/gi,
        '',
      )
      .replace(/url\(\s*(['"]?)(?!#)[^)]*\)/gi, 'none')
      .replace(/@import[^;]*;?/gi, '')
      // what refers to an entity that is no longer there
      .replace(/&(?!(amp|lt|gt|quot|apos|#\d{1,7}|#x[0-9a-f]{1,6});)/gi, '&amp;')
  );
}

/** A document type ends with the > that no [ ] and no quotes hold. */
function withoutDoctype(text: string): string {
  const from = text.search(/<!DOCTYPE/i);
  if (from < 0) return text;
  let depth = 0;
  let quote = '';
  for (let i = from; i < text.length; i++) {
    const c = text[i];
    if (quote) quote = c === quote ? '' : quote;
    else if (c === '"' || c === "'") quote = c;
    else if (c === '[') depth++;
    else if (c === ']') depth--;
    else if (c === '>' && depth <= 0) return withoutDoctype(text.slice(0, from) + text.slice(i + 1));
  }
  return text.slice(0, from);
}

/** Millimetres of the absolute units of CSS (CSS Values and Units 4, section 6.2). A pixel is none here: a screen's drawing has no size. */
const UNIT_MM: Record<string, number> = { mm: 1, cm: 10, q: 0.25, in: 25.4, pt: 25.4 / 72, pc: 25.4 / 6 };
const PIXELS_A_MM = 96 / 25.4;

/**
 * The drawing with its root's width and height in plain pixels, and how wide it is where they were in units of length: programs that
 * draw SVG differ in how many pixels a centimetre has.
 */
export function svgInPixels(text: string): { text: string; widthMm: number | null } {
  const from = text.search(/<(\w+:)?svg[\s/>]/);
  if (from < 0) return { text, widthMm: null };
  const tag = text.slice(from).match(/^<(?:"[^"]*"|'[^']*'|[^<>"'])*>/)?.[0] ?? '';
  let widthMm: number | null = null;
  const plain = tag.replace(
    /(\s(width|height)\s*=\s*["'])\s*([\d.]+(?:e[-+]?\d+)?)\s*(mm|cm|q|in|pt|pc)\s*(["'])/gi,
    (_, open: string, which: string, n: string, unit: string, close: string) => {
      const mm = Number(n) * UNIT_MM[unit.toLowerCase()];
      if (which.toLowerCase() === 'width' && mm > 0) widthMm = mm;
      return `${open}${Number((mm * PIXELS_A_MM).toPrecision(8))}${close}`;
    },
  );
  return { text: text.slice(0, from) + plain + text.slice(from + tag.length), widthMm };
}
