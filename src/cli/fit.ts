/** `./scaphos fit FILE --as KIND`: a thing fitted to a head by what it is, and how it sits there over a cast. */
import { access, writeFile } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';
import * as z from 'zod';
import { SURE_FIT } from '@/core/fit/onto';
import { FINER, FORM_SIZES, MEASURES } from '@/core/form';
import { parseQuantity } from '@/core/math';
import { add, applyEdit, createModelPart, createPiece, Piece } from '@/core/piece';
import { Kind } from '@/core/words/kinds';
import { type FitDone, type FitWearer, fitToForm, JobError } from '@/worker/node';
import { readJsonFile, withBundle, writeBundle } from './bundle';
import { CliFailure } from './failure';
import { bringIn } from './piece';

export interface FitOptions {
  json: boolean;
  kind: Kind;
  form: FitWearer;
  cast: FitWearer[];
  gapM: number;
  keepSize: boolean;
  /** File of the fit sheet: .csv of its numbers, .pdf or .png with its pictures. */
  sheet: string | null;
  out: string | null;
}

const Mm = z.array(z.number()).length(3);
const FittedRow = z.strictObject({
  file: z.string(),
  kind: Kind,
  /** From the file as delivered, its own metres, to the head frame; null where nothing is claimed. */
  scale: z.number().nullable(),
  rotationDeg: z.strictObject({ yaw: z.number(), pitch: z.number(), roll: z.number() }).nullable(),
  translationMm: Mm.nullable(),
  pairs: z.array(z.strictObject({ name: z.string(), modelMm: Mm, formMm: Mm, residualMm: z.number() })),
  /** On the form it was fitted to, looking ahead. */
  clearance: z.strictObject({ deepestMm: z.number(), atMm: Mm, cutShare: z.number(), meanGapMm: z.number().nullable() }).nullable(),
  leaks: z.array(z.strictObject({ form: z.string(), pose: z.string(), share: z.number(), swallowed: z.number() })),
  confidence: z.number().min(0).max(1),
  reason: z.string(),
  seconds: z.number(),
});
const UnreadRow = z.strictObject({ file: z.string(), error: z.strictObject({ code: z.string(), message: z.string() }) });
export const FitRow = z.union([FittedRow, UnreadRow]);
type Row = z.infer<typeof FitRow>;

/** JSON Schema (2020-12) of one line of `fit --json`. */
export const fitSchema = (): unknown => ({
  ...(z.toJSONSchema(FitRow, { io: 'output' }) as object),
  title: 'One line of ./scaphos fit --json',
});

const MeasuresFile = z.strictObject(
  Object.fromEntries([...MEASURES, ...FINER, 'headCircumference'].map((m) => [m, z.number().optional()])) as Record<
    string,
    z.ZodOptional<z.ZodNumber>
  >,
);

/** "M", or a file of measures in mm. @throws {CliFailure} neither */
export async function readWearer(text: string): Promise<FitWearer> {
  const size = FORM_SIZES.find((s) => s === text);
  if (size) return size;
  if (!/[./]/.test(text)) throw new CliFailure(`A form is ${FORM_SIZES.join(', ')} or a file of measures, not ${text}.`, 64);
  const read = MeasuresFile.safeParse(await readJsonFile(text, 'file of measures'));
  if (!read.success) {
    const [issue] = read.error.issues;
    throw new CliFailure(
      `${text} holds measures of a head in mm (${[...MEASURES, ...FINER, 'headCircumference'].join(', ')}), and nothing else: ${issue.message}.`,
      65,
    );
  }
  return { name: text.slice(text.lastIndexOf('/') + 1).replace(/\.json$/, ''), measures: read.data };
}

/** "0.5mm", "0.02 in". @throws {CliFailure} no length, or one that no gap is */
export function readGap(text: string): number {
  const read = parseQuantity(text, 'length', 'mm');
  if (!read.ok || !(read.value >= 0 && read.value <= 0.05)) throw new CliFailure(`--gap takes a length from 0 to 50 mm, not ${text}.`, 64);
  return read.value;
}

