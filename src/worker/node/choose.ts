/** Which of the files that came in together is the model, and what belongs to it. */
import { readFile, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { zipSync } from 'fflate';
import {
  COMPANION_EXTENSIONS,
  cleanPath,
  findImporter,
  IMPORTERS,
  type Importer,
  INTAKE_LIMITS,
  IntakeError,
  openGltf,
  pictureLeaf,
} from '@/core/intake';
import { companionsBeside } from './beside';
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
  /** Companions of a lone model are read from its folder. */
  fromDisk?: boolean;
}

export interface Chosen {
  name: string;
  importer: Importer;
  /** Its name among the files, folders included. */
  main: string;
  bytes: Uint8Array;
  companions: Map<string, Uint8Array>;
  base: string;
  /** What is kept as the original. */
  original: Uint8Array;
  /** Bytes that came in. */
  total: number;
}

const HEAD = 4096;
const importerOf = (name: string, bytes: Uint8Array) => findImporter(bytes.subarray(0, HEAD), name);
const folder = (path: string) => (path.includes('/') ? dirname(path) : '');

async function load(job: IntakeJob): Promise<Map<string, Uint8Array>> {
  const files = new Map<string, Uint8Array>();
  let total = 0;
  for (const f of job.files) {
    total += (await stat(f.path)).size;
    if (total > INTAKE_LIMITS.fileBytes)
      throw new IntakeError('file/too-large', `The files have more than ${INTAKE_LIMITS.fileBytes} bytes together, the most that is read.`);
    const name = cleanPath(f.name) ?? pictureLeaf(f.name);
    files.set(name, await readFile(f.path));
  }
  return files;
}

/** The better one where a model came in several formats at once: the one that carries more. */
const PREFERENCE = ['glb', 'gltf', 'fbx', 'collada', 'x', 'obj', '3ds', 'ply', 'stl', 'off'];
const stem = (name: string) =>
  pictureLeaf(name)
    .replace(/\.[^.]*$/, '')
    .toLowerCase();

const isMedia = (i: Importer | null | undefined) => !!i && i.road !== 'gltf' && i.road !== 'foreign' && i.road !== 'archive';

interface Candidate {
  name: string;
  importer: Importer;
}

function modelsAmong(files: ReadonlyMap<string, Uint8Array>): Candidate[] {
  const found = [...files].flatMap(([name, bytes]): Candidate[] => {
    const importer = importerOf(name, bytes);
    if (!importer || (importer.road !== 'gltf' && importer.road !== 'foreign')) return [];
    // among others, JSON is a model only when it says so: folders are full of settings in JSON
    return importer.id === 'gltf' && !name.toLowerCase().endsWith('.gltf') ? [] : [{ name, importer }];
  });
  const byStem = new Map<string, Candidate>();
  for (const c of found) {
    const had = byStem.get(stem(c.name));
    const better = !had || PREFERENCE.indexOf(c.importer.id) < PREFERENCE.indexOf(had.importer.id);
    if (better) byStem.set(stem(c.name), c);
  }
  return found.length > 1 ? [...byStem.values()] : found;
}

/** null: there is no model, but something else that is read. */
function mainOf(files: ReadonlyMap<string, Uint8Array>, where: string): Candidate | null {
  const models = modelsAmong(files);
  if (models.length === 1) return models[0];
  if (models.length > 1)
    throw new IntakeError(
      'file/several',
      `${where} holds ${models.length} models: ${models
        .slice(0, 4)
        .map((m) => m.name)
        .join(', ')}. Bring them in one at a time.`,
    );
  const [only] = files.size === 1 ? files : [];
  if (only?.[1].byteLength === 0) throw new IntakeError('file/empty', `${only[0]} is empty: 0 bytes. Export or copy it again.`);
  // a lone file that calls itself a model is opened for what it says, so that its error is precise
  if (only) {
    const said = IMPORTERS.find(
      (i) => (i.road === 'gltf' || i.road === 'foreign') && i.extensions.some((e) => only[0].toLowerCase().endsWith(e)),
    );
    const is = importerOf(only[0], only[1]);
    if (said && is && isMedia(is))
      throw new IntakeError('file/wrong-name', `${only[0]} is named as a model, but it is ${is.label}. Give it the ending of what it is.`);
    if (said) return { name: only[0], importer: said };
    // JSON under another name is opened as glTF: it says itself what it lacks
    if (is?.id === 'gltf') return { name: only[0], importer: is };
  }
  if ([...files].some(([name, b]) => isMedia(importerOf(name, b)))) return null;
  // what calls itself a picture, a sound … is opened for what it says
  const called = only && IMPORTERS.find((i) => isMedia(i) && i.extensions.some((e) => only[0].toLowerCase().endsWith(e)));
  if (called)
    throw new IntakeError(
      'file/wrong-name',
      `${only[0]} is named as ${called.label}, but it is not. Save it again, or give it the ending of what it is.`,
    );
  throw new IntakeError(
    'file/unknown',
    `${where} is nothing that is read here: ${IMPORTERS.flatMap((i) => i.extensions).join(', ')}, a model with ${COMPANION_EXTENSIONS.join(', ')} beside it, or a zip of these.`,
  );
}

