/** The intake job: from files on disk to facts and the form the piece works with. Runs in a disposable process. */
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  type FileFacts,
  findImporter,
  frameGroups,
  IntakeError,
  NO_CREDIT,
  openGltf,
  type PictureFacts,
  pictureLeaf,
  type ReadGltf,
  readCredit,
  readForeign,
  readGltf,
  readModel,
  wantedName,
} from '@/core/intake';
import { PACKING_EXTENSIONS } from '@/core/prepare';
import { type Chosen, choose, type IntakeJob, type Others, packFiles } from './choose';
import { nodeDecoders, sha256Hex, validate } from './codecs';
import { factsOf } from './facts';
import { writeGlb } from './glb';
import type { MediaResult } from './media';

export type { IntakeFile, IntakeJob } from './choose';

/** One stock file that was read. */
export interface ItemDone {
  name: string;
  facts: FileFacts;
  /** SHA-256 of the two files written to `outDir`; null without one. */
  original: string | null;
  model: string | null;
}
/** Blobs that facts name (pictures as they are used, sheets, loose pictures) lie in `outDir` as well. */
export interface IntakeDone {
  items: ItemDone[];
}

/** One GLB with everything inside, unpacked; the original itself where it already is that. */
async function plainGlb(read: ReadGltf, original: Uint8Array): Promise<Uint8Array> {
  const packed = read.document
    .getRoot()
    .listExtensionsUsed()
    .some((e) => PACKING_EXTENSIONS.has(e.extensionName));
  if (read.format === 'glb' && !packed && read.resources.size === 0 && read.missing.length === 0) return original;
  return writeGlb(read.document);
}

