/** `./scaphos inspect FILE… --json`: the facts and findings of Stock, headless; `--fix all` writes the mended GLB. */
import { copyFile, mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Finding, judgeFindings, type Kind, ModelFacts, ownCredit, type StockFacts, type Unreadable } from '@/core/intake';
import { showCount, showMegabytes } from '@/core/math';
import type { RecipeStep, StepDraft } from '@/core/piece';
import { FIX_ROUNDS, mergeDrafts } from '@/core/prepare';
import { intake, JobError, type ModelDone, prepare } from '@/worker/node';

export interface InspectOptions {
  json: boolean;
  kind: Kind | null;
  /** Where mended GLBs go; null: nothing is mended. */
  out: { path: string; folder: boolean } | null;
}

type Placing = StockFacts['placing']['unstated'];
type Row = { file: string } & ((ModelFacts & Placing & { written?: string }) | Unreadable);

const judge = (facts: StockFacts, kind: Kind | null, changed: boolean): Finding[] =>
  judgeFindings(facts, { kind, credit: ownCredit(facts), changed, pictures: [] });

const contract = Object.keys(ModelFacts.shape) as (keyof ModelFacts)[];
const factsOnly = (facts: StockFacts): ModelFacts => Object.fromEntries(contract.map((k) => [k, facts[k]])) as ModelFacts;

/** Runs every fix there is, again where mending shows something new, and writes the GLB. */
async function mendAll(done: ModelDone, dir: string, kind: Kind | null, to: string): Promise<void> {
  const model = join(dir, done.model as string);
  const pictures = Object.fromEntries(done.facts.loose.map((p) => [p.sha, join(dir, p.sha)]));
  let steps: RecipeStep[] = [];
  let facts = done.facts;
  let path = model;
  for (let round = 0; round < FIX_ROUNDS; round++) {
    const drafts = mergeDrafts(judge(facts, kind, steps.length > 0).flatMap((f): StepDraft[] => (f.fix ? [f.fix] : [])));
    if (drafts.length === 0) break;
    steps = [...steps, ...drafts.map((d, i) => ({ ...d, id: `fix-${round}-${i}`, on: true }) as RecipeStep)];
    const mended = await prepare({ path: model, steps, pictures, from: done.facts, outDir: dir });
    if (join(dir, mended.result) === path) break;
    facts = mended.facts;
    path = join(dir, mended.result);
  }
  await copyFile(path, to);
}

const leaf = (path: string) => path.slice(path.lastIndexOf('/') + 1);

async function inspectFile(file: string, { kind, out }: InspectOptions): Promise<Row> {
  const found = await stat(file).catch(() => null);
  if (!found) return { file, readable: false, error: { code: 'file/not-found', message: `There is no file ${file}.` } };
  if (!found.isFile()) return { file, readable: false, error: { code: 'file/not-a-file', message: `${file} is not a file.` } };
  const dir = out ? await mkdtemp(join(tmpdir(), 'scaphos-inspect-')) : undefined;
  try {
    const { items } = await intake({ files: [{ name: leaf(file), path: file }], fromDisk: true, outDir: dir });
    const [item] = items;
    if (item?.kind !== 'model')
      return { file, readable: false, error: { code: 'file/not-a-model', message: `${leaf(file)} is a picture, not a model.` } };
    const { facts } = item;
    const row: Row = { file, ...factsOnly(facts), findings: judge(facts, kind, false), ...facts.placing[kind ?? 'unstated'] };
    if (!out || !dir) return row;
    const written = out.folder ? join(out.path, `${leaf(file).replace(/\.[^.]*$/, '')}.glb`) : out.path;
    await mendAll(item, dir, kind, written);
    return { ...row, written };
  } catch (error) {
    if (error instanceof JobError) return { file, readable: false, error: { code: error.code, message: error.message } };
    throw error;
  } finally {
    if (dir) await rm(dir, { recursive: true, force: true });
  }
}

function print(row: Row): string {
  if (!row.readable) return `${row.file}\n  cannot be read: ${row.error.message} [${row.error.code}]`;
  const mm = row.sizeMm.map((x) => x.toFixed(1)).join(' × ');
  const lines = [
    row.file,
    `  ${row.format}, ${showMegabytes(row.bytes)} MB, ${mm} mm (side × up × fore)`,
    `  ${showCount(row.triangles)} triangles, ${showCount(row.vertices)} vertices, ${row.meshes} meshes, ${row.materials} materials, ${row.bones} bones`,
    ...row.textures.map((t) => `  texture ${t.name}: ${t.width} × ${t.height} px, ${showMegabytes(t.bytes)} MB, ${t.type}`),
    ...row.clips.map((c) => `  clip ${c.name}: ${c.seconds} s`),
    ...(row.orientation ? [`  turn: ${row.orientation.reason}`] : []),
    ...row.findings.flatMap((f) => [
      `  ${f.level}: ${f.message}${f.where ? ` (${f.where})` : ''} [${f.code}]`,
      ...(f.fix?.changes ?? []).map((c) => `    fix: ${c}`),
    ]),
    ...(row.written ? [`  mended: ${row.written}`] : []),
  ];
  return lines.join('\n');
}

/** Exit code: the highest of 0 read, 1 read with a blocker, 2 not readable. */
export async function inspectCommand(files: string[], options: InspectOptions): Promise<number> {
  let exit = 0;
  for (const file of files) {
    const row = await inspectFile(file, options);
    process.stdout.write(`${options.json ? JSON.stringify(row) : print(row)}\n`);
    exit = Math.max(exit, row.readable ? (row.findings.some((f) => f.level === 'blocker') ? 1 : 0) : 2);
  }
  return exit;
}
