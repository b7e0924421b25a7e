/** Seeded mutations sent to the server, which must answer, and whose memory must not grow. */
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { closeTestDatabase, signedIn } from '../support/http';
import { makeSeeds, mutate, report } from '../support/mutate';
import { share, WHOLE } from '../support/sweep';

const TO_SERVER = share(300);
/** A bound on a hang, not on speed. */
const HANG_MS = 60_000;

beforeAll(makeSeeds);
afterAll(closeTestDatabase);

const residentMb = () => {
  const status = readFileSync(`/proc/${process.env.SCAPHOS_TEST_PID}/statm`, 'utf8').split(' ');
  return (Number(status[1]) * 4096) / 1e6;
};

test('mutated files sent to the server: it answers, and its memory stays', { timeout: 1_800_000 }, async () => {
  const v = await signedIn();
  const piece = await v.newPiece('Fuzz');
  const outcomes = new Map<string, number>();
  const memory: number[] = [];
  const send = async () => {
    const m = mutate();
    const started = performance.now();
    const { status, body } = await v.upload(piece, [[m.name, m.bytes]]);
    expect(performance.now() - started).toBeLessThan(HANG_MS);
    expect([201, 422, 413]).toContain(status);
    const what = status === 201 ? 'read' : body.error.code;
    outcomes.set(what, (outcomes.get(what) ?? 0) + 1);
    memory.push(residentMb());
  };
  let left = TO_SERVER;
  await Promise.all(
    [0, 1].map(async () => {
      while (left-- > 0) await send();
    }),
  );
  report(`${TO_SERVER} mutations sent to the server`, outcomes);
  expect((await v.get('/api/health')).body.ok).toBe(true);
  // between collections it moves by a tenth: few files say nothing of it
  if (!WHOLE) return;
  const half = Math.floor(Math.min(500, TO_SERVER / 2.5));
  const mean = (list: number[]) => list.reduce((s, x) => s + x, 0) / list.length;
  const [before, last] = [mean(memory.slice(-2 * half, -half)), mean(memory.slice(-half))];
  console.log(`server memory: ${before.toFixed(1)} MB over ${half}, then ${last.toFixed(1)} MB over ${half}`);
  // what waits to be collected moves it by a tenth; a megabyte kept for each file would double it
  expect(last / before).toBeLessThan(1.15);
});
