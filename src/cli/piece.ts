/** `./scaphos piece new|edit|show|check`: everything a person can do to a piece, by program. */
import { readFile } from 'node:fs/promises';
import * as z from 'zod';
import { CaptureLogError, readCaptureLog } from '@/core/capture/log';
import { licenceBlockers, packageContents } from '@/core/deliver';
import { Extras } from '@/core/deliver/extras';
import { skeletonFor } from '@/core/form';
import { type FileFacts, judgeStock, type Kind } from '@/core/intake';
import {
  add,
  anchorLabel,
  applyEdit,
  createPiece,
  type Edit,
  EditError,
  Edit as EditSchema,
  Name,
  PIECE_SCHEMA,
  Piece,
  PieceFormatError,
  partNameOf,
  readEdits,
  type StockItem,
  shownAsk,
  shownWearer,
  takeRow,
  usedFile,
  wearerWords,
} from '@/core/piece';
import { TakeLogError, takeLogWords, takeOfLog } from '@/core/run/takelog';
import { intake, JobError } from '@/worker/node';
import { readJsonFile, withBundle, writeBundle } from './bundle';
import { CliFailure } from './failure';

const say = (value: unknown) => process.stdout.write(`${typeof value === 'string' ? value : JSON.stringify(value)}\n`);
const leaf = (path: string) => path.slice(path.lastIndexOf('/') + 1);

export const pieceSchema = (): unknown => ({
  ...(z.toJSONSchema(Piece, { io: 'input', unrepresentable: 'any' }) as object),
  title: 'piece.json of a Scaphos bundle',
});
export const extrasSchema = (): unknown => ({
  ...(z.toJSONSchema(Extras, { io: 'input', unrepresentable: 'any' }) as object),
  title: 'extras.scaphos of a GLB that Scaphos delivers: of the nodes of parts, of materials, of the scene',
});
export const editsSchema = (): unknown => ({
  ...(z.toJSONSchema(z.union([z.array(EditSchema), EditSchema]), { io: 'input', unrepresentable: 'any' }) as object),
  title: 'A file for ./scaphos piece edit --edits',
});

/** `piece new NAME --out P.zip` */
export async function newPieceCommand(name: string, out: string): Promise<number> {
  const read = Name.safeParse(name);
  if (!read.success) throw new CliFailure(`That is no name for a piece: ${read.error.issues[0].message}.`, 64);
  await withBundle(null, createPiece(read.data), (open) => writeBundle(open.piece, open, out));
  return 0;
}

const LOG_FILE = /\.jsonl$/i;

/** A capture log as a take. @throws {CliFailure} exit 2 where it cannot be read or nobody is in it */
async function takeFrom(piece: Piece, file: string) {
  const text = await readFile(file, 'utf8').catch(() => {
    throw new CliFailure(`${file} is not there or cannot be read.`, 2);
  });
  try {
    const read = takeOfLog(readCaptureLog(text), skeletonFor(shownAsk(piece)));
    return { row: takeRow(freeId(piece.takes, file), partNameOf(leaf(file)), read), told: takeLogWords(read) };
  } catch (error) {
    if (error instanceof CaptureLogError || error instanceof TakeLogError) throw new CliFailure(`${file}: ${error.message}`, 2);
    throw error;
  }
}

/** A readable id that is still free in a table: the file's name without its ending. */
function freeId(rows: Readonly<Record<string, unknown>>, file: string): string {
  const base =
    leaf(file)
      .replace(/\.[^.]*$/, '')
      .normalize('NFKD')
      .replace(/[^A-Za-z0-9_-]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 32) || 'file';
  for (let n = 1; ; n++) {
    const id = n === 1 ? base : `${base}-${n}`;
    if (!Object.hasOwn(rows, id)) return id;
  }
}