/** Reads; where the reader stumbles over wrong data, the validator says more precisely what is wrong and where. */
async function readGltfOrExplain(chosen: Chosen): Promise<ReadGltf> {
  try {
    return await readGltf(chosen.bytes, await nodeDecoders(chosen.bytes), chosen.companions, chosen.base);
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

const isForeign = (c: Chosen) => c.importer.road === 'foreign';

async function readChosen(chosen: Chosen): Promise<ReadGltf & { record?: Awaited<ReturnType<typeof readForeign>>['record'] }> {
  if (!isForeign(chosen)) return readGltfOrExplain(chosen);
  const { main: name, bytes } = chosen;
  const { convertForeign, pictureToPng } = await import('./convert');
  const convert = chosen.importer.id === 'stl' ? (await import('./stl')).convertStl : convertForeign;
  return readForeign(chosen.importer, { name, bytes }, chosen.companions, convert, pictureToPng);
}

const creditOf = (chosen: Chosen, read: Awaited<ReturnType<typeof readChosen>>) => {
  if (read.record) return read.record.credit;
  return isForeign(chosen) ? NO_CREDIT : readCredit(openGltf(chosen.bytes).json);
};

/** A model as one plain GLB, and nothing said of it. */
export interface OpenDone {
  /** SHA-256 of the GLB, which lies in `outDir`. */
  model: string;
  /** Of what was delivered. */
  bytes: number;
  /** Names of the files of pictures in `outDir` that came along unused. */
  loose: string[];
}

/** Opens a model without judging it: the quick half of intake. @throws {IntakeError} as intake does, and for what is no model */
export async function runOpen(job: IntakeJob & { outDir: string }): Promise<OpenDone> {
  const choice = await choose(job);
  if ('others' in choice) throw new IntakeError('prepare/no-model', `${choice.others.name} is no model; only models are prepared.`);
  const chosen = choice.model;
  const read = await readChosen(chosen);
  const keep = async (b: Uint8Array) => {
    const sha = sha256Hex(b);
    await writeFile(join(job.outDir, sha), b);
    return sha;
  };
  await mkdir(job.outDir, { recursive: true });
  const loose: string[] = [];
  for (const b of (await loosePictures(chosen.companions, usedPictures(read))).values()) loose.push(await keep(b));
  return { model: await keep(await plainGlb(read, chosen.bytes)), bytes: chosen.total, loose };
}

/** Hashes of the pictures a model wears, and of every file it names. */
function usedPictures(read: ReadGltf): Set<string> {
  const worn = read.document.getRoot().listTextures();
  const used = new Set(worn.flatMap((t) => (wantedName(t) === null && t.getImage() ? [sha256Hex(t.getImage() as Uint8Array)] : [])));
  for (const b of read.resources.values()) used.add(sha256Hex(b));
  return used;
}

/** Pictures that came along and that the model does not use: candidates for what it misses. */
async function loosePictures(files: ReadonlyMap<string, Uint8Array>, used: ReadonlySet<string>): Promise<Map<PictureFacts, Uint8Array>> {
  const out = new Map<PictureFacts, Uint8Array>();
  for (const [name, bytes] of files) {
    if (findImporter(bytes.subarray(0, 4096), name)?.road !== 'picture' || used.has(sha256Hex(bytes)) || out.size >= 200) continue;
    const { readPicture } = await import('./media/picture');
    const read = await readPicture(name, bytes, [], { tryPacking: false }).catch(() => null);
    if (read) out.set({ ...read.facts, findings: [] }, read.used.bytes);
  }
  return out;
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
  if ('others' in choice) return { items: await takeOthers(choice.others, write) };
  const chosen = choice.model;
  const read = await readChosen(chosen);
  const issues = read.format === 'glb' || read.format === 'gltf' ? await validate(chosen.bytes, read.format, read.resources) : [];
  const loose = await loosePictures(chosen.companions, usedPictures(read));
  const facts = await factsOf(read, chosen.total, {
    issues,
    loose: [...loose.keys()],
    credit: creditOf(chosen, read),
    unitRecord: read.record?.says ?? null,
    cannotCarry: chosen.importer.cannotCarry,
  });
  const name = chosen.name;
  const glb = await plainGlb(read, chosen.bytes);
  // nothing to see and something that moves: a motion clip
  if (facts.vertices === 0 && facts.clips.length > 0) {
    const { motionOf } = await import('./media');
    const motion = motionOf(readModel(read.document), chosen.total, facts.format, 1, null);
    return { items: [{ name, facts: motion, original: await write(chosen.original), model: await write(glb) }] };
  }
  for (const bytes of loose.values()) await write(bytes);
  return { items: [{ name, facts, original: await write(chosen.original), model: await write(glb) }] };
}

const MOST_TRIED = 20;

/** What is no model: sequences of numbered frames, and every other file for itself. */
async function takeOthers({ files, name, original }: Others, write: (b: Uint8Array) => Promise<string>): Promise<ItemDone[]> {
  const { readMedia, readSequence } = await import('./media');
  const out: ItemDone[] = [];
  let refused: unknown = null;
  const groups = frameGroups([...files].flatMap(([n, b]) => (findImporter(b.subarray(0, 4096), n)?.road === 'picture' ? [n] : [])));
  const taken = new Set(groups.flatMap((g) => g.frames));
  const rest = [...files].filter(([n, b]) => !taken.has(n) && isRead(n, b));
  const keep = async (called: string, came: Uint8Array, read: () => Promise<MediaResult | null>) => {
    try {
      const done = await read();
      if (!done) return;
      for (const b of done.blobs) await write(b);
      out.push({ name: called, facts: done.facts, original: await write(came), model: done.model });
    } catch (error) {
      refused ??= error;
    }
  };
  for (const group of groups) {
    const only = groups.length === 1 && rest.length === 0;
    const own = only ? original : packFiles(new Map(group.frames.map((f) => [f, files.get(f) as Uint8Array])));
    const called = only && /\.zip$/i.test(name) ? name : `${sequenceName(group.stem)}.zip`;
    await keep(called, own, () => readSequence(called, own.byteLength, group, files));
  }
  // trying other packings takes its time: not for a whole folder of pictures
  const tryPacking = rest.length <= MOST_TRIED;
  for (const [n, bytes] of rest) await keep(pictureLeaf(n), bytes, () => readMedia(n, bytes, { tryPacking }));
  if (out.length === 0) throw refused ?? new IntakeError('file/unknown', 'Nothing among the files can be read.');
  return out;
}

const isRead = (name: string, bytes: Uint8Array) => {
  const road = findImporter(bytes.subarray(0, 4096), name)?.road;
  return road !== undefined && road !== 'archive' && road !== 'gltf' && road !== 'foreign';
};

/** The words its frames share, or their folder's. */
function sequenceName(stem: string): string {
  const leaf = pictureLeaf(stem).replace(/[\s_.-]+$/, '');
  return leaf || pictureLeaf(stem.replace(/\/+[^/]*$/, '')) || 'sequence';
}