/** Buffers and pictures a lone glTF on disk names. */
async function companionsOfGltf(path: string, bytes: Uint8Array): Promise<Map<string, Uint8Array>> {
  const found = new Map<string, Uint8Array>();
  const { json } = openGltf(bytes);
  const lists = [json.buffers, json.images].flatMap((l) => (Array.isArray(l) ? l : []));
  for (const { uri } of lists) {
    if (typeof uri !== 'string' || uri.startsWith('data:')) continue;
    let plain = uri;
    try {
      plain = decodeURIComponent(uri);
    } catch {
      // meant literally
    }
    const clean = cleanPath(plain);
    if (clean)
      await readFile(join(dirname(path), clean)).then(
        (b) => found.set(clean, b),
        () => undefined,
      );
  }
  return found;
}

/** What lies beside a lone model on disk and belongs to it. */
async function companionsFromDisk(path: string, { importer }: Candidate, bytes: Uint8Array): Promise<Map<string, Uint8Array>> {
  if (importer.road === 'gltf') return companionsOfGltf(path, bytes);
  return importer.takesCompanions ? companionsBeside(path, bytes) : new Map();
}

/** Files of which none is a model, and how they came: one archive, or what was dropped packed together. */
export interface Others {
  files: Map<string, Uint8Array>;
  name: string;
  original: Uint8Array;
}
export type Choice = { model: Chosen } | { others: Others };

/** Several files as one, the same bytes for the same files. */
export const packFiles = (files: ReadonlyMap<string, Uint8Array>): Uint8Array =>
  zipSync(
    Object.fromEntries(
      [...files].sort(([a], [b]) => (a < b ? -1 : 1)).map(([n, b]) => [n, [b, { level: 0, mtime: new Date('2026-01-01T00:00:00') }]]),
    ),
  );

/** @throws {IntakeError} nothing that is read here, or several models at once. */
export async function choose(job: IntakeJob): Promise<Choice> {
  const files = await load(job);
  const [first] = files;
  if (!first) throw new IntakeError('file/empty', 'No file came along.');
  const what = files.size === 1 ? first[0] : 'What was dropped';
  if (files.size === 1 && importerOf(first[0], first[1])?.id === 'zip') {
    const inside = await unzipModels(first[1]);
    const main = mainOf(inside, first[0]);
    if (!main) return { others: { files: inside, name: first[0], original: first[1] } };
    const bytes = inside.get(main.name) as Uint8Array;
    return {
      model: {
        name: first[0],
        importer: main.importer,
        main: main.name,
        bytes,
        companions: inside,
        base: folder(main.name),
        original: first[1],
        total: first[1].byteLength,
      },
    };
  }
  const main = mainOf(files, what);
  if (!main) return { others: { files, name: pictureLeaf(first[0]), original: files.size === 1 ? first[1] : packFiles(files) } };
  const bytes = files.get(main.name) as Uint8Array;
  const companions = job.fromDisk && files.size === 1 ? await companionsFromDisk(job.files[0].path, main, bytes) : files;
  const total = new Set([bytes, ...companions.values()]);
  const original = files.size === 1 ? bytes : packFiles(files);
  return {
    model: {
      name: pictureLeaf(main.name),
      importer: main.importer,
      main: main.name,
      bytes,
      companions,
      base: folder(main.name),
      original,
      total: [...total].reduce((s, b) => s + b.byteLength, 0),
    },
  };
}
