/** The intake job: from files on disk to facts and one GLB every viewer reads. Runs in a disposable process. */
import { mkdir, readFile, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { unpartition } from '@gltf-transform/functions';
import { zipSync } from 'fflate';
import {
  COMPANION_EXTENSIONS,
  cleanPath,
  findImporter,
  IMPORTERS,
  INTAKE_LIMITS,
  IntakeError,
  inspectModel,
  type ModelFacts,
  openGltf,
  type ReadGltf,
  readGltf,
} from '@/core/intake';
import { nodeDecoders, sha256Hex, validate } from './codecs';
import { unzipModels } from './unzip';

export interface IntakeFile {
  /** As the user named it, folders included. */
  name: string;
  path: string;
}
export interface IntakeJob {
  files: IntakeFile[];
  /** Where the blobs go; left out, nothing is written. */
  outDir?: string;
  /** Companions of a lone .gltf are read from its folder. */
  fromDisk?: boolean;
}
export interface IntakeDone {
  name: string;
  facts: ModelFacts;
  /** SHA-256 of the two files written to `outDir`; null without one. */
  original: string | null;
  model: string | null;
}

const leaf = (p: string) => p.slice(p.lastIndexOf('/') + 1);

interface Chosen {
  name: string;
  bytes: Uint8Array;
  companions: Map<string, Uint8Array>;
  base: string;
  /** What is kept as the original. */
  original: Uint8Array;
  /** Bytes that came in. */
  total: number;
}

async function load(job: IntakeJob): Promise<Map<string, Uint8Array>> {
  const files = new Map<string, Uint8Array>();
  let total = 0;
  for (const f of job.files) {
    total += (await stat(f.path)).size;
    if (total > INTAKE_LIMITS.fileBytes)
      throw new IntakeError('file/too-large', `The files have more than ${INTAKE_LIMITS.fileBytes} bytes together, the most that is read.`);
    const name = cleanPath(f.name) ?? leaf(f.name.replaceAll('\\', '/'));
    files.set(name, await readFile(f.path));
  }
  return files;
}

function mainOf(files: Map<string, Uint8Array>, where: string): string {
  const models = [...files].filter(([name, b]) => {
    const kind = findImporter(b.subarray(0, 64));
    return kind?.id === 'glb' || (kind?.id === 'gltf' && name.toLowerCase().endsWith('.gltf'));
  });
  if (models.length === 1) return models[0][0];
  const known = IMPORTERS.flatMap((i) => i.extensions).join(', ');
  if (models.length > 1)
    throw new IntakeError(
      'file/several',
      `${where} holds ${models.length} models: ${models
        .slice(0, 4)
        .map(([n]) => n)
        .join(', ')}. Bring them in one at a time.`,
    );
  const names = [...files.keys()];
  const only = names.length === 1 ? files.get(names[0]) : undefined;
  if (only?.byteLength === 0) throw new IntakeError('file/empty', `${names[0]} is empty: 0 bytes. Export or copy it again.`);
  // a lone file that calls itself a model is opened for what it says, so that its error is precise
  if (names.length === 1 && /\.(glb|gltf)$/i.test(names[0])) return names[0];
  throw new IntakeError(
    'file/unknown',
    `${where} is not a model that is read here: ${known}, and ${COMPANION_EXTENSIONS.join(', ')} beside a .gltf.`,
  );
}

async function companionsFromDisk(path: string, bytes: Uint8Array): Promise<Map<string, Uint8Array>> {
  const found = new Map<string, Uint8Array>();
  const { json } = openGltf(bytes);
  for (const { uri } of [...(Array.isArray(json.buffers) ? json.buffers : []), ...(Array.isArray(json.images) ? json.images : [])].map(
    (x) => x ?? {},
  )) {
    if (typeof uri !== 'string' || uri.startsWith('data:')) continue;
    let name = uri;
    try {
      name = decodeURIComponent(uri);
    } catch {
      // meant literally
    }
    const clean = cleanPath(name);
    if (clean)
      await readFile(join(dirname(path), clean)).then(
        (b) => found.set(clean, b),
        () => undefined,
      );
  }
  return found;
}

async function choose(job: IntakeJob): Promise<Chosen> {
  const files = await load(job);
  const [first] = files;
  if (!first) throw new IntakeError('file/empty', 'No file came along.');
  const what = files.size === 1 ? first[0] : 'What was dropped';
  if (files.size === 1 && findImporter(first[1].subarray(0, 64))?.id === 'zip') {
    const inside = await unzipModels(first[1]);
    const name = mainOf(inside, first[0]);
    return {
      name: first[0],
      bytes: inside.get(name) as Uint8Array,
      companions: inside,
      base: name.includes('/') ? dirname(name) : '',
      original: first[1],
      total: first[1].byteLength,
    };
  }
  const name = mainOf(files, what);
  const bytes = files.get(name) as Uint8Array;
  const companions = job.fromDisk && files.size === 1 ? await companionsFromDisk(job.files[0].path, bytes) : files;
  const total = new Set([bytes, ...companions.values()]);
  const original =
    files.size === 1
      ? bytes
      : zipSync(Object.fromEntries([...files].sort().map(([n, b]) => [n, [b, { level: 0, mtime: new Date('2026-01-01T00:00:00') }]])));
  return {
    name: leaf(name),
    bytes,
    companions,
    base: name.includes('/') ? dirname(name) : '',
    original,
    total: [...total].reduce((s, b) => s + b.byteLength, 0),
  };
}

const PACKING = new Set(['KHR_draco_mesh_compression', 'EXT_meshopt_compression', 'KHR_meshopt_compression']);

/** One GLB with everything inside, unpacked; the original itself where it already is that. */
async function plainGlb(read: ReadGltf, original: Uint8Array): Promise<Uint8Array> {
  const root = read.document.getRoot();
  const packed = root.listExtensionsUsed().filter((e) => PACKING.has(e.extensionName));
  if (read.format === 'glb' && packed.length === 0 && read.resources.size === 0 && read.missing.length === 0) return original;
  for (const e of packed) e.dispose();
  await read.document.transform(unpartition());
  return new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(read.document);
}

/** Reads; where the reader stumbles over wrong data, the validator says more precisely what is wrong and where. */
async function readOrExplain(chosen: Chosen): Promise<ReadGltf> {
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

/** @throws {IntakeError} with a stable code and a sentence for the user. */
export async function runIntake(job: IntakeJob): Promise<IntakeDone> {
  const chosen = await choose(job);
  const read = await readOrExplain(chosen);
  const issues = await validate(chosen.bytes, read.format, read.resources);
  const facts = inspectModel(read, chosen.total, issues);
  if (!job.outDir) return { name: chosen.name, facts, original: null, model: null };
  const glb = await plainGlb(read, chosen.bytes);
  await mkdir(job.outDir, { recursive: true });
  const write = async (b: Uint8Array) => {
    const sha = sha256Hex(b);
    await writeFile(join(job.outDir as string, sha), b);
    return sha;
  };
  return { name: chosen.name, facts, original: await write(chosen.original), model: await write(glb) };
}
