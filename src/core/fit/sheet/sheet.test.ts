import { readFile } from 'node:fs/promises';
import { PDFDocument } from 'pdf-lib';
import sharp from 'sharp';
import { beforeAll, describe, expect, test } from 'vitest';
import { type Measures, PRESETS } from '../../form/measures';
import { measureAt, percentileOf } from '../../form/people';
import { nearestPair, whereItStarts } from '../starts';
import { type CastTold, type SheetFonts, sentencesOf, sheetOf, sheetPages, sheetPdf, sheetSvg } from './index';

let fonts: SheetFonts;
let red: Uint8Array;
beforeAll(async () => {
  const read = async (w: number) =>
    new Uint8Array(await readFile(`node_modules/@fontsource/instrument-sans/files/instrument-sans-latin-${w}-normal.woff`));
  fonts = { plain: await read(400), strong: await read(600) };
  red = new Uint8Array(
    await sharp({ create: { width: 40, height: 34, channels: 3, background: '#ff0000' } })
      .png()
      .toBuffer(),
  );
});

const cell = (deepestMm: number, leak = 0, swallowed = 0) => ({
  clearance: { deepestMm, cutShare: deepestMm > 0 ? 0.1 : 0 },
  leaks: { leak, swallowed },
  where: deepestMm > 0 ? 'the chin' : null,
});
const told = (cells: CastTold['cells'], starts: CastTold['starts'] = null): CastTold => ({
  wearers: cells[0].map((_, i) => ['form S', 'form M', 'form L'][i] ?? `Wearer ${i}`),
  poses: cells.map((_, i) => `Pose ${i}`),
  cells,
  starts,
});
const items = (of: CastTold) => sheetPages(sheetOf('Helmet', 'Shell', of), fonts).flatMap((p) => p.items);
const textsOf = (of: CastTold) => items(of).flatMap((i) => (i.kind === 'text' ? [i.text] : []));

describe('what it says', () => {
  test('nothing wrong; the deepest cut, and where; a leak where nothing cuts', () => {
    expect(sentencesOf(told([[cell(-2), cell(0.2)]]))).toEqual([
      'Nothing cuts in by more than 0.5 mm and no more than 1.0 % leaks, on 2 wearers in 1 pose.',
    ]);
    expect(
      sentencesOf(
        told([
          [cell(-2), cell(3.14)],
          [cell(-2), cell(2)],
        ]),
      )[0],
    ).toBe('It cuts in deepest on form M, pose 0: 3.1 mm, the chin.');
    expect(sentencesOf(told([[cell(-2, 0.05), cell(-1, 0.2)]]))[0]).toBe('It leaks most on form M, pose 0: leaks 20 %.');
    expect(sentencesOf(told([[cell(4), cell(5)]])).at(-1)).toBe('Something is wrong on every wearer of the cast.');
    expect(sentencesOf(told([[null]]))).toEqual(['The part is on nobody: there is nothing to measure.']);
  });
  test('from whom on', () => {
    const starts = { measure: 'headBreadth', mm: 154.04, share: 0.78, upwards: true, from: 'form M', to: 'form L' } as const;
    expect(sentencesOf(told([[cell(-1), cell(-1), cell(4)]], starts)).at(-1)).toBe(
      'From the 78th percentile of head breadth on (154.0 mm) something is wrong, as heads grow from form M to form L.',
    );
  });
  test('the frame is round the deepest of all, its numbers beneath it, faults marked and no others', () => {
    const all = items(
      told([
        [cell(1), cell(-3)],
        [cell(-1, 0.02), cell(6.2)],
      ]),
    );
    const [frame] = all.filter((i) => i.kind === 'frame');
    const worst = all.find((i) => i.kind === 'picture' && i.row === 1 && i.column === 1);
    expect(frame).toMatchObject({ x: worst?.x, y: worst?.y });
    const beneath = all.filter((i) => i.kind === 'text' && i.text === 'cuts in 6.2');
    expect(beneath).toHaveLength(1);
    expect(beneath[0].y).toBeGreaterThan((worst as { y: number; height: number }).y + (worst as { height: number }).height);
    expect(all.filter((i) => i.kind === 'mark')).toHaveLength(3);
  });
});

