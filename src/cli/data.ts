/** The data folder: writable, and used by one Scaphos at a time. */
import { existsSync } from 'node:fs';
import { mkdir, readFile, rm, unlink, writeFile } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { CliFailure } from './failure';
import { commandOf, isAlive, stopPid } from './process';

export const dataDir = () => resolve(process.env.SCAPHOS_DATA ?? join(process.env.SCAPHOS_ROOT ?? process.cwd(), '.data'));
export const rootDir = () => process.env.SCAPHOS_ROOT ?? process.cwd();

interface Running {
  pid: number;
  children: number[];
}

const runFile = (dir: string) => join(dir, 'running.json');

/**
 * Takes the folder for this process; what a killed Scaphos left running there is stopped first.
 * @throws {CliFailure} not writable, or in use.
 */
export async function claimDataDir(dir: string): Promise<{ note: (pids: number[]) => Promise<void>; release: () => Promise<void> }> {
  try {
    await mkdir(dir, { recursive: true });
    await writeFile(join(dir, '.writable'), '');
    await unlink(join(dir, '.writable'));
  } catch {
    throw new CliFailure(`The data folder ${dir} cannot be written. Make it writable, or choose another with SCAPHOS_DATA.`, 73);
  }
  const before = await readFile(runFile(dir), 'utf8')
    .then((t) => JSON.parse(t) as Running)
    .catch(() => null);
  if (before && isAlive(before.pid) && before.pid !== process.pid && commandOf(before.pid).includes('cli/main.js'))
    throw new CliFailure(
      `The data folder ${dir} is in use by a running Scaphos (process ${before.pid}). Stop that one first, or choose another folder with SCAPHOS_DATA.`,
      75,
    );
  for (const pid of before?.children ?? []) if (/mariadbd|next/.test(commandOf(pid))) await stopPid(pid);
  const note = (children: number[]) => writeFile(runFile(dir), JSON.stringify({ pid: process.pid, children } satisfies Running));
  await note([]);
  return { note, release: () => rm(runFile(dir), { force: true }) };
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
  for (const name of ['db', 'db-password', 'db-init.sql', 'db.log', 'blobs', 'cache', 'tmp', 'uploads', 'demo.json'])
    await rm(join(dir, name), { recursive: true, force: true });
}
