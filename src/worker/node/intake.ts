/** The intake job: from files on disk to facts and one GLB every viewer reads. Runs in a disposable process. */
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { unpartition } from '@gltf-transform/functions';
import {
  findImporter,
  IntakeError,
  inspectModel,
  NO_CREDIT,
  openGltf,
  type PictureFacts,
  pictureLeaf,
  pictureLook,
  type ReadGltf,
  readCredit,
  readForeign,
  readGltf,
  type StockFacts,
  sniffPicture,
  wantedName,
} from '@/core/intake';
import { readPictures } from '@/core/prepare';
import { type Chosen, choose, type IntakeJob } from './choose';
import { nodeDecoders, sha256Hex, validate } from './codecs';
import { convertForeign, pictureToPng } from './convert';
import { nodePictures } from './pictures';

export type { IntakeFile, IntakeJob } from './choose';

export interface ModelDone {
  kind: 'model';
  name: string;
  facts: StockFacts;
  /** SHA-256 of the two files written to `outDir`; null without one. */
  original: string | null;
  model: string | null;
}
export interface PictureDone {
  kind: 'picture';
  name: string;
  facts: PictureFacts;
}
/** One model, or pictures only. Blobs of loose pictures lie in `outDir` as well, under the hashes their facts name. */
export interface IntakeDone {
  items: (ModelDone | PictureDone)[];
}

const PACKING = new Set(['KHR_draco_mesh_compression', 'EXT_meshopt_compression', 'KHR_meshopt_compression']);
const PICTURES = /\.(png|jpe?g|webp|tga|tiff?|gif)$/i;

/** A Document as one GLB with everything inside, unpacked. */
export async function writeGlb(document: Document): Promise<Uint8Array> {
  for (const e of document.getRoot().listExtensionsUsed()) if (PACKING.has(e.extensionName)) e.dispose();
  await document.transform(unpartition());
  return new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(document);
}

/** One GLB with everything inside, unpacked; the original itself where it already is that. */
async function plainGlb(read: ReadGltf, original: Uint8Array): Promise<Uint8Array> {
  const packed = read.document
    .getRoot()
    .listExtensionsUsed()
    .some((e) => PACKING.has(e.extensionName));
  if (read.format === 'glb' && !packed && read.resources.size === 0 && read.missing.length === 0) return original;
  return writeGlb(read.document);
}

/** Reads; where the reader stumbles over wrong data, the validator says more precisely what is wrong and where. */
async function readGltfOrExplain(chosen: Chosen): Promise<ReadGltf> {
  try {
    return await readGltf(chosen.bytes, await nodeDecoders(), chosen.companions, chosen.base);
  } catch (error) {
    if (!(error instanceof IntakeError) || error.code !== 'gltf/unreadable') throw error;
    const format = findImporter(chosen.bytes.subarray(0, 64))?.id === 'glb' ? 'glb' : 'gltf';
    const issues = await validate(chosen.bytes, format, chosen.companions).catch(() => []);
    const first = issues.find((i) => i.severity === 0 && i.code !== 'IO_ERROR');
    throw first
      ? new IntakeError(
          'gltf/unreadable',
          `The glTF is not valid: ${first.message}${first.pointer ? ` (${first.pointer})` : ''} Export it again.`,
        )
      : error;
  }
}

/** Pictures that came along and that the model does not use: candidates for what it misses. */
async function loosePictures(files: ReadonlyMap<string, Uint8Array>, used: ReadonlySet<string>): Promise<Map<PictureFacts, Uint8Array>> {
  const out = new Map<PictureFacts, Uint8Array>();
  for (const [name, bytes] of files) {
    if (!PICTURES.test(name) || used.has(sha256Hex(bytes)) || out.size >= 200) continue;
    const facts = await pictureFacts(name, bytes).catch(() => null);
    if (facts) out.set(facts.facts, facts.bytes);
  }
  return out;
}

