/** The database of the folder, up for as long as work needs it; copied before it is changed. */
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, open, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { migrateUp, migrationsOf, openDatabase } from '@/server/db';
import { claimDataDir, dataDir, runningDatabase } from './data';
import { CliFailure, say } from './failure';
import { databaseUrl, startMariadb } from './mariadb';
import { streamFrom, streamInto } from './process';
import { offerSoundLibrary } from './sound';
import { supervise } from './supervise';

/** Words for a client of MariaDB; the password goes by the environment, where no list of processes shows it. */
function clientOf(url: string): { words: string[]; env: NodeJS.ProcessEnv } {
  const { hostname, port, username, password, pathname } = new URL(url);
  return {
    words: ['--no-defaults', '--protocol=tcp', `--host=${hostname}`, `--port=${port}`, `--user=${username}`, pathname.slice(1)],
    env: { ...process.env, MYSQL_PWD: password },
  };
}

/** The database as it is in one instant, whole or not at all. */
export async function dumpDatabase(url: string, file: string): Promise<void> {
  const { words, env } = clientOf(url);
  const half = `${file}.half`;
  try {
    const options = ['--single-transaction', '--skip-lock-tables', '--hex-blob', '--no-tablespaces'];
    const { code, said } = await streamFrom(
      'mariadb-dump',
      [...words.slice(0, -1), ...options, ...words.slice(-1)],
      createWriteStream(half),
      env,
    );
    if (code !== 0) throw new CliFailure(`The database could not be copied: ${said}`, 70);
    const kept = await open(half, 'r+');
    await kept.sync().finally(() => kept.close());
    await rename(half, file);
  } finally {
    await rm(half, { force: true });
  }
}

/** Fills an empty database from a copy. @throws {CliFailure} in a plain sentence */
export async function loadDatabase(url: string, file: string): Promise<void> {
  const { words, env } = clientOf(url);
  const { code, said } = await streamInto('mariadb', words, createReadStream(file), env);
  if (code !== 0) throw new CliFailure(`The database could not be put back: ${said}`, 70);
}

/** Runs what migrations are missing, after a copy of the database was put beside it. @throws {CliFailure} in a plain sentence */
export async function bringUpToDate(url: string, dir: string): Promise<void> {
  const knex = openDatabase(url);
  try {
    const { done, missing } = await migrationsOf(knex);
    if (missing.length === 0) return;
    if (done.length > 0) {
      const file = join(dir, 'before', `${missing[0]}.sql`);
      await mkdir(join(dir, 'before'), { recursive: true });
      await dumpDatabase(url, file);
      say(`The database is brought up to date; as it was it lies in ${file}.`);
    }
    await migrateUp(knex);
  } catch (error) {
    if (error instanceof CliFailure) throw error;
    throw new CliFailure(`The database could not be brought up to date: ${(error as Error).message}`, 70);
  } finally {
    await knex.destroy();
  }
}

/**
 * Runs with the database up; whatever happens, it is stopped again.
 * @param before once the folder is ours and what was left running there has ended
 * @param fill once the database answers, before its tables are brought up to date
 */
export async function withDatabase<T>(
  work: (url: string, note: (pids: number[]) => Promise<void>) => Promise<T>,
  before: (dir: string) => Promise<void> = async () => undefined,
  fill: (url: string) => Promise<void> = async () => undefined,
): Promise<T> {
  const dir = dataDir();
  const claim = await claimDataDir(dir);
  try {
    await before(dir);
    const first = await startMariadb(dir);
    let others: number[] = [];
    const note = (pids: number[] = others) => {
      others = pids;
      return claim.note([db.pid(), ...others], first.port);
    };
    const db = supervise(
      'MariaDB',
      first,
      () => startMariadb(dir, first.port),
      () => note(),
    );
    try {
      await note();
      await offerSoundLibrary();
      await fill(first.url);
      await bringUpToDate(first.url, dir);
      return await work(first.url, note);
    } finally {
      await db.stop();
    }
  } finally {
    await claim.release();
  }
}

/** Works with the database of the folder: that of the Scaphos that runs there, or one of its own for as long. */
export async function withAnyDatabase<T>(work: (url: string) => Promise<T>): Promise<T> {
  const port = await runningDatabase(dataDir());
  return port === null ? withDatabase(work) : work(await databaseUrl(dataDir(), port));
}
