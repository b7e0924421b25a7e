/** A laid out sheet as PDF with words as words, or as SVG whose words are outlines, so that no font is asked for where it is drawn. */
import fontkit, { type Font } from '@pdf-lib/fontkit';
import { PDFDocument, type PDFFont, type PDFImage, rgb } from 'pdf-lib';
import { layOutSheet, type SheetAsked, type SheetItem, type SheetPage, type WidthOf } from './layout';

/** Bytes of a font, WOFF or TrueType: as it stands, and heavier. */
export interface SheetFonts {
  plain: Uint8Array;
  strong: Uint8Array;
}
/** A PNG or JPEG of each cell, by row and column; null: none. */
export type SheetPictures = (row: number, column: number) => Uint8Array | null;

const INK = '#1b2a33';
const SOFT = '#5a6970';
const WRONG = '#a02c20';
const HAIR = '#c9c2ad';
const inkOf = (item: Extract<SheetItem, { kind: 'text' }>) => (item.wrong ? WRONG : item.soft ? SOFT : INK);
const PT = 72 / 25.4;
const colour = (hex: string) => rgb(...([1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16) / 255) as [number, number, number]));
const isJpeg = (bytes: Uint8Array) => bytes[0] === 0xff && bytes[1] === 0xd8;
/** Corners of a small triangle that stands on the line. */
const markOf = ({ x, y, size }: Extract<SheetItem, { kind: 'mark' }>): [number, number][] => [
  [x, y],
  [x + size, y],
  [x + size / 2, y - size],
];

const read = (fonts: SheetFonts): { plain: Font; strong: Font; width: WidthOf } => {
  const [plain, strong] = [fontkit.create(fonts.plain as never), fontkit.create(fonts.strong as never)];
  const width: WidthOf = (text, size, heavy) => {
    const font = heavy ? strong : plain;
    return (font.layout(text).advanceWidth / font.unitsPerEm) * size;
  };
  return { plain, strong, width };
};

/** The pages, laid out by the widths of the font's own letters. */
export const sheetPages = (asked: SheetAsked, fonts: SheetFonts): SheetPage[] => layOutSheet(asked, read(fonts).width);

/** PDF 1.7, A4. */
export async function sheetPdf(asked: SheetAsked, pictures: SheetPictures, fonts: SheetFonts): Promise<Uint8Array> {
  const document = await PDFDocument.create();
  document.registerFontkit(fontkit);
  document.setTitle(asked.title);
  document.setProducer('Scaphos');
  document.setCreator('Scaphos');
  const [plain, strong] = [
    await document.embedFont(fonts.plain, { subset: true }),
    await document.embedFont(fonts.strong, { subset: true }),
  ];
  for (const { widthMm, heightMm, items } of sheetPages(asked, fonts)) {
    const page = document.addPage([widthMm * PT, heightMm * PT]);
    const up = (y: number) => (heightMm - y) * PT;
    for (const item of items) {
      if (item.kind === 'text') {
        const font: PDFFont = item.strong ? strong : plain;
        const size = item.size * PT;
        const x = item.x * PT - (item.end ? font.widthOfTextAtSize(item.text, size) : 0);
        page.drawText(item.text, { x, y: up(item.y), size, font, color: colour(inkOf(item)) });
      } else if (item.kind === 'line')
        page.drawLine({
          start: { x: item.x * PT, y: up(item.y) },
          end: { x: (item.x + item.width) * PT, y: up(item.y) },
          thickness: 0.4,
          color: colour(HAIR),
        });
      else if (item.kind === 'mark') {
        const d = markOf(item).map(([x, y], i) => `${i ? 'L' : 'M'}${x * PT} ${y * PT}`);
        page.drawSvgPath(`${d.join(' ')} Z`, { x: 0, y: heightMm * PT, color: colour(WRONG) });
      } else {
        const box = { x: item.x * PT, y: up(item.y + item.height), width: item.width * PT, height: item.height * PT };
        if (item.kind === 'frame') page.drawRectangle({ ...box, borderColor: colour(WRONG), borderWidth: 1.6 });
        else {
          const bytes = pictures(item.row, item.column);
          const image: PDFImage | null = bytes && (isJpeg(bytes) ? await document.embedJpg(bytes) : await document.embedPng(bytes));
          if (image) page.drawImage(image, box);
        }
      }
    }
  }
  return document.save();
}

const base64 = (bytes: Uint8Array) => {
  let text = '';
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
};
const n = (x: number) => Number(x.toFixed(3));

/** All pages below one another, in millimetres. */
export function sheetSvg(
  asked: SheetAsked,
  pictures: SheetPictures,
  fonts: SheetFonts,
): { svg: string; widthMm: number; heightMm: number } {
  const { plain, strong, width } = read(fonts);
  const pages = layOutSheet(asked, width);
  const [widthMm, heightMm] = [pages[0].widthMm, pages.reduce((s, p) => s + p.heightMm, 0)];
  const out: string[] = [`<rect width="${widthMm}" height="${heightMm}" fill="#fff"/>`];
  let down = 0;
  for (const page of pages) {
    out.push(`<g transform="translate(0 ${down})">`);
    for (const item of page.items) {
      if (item.kind === 'text') {
        const font = item.strong ? strong : plain;
        const scale = item.size / font.unitsPerEm;
        let x = item.x - (item.end ? width(item.text, item.size, item.strong ?? false) : 0);
        const run = font.layout(item.text);
        run.glyphs.forEach((glyph, i) => {
          const d = glyph.path.toSVG();
          if (d) out.push(`<path transform="translate(${n(x)} ${n(item.y)}) scale(${scale} ${-scale})" d="${d}" fill="${inkOf(item)}"/>`);
          x += run.positions[i].xAdvance * scale;
        });
      } else if (item.kind === 'line')
        out.push(`<rect x="${n(item.x)}" y="${n(item.y)}" width="${n(item.width)}" height="0.15" fill="${HAIR}"/>`);
      else if (item.kind === 'mark')
        out.push(
          `<polygon points="${markOf(item)
            .map((p) => p.map(n).join())
            .join(' ')}" fill="${WRONG}"/>`,
        );
      else {
        const box = `x="${n(item.x)}" y="${n(item.y)}" width="${n(item.width)}" height="${n(item.height)}"`;
        if (item.kind === 'frame') out.push(`<rect ${box} fill="none" stroke="${WRONG}" stroke-width="0.56"/>`);
        else {
          const bytes = pictures(item.row, item.column);
          const type = bytes && isJpeg(bytes) ? 'jpeg' : 'png';
          if (bytes) out.push(`<image ${box} href="data:image/${type};base64,${base64(bytes)}"/>`);
        }
      }
    }
    out.push('</g>');
    down += page.heightMm;
  }
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${widthMm}mm" height="${heightMm}mm" viewBox="0 0 ${widthMm} ${heightMm}">${out.join('')}</svg>`;
  return { svg, widthMm, heightMm };
}
