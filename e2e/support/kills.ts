/** What a server bears: everything it consists of is killed by turns while artists save and send files. */
import { commandOf } from '@/cli/process';
import { seededRandom } from '@/core/math';
import { Artist } from './artists';
import { type Program, startProgram } from './program';

export const KILLED = ['site', 'database', 'job', 'browser'] as const;
export interface Bore {
  kills: Record<(typeof KILLED)[number], number>;
  saves: number;
  uploads: number;
  faults: string[];
  /** The longest that it did not answer after a kill, ms. */
  slowestMs: number;
  verified: { code: number | null; out: string };
}

const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));

export async function beginArtists(program: Program, count: number, seed: number): Promise<Artist[]> {
  const db = await program.database();
  const artists: Artist[] = [];
  try {
    for (let i = 0; i < count; i++) artists.push(await Artist.begin(program.url, db, `artist-${i}`, seededRandom(seed * 1000 + i)));
  } finally {
    await db.destroy();
  }
  return artists;
}

export async function bear(count: number, kills: number, seed: number): Promise<Bore> {
  // what the disk has left is another test's affair
  const program = await startProgram({ SCAPHOS_RESERVE_MB: '20' });
  const random = seededRandom(seed);
  const done = { site: 0, database: 0, job: 0, browser: 0 };
  let slowestMs = 0;
  const artists: Artist[] = [];
  let bore: Bore;
  try {
    artists.push(...(await beginArtists(program, count, seed)));
    const working = artists.map((a) => a.work(150));
    for (const w of working) w.catch(() => undefined);
    for (let k = 0; k < kills; k++) {
      await sleep(100 + 700 * random());
      let what = KILLED[k % KILLED.length];
      const [job] = program.jobs().filter((pid) => commandOf(pid) !== '');
      if (what === 'job' && job === undefined) what = 'site';
      if (what === 'browser') artists[Math.floor(random() * artists.length)].cut();
      else {
        const pid = what === 'job' ? job : program.pid(what);
        const from = performance.now();
        try {
          process.kill(pid, 'SIGKILL');
        } catch {
          continue; // it ended by itself in between
        }
        // what was killed is not there at once
        if (what !== 'job') await sleep(20);
        await program.untilHealthy();
        slowestMs = Math.max(slowestMs, performance.now() - from);
      }
      done[what]++;
    }
    for (const a of artists) a.stop();
    await Promise.all(working);
    for (const a of artists) await a.check();
    const verified = await program.ask('verify');
    bore = {
      kills: done,
      saves: artists.reduce((n, a) => n + a.saves, 0),
      uploads: artists.reduce((n, a) => n + a.uploads, 0),
      faults: artists.flatMap((a) => a.faults),
      slowestMs,
      verified,
    };
  } catch (error) {
    const health = await fetch(`${program.url}/api/health`, { signal: AbortSignal.timeout(60_000) }).then((r) => r.text(), String);
    const why = `${(error as Error).message}\nAfter ${JSON.stringify(done)}; health ${health}. It said:\n${program.said()}`;
    for (const a of artists) a.giveUp();
    // why it failed, before whether it ends
    throw new Error(
      await program.end().then(
        () => why,
        (e) => `${why}\n${e.message}`,
      ),
    );
  }
  for (const a of artists) a.giveUp();
  await program.end();
  return bore;
}