/** Brings files in as Stock does. @throws {CliFailure} exit 2 where one cannot be read */
export async function bringIn(
  start: Piece,
  files: readonly string[],
  kind: Kind | null,
  dir: string,
): Promise<{ piece: Piece; added: { file: string; stock: string }[] }> {
  let piece = start;
  const added: { file: string; stock: string }[] = [];
  for (const file of files) {
    const { items } = await intake({ files: [{ name: leaf(file), path: file }], fromDisk: true, outDir: dir }).catch((error: unknown) => {
      if (error instanceof JobError) throw new CliFailure(`${file}: ${error.message}`, 2);
      throw error;
    });
    for (const { name, facts, original, model } of items) {
      const id = freeId(piece.stock, items.length > 1 ? name : file);
      const common = {
        id,
        name: name.slice(0, 120),
        original: original as string,
        model: model as string,
        bytes: facts.bytes,
        dismissed: [],
      };
      const credit = facts.kind === 'model' ? creditOf(facts) : { author: '', source: '', licence: '' };
      const item = (
        facts.kind === 'model' ? { ...common, kind: 'model', credit, stated: kind } : { ...common, kind: facts.kind, credit }
      ) as StockItem;
      piece = applyEdit(piece, add('stock', item));
      added.push({ file, stock: id });
    }
  }
  return { piece, added };
}
const creditOf = (facts: Extract<FileFacts, { kind: 'model' }>) => ({
  author: facts.credit.author,
  source: facts.credit.source,
  licence: facts.credit.licence,
});

/** Edits of a file: one, a list, or what is kept (`{ schema, edits }`). */
async function readEditsFile(path: string, base: Piece): Promise<Edit[]> {
  const data = await readJsonFile(path, 'file of edits');
  const stored = Array.isArray(data)
    ? { schema: PIECE_SCHEMA, edits: data }
    : data && typeof data === 'object' && 'edits' in data && 'schema' in data
      ? (data as { schema: number; edits: unknown[] })
      : { schema: PIECE_SCHEMA, edits: [data] };
  try {
    return readEdits(stored, base);
  } catch (error) {
    if (error instanceof PieceFormatError) throw new CliFailure(`${path}: ${error.message}`, 1);
    throw error;
  }
}

export interface EditOptions {
  edits: string | null;
  add: readonly string[];
  kind: Kind | null;
  out: string;
}

/** `piece edit P.zip --edits EDITS.json --out Q.zip [--add FILE…]`: all of it, or nothing is written. */
export const editPieceCommand = (path: string, options: EditOptions): Promise<number> =>
  withBundle(path, null, async (open) => {
    const logs = options.add.filter((file) => LOG_FILE.test(file));
    const files = options.add.filter((file) => !LOG_FILE.test(file));
    const brought = await bringIn(open.piece, files, options.kind, open.dir);
    let { piece } = brought;
    const takes: { file: string; take: string; told?: string }[] = [];
    for (const file of logs) {
      const { row, told } = await takeFrom(piece, file);
      piece = applyEdit(piece, add('takes', row));
      // what of the log did not come over is told
      takes.push({ file, take: row.id, ...(told ? { told } : {}) });
    }
    const edits = options.edits === null ? [] : await readEditsFile(options.edits, piece);
    let now = piece;
    for (const [i, e] of edits.entries())
      try {
        now = applyEdit(now, e);
      } catch (error) {
        if (error instanceof EditError) throw new CliFailure(`Edit ${i + 1} does not fit: ${error.message} [${error.code}]`, 1);
        throw error;
      }
    await writeBundle(Piece.parse(now), open, options.out).catch((error: unknown) => {
      if (error instanceof JobError || (error as NodeJS.ErrnoException).code === 'ENOENT')
        throw new CliFailure(`The edits name a file that is not in the bundle: ${(error as Error).message}`, 1);
      throw error;
    });
    if (options.add.length > 0) say({ added: [...brought.added, ...takes] });
    return 0;
  });

/** `piece show P.zip [--json]` */
export const showPieceCommand = (path: string, json: boolean): Promise<number> =>
  withBundle(path, null, async ({ piece }) => {
    if (json) say(piece);
    else
      say(
        [
          `${piece.settings.name}: ${wearerWords(shownWearer(piece))}, profile ${piece.settings.profile}`,
          ...Object.values(piece.stock).map((s) => `  stock ${s.id}: ${s.name} (${s.kind})`),
          ...piece.orders.parts.map((id) => {
            const p = piece.parts[id];
            const on =
              p.hang === null
                ? 'hangs nowhere'
                : p.hang.on === 'anchor'
                  ? `on ${anchorLabel(p.hang.anchor).toLowerCase()}`
                  : `on part ${p.hang.part}${p.hang.bone ? `, bone ${p.hang.bone}` : ''}`;
            return `  part ${id}: ${p.name} (${p.kind}), ${on}, in layer ${p.layer}`;
          }),
          ...Object.values(piece.takes).map((t) => `  take ${t.id}: ${t.name}, ${t.seconds} s, ${t.keys.length} keys`),
          ...piece.orders.layers.map((id, i) => `  layer ${i + 1} ${id}: ${piece.layers[id].kind}`),
        ].join('\n'),
      );
    return 0;
  });

