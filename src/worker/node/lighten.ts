/** Preparing under measure: a recipe with what each step costs, and the search for settings that meet limits. */
import { createHash } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Document } from '@gltf-transform/core';
import { Matrix4 } from 'three';
import { IntakeError, type Kind, type StockFacts } from '@/core/intake';
import type { RecipeStep } from '@/core/piece';
import {
  type Effort,
  type Limits,
  movesOf,
  type RunTools,
  referenceOf,
  runMeasured,
  runStep,
  Solution,
  type StepCost,
  solve,
  TextureCache,
  undrawn,
  type VisibleError,
  viewingDistance,
  type Weight,
  type WeightPart,
  weighDocument,
  weighParts,
} from '@/core/prepare';
import { nodeDraco, readGlb, sha256Hex } from './codecs';
import { keepModel, linkedFrom } from './facts';
import { nodePictures } from './pictures';
import type { PrepareModelJob } from './prepare';

interface LightenJob {
  /** File of the plain GLB. */
  path: string;
  /** Of the file as it was delivered. */
  bytes: number;
  steps: RecipeStep[];
  /** SHA-256 → file of pictures and motions that steps put in. */
  files: Record<string, string>;
  /** What it is: from how far it is looked at. */
  kind: Kind | null;
}
export interface MeasureJob extends LightenJob {
  measure: 'steps' | 'end' | 'none';
  /** Where the packed file goes; left out, nothing is written. */
  out?: string;
  /** Where what the piece would use goes, under its hash; left out, nothing is kept. */
  keep?: { outDir: string; from: PrepareModelJob['from'] };
}
export interface MeasureDone {
  before: Weight;
  after: Weight;
  parts: { before: WeightPart[]; after: WeightPart[] };
  error: VisibleError | null;
  e: number | null;
  steps: StepCost[];
  unmatched: string[];
  /** What its materials ask for and no view draws, in words. */
  undrawn: string[];
  /** By how the steps move the whole model, where it was measured: a column-major matrix. */
  moved: number[];
  /** What was kept. */
  kept: { result: string; facts: StockFacts } | null;
  /** Of this process, its own idle size included. */
  peakMemoryMb: number;
}

export interface SolveJob extends LightenJob {
  limits: Limits;
  /** Answers are kept here by what they were asked of; left out, none is. */
  cacheDir?: string;
}
export interface SolveDone extends Solution {
  before: Weight;
  peakMemoryMb: number;
  /** It was known from before. */
  cached: boolean;
}

type Report = (share: number, what: string) => void;

/** Bytes outside the heap that have come since the last collection before another is asked for: buffers put no pressure on it. */
const COLLECT_AFTER = 48e6;
let held = 0;
function collect(): void {
  if (!globalThis.gc || process.memoryUsage().arrayBuffers < held + COLLECT_AFTER) return;
  globalThis.gc();
  held = process.memoryUsage().arrayBuffers;
}

const tools = async (files: Record<string, string>, progress: Report): Promise<RunTools> => ({
  ...nodePictures,
  ...linkedFrom(files),
  draco: await nodeDraco(),
  now: () => performance.now(),
  progress: (share, what) => {
    collect();
    progress(share, what);
  },
});

const peakMb = () => Math.round(process.resourceUsage().maxRSS / 1000);

/** @throws {IntakeError} nothing is in the model from the start. */
function requireContents(source: Document): void {
  if (source.getRoot().listMeshes().length === 0 && source.getRoot().listAnimations().length === 0)
    throw new IntakeError(
      'prepare/empty',
      'There are no shapes and no clips in the file: nothing can be made lighter. Export it again with its meshes.',
    );
}

/** @throws {IntakeError} nothing is left of the model. */
export async function runMeasure(job: MeasureJob, report: Report): Promise<MeasureDone> {
  const source = await readGlb(await readFile(job.path));
  requireContents(source);
  const run = await runMeasured(source, job.bytes, job.steps, viewingDistance(job.kind), job.measure, await tools(job.files, report));
  const root = run.document.getRoot();
  if (root.listMeshes().length === 0 && root.listAnimations().length === 0)
    throw new IntakeError(
      'recipe/empty',
      'Nothing of the model is left after its recipe. Switch off the step that takes everything out; if none does, none of its places is a number: export it again.',
    );
  if (job.out) {
    await writeFile(`${job.out}.part`, run.packed);
    await rename(`${job.out}.part`, job.out); // whole or not at all
  }
  return {
    before: weighDocument(source, job.bytes),
    after: run.after,
    parts: { before: weighParts(source, job.bytes), after: weighParts(run.document, run.after.bytes) },
    error: run.error,
    e: run.e,
    steps: run.steps,
    unmatched: run.unmatched,
    undrawn: undrawn(source),
    moved: run.moved,
    kept: job.keep ? await keepModel(run.document, job.keep.outDir, job.keep.from) : null,
    peakMemoryMb: peakMb(),
  };
}

/** Changes whenever the solver does. */
const SOLVER = 12;
/** SCAPHOS_EFFORT=quick looks less far: for tests that ask how an answer travels, not how good it is. */
const effort = (): Effort => (process.env.SCAPHOS_EFFORT === 'quick' ? 'quick' : 'full');

export async function runSolve(job: SolveJob, report: Report): Promise<SolveDone> {
  const bytes = new Uint8Array(await readFile(job.path));
  const key = createHash('sha256')
    .update(JSON.stringify([SOLVER, effort(), sha256Hex(bytes), job.bytes, job.steps, job.limits, job.kind]))
    .digest('hex');
  const file = job.cacheDir ? join(job.cacheDir, `${key}.json`) : null;
  const source = await readGlb(bytes);
  requireContents(source);
  const before = weighDocument(source, job.bytes);
  if (file) {
    const kept = await readFile(file, 'utf8').then(
      (t) => Solution.safeParse(JSON.parse(t)).data,
      () => undefined,
    );
    if (kept) return { ...kept, before, peakMemoryMb: peakMb(), cached: true };
  }
  const t = await tools(job.files, report);
  const distanceM = viewingDistance(job.kind);
  const on = job.steps.filter((s) => s.on);
  const cache = new TextureCache(t);
  const moved = (await movesOf(source, on, t)).reduce((m, x) => x.clone().multiply(m), new Matrix4());
  const ref = await referenceOf(source, on, moved, distanceM, t, cache);
  for (const step of on) await runStep(source, step, t);
  const solution = await solve(source, ref, (d) => cache.of(d), job.limits, distanceM, { ...t, recipe: t, effort: effort() });
  if (file && job.cacheDir) {
    await mkdir(job.cacheDir, { recursive: true });
    await writeFile(`${file}.${process.pid}`, JSON.stringify(solution));
    await rename(`${file}.${process.pid}`, file);
  }
  return { ...solution, before, peakMemoryMb: peakMb(), cached: false };
}
