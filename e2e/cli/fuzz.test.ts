/** Seeded mutations read one after another in one process, which must not die, nor fall silent. */
import { type ChildProcess, fork } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { makeSeeds, mutate, report } from '../support/mutate';
import { share } from '../support/sweep';

const TOTAL = share(2000);
/** A file of a few kilobytes takes milliseconds; what takes a minute hangs, however busy the machine is. */
const HANG_MS = 60_000;

const dir = mkdtempSync(join(tmpdir(), 'scaphos-fuzz-'));
beforeAll(makeSeeds);
afterAll(() => rmSync(dir, { recursive: true, force: true }));

async function startRunner(): Promise<ChildProcess> {
  const child = fork(join(process.cwd(), 'dist', 'fuzz-runner.js'), [], {
    stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
    execArgv: ['--stack-size=3000'],
  });
  await new Promise((r) => child.once('message', r));
  return child;
}

test('mutated files: read or refused with a code, no death, no silence', { timeout: 900_000 }, async () => {
  await build({
    entryPoints: ['e2e/support/fuzz-runner.ts'],
    outfile: 'dist/fuzz-runner.js',
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    packages: 'external',
    alias: { '@': './src' },
  });
  const outcomes = new Map<string, number>();
  const bad: string[] = [];
  let past = 0;
  let runner = await startRunner();
  for (let i = 0; i < TOTAL; i++) {
    const m = mutate();
    if (m.pastHeader) past++;
    const path = join(dir, 'mutant');
    writeFileSync(path, m.bytes);
    const outcome = await new Promise<string>((resolve) => {
      const timer = setTimeout(() => resolve('silent for a minute'), HANG_MS);
      const done = (what: string) => {
        clearTimeout(timer);
        runner.removeAllListeners();
        resolve(what);
      };
      runner.once('message', (a: { outcome: string }) => done(a.outcome));
      runner.once('exit', (code, signal) => done(`died with ${code ?? signal}`));
      runner.send({ name: m.name, path });
    });
    outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1);
    // what a disposable process is for: it may end, and is told as unreadable; more than a handful would be a fault of ours
    if (/^(silent|died|unexpected)/.test(outcome)) {
      bad.push(`mutation ${i} of ${m.name}: ${outcome}`);
      runner.kill('SIGKILL');
      runner = await startRunner();
    }
  }
  runner.kill('SIGKILL');
  report(`${TOTAL} mutations in one process, ${past} past the header`, outcomes);
  expect(past / TOTAL).toBeGreaterThan(0.3);
  expect(outcomes.get('read') ?? 0).toBeGreaterThan(TOTAL / 20);
  expect(outcomes.size).toBeGreaterThan(8);
  expect(bad).toEqual([]);
});