const CheckRow = z.strictObject({
  code: z.string(),
  level: z.enum(['blocker', 'warning', 'note']),
  message: z.string(),
  /** Stock file or part it is about, by id. */
  stock: z.string().optional(),
  part: z.string().optional(),
  where: z.string().optional(),
});
export const PieceCheck = z.strictObject({ piece: z.string(), findings: z.array(CheckRow) });
type Row = z.infer<typeof CheckRow>;
export const checkSchema = (): unknown => ({
  ...(z.toJSONSchema(PieceCheck) as object),
  title: 'What ./scaphos piece check --json prints',
});

/** Facts of every file as it came in and as it is used. */
async function factsOf(piece: Piece, blob: (sha: string) => string): Promise<{ original: string; model: string; facts: FileFacts }[]> {
  const out: { original: string; model: string; facts: FileFacts }[] = [];
  for (const item of Object.values(piece.stock)) {
    const used = usedFile(piece, item.id) as string;
    // what a recipe made is a GLB whatever the original's name ends in
    const made = used !== item.model;
    const path = blob(made ? used : item.original);
    const name = made && item.kind === 'model' ? `${item.name.replace(/\.[^.]*$/, '')}.glb` : item.name;
    const { items } = await intake({ files: [{ name, path }], fromDisk: true }).catch((error: unknown) => {
      if (error instanceof JobError) return { items: [] };
      throw error;
    });
    const facts = items.find((i) => i.facts.kind === item.kind)?.facts;
    if (facts) out.push({ original: item.original, model: used, facts });
  }
  return out;
}

/** `piece check P.zip [--json]`: exit 0 nothing bars delivery, 1 a blocker, 2 not readable. */
export const checkPieceCommand = (path: string, json: boolean): Promise<number> =>
  withBundle(path, null, async ({ piece, blob }) => {
    const findings: Row[] = [];
    const assets = await factsOf(piece, blob);
    for (const item of Object.values(piece.stock)) {
      const judged = judgeStock(piece, item.id, assets);
      if (!judged)
        findings.push({ code: 'stock/unread', level: 'warning', message: `${item.name} could not be looked into here.`, stock: item.id });
      for (const f of judged?.findings ?? [])
        findings.push({ code: f.code, level: f.level, message: f.message, stock: item.id, ...(f.where ? { where: f.where } : {}) });
    }
    const { parts, leftOut, lost } = packageContents(piece);
    if (parts.length === 0)
      findings.push({
        code: 'deliver/empty',
        level: 'blocker',
        message: 'Nothing would be delivered: no visible part hangs on an anchor.',
      });
    for (const b of licenceBlockers(piece)) findings.push({ code: 'deliver/licence', level: 'blocker', message: b.why, stock: b.stockId });
    const partOf = (name: string) => Object.values(piece.parts).find((p) => p.name === name)?.id;
    for (const l of leftOut) {
      const part = partOf(l.name);
      if (part) findings.push({ code: 'deliver/left-out', level: 'note', message: `${l.name} is left out of a GLB: ${l.why}.`, part });
    }
    for (const l of lost)
      findings.push({
        code: 'deliver/lost',
        level: 'note',
        message: `${l.name}: a GLB cannot say that it ${l.why}.`,
        part: partOf(l.name),
      });
    if (json) say({ piece: piece.settings.name, findings });
    else
      say(
        [
          piece.settings.name,
          // whose finding it is, where its sentence does not say so
          ...findings.map((f) => {
            const of = f.stock && !f.message.includes(piece.stock[f.stock].name) ? `${piece.stock[f.stock].name}: ` : '';
            return `  ${f.level}: ${of}${f.message} [${f.code}]`;
          }),
          ...(findings.length === 0 ? ['  nothing found'] : []),
        ].join('\n'),
      );
    return findings.some((f) => f.level === 'blocker') ? 1 : 0;
  });
