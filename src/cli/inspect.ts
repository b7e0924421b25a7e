/** `./scaphos inspect FILE… --json`: the facts and findings of Stock, headless; `--fix all` writes the mended file. */

import { copyFile, mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as z from 'zod';
import {
  type FileFacts,
  type Finding,
  isUnseen,
  judgeFindings,
  type Kind,
  MediaFacts,
  ModelFacts,
  ownCredit,
  PlacingFacts,
  type StockFacts,
  Unreadable,
} from '@/core/intake';
import { showCount, showMegabytes } from '@/core/math';
import { isUponForm, type RecipeStep, type StepDraft, stepFits } from '@/core/piece';
import { FIX_ROUNDS, mergeDrafts } from '@/core/prepare';
import { counted } from '@/core/words/counted';
import { type ItemDone, intake, JobError, prepare } from '@/worker/node';

export interface InspectOptions {
  json: boolean;
  kind: Kind | null;
  /** Where mended GLBs go; null: nothing is mended. */
  out: { path: string; folder: boolean } | null;
}

/** One line of `--json`, by `kind`. Several stock files in one archive give several lines of the same `file`; `item` names each. */
const where = { file: z.string(), item: z.string().optional(), written: z.string().optional() };
const ModelRow = ModelFacts.extend({ ...where, ...PlacingFacts.shape });
const MediaRow = z.discriminatedUnion('kind', MediaFacts.options.map((o) => o.extend(where)) as never) as unknown as z.ZodType<
  MediaFacts & { file: string; item?: string; written?: string }
>;
const UnreadableRow = Unreadable.extend({ file: z.string() });
export const InspectRow = z.union([ModelRow, MediaRow, UnreadableRow]);
type Row = z.infer<typeof ModelRow> | z.infer<typeof MediaRow> | z.infer<typeof UnreadableRow>;

/** JSON Schema (2020-12) of one line of `inspect --json`. */
export const inspectSchema = (): unknown => ({
  ...(z.toJSONSchema(InspectRow, { io: 'output' }) as object),
  title: 'One line of ./scaphos inspect --json',
});

const judge = (facts: StockFacts, kind: Kind | null, steps: readonly RecipeStep[]): Finding[] =>
  judgeFindings(facts, { kind, credit: ownCredit(facts), changed: steps.length > 0, uponForm: isUponForm(steps), pictures: [] });

const contract = Object.keys(ModelFacts.shape) as (keyof ModelFacts)[];
const factsOnly = (facts: StockFacts): ModelFacts => Object.fromEntries(contract.map((k) => [k, facts[k]])) as ModelFacts;

/** What a mended file is written as: what the piece would use it as. */
function writtenAs(facts: FileFacts): { blob: (model: string) => string; ending: string } {
  if (facts.kind === 'picture') return { blob: () => facts.sha, ending: facts.type.replace('image/', '.').replace('jpeg', 'jpg') };
  if (facts.kind === 'sound') return { blob: (model) => model, ending: `.${facts.format}` };
  if (facts.kind === 'environment') return { blob: (model) => model, ending: '.hdr' };
  if (facts.kind === 'footage') return { blob: (model) => model, ending: `.${facts.format}` };
  return { blob: (model) => model, ending: '.glb' };
}

/** Runs every fix that changes nothing but the fault, again where mending shows something new, and writes the file. Returns where it was written. */
async function mendAll(done: ItemDone, dir: string, kind: Kind | null, to: (ending: string) => string): Promise<string> {
  const source = { model: done.model as string, original: done.original as string };
  const first = done.facts;
  const files = first.kind === 'model' ? Object.fromEntries(first.loose.map((p) => [p.sha, join(dir, p.sha)])) : {};
  let steps: RecipeStep[] = [];
  let facts = first;
  let result = source.model;
  for (let round = 0; round < FIX_ROUNDS; round++) {
    const findings = facts.kind === 'model' ? judge(facts, kind, steps) : facts.findings;
    const drafts = mergeDrafts(findings.flatMap((f): StepDraft[] => (isUnseen(f) ? [f.fix] : []))).filter((d) =>
      stepFits(facts.kind, d.step),
    );
    if (drafts.length === 0) break;
    steps = [...steps, ...drafts.map((d, i) => ({ ...d, id: `fix-${round}-${i}`, on: true }) as RecipeStep)];
    const mended = await prepare(
      first.kind === 'model'
        ? { kind: 'model', path: join(dir, source.model), steps, files, from: first, outDir: dir }
        : { kind: first.kind, path: join(dir, source.original), name: done.name, steps, outDir: dir },
    );
    if (mended.result === result) break;
    ({ facts, result } = mended);
  }
  const as = writtenAs(facts);
  const path = to(as.ending);
  await copyFile(join(dir, as.blob(result)), path);
  return path;
}

const leaf = (path: string) => path.slice(path.lastIndexOf('/') + 1);

async function inspectFile(file: string, { kind, out }: InspectOptions): Promise<Row[]> {
  const unread = (code: string, message: string): Row[] => [{ file, readable: false, error: { code, message } }];
  const found = await stat(file).catch(() => null);
  if (!found) return unread('file/not-found', `There is no file ${file}.`);
  if (!found.isFile()) return unread('file/not-a-file', `${file} is not a file.`);
  const dir = await mkdtemp(join(tmpdir(), 'scaphos-inspect-'));
  try {
    const { items } = await intake({ files: [{ name: leaf(file), path: file }], fromDisk: true, outDir: out ? dir : undefined });
    const rows: Row[] = [];
    for (const item of items) {
      const { facts } = item;
      const at = { file, ...(items.length > 1 ? { item: item.name } : {}) };
      const row: Row =
        facts.kind === 'model'
          ? { ...at, ...factsOnly(facts), findings: judge(facts, kind, []), ...facts.placing[kind ?? 'unstated'] }
          : { ...at, ...facts };
      const stem = (items.length > 1 ? item.name : leaf(file)).replace(/\.[^.]*$/, '');
      const to = (ending: string) => (out?.folder ? join(out.path, `${stem}${ending}`) : (out?.path as string));
      rows.push(out ? { ...row, written: await mendAll(item, dir, kind, to) } : row);
    }
    return rows;
  } catch (error) {
    if (error instanceof JobError) return unread(error.code, error.message);
    throw error;
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
}

const mm = (list: readonly number[]) => list.map((x) => x.toFixed(1)).join(' × ');

/** What is told of a file in words, by its kind. */
function factLines(row: Extract<Row, { readable: true }>): string[] {
  switch (row.kind) {
    case 'model':
      return [
        `  ${row.format}, ${showMegabytes(row.bytes)} MB, ${mm(row.sizeMm)} mm (side × up × fore)`,
        `  ${showCount(row.triangles)} triangles, ${showCount(row.vertices)} vertices, ${row.meshes} meshes, ${row.materials} materials, ${row.bones} bones`,
        ...row.textures.map((t) => `  texture ${t.name}: ${t.width} × ${t.height} px, ${showMegabytes(t.bytes)} MB, ${t.type}`),
        ...(row.morphs.length > 0
          ? [`  ${counted(row.morphs.length, 'morph target')}: ${row.morphs.slice(0, 12).join(', ')}${row.morphs.length > 12 ? ' …' : ''}`]
          : []),
        ...(row.points + row.lines > 0
          ? [
              `  no surface: ${[...(row.points ? [counted(row.points, 'point')] : []), ...(row.lines ? [counted(row.lines, 'line')] : [])].join(', ')}`,
            ]
          : []),
        ...row.clips.map((c) => `  clip ${c.name}: ${c.seconds} s`),
        ...(row.orientation ? [`  turn: ${row.orientation.reason}`] : []),
      ];
    case 'picture':
      return [
        `  picture, ${row.format}, ${showMegabytes(row.bytes)} MB, ${row.width} × ${row.height} px, ${mm(row.sizeMm)} mm`,
        `  alpha: ${row.alpha}; ${row.space}, ${row.bitsPerChannel} bits${row.profile ? `, ${row.profile}` : ''}; looks like: ${row.look}`,
      ];
    case 'sequence':
      return [
        `  sequence, ${row.frames} frames of ${row.width} × ${row.height} px, ${row.fps} a second, ${row.seconds} s${row.loop ? ', looping' : ''}`,
        `  sheet: ${row.sheet.columns} × ${row.sheet.rows}, ${row.sheet.width} × ${row.sheet.height} px, ${showMegabytes(row.sheet.bytes)} MB`,
      ];
    case 'sound':
      return [
        `  sound, ${row.format} (${row.codec}), ${row.seconds} s, ${row.channels} channels at ${row.sampleRate} Hz`,
        ...(row.loudnessLufs === null ? [] : [`  loudness ${row.loudnessLufs} LUFS, peak ${row.peakDb} dB`]),
      ];
    case 'environment':
      return [
        `  environment, ${row.format}, ${row.width} × ${row.height} px, exposure ${row.exposureEv} EV`,
        `  brightest at bearing ${row.brightest.bearingDeg}°, ${row.brightest.heightDeg}° high: ${Math.round(row.brightest.share * 100)} % of the light`,
      ];
    case 'motion':
      return [
        `  motion, ${row.format}, ${row.joints.length} joints, ${(row.heightMm / 1000).toFixed(2)} m tall`,
        ...row.clips.map((c) => `  clip ${c.name}: ${c.seconds} s, ${c.frames} frames at ${c.fps} a second`),
      ];
    case 'footage':
      return [`  footage, ${row.format} (${row.codec}), ${row.width} × ${row.height} px, ${row.seconds} s, ${row.fps} frames a second`];
  }
}

function print(row: Row): string {
  if (!row.readable) return `${row.file}\n  cannot be read: ${row.error.message} [${row.error.code}]`;
  return [
    row.item ? `${row.file}: ${row.item}` : row.file,
    ...factLines(row),
    ...row.findings.flatMap((f: Finding) => [
      `  ${f.level}: ${f.message}${f.where ? ` (${f.where})` : ''} [${f.code}]`,
      ...(f.fix?.changes ?? []).map((c) => `    fix: ${c}`),
      ...(f.fix?.shows
        ? [`    it looks different then, most ${f.fix.shows.view} (similarity ${f.fix.shows.ssim.toFixed(3)}): not among "all"`]
        : []),
    ]),
    ...(row.written ? [`  mended: ${row.written}`] : []),
  ].join('\n');
}

/** Exit code: the highest of 0 read, 1 read with a blocker, 2 not readable. */
export async function inspectCommand(files: string[], options: InspectOptions): Promise<number> {
  let exit = 0;
  for (const file of files) {
    for (const row of await inspectFile(file, options)) {
      process.stdout.write(`${options.json ? JSON.stringify(row) : print(row)}\n`);
      exit = Math.max(exit, row.readable ? (row.findings.some((f: Finding) => f.level === 'blocker') ? 1 : 0) : 2);
    }
  }
  return exit;
}
