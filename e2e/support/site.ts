/** A Scaphos of the tests' own: MariaDB and the built application, each on a free port, in a folder that is thrown away. */
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startMariadb } from '@/cli/mariadb';
import { freePort } from '@/cli/process';
import { buildSite, startSite } from '@/cli/site';
import { migrateUp, openDatabase } from '@/server/db';
import { EFFORT } from './sweep';

export interface TestSite {
  url: string;
  dbUrl: string;
  dataDir: string;
  pid: number;
  /** Only the database: what the application says without it is a test of its own. */
  stopDatabase: () => Promise<void>;
  /** Only the application, as if it were restarted: the data stay. */
  down: () => Promise<void>;
  up: () => Promise<void>;
  stop: () => Promise<void>;
}

/** @param within the folder its data folder lies in */
export async function startTestSite(env: Record<string, string> = {}, within = tmpdir()): Promise<TestSite> {
  process.env.SCAPHOS_ROOT = process.cwd();
  const dataDir = await mkdtemp(join(within, 'scaphos-test-'));
  await buildSite();
  const db = await startMariadb(dataDir);
  try {
    const knex = openDatabase(db.url);
    await migrateUp(knex).finally(() => knex.destroy());
    const port = await freePort();
    const start = () =>
      startSite(port, '127.0.0.1', {
        SCAPHOS_DB_URL: db.url,
        SCAPHOS_DATA: dataDir,
        SCAPHOS_ROOT: process.cwd(),
        SCAPHOS_LOG: 'error',
        SCAPHOS_EFFORT: EFFORT,
        ...env,
      });
    let site = await start();
    return {
      url: `http://127.0.0.1:${port}`,
      dbUrl: db.url,
      dataDir,
      pid: site.pid,
      stopDatabase: db.stop,
      down: async () => site.stop(),
      up: async () => {
        site = await start();
      },
      stop: async () => {
        await site.stop();
        await db.stop();
        await rm(dataDir, { recursive: true, force: true });
      },
    };
  } catch (error) {
    await db.stop();
    throw error;
  }
}

/** Vitest's global set-up: one site for all server tests. */
export default async function setup(): Promise<() => Promise<void>> {
  // a site that is already there can be tested instead
  if (process.env.SCAPHOS_TEST_URL) return async () => undefined;
  const site = await startTestSite();
  process.env.SCAPHOS_TEST_URL = site.url;
  process.env.SCAPHOS_DB_URL = site.dbUrl;
  process.env.SCAPHOS_DATA = site.dataDir;
  process.env.SCAPHOS_LOG = 'error';
  process.env.SCAPHOS_TEST_PID = String(site.pid);
  return site.stop;
}
