/**
 * Copies of everything, while artists save: the database in one instant, then every file it names. Files are never changed and stay a
 * month after nobody names them, so that what the instant speaks of is there to be copied.
 */

import { createHash } from 'node:crypto';
import { createReadStream, existsSync } from 'node:fs';
import { copyFile, mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { counted } from '@/core/words/counted';
import { namedBlobs } from '@/server/blobs';
import { type Knex, openDatabase } from '@/server/db';
import { dataDir } from './data';
import { dumpDatabase, loadDatabase, withAnyDatabase, withDatabase } from './database';
import { CliFailure, say } from './failure';

/** What a folder of a copy says of itself; written last, so that a copy that was cut has none. */
interface Manifest {
  copy: 1;
  at: string;
  files: number;
  bytes: number;
}
const MANIFEST = 'scaphos-copy.json';
const DUMP = 'database.sql';

interface Blob {
  sha256: string;
  bytes: number;
}
const blobAt = (dir: string, sha: string) => join(dir, 'blobs', sha.slice(0, 2), sha);

async function hashOf(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}

const sizeAt = (path: string) =>
  stat(path).then(
    (s) => s.size,
    () => -1,
  );

/** Copies a file under its name, whole or not at all. */
async function copyWhole(from: string, to: string): Promise<void> {
  await mkdir(join(to, '..'), { recursive: true });
  await copyFile(from, `${to}.half`);
  await rename(`${to}.half`, to);
}

const withDb = async <T>(url: string, work: (db: Knex) => Promise<T>): Promise<T> => {
  const db = openDatabase(url);
  return work(db).finally(() => db.destroy());
};

/** Brings a copy of everything up to date in a folder. Returns 0. @throws {CliFailure} in a plain sentence */
export async function backup(to: string | undefined): Promise<number> {
  if (!to) throw new CliFailure('Say where the copy goes: ./scaphos backup FOLDER', 64);
  const dir = resolve(to);
  await mkdir(dir, { recursive: true });
  if ((await readdir(dir)).length > 0 && !existsSync(join(dir, MANIFEST)) && !existsSync(join(dir, DUMP)))
    throw new CliFailure(`${dir} holds something else. Give an empty folder, or one with an earlier copy.`, 73);
  return withAnyDatabase(async (url) => {
    // what is there is no copy from here on until it is one again
    await rm(join(dir, MANIFEST), { force: true });
    await dumpDatabase(url, join(dir, DUMP));
    // after the instant: these are at least the files that it names
    const blobs: Blob[] = await withDb(url, (db) => db('blobs').select('sha256', 'bytes'));
    let [copied, bytes] = [0, 0];
    for (const { sha256 } of blobs) {
      const [from, at] = [blobAt(dataDir(), sha256), blobAt(dir, sha256)];
      const size = await sizeAt(from);
      // removed since: then the instant does not name it
      if (size < 0) continue;
      bytes += size;
      if ((await sizeAt(at)) === size) continue;
      await copyWhole(from, at);
      copied++;
    }
    const manifest: Manifest = { copy: 1, at: new Date().toISOString(), files: blobs.length, bytes };
    await writeFile(join(dir, MANIFEST), JSON.stringify(manifest));
    say(
      `${dir} holds a copy of everything: ${counted(blobs.length, 'file')}, ${(bytes / 1e6).toFixed(1)} MB; ${copied} of them ${copied === 1 ? 'is' : 'are'} new.`,
    );
    return 0;
  });
}

/** Makes a data folder out of a copy; an empty one. @throws {CliFailure} in a plain sentence */
export async function restore(from: string | undefined): Promise<number> {
  if (!from) throw new CliFailure('Say where the copy lies: ./scaphos restore FOLDER', 64);
  const dir = resolve(from);
  if (!existsSync(join(dir, MANIFEST)) || !existsSync(join(dir, DUMP)))
    throw new CliFailure(`${dir} holds no whole copy. ./scaphos backup makes one.`, 66);
  if (existsSync(join(dataDir(), 'db')))
    throw new CliFailure(`The data folder ${dataDir()} is not empty. Choose another with SCAPHOS_DATA.`, 73);
  // into an empty database: the tables come with the copy, and are brought up to date afterwards
  let ours = false;
  const code = await withDatabase(
    async (url) => verifyAt(url, dataDir()),
    async () => {
      // nobody else began one here while we waited for the folder
      if (existsSync(join(dataDir(), 'db'))) throw new CliFailure(`The data folder ${dataDir()} is not empty any more.`, 73);
      ours = true;
      for (const sha of await blobsIn(dir)) await copyWhole(blobAt(dir, sha), blobAt(dataDir(), sha));
    },
    (url) => loadDatabase(url, join(dir, DUMP)),
  ).catch(async (error: unknown) => {
    // half a database must not be taken for a whole one
    if (ours) await rm(join(dataDir(), 'db'), { recursive: true, force: true });
    throw error;
  });
  const { at } = JSON.parse(await readFile(join(dir, MANIFEST), 'utf8')) as Manifest;
  if (code === 0) say(`${dataDir()} is as it was when the copy was made, ${at}.`);
  return code;
}

async function blobsIn(dir: string): Promise<string[]> {
  const folders = await readdir(join(dir, 'blobs')).catch(() => []);
  return (await Promise.all(folders.map((f) => readdir(join(dir, 'blobs', f))))).flat().filter((n) => /^[0-9a-f]{64}$/.test(n));
}

/** Whether every file is there and what it is named, and no piece lacks a revision. Returns 0, or 1 with what is wrong said. */
export const verify = (): Promise<number> => withAnyDatabase((url) => verifyAt(url, dataDir()));

const MOST_SAID = 50;
async function verifyAt(url: string, dir: string): Promise<number> {
  const wrong: string[] = [];
  const counts = await withDb(url, async (db) => {
    const blobs: Blob[] = await db('blobs').orderBy('sha256').select('sha256', 'bytes');
    for (const { sha256, bytes } of blobs) {
      const size = await sizeAt(blobAt(dir, sha256));
      if (size < 0) wrong.push(`File ${sha256} is not there.`);
      else if (size !== Number(bytes)) wrong.push(`File ${sha256} has ${size} bytes, not ${bytes}.`);
      else if ((await hashOf(blobAt(dir, sha256))) !== sha256) wrong.push(`File ${sha256} is altered.`);
    }
    const known = new Set(blobs.map((b) => b.sha256));
    for (const sha of await namedBlobs(db)) if (!known.has(sha)) wrong.push(`File ${sha} is named by a piece or a version, and not known.`);
    const pieces: { id: string; revision: number; n: number; last: number | null }[] = await db('pieces')
      .leftJoin('revisions', 'revisions.piece_id', 'pieces.id')
      .groupBy('pieces.id', 'pieces.revision')
      .select('pieces.id', 'pieces.revision', db.raw('count(revisions.number) as n'), db.raw('max(revisions.number) as last'));
    for (const p of pieces)
      if (Number(p.n) !== p.revision || Number(p.last ?? 0) !== p.revision)
        wrong.push(`Piece ${p.id} stands at revision ${p.revision}, and ${p.n} are kept.`);
    const astray: { original: string; model: string }[] = await db('assets')
      .leftJoin({ o: 'blobs' }, 'o.sha256', 'assets.original')
      .leftJoin({ m: 'blobs' }, 'm.sha256', 'assets.model')
      .where((q) => q.whereNull('o.sha256').orWhereNull('m.sha256'))
      .select('original', 'model');
    for (const a of astray) wrong.push(`A stock file names ${a.original} and ${a.model}, of which one is not known.`);
    return { files: blobs.length, pieces: pieces.length };
  });
  for (const w of wrong.slice(0, MOST_SAID)) say(w);
  if (wrong.length > MOST_SAID) say(`… and ${wrong.length - MOST_SAID} more.`);
  say(
    `${counted(counts.files, 'file')} and ${counted(counts.pieces, 'piece')} were looked at; ${wrong.length === 0 ? 'all are whole' : `${counted(wrong.length, 'thing')} ${wrong.length === 1 ? 'is' : 'are'} wrong`}.`,
  );
  return wrong.length === 0 ? 0 : 1;
}
