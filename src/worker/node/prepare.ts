/** The prepare job: a recipe run on a stock file. Runs in a disposable process. */
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type FileFacts, findImporter, frameGroups, IntakeError, type StockFacts } from '@/core/intake';
import type { RecipeStep, StockKind } from '@/core/piece';
import { packDocument, packingOf, type RecipeReport, runRecipe, unpackDocument } from '@/core/prepare';
import { nodeDraco, readGlb, sha256Hex } from './codecs';
import { keepModel, linkedFrom } from './facts';
import { nodePictures } from './pictures';
import { unzipModels } from './unzip';

export interface PrepareModelJob {
  kind: 'model';
  /** File of the plain GLB. */
  path: string;
  steps: RecipeStep[];
  /** SHA-256 → file of pictures and motions that steps put in. */
  files: Record<string, string>;
  /** What the delivered file's facts say that its shapes do not. */
  from: Pick<StockFacts, 'credit' | 'cannotCarry' | 'loose'>;
  outDir: string;
}
export interface PrepareMediaJob {
  kind: Exclude<StockKind, 'model'>;
  /** File of the original, and its name. */
  path: string;
  name: string;
  steps: RecipeStep[];
  outDir: string;
}
export type PrepareJob = PrepareModelJob | PrepareMediaJob;

export interface PrepareDone extends RecipeReport {
  /** SHA-256 of what it is used as; every blob its facts name lies in `outDir`. */
  result: string;
  facts: FileFacts;
}

export async function runPrepare(job: PrepareJob): Promise<PrepareDone> {
  await mkdir(job.outDir, { recursive: true });
  return job.kind === 'model' ? prepareModel(job) : prepareOther(job);
}

/** @throws {IntakeError} nothing is left of the model after its recipe. */
async function prepareModel(job: PrepareModelJob): Promise<PrepareDone> {
  const document = await readGlb(await readFile(job.path));
  const { unmatched } = await runRecipe(document, job.steps, {
    ...nodePictures,
    ...linkedFrom(job.files),
  });
  if (document.getRoot().listMeshes().length === 0 && document.getRoot().listAnimations().length === 0)
    throw new IntakeError('recipe/empty', 'Nothing of the model is left after its recipe. Switch off the step that takes everything out.');
  const packing = packingOf(job.steps);
  const draco = packing.method === 'draco' ? await nodeDraco() : null;
  // what packing does to the numbers is part of what one looks at
  const prepared = await unpackDocument(await packDocument(document, packing, draco), draco);
  return { ...(await keepModel(prepared, job.outDir, job.from)), unmatched };
}

/** @throws {IntakeError} steps that do not fit the file. */
async function prepareOther({ kind, path, name, steps, outDir }: PrepareMediaJob): Promise<PrepareDone> {
  const bytes = new Uint8Array(await readFile(path));
  const archived = findImporter(bytes.subarray(0, 64))?.road === 'archive';
  const files = archived ? await unzipModels(bytes) : null;
  const groups = files ? frameGroups([...files.keys()]).sort((a, b) => b.frames.length - a.frames.length) : [];
  const frames = files && groups[0] ? { group: groups[0], files } : null;
  const { prepareMedia } = await import('./media');
  const made = await prepareMedia(
    { kind, name, bytes, frames },
    steps.filter((s) => s.on),
  );
  for (const b of made.blobs) await writeFile(join(outDir, sha256Hex(b)), b);
  if (made.model === sha256Hex(bytes)) await writeFile(join(outDir, made.model), bytes);
  return { result: made.model, facts: made.facts, unmatched: [] };
}