describe('where the trouble starts', () => {
  test('of a head that may be so broad and no broader: found to a tenth of a millimetre, with its share of people', async () => {
    const starts = await whereItStarts(PRESETS.M, PRESETS.L, (m) => m.headBreadth > 154);
    const at = starts as NonNullable<typeof starts>;
    // the measure that is told is the one that goes furthest through people; all go together
    const share = (154 - PRESETS.M.headBreadth) / (PRESETS.L.headBreadth - PRESETS.M.headBreadth);
    const want = PRESETS.M[at.measure] + (PRESETS.L[at.measure] - PRESETS.M[at.measure]) * share;
    expect(Math.abs(at.mm - want)).toBeLessThan(0.1);
    expect(at.share).toBeCloseTo(percentileOf(at.measure, at.mm, 'both'), 9);
    expect(measureAt(at.measure, at.share, 'both')).toBeCloseTo(at.mm, 2);
    expect(at.upwards).toBe(true);
  });
  test('downwards where small heads are the trouble; nothing between two that are the same', async () => {
    expect((await whereItStarts(PRESETS.M, PRESETS.S, (m) => m.headLength < 190))?.upwards).toBe(false);
    expect(await whereItStarts(PRESETS.M, PRESETS.M, () => true)).toBeNull();
  });
  test('between those who are most alike', () => {
    const [S, M, L]: Measures[] = [PRESETS.S, PRESETS.M, PRESETS.L];
    const cast = (wrong: boolean[]) => [S, M, L].map((measures, i) => ({ measures, wrong: wrong[i] }));
    expect(nearestPair(cast([false, false, true]))).toEqual({ fits: 1, not: 2 });
    expect(nearestPair(cast([true, false, false]))).toEqual({ fits: 1, not: 0 });
    expect(nearestPair(cast([true, true, true]))).toBeNull();
  });
});

describe('as a document', () => {
  const many = told(Array.from({ length: 9 }, (_, r) => Array.from({ length: 6 }, (_, c) => cell(r === 4 && c === 5 ? 9.9 : -1))));
  test('A4 to a hundredth of a millimetre, every picture on it once, nothing over an edge or another', async () => {
    const pages = sheetPages(sheetOf('Helmet', 'Shell', many), fonts);
    expect(pages.length).toBeGreaterThan(1);
    const seen = new Set<string>();
    for (const { items: of, widthMm, heightMm } of pages) {
      const pictures = of.filter((i) => i.kind === 'picture');
      for (const [n, a] of pictures.entries()) {
        expect(seen.has(`${a.row} ${a.column}`)).toBe(false);
        seen.add(`${a.row} ${a.column}`);
        expect(a.x >= 0 && a.y >= 0 && a.x + a.width <= widthMm && a.y + a.height <= heightMm - 14).toBe(true);
        for (const b of pictures.slice(n + 1))
          expect(a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y).toBe(true);
      }
    }
    expect(seen.size).toBe(54);
    const pdf = await PDFDocument.load(await sheetPdf(sheetOf('Helmet', 'Shell', many), () => red, fonts));
    expect(pdf.getPageCount()).toBe(pages.length);
    for (const p of pdf.getPages()) {
      expect((p.getWidth() * 25.4) / 72).toBeCloseTo(210, 2);
      expect((p.getHeight() * 25.4) / 72).toBeCloseTo(297, 2);
    }
    expect(pdf.getTitle()).toBe('Helmet');
  });
  test('as a picture: each cell’s picture where it was laid, words as outlines', async () => {
    const one = sheetOf('Helmet', 'Shell', told([[cell(-1)]]));
    const { svg, widthMm } = sheetSvg(one, () => red, fonts);
    expect(svg).not.toContain('<text');
    const [box] = sheetPages(one, fonts)[0].items.filter((i) => i.kind === 'picture');
    const dots = 4;
    const { data, info } = await sharp(Buffer.from(svg))
      .resize(widthMm * dots)
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number) => [...data.subarray((Math.round(y * dots) * info.width + Math.round(x * dots)) * 3).subarray(0, 3)];
    expect(at(box.x + box.width / 2, box.y + box.height / 2)).toEqual([255, 0, 0]);
    expect(at(box.x + box.width + 2, box.y + box.height / 2)).toEqual([255, 255, 255]);
    // some ink where the title stands
    let ink = 0;
    for (let x = 14; x < 60; x += 0.25) for (let y = 14; y < 21; y += 0.25) if (at(x, y)[1] < 120) ink++;
    expect(ink).toBeGreaterThan(50);
  });
  test('long names are cut, not run over; words the font has not are no error', async () => {
    const long = sheetOf('A name that goes on and on '.repeat(12), 'Ünïcødé 帽子', told([[cell(-1)]]));
    for (const i of sheetPages(long, fonts)[0].items) if (i.kind === 'text') expect(i.text.length).toBeLessThan(120);
    expect((await sheetPdf(long, () => null, fonts)).length).toBeGreaterThan(1000);
    expect(textsOf(told([[cell(-200)]]))).toContain('nowhere near');
  });
});