/** `fit FILE`; exit code: 0 fitted; 1 unsure, and nothing is claimed or written; 2 not readable. */
export async function fitCommand(file: string, options: FitOptions): Promise<number> {
  const from = performance.now();
  const name = file.slice(file.lastIndexOf('/') + 1);
  if (options.sheet !== null) {
    const folder = dirname(resolve(options.sheet));
    await access(folder).catch(() => {
      throw new CliFailure(`There is no folder ${folder} to write the sheet into. Make it first.`, 73);
    });
  }
  let worst: FitDone['cells'][number] | null = null;
  const row = await withBundle(null, createPiece(name.slice(0, 120) || 'Fit'), async (open): Promise<Row> => {
    const { piece, added } = await bringIn(open.piece, [file], options.kind, open.dir);
    const item = piece.stock[added[0]?.stock ?? ''];
    if (item?.kind !== 'model') return { file, error: { code: 'fit/no-model', message: `${name} holds no model.` } };
    const { offset, cells, ...done } = await fitToForm({
      path: open.blob(item.model),
      ...options,
      title: name,
      sheet: drawnSheet(options.sheet),
    });
    if (options.sheet?.endsWith('.csv') && offset) await writeFile(options.sheet, sheetOf(cells));
    if (options.out !== null && offset) {
      // a file may be called as the head's occluder is
      const id = Object.hasOwn(piece.parts, item.id) ? `${item.id}-2` : item.id;
      const part = { ...createModelPart(id, item.id, item.name.slice(0, 120)), offset };
      await writeBundle(Piece.parse(applyEdit(piece, add('parts', part))), open, options.out);
    }
    const leaks = cells.map(({ form, pose, share, swallowed }) => ({ form, pose, share, swallowed }));
    worst = cells.reduce<(typeof cells)[number] | null>((a, b) => (a && a.deepestMm >= b.deepestMm ? a : b), null);
    return { file, kind: options.kind, ...done, leaks, seconds: Number(((performance.now() - from) / 1000).toFixed(2)) };
  }).catch((error: unknown): Row => {
    if (error instanceof JobError) return { file, error: { code: error.code, message: error.message } };
    if (error instanceof CliFailure && error.exitCode === 2) return { file, error: { code: 'file/not-readable', message: error.message } };
    throw error;
  });
  process.stdout.write(`${options.json ? JSON.stringify(row) : inWords(row, worst)}\n`);
  if ('error' in row) return 2;
  return row.scale !== null && row.confidence >= SURE_FIT ? 0 : 1;
}

/** By a job of its own, wherever that runs: the whole way there. */
const drawnSheet = (path: string | null) => (path === null || path.endsWith('.csv') ? null : resolve(path));

function sheetOf(cells: FitDone['cells']): string {
  const lines = cells.map((c) =>
    [/[",]/.test(c.form) ? `"${c.form.replaceAll('"', '""')}"` : c.form, c.pose, c.deepestMm, c.cutShare, c.share, c.swallowed].join(','),
  );
  return `${['form,pose,deepest cut mm,share that cuts,share that leaks,share swallowed', ...lines].join('\r\n')}\r\n`;
}

const deepWords = (mm: number) => (mm > 0 ? `cuts in ${mm.toFixed(1)} mm at most` : `free by ${(-mm).toFixed(1)} mm`);

function inWords(row: Row, worst: FitDone['cells'][number] | null): string {
  if ('error' in row) return `${row.file}\n  not fitted: ${row.error.message} [${row.error.code}]`;
  const sure = `${Math.round(row.confidence * 100)} % sure`;
  if (row.scale === null) return `${row.file}\n  unsure whether that is ${row.kind} (${sure}): ${row.reason}`;
  const { yaw, pitch, roll } = row.rotationDeg as NonNullable<typeof row.rotationDeg>;
  return [
    row.file,
    `  fitted, ${sure}. ${row.reason}`,
    `  ×${Number(row.scale.toPrecision(5))}; turned ${yaw.toFixed(1)}° of yaw, ${pitch.toFixed(1)}° of pitch, ${roll.toFixed(1)}° of roll; moved ${row.translationMm?.map((x) => x.toFixed(1)).join(', ')} mm to the side, up and fore`,
    ...row.pairs.map((p) => `  ${p.name}: ${p.residualMm.toFixed(1)} mm from where it belongs`),
    ...(row.clearance ? [`  ${deepWords(row.clearance.deepestMm)}`] : []),
    ...(worst ? [`  worst on form ${worst.form}, ${worst.pose}: ${deepWords(worst.deepestMm)}`] : []),
  ].join('\n');
}
