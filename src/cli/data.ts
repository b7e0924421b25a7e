/** The data folder: writable, and used by one Scaphos at a time. */
import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm, unlink, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:net';
import { join, resolve } from 'node:path';
import { CliFailure } from './failure';
import { commandOf, stopPid } from './process';

export const dataDir = () => resolve(process.env.SCAPHOS_DATA ?? join(process.env.SCAPHOS_ROOT ?? process.cwd(), '.data'));
export const rootDir = () => process.env.SCAPHOS_ROOT ?? process.cwd();

interface Running {
  pid: number;
  children: number[];
  /** Of its database. */
  dbPort?: number;
}

const runFile = (dir: string) => join(dir, 'running.json');

export interface Claim {
  /** Writes down what runs for this folder. */
  note: (children: number[], dbPort?: number) => Promise<void>;
  release: () => Promise<void>;
}

/**
 * Takes the folder for this process; what a killed Scaphos left running there is stopped first.
 * @throws {CliFailure} not writable, or in use.
 */
export async function claimDataDir(dir: string): Promise<Claim> {
  try {
    await mkdir(dir, { recursive: true });
    await writeFile(join(dir, '.writable'), '');
    await unlink(join(dir, '.writable'));
  } catch {
    throw new CliFailure(`The data folder ${dir} cannot be written. Make it writable, or choose another with SCAPHOS_DATA.`, 73);
  }
  const lock = await lockFor(dir);
  const before = await whatRuns(dir);
  if (!lock) {
    throw new CliFailure(
      `The data folder ${dir} is in use by a running Scaphos${before ? ` (process ${before.pid})` : ''}. Stop that one first, or choose another folder with SCAPHOS_DATA.`,
      75,
    );
  }
  for (const pid of new Set([...(before?.children ?? []).filter((p) => isOurs(p, dir)), ...(await databasesOf(dir))])) await stopPid(pid);
  const note = async (children: number[], dbPort?: number) => {
    // whole or not at all: others look
    await writeFile(`${runFile(dir)}.new`, JSON.stringify({ pid: process.pid, children, dbPort } satisfies Running));
    await rename(`${runFile(dir)}.new`, runFile(dir));
  };
  await note([]);
  return {
    note,
    release: async () => {
      await rm(runFile(dir), { force: true });
      lock.close();
    },
  };
}

const whatRuns = (dir: string): Promise<Running | null> =>
  readFile(runFile(dir), 'utf8')
    .then((t) => JSON.parse(t) as Running)
    .catch(() => null);

/** Port of the database that a running Scaphos has for this folder; null: none runs. */
export async function runningDatabase(dir: string): Promise<number | null> {
  const lock = await lockFor(dir);
  lock?.close();
  return lock ? null : ((await whatRuns(dir))?.dbPort ?? null);
}

/**
 * Held by one process at a time and let go with it, whatever ends it: a socket in Linux's abstract namespace. null: another has it.
 * Elsewhere the note of the last one is all there is.
 */
function lockFor(dir: string): Promise<Server | null> {
  return new Promise((resolve) => {
    const server = createServer().unref();
    server.once('error', () => resolve(null));
    const name = createHash('sha256').update(dir).digest('hex').slice(0, 32);
    if (process.platform === 'linux') server.listen(`\0scaphos-${name}`, () => resolve(server));
    else resolve(server);
  });
}

/** Whether a process is a database of this folder, or makes one in it. */
function isDatabaseOf(pid: number, dir: string): boolean {
  const words = `${commandOf(pid)} `;
  const folder = `--datadir=${join(dir, 'db')}`;
  return words.includes(`${folder} `) || words.includes(`${folder}.half-`);
}

/**
 * Databases that run in this folder. Whoever holds its lock knows them for orphans: a Scaphos that was killed between starting one and
 * writing it down left it, and it would hold the folder for ever.
 */
async function databasesOf(dir: string): Promise<number[]> {
  const all = await readdir('/proc').catch(() => []);
  return all.flatMap((name) => (/^\d+$/.test(name) && isDatabaseOf(Number(name), dir) ? [Number(name)] : []));
}

/** Whether a process is one that a Scaphos left running for this folder: the number alone may have been given anew. */
function isOurs(pid: number, dir: string): boolean {
  if (isDatabaseOf(pid, dir)) return true;
  try {
    return readFileSync(`/proc/${pid}/environ`, 'utf8').split('\0').includes(`SCAPHOS_DATA=${dir}`);
  } catch {
    return false;
  }
}

/** What says that a demo made a folder; `seeded` once all of its data are there. */
const demoFile = (dir: string) => join(dir, 'demo.json');
export const markDemo = (dir: string, seeded: boolean) => writeFile(demoFile(dir), JSON.stringify({ seeded }));
export const readDemoMark = (dir: string): Promise<{ seeded: boolean } | null> =>
  readFile(demoFile(dir), 'utf8')
    .then((t) => JSON.parse(t) as { seeded: boolean })
    .catch(() => null);

/**
 * Removes what Scaphos keeps in a demo's folder, and nothing else.
 * @throws {CliFailure} something is there that no demo made
 */
export async function emptyDemoDir(dir: string): Promise<void> {
  if (existsSync(join(dir, 'db')) && !(await readDemoMark(dir)))
    throw new CliFailure(
      `The data folder ${dir} holds what may be somebody’s work: no demo has marked it. Start without --fresh, or choose another folder with SCAPHOS_DATA.`,
      75,
    );
  for (const name of ['db', 'db-password', 'db-init.sql', 'db.log', 'db-tmp', 'blobs', 'cache', 'tmp', 'uploads', 'demo.json'])
    await rm(join(dir, name), { recursive: true, force: true });
}
