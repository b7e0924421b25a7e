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
