/** `./scaphos prepare FILE…`: a recipe run, or limits met with the least visible error, headless. */
import { copyFile, mkdtemp, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as z from 'zod';
import type { Kind } from '@/core/intake';
import { showBytes, showCount } from '@/core/math';
import { RecipeFile, stepFits } from '@/core/piece';
import { FrontPoint, type Limits, VisibleError, Weight } from '@/core/prepare';
import { JobError, measure, meetLimits, namedSteps, openModel } from '@/worker/node';
import { dataDir } from './data';
import { CliFailure, say } from './failure';

export interface PrepareOptions {
  json: boolean;
  kind: Kind | null;
  /** null: only the recipe is run. */
  limits: Limits | null;
  recipe: RecipeFile | null;
  out: { path: string; folder: boolean };
}

const Short = Weight.pick({ bytes: true, triangles: true, vertices: true, textureBytes: true, bones: true });
const PreparedRow = z.strictObject({
  file: z.string(),
  before: Short,
  after: Short,
  error: VisibleError,
  /** The one number: E ≤ 1 is "not seen". */
  e: z.number(),
  front: z.array(FrontPoint.omit({ steps: true })),
  steps: z.array(z.strictObject({ step: z.string(), savedBytes: z.int(), savedTriangles: z.int(), ms: z.number() })),
  met: z.boolean(),
  unmet: z.array(z.string()).optional(),
  written: z.string(),
  seconds: z.number(),
  peakMemoryMb: z.number(),
});
const UnreadRow = z.strictObject({ file: z.string(), error: z.strictObject({ code: z.string(), message: z.string() }) });
export const PrepareRow = z.union([PreparedRow, UnreadRow]);
type Row = z.infer<typeof PrepareRow>;

/** JSON Schema (2020-12) of one line of `prepare --json`, and of a recipe file. */
export const prepareSchema = (): unknown => ({
  ...(z.toJSONSchema(PrepareRow, { io: 'output' }) as object),
  title: 'One line of ./scaphos prepare --json',
});
export const recipeSchema = (): unknown => ({
  ...(z.toJSONSchema(RecipeFile, { io: 'input' }) as object),
  title: 'A recipe file for ./scaphos prepare --recipe',
});

/** @throws {CliFailure} not there, not JSON, or no recipe. */
export async function readRecipeFile(path: string): Promise<RecipeFile> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new CliFailure(`There is no recipe file ${path}.`, 64);
  });
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    throw new CliFailure(`${path} is not JSON: ${(error as Error).message}.`, 64);
  }
  const read = RecipeFile.safeParse(data);
  if (read.success) {
    const stray = read.data.steps.find((s) => !stepFits('model', s.step));
    if (stray) throw new CliFailure(`${path}: ${stray.step} is no step for a model.`, 64);
    return read.data;
  }
  const first = read.error.issues[0];
  throw new CliFailure(
    `${path} is no recipe: ${first.path.join('.') || 'its root'}: ${first.message}. ./scaphos schema recipe says what is.`,
    64,
  );
}

async function prepareFile(file: string, { kind, limits, recipe, out }: PrepareOptions): Promise<Row> {
  const unread = (code: string, message: string): Row => ({ file, error: { code, message } });
  const found = await stat(file).catch(() => null);
  if (!found) return unread('file/not-found', `There is no file ${file}.`);
  if (!found.isFile()) return unread('file/not-a-file', `${file} is not a file.`);
  const from = performance.now();
  const dir = await mkdtemp(join(tmpdir(), 'scaphos-prepare-'));
  try {
    const leaf = file.slice(file.lastIndexOf('/') + 1);
    const opened = await openModel({ files: [{ name: leaf, path: file }], fromDisk: true, outDir: dir });
    const files = Object.fromEntries(opened.loose.map((sha) => [sha, join(dir, sha)]));
    const job = { path: join(dir, opened.model), bytes: opened.bytes, files, kind };
    const steps = namedSteps(recipe?.steps ?? [], 'recipe');
    const progress = (p: { share: number; what: string }) => {
      if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${file}: ${Math.round(p.share * 100)} % ${p.what}`);
    };
    const packed = join(dir, 'packed.glb');
    const cacheDir = join(dataDir(), 'cache', 'solved');
    const meeting = limits ? await meetLimits({ ...job, steps, limits, cacheDir, out: packed }, { progress }) : null;
    const done = meeting?.done ?? (await measure({ ...job, steps, measure: 'end', out: packed }, { progress }));
    const solution = meeting?.solution ?? null;
    if (process.stderr.isTTY) process.stderr.write('\r\x1b[K');
    if (!done.error) throw new Error('nothing was measured');
    const stem = leaf.replace(/\.[^.]*$/, '');
    const written = out.folder ? join(out.path, `${stem}.glb`) : out.path;
    await copyFile(packed, written);
    const met = meeting?.met ?? true;
    const short = ({ bytes, triangles, vertices, textureBytes, bones }: Weight) => ({ bytes, triangles, vertices, textureBytes, bones });
    return {
      file,
      before: short(done.before),
      after: short(done.after),
      error: done.error,
      e: done.e as number,
      front: solution?.front.map(({ bytes, triangles, e, error }) => ({ bytes, triangles, e, error })) ?? [],
      steps: done.steps.map(({ step, savedBytes, savedTriangles, ms }) => ({ step, savedBytes, savedTriangles, ms })),
      met,
      ...(meeting && !met ? { unmet: meeting.unmet } : {}),
      written,
      seconds: Number(((performance.now() - from) / 1000).toFixed(2)),
      peakMemoryMb: Math.max(done.peakMemoryMb, solution?.peakMemoryMb ?? 0),
    };
  } catch (error) {
    if (error instanceof JobError) return unread(error.code, error.message);
    throw error;
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
}

function print(row: Row): string {
  if ('before' in row) {
    const { before, after, error } = row;
    return [
      `${row.file}`,
      `  ${showBytes(before.bytes)} → ${showBytes(after.bytes)}, ${showCount(before.triangles)} → ${showCount(after.triangles)} triangles, pictures ${showBytes(before.textureBytes)} → ${showBytes(after.textureBytes)}`,
      `  E ${row.e.toFixed(2)} (${row.e <= 1 ? 'not seen' : 'seen'}): mean ${error.meanMm.toFixed(3)} mm, most ${error.maxMm.toFixed(3)} mm, normals ${error.normalDeg.toFixed(2)}°, silhouette ${(error.silhouette * 100).toFixed(2)} %, similarity ${error.ssimWorst.toFixed(4)} (${error.worstView})`,
      ...row.steps.map((s) => `  ${s.step}: ${showBytes(s.savedBytes)} and ${showCount(s.savedTriangles)} triangles saved, ${s.ms} ms`),
      row.met ? `  met, written to ${row.written}` : `  not met, the nearest written to ${row.written}`,
      ...(row.unmet ?? []).map((u) => `    ${u}`),
    ].join('\n');
  }
  return `${row.file}\n  cannot be prepared: ${row.error.message} [${row.error.code}]`;
}

/** Exit code: the highest of 0 met, 1 not met, 2 not readable. */
export async function prepareCommand(files: string[], options: PrepareOptions): Promise<number> {
  let exit = 0;
  for (const file of files) {
    const row = await prepareFile(file, options);
    process.stdout.write(`${options.json ? JSON.stringify(row) : print(row)}\n`);
    exit = Math.max(exit, 'before' in row ? (row.met ? 0 : 1) : 2);
  }
  if (files.length > 1 && !options.json) say(`${files.length} files prepared.`);
  return exit;
}
