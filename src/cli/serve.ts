/** `./scaphos demo` and `./scaphos start`: database, migrations, demo data, application; stopped in reverse. */
import { join } from 'node:path';
import { openDatabase } from '@/server/db';
import { dataDir, emptyDemoDir, markDemo, readDemoMark, rootDir } from './data';
import { withDatabase } from './database';
import { CliFailure, say } from './failure';
import { portIsFree, run } from './process';
import { buildSite, startSite } from './site';
import { supervise } from './supervise';

export interface ServeOptions {
  demo: boolean;
  fresh: boolean;
  port: number;
  host: string;
}

/** Marks a folder as the demo's. @throws {CliFailure} it holds work that no demo made: its door would be open to anyone */
export async function claimForDemo(url: string, dir: string): Promise<{ seeded: boolean }> {
  const mark = await readDemoMark(dir);
  if (mark) return mark;
  const knex = openDatabase(url);
  try {
    const oldest = await knex('accounts').orderBy('created_at').first('email');
    if (oldest && oldest.email !== DEMO_ACCOUNT.email)
      throw new CliFailure(
        `The data folder ${dir} holds work that no demo made. Use ./scaphos start for it, or choose another folder for the demo with SCAPHOS_DATA.`,
        75,
      );
    // a demo of before there were marks
    const seeded = oldest !== undefined && (await knex('pieces').first('id')) !== undefined;
    await markDemo(dir, seeded);
    return { seeded };
  } finally {
    await knex.destroy();
  }
}

async function seedDemo(url: string): Promise<void> {
  if ((await claimForDemo(url, dataDir())).seeded) return;
  const { code, output } = await run(process.execPath, [join(rootDir(), 'dist', 'demo', 'seed.js')], {
    env: { ...process.env, SCAPHOS_DB_URL: url, SCAPHOS_DATA: dataDir(), SCAPHOS_ROOT: rootDir(), SCAPHOS_LOG: 'warn' },
  });
  if (code !== 0) throw new CliFailure(`The demo data could not be made:\n${output.trim().split('\n').slice(-12).join('\n')}`, 70);
  await markDemo(dataDir(), true);
}

export const DEMO_ACCOUNT = { email: 'ines@tern-tallow.example', password: 'lantern-regatta' } as const;

export async function serve(options: ServeOptions): Promise<number> {
  const { port, host, demo } = options;
  let stop: (() => void) | null = null;
  const asked = new Promise<void>((r) => {
    stop = r;
  });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => stop?.());
  const prepare = async (dir: string) => {
    if (!(await portIsFree(port, host)))
      throw new CliFailure(`Port ${port} is taken on ${host}. Stop what uses it, or choose another with --port.`, 75);
    if (options.fresh) await emptyDemoDir(dir);
  };
  return withDatabase(async (url, note) => {
    if (demo) await claimForDemo(url, dataDir());
    await buildSite();
    if (demo) await seedDemo(url);
    const start = () =>
      startSite(port, host, {
        SCAPHOS_DB_URL: url,
        SCAPHOS_DATA: dataDir(),
        SCAPHOS_ROOT: rootDir(),
        SCAPHOS_DEMO: demo ? DEMO_ACCOUNT.email : '',
      });
    const site = supervise('The application', await start(), start, () => note([site.pid()]));
    await note([site.pid()]);
    const address = `http://${host === '0.0.0.0' || host === '::' ? 'localhost' : host}:${port}`;
    say('');
    say(`  Scaphos is at ${address}`);
    if (demo) say(`  Demo account: ${DEMO_ACCOUNT.email}, password ${DEMO_ACCOUNT.password} (or one press on the sign-in page)`);
    else say('  With no account yet, the first visit makes one.');
    say('  Ctrl+C stops it.');
    say('');
    await asked;
    await site.stop();
    return 0;
  }, prepare);
}
