/** What is told of a model, and a model kept with it. */
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Document } from '@gltf-transform/core';
import { inspectModel, type Pixels, type ReadGltf, readModel, type StockFacts, sniffPicture } from '@/core/intake';
import { judgeFixes, type RecipeTools, readPictures, TextureCache } from '@/core/prepare';
import { bakedBody } from './bodybase';
import { readGlb, sha256Hex, validate } from './codecs';
import { writeGlb } from './glb';
import { nodePictures } from './pictures';

/** Pictures and models by their hash, and the body, from files. */
export const linkedFrom = (paths: Readonly<Record<string, string>>): Pick<RecipeTools, 'picture' | 'model' | 'body'> => ({
  body: bakedBody,
  async picture(sha) {
    const path = paths[sha];
    if (!path) return null;
    const bytes = new Uint8Array(await readFile(path));
    return { bytes, mime: sniffPicture(bytes) ?? 'image/png' };
  },
  async model(sha) {
    const path = paths[sha];
    return path ? readModel(await readGlb(await readFile(path))) : null;
  },
});

/** A small picture as a data address; null over what a finding may hold. */
async function smallPicture({ width, height, data }: Pixels): Promise<string | null> {
  const { default: sharp } = await import('sharp');
  const bytes = await sharp(data, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .resize({ width: 480, withoutEnlargement: true })
    .webp({ quality: 60 })
    .toBuffer();
  const address = `data:image/webp;base64,${bytes.toString('base64')}`;
  return address.length <= 40_000 ? address : null;
}

/** The facts of a document, its pictures decoded. */
export async function factsOf(
  read: Pick<ReadGltf, 'document' | 'format'>,
  bytes: number,
  extras: Parameters<typeof inspectModel>[2],
): Promise<StockFacts> {
  const facts = inspectModel(read, bytes, { ...extras, pictures: await readPictures(read.document, nodePictures) });
  const cache = new TextureCache(nodePictures);
  const tools = { ...nodePictures, ...linkedFrom({}), address: smallPicture };
  return { ...facts, findings: await judgeFixes(read.document, facts.findings, (d) => cache.of(d), tools) };
}

/** Writes what a recipe yields to `outDir` under its hash, and reads its facts. */
export async function keepModel(
  document: Document,
  outDir: string,
  from: Pick<StockFacts, 'credit' | 'cannotCarry' | 'loose'>,
): Promise<{ result: string; facts: StockFacts }> {
  const glb = await writeGlb(document);
  const result = sha256Hex(glb);
  await writeFile(join(outDir, result), glb);
  const facts = await factsOf({ document: await readGlb(glb), format: 'glb' }, glb.byteLength, {
    issues: await validate(glb, 'glb', new Map()),
    credit: from.credit,
    cannotCarry: from.cannotCarry,
    loose: from.loose,
  });
  return { result, facts };
}
