/** A first start that is cut anywhere: the next one makes a whole Scaphos of what there is. */
import { execFileSync, spawn } from 'node:child_process';
import { rm } from 'node:fs/promises';
import { expect, test } from 'vitest';
import { freePort, sleep } from '@/cli/process';
import { DEMO_PIECES } from '../../demo/names';
import { processesOf, programDir, startProgram } from '../support/program';
import { drawn, SEED, WHOLE } from '../support/sweep';

/** From its first breath until after it serves; denser where it makes the database. */
const POINTS_MS = [80, 200, 350, 500, 700, 900, 1_150, 1_400, 1_800, 2_400, 3_200, 4_500, 6_500, 9_000, 12_000, 16_000];

const end = (pids: readonly number[]) => {
  for (const pid of pids)
    try {
      process.kill(pid, 'SIGKILL');
    } catch {
      // it ended by itself meanwhile
    }
};

const points = drawn(POINTS_MS.map((ms, i) => [ms, i % 2 ? 'all that it started lives on' : 'all that it started with it'] as const));
// half a minute each: one a commit
test.each(WHOLE ? points : [points[SEED % points.length]])('after %i ms, %s', async (ms, how) => {
  execFileSync('./scaphos', ['build']);
  const dir = await programDir();
  const first = spawn(process.execPath, ['dist/cli/main.js', 'demo', '--port', String(await freePort())], {
    env: { ...process.env, SCAPHOS_DATA: dir, SCAPHOS_ROOT: process.cwd(), SCAPHOS_LOG: 'error' },
    stdio: 'ignore',
  });
  const gone = new Promise((r) => first.once('exit', r));
  await sleep(ms);
  end(how.startsWith('all that it started with') ? processesOf(dir) : [first.pid as number]);
  await gone;
  const program = await startProgram({}, ['demo'], dir);
  try {
    const db = await program.database();
    try {
      expect((await db('pieces').select('document')).map((p) => JSON.parse(p.document).settings.name).sort()).toEqual(
        [DEMO_PIECES.helmet, DEMO_PIECES.spectacles].sort(),
      );
      expect(await db('accounts').count({ n: '*' }).first()).toEqual({ n: 1 });
    } finally {
      await db.destroy();
    }
    expect(await program.ask('verify')).toMatchObject({ code: 0, out: expect.stringContaining('all are whole') });
  } finally {
    await program.end();
    end(processesOf(dir));
    await rm(dir, { recursive: true, force: true });
  }
});