/** @throws {IntakeError} not a picture that can be read. */
async function pictureFacts(name: string, given: Uint8Array): Promise<{ facts: PictureFacts; bytes: Uint8Array }> {
  const mime = sniffPicture(given);
  const bytes = mime ? given : new Uint8Array(await pictureToPng(given, name));
  const stats = await nodePictures.read(bytes).catch((error: Error) => {
    throw new IntakeError(
      'picture/unreadable',
      `${pictureLeaf(name)} cannot be read as a picture: ${error.message.slice(0, 120)}. Save it again.`,
    );
  });
  const { width, height, hasAlpha, alphaMin } = stats;
  return {
    bytes,
    facts: {
      name,
      sha: sha256Hex(bytes),
      bytes: bytes.byteLength,
      type: mime ?? 'image/png',
      width,
      height,
      hasAlpha,
      alphaMin: Math.round(alphaMin * 1000) / 1000,
      look: pictureLook(stats),
    },
  };
}

/** The facts of a document, its pictures decoded. */
export async function factsOf(
  read: Pick<ReadGltf, 'document' | 'format'>,
  bytes: number,
  extras: Parameters<typeof inspectModel>[2],
): Promise<StockFacts> {
  return inspectModel(read, bytes, { ...extras, pictures: await readPictures(read.document, nodePictures) });
}

/** @throws {IntakeError} with a stable code and a sentence for the user. */
export async function runIntake(job: IntakeJob): Promise<IntakeDone> {
  const choice = await choose(job);
  const write = async (b: Uint8Array) => {
    const sha = sha256Hex(b);
    if (job.outDir) await writeFile(join(job.outDir, sha), b);
    return sha;
  };
  if (job.outDir) await mkdir(job.outDir, { recursive: true });
  if ('pictures' in choice) return { items: await takePictures(choice.pictures, write) };
  const chosen = choice.model;
  const foreign = chosen.importer.road === 'foreign';
  const read = foreign
    ? await readForeign(
        chosen.importer,
        { name: chosen.main, bytes: chosen.bytes },
        chosen.companions,
        convertForeign,
        pictureToPng,
        await nodeDecoders(),
      )
    : { ...(await readGltfOrExplain(chosen)), record: null };
  const issues = read.format === 'glb' || read.format === 'gltf' ? await validate(chosen.bytes, read.format, read.resources) : [];
  const used = new Set(
    read.document
      .getRoot()
      .listTextures()
      .flatMap((t) => (wantedName(t) === null && t.getImage() ? [sha256Hex(t.getImage() as Uint8Array)] : [])),
  );
  for (const b of read.resources.values()) used.add(sha256Hex(b));
  const loose = await loosePictures(chosen.companions, used);
  const facts = await factsOf(read, chosen.total, {
    issues,
    loose: [...loose.keys()],
    credit: read.record ? read.record.credit : foreign ? NO_CREDIT : readCredit(openGltf(chosen.bytes).json),
    unitRecord: read.record?.says ?? null,
    cannotCarry: chosen.importer.cannotCarry,
  });
  if (!job.outDir) return { items: [{ kind: 'model', name: chosen.name, facts, original: null, model: null }] };
  const glb = await plainGlb(read, chosen.bytes);
  for (const bytes of loose.values()) await write(bytes);
  return { items: [{ kind: 'model', name: chosen.name, facts, original: await write(chosen.original), model: await write(glb) }] };
}

async function takePictures(files: ReadonlyMap<string, Uint8Array>, write: (b: Uint8Array) => Promise<string>): Promise<PictureDone[]> {
  const out: PictureDone[] = [];
  let refused: unknown = null;
  for (const [name, bytes] of files) {
    if (!PICTURES.test(name) && !sniffPicture(bytes)) continue;
    try {
      const { facts, bytes: kept } = await pictureFacts(name, bytes);
      await write(kept);
      out.push({ kind: 'picture', name: pictureLeaf(name), facts });
    } catch (error) {
      refused = error;
    }
  }
  if (out.length === 0) throw refused ?? new IntakeError('picture/unreadable', 'No picture among the files can be read.');
  return out;
}
