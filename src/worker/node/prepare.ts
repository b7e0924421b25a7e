/** The prepare job: a recipe run on a stock model. Runs in a disposable process. */
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { createGltfIo, IntakeError, type StockFacts, sniffPicture } from '@/core/intake';
import type { RecipeStep } from '@/core/piece';
import { type RecipeReport, runRecipe } from '@/core/prepare';
import { nodeDecoders, sha256Hex, validate } from './codecs';
import { factsOf, writeGlb } from './intake';
import { nodePictures } from './pictures';

export interface PrepareJob {
  /** File of the plain GLB. */
  path: string;
  steps: RecipeStep[];
  /** SHA-256 → file of pictures that may be linked. */
  pictures: Record<string, string>;
  /** What the delivered file's facts say that its shapes do not. */
  from: Pick<StockFacts, 'credit' | 'cannotCarry' | 'loose'>;
  outDir: string;
}
export interface PrepareDone extends RecipeReport {
  /** SHA-256 of the GLB written to `outDir`. */
  result: string;
  facts: StockFacts;
}

/** @throws {IntakeError} nothing is left of the model after its recipe. */
export async function runPrepare(job: PrepareJob): Promise<PrepareDone> {
  const io = createGltfIo(await nodeDecoders());
  const document = await io.readBinary(new Uint8Array(await readFile(job.path)));
  const { unmatched } = await runRecipe(document, job.steps, {
    ...nodePictures,
    picture: async (sha) => {
      const path = job.pictures[sha];
      if (!path) return null;
      const bytes = new Uint8Array(await readFile(path));
      return { bytes, mime: sniffPicture(bytes) ?? 'image/png' };
    },
  });
  if (document.getRoot().listMeshes().length === 0 && document.getRoot().listAnimations().length === 0)
    throw new IntakeError('recipe/empty', 'Nothing of the model is left after its recipe. Switch off the step that takes everything out.');
  const glb = await writeGlb(document);
  await mkdir(job.outDir, { recursive: true });
  const result = sha256Hex(glb);
  await writeFile(join(job.outDir, result), glb);
  const read = await io.readBinary(glb);
  const facts = await factsOf({ document: read, format: 'glb' }, glb.byteLength, {
    issues: await validate(glb, 'glb', new Map()),
    credit: job.from.credit,
    cannotCarry: job.from.cannotCarry,
    loose: job.from.loose,
  });
  return { result, facts, unmatched };
}
