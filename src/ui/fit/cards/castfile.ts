/** The fit sheet of a part as a file: every wearer of the cast in every pose as the stage draws them, with what was measured. */
import type { CaptureCamera } from '@/core/capture';
import { isWrong } from '@/core/fit/judge';
import { type CastTold, PICTURE_SHAPE, type SheetFonts, sheetOf, sheetPdf, sheetSvg } from '@/core/fit/sheet';
import { nearestPair, whereItStarts } from '@/core/fit/starts';
import type { Measures } from '@/core/form';
import {
  askOf,
  bodyAskOf,
  castOf,
  formRow,
  measuresOf,
  type Part,
  type Piece,
  seesBody,
  type Wearer,
  wearerWords,
  wornBy,
} from '@/core/piece';
import { type Assets, stageStill, wearerCapture } from '@/core/run';
import { cellOf } from '@/core/run/placed';
import { placeWords } from '@/core/words/places';
import { SHEET_FONTS } from '@/worker/baked';
import { forms, type ToldCell } from '@/worker/browser';
import { portraitCamera } from '../../piece/portrait';
import { loadStage } from '../../piece/stagehooks';
import { formsFor, loadWearer } from '../../piece/wearers';
import { heldIn } from '../state';
import { type CastRow, worstOf } from './castmatrix';

export { sentencesOf } from '@/core/fit/sheet';

const HIGH_PX = 320;
const PICTURE = { width: Math.round(HIGH_PX / PICTURE_SHAPE), height: HIGH_PX, ratio: 1 };
/** PNG dots a millimetre: 200 dpi. */
const DOTS = 200 / 25.4;
const faulty = (told: ToldCell | null) => told !== null && isWrong(told);

async function fonts(): Promise<SheetFonts> {
  const read = async (name: string) => {
    const response = await fetch(new URL(`/baked/${name}`, location.origin));
    if (!response.ok) throw new Error('What the sheet is set in could not be fetched: the server does not answer.');
    return new Uint8Array(await response.arrayBuffer());
  };
  const [plain, strong] = await Promise.all([read(SHEET_FONTS.plain), read(SHEET_FONTS.strong)]);
  return { plain, strong };
}

/** Between a wearer on whom nothing is wrong and the one most like them on whom something is. */
async function startsOf(piece: Piece, assets: Assets, part: Part, rows: readonly CastRow[]) {
  const cast = rows[0].cells.map(({ wearer }) => wearer);
  const wrongIn = (w: Wearer) => rows.flatMap((r) => r.cells).filter((c) => c.wearer.key === w.key && faulty(c.told));
  const pair = nearestPair(cast.map((w) => ({ measures: measuresOf(askOf(w)), wrong: wrongIn(w).length > 0 })));
  if (!pair) return null;
  const [fits, not] = [cast[pair.fits], cast[pair.not]];
  const { pose } = worstOf([{ pose: rows[0].pose, cells: wrongIn(not) }], 'clearance');
  const starts = await whereItStarts(measuresOf(askOf(fits)), measuresOf(askOf(not)), async (measures: Measures) => {
    const head = formRow('between', 'Between', not.set.form, { ...measures, headCircumference: undefined });
    const row = not.row ? { ...head, body: not.row.body } : head;
    const of = { ...piece, forms: { [row.id]: row } };
    const wearer = castOf(of).find((w) => w.row === row) as Wearer;
    const cell = cellOf(of, { ...assets, forms: await formsFor(of, [wearer]) }, part, wearer, heldIn(pose));
    return cell !== null && faulty((await forms.clearance([cell]))[0]);
  });
  return starts && { ...starts, from: wearerWords(fits), to: wearerWords(not) };
}

/** What the sheet says of the cast, with where the trouble starts. @param assets with the forms of the cast */
export async function castTold(piece: Piece, assets: Assets, part: Part, rows: readonly CastRow[]): Promise<CastTold> {
  return {
    wearers: rows[0].cells.map((c) => wearerWords(c.wearer)),
    poses: rows.map((r) => r.pose.label),
    cells: rows.map((r) => r.cells.map(({ told }) => told && { ...told, where: told.near && placeWords(told.near) })),
    starts: await startsOf(piece, assets, part, rows),
  };
}

/** Pictures of all cells by row and column. @param camera of each @param onDrawn so many are done */
async function picturesOf(
  piece: Piece,
  assets: Assets,
  rows: readonly CastRow[],
  camera: CaptureCamera,
  onDrawn: (n: number) => void,
): Promise<Uint8Array[][]> {
  const stage = await loadStage();
  const out: Uint8Array[][] = rows.map(() => []);
  let n = 0;
  for (const [column, { wearer }] of rows[0].cells.entries()) {
    const of = wornBy(piece, wearer);
    const worn = await loadWearer(bodyAskOf(wearer), seesBody(of));
    for (const [row, { pose }] of rows.entries()) {
      const state = stageStill(of, assets, wearerCapture(of, heldIn(pose), 0, camera));
      stage.setWearer(worn);
      out[row][column] = new Uint8Array(await (await stage.stillPng(state, PICTURE)).arrayBuffer());
      onDrawn(++n);
    }
  }
  return out;
}

/** @param assets with the forms of the cast @param onDrawn so many pictures are done */
export async function castFile(
  as: 'pdf' | 'png',
  piece: Piece,
  assets: Assets,
  part: Part,
  rows: readonly CastRow[],
  told: CastTold,
  onDrawn: (n: number) => void,
): Promise<Blob> {
  const asked = sheetOf(piece.settings.name, part.name, told);
  const pictures = await picturesOf(piece, assets, rows, portraitCamera(piece, assets), onDrawn);
  const pictureOf = (row: number, column: number) => pictures[row]?.[column] ?? null;
  if (as === 'pdf') return new Blob([(await sheetPdf(asked, pictureOf, await fonts())) as BlobPart], { type: 'application/pdf' });
  return painted(sheetSvg(asked, pictureOf, await fonts()));
}

async function painted({ svg, widthMm, heightMm }: ReturnType<typeof sheetSvg>): Promise<Blob> {
  const image = new Image();
  const url = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
  image.src = url;
  await image.decode().finally(() => URL.revokeObjectURL(url));
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [Math.round(widthMm * DOTS), Math.round(heightMm * DOTS)];
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      (b) => (b ? resolve(b) : reject(new Error('The sheet could not be painted: it is too large for this browser. Save it as PDF.'))),
      'image/png',
    ),
  );
}
