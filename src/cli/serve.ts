/** `./scaphos demo` and `./scaphos start`: database, migrations, demo data, application; stopped in reverse. */
import { join } from 'node:path';
import { migrateUp, openDatabase } from '@/server/db';
import { claimDataDir, dataDir, emptyDataDir, rootDir } from './data';
import { CliFailure, say } from './failure';
import { startMariadb } from './mariadb';
import { portIsFree, run } from './process';
import { buildSite, startSite } from './site';
import { offerSoundLibrary } from './sound';

export interface ServeOptions {
  demo: boolean;
  fresh: boolean;
  port: number;
  host: string;
}

/** Runs with the database up; whatever happens, it is stopped again. */
export async function withDatabase<T>(
  work: (url: string, note: (pids: number[]) => Promise<void>, dbPid: number) => Promise<T>,
  fresh = false,
): Promise<T> {
  const dir = dataDir();
  const claim = await claimDataDir(dir);
  try {
    if (fresh) await emptyDataDir(dir);
    const db = await startMariadb(dir);
    await offerSoundLibrary();
    try {
      await claim.note([db.pid]);
      const knex = openDatabase(db.url);
      await migrateUp(knex).finally(() => knex.destroy());
      return await work(db.url, claim.note, db.pid);
    } finally {
      await db.stop();
    }
  } finally {
    await claim.release();
  }
}

async function seedDemo(url: string): Promise<void> {
  const { code, output } = await run(process.execPath, [join(rootDir(), 'dist', 'demo', 'seed.js')], {
    env: { ...process.env, SCAPHOS_DB_URL: url, SCAPHOS_DATA: dataDir(), SCAPHOS_ROOT: rootDir(), SCAPHOS_LOG: 'warn' },
  });
  if (code !== 0) throw new CliFailure(`The demo data could not be made:\n${output.trim().split('\n').slice(-12).join('\n')}`, 70);
}

export const DEMO_ACCOUNT = { email: 'ines@tern-tallow.example', password: 'lantern-regatta' } as const;

export async function serve(options: ServeOptions): Promise<number> {
  const { port, host, demo } = options;
  if (!(await portIsFree(port, host)))
    throw new CliFailure(`Port ${port} is taken on ${host}. Stop what uses it, or choose another with --port.`, 75);
  let stop: (() => void) | null = null;
  const asked = new Promise<void>((r) => {
    stop = r;
  });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => stop?.());
  return withDatabase(async (url, note, dbPid) => {
    await buildSite();
    if (demo) await seedDemo(url);
    const site = await startSite(port, host, {
      SCAPHOS_DB_URL: url,
      SCAPHOS_DATA: dataDir(),
      SCAPHOS_ROOT: rootDir(),
      SCAPHOS_DEMO: demo ? '1' : '0',
    });
    await note([dbPid, site.pid]);
    const address = `http://${host === '0.0.0.0' || host === '::' ? 'localhost' : host}:${port}`;
    say('');
    say(`  Scaphos is at ${address}`);
    if (demo) say(`  Demo account: ${DEMO_ACCOUNT.email}, password ${DEMO_ACCOUNT.password} (or one press on the sign-in page)`);
    else say('  With no account yet, the first visit makes one.');
    say('  Ctrl+C stops it.');
    say('');
    const code = await Promise.race([asked.then(() => 0), site.ended.then(() => 70)]);
    await site.stop();
    return code;
  }, options.fresh);
}
