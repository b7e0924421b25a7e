/** One yard sends every hostile kind of file there is, three at a time; meanwhile another yard's model of 1 kB is read again and again. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { boxGlb } from '@/core/intake/samples';
import { hostileKinds } from '../../e2e/support/hostile';
import { HOSTILE } from '../../e2e/support/hostile/refused';
import { beginArtists } from '../../e2e/support/kills';
import { startProgram } from '../../e2e/support/program';
import { judge, judgeFaults, say, sleep } from './judge';

const AT_ONCE = 3;
const MOST_WAIT_MS = 5_000;
const MOST_READ_MS = 20_000;
const MOST_MB = 1_000;
/** Between two models of the other yard. */
const PAUSE_MS = 1_000;

/** The most memory a process ever held, MB; 0 where it is gone. */
function peakMb(pid: number): number {
  try {
    return Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1e3;
  } catch {
    return 0;
  }
}

export async function beside(): Promise<void> {
  const lure = join(mkdtempSync(join(tmpdir(), 'scaphos-lure-')), 'lure');
  writeFileSync(lure, 'lure');
  // made before anything is timed: some take seconds
  const kinds = [
    ...hostileKinds({ path: lure, url: 'http://127.0.0.1:9' }),
    ...HOSTILE.map((h): [string, () => Uint8Array] => [h.name, h.make]),
  ].map(([name, make]) => [name, make()] as const);
  say(`${kinds.length} kinds of hostile file, ${AT_ONCE} at a time, and beside them a model of 1 kB:`);
  const program = await startProgram({ SCAPHOS_READER_MINUTES: '600' });
  try {
    const [hostile, other] = await beginArtists(program, 2, 1);
    const left = [...kinds];
    const faults: string[] = [];
    const peaks = new Map<number, number>();
    const reads: [string, number][] = [];
    const waits: number[] = [];
    let slowest = '';
    const underWay = new Set<string>();
    const looking = setInterval(() => {
      for (const pid of program.jobs()) peaks.set(pid, Math.max(peaks.get(pid) ?? 0, peakMb(pid)));
    }, 50);
    const sending = Array.from({ length: AT_ONCE }, async () => {
      for (let kind = left.shift(); kind; kind = left.shift()) {
        const [name, bytes] = kind;
        const from = performance.now();
        underWay.add(name);
        const answer = await hostile.offer(name, bytes);
        underWay.delete(name);
        reads.push([name, performance.now() - from]);
        const { error } = (await answer.json()) as { error?: { code: string } };
        if (answer.status >= 500 || error?.code === 'job/killed') faults.push(`${name}: ${answer.status} ${error?.code}`);
      }
    });
    let sent = false;
    const watching = (async () => {
      for (let n = 0; !sent; n++) {
        const bytes = await boxGlb([0.01 + n * 1e-5, 0.01, 0.02]);
        const from = performance.now();
        const besides = [...underWay];
        await other.take(`model ${n}.glb`, bytes);
        const ms = performance.now() - from;
        if (ms > Math.max(0, ...waits)) slowest = [...new Set([...besides, ...underWay])].join(', ');
        waits.push(ms);
        await sleep(PAUSE_MS);
      }
    })();
    await Promise.all(sending);
    sent = true;
    await watching;
    clearInterval(looking);
    waits.sort((a, b) => a - b);
    reads.sort((a, b) => b[1] - a[1]);
    judge(
      (waits.at(-1) ?? Number.NaN) < MOST_WAIT_MS,
      `${waits.length} models of 1 kB: half taken within ${Math.round(waits[waits.length >> 1])} ms, all within ${Math.round(waits.at(-1) ?? Number.NaN)} ms (${MOST_WAIT_MS})`,
    );
    say(`  the longest beside ${slowest}`);
    // two of a yard are read at once: the third waits for a turn besides
    say(
      `  longest to an answer: ${reads
        .slice(0, 3)
        .map(([name, ms]) => `${name} ${(ms / 1000).toFixed(1)} s`)
        .join(', ')}`,
    );
    judge(
      reads[0][1] < 2 * MOST_READ_MS,
      `all answered within ${(reads[0][1] / 1000).toFixed(1)} s (a turn and ${MOST_READ_MS / 1000} s of its own)`,
    );
    const most = Math.max(...peaks.values());
    judge(most < MOST_MB, `no reader held more than ${Math.round(most)} MB (${MOST_MB})`);
    judgeFaults([...faults, ...other.faults]);
  } finally {
    await program.end();
    rmSync(join(lure, '..'), { recursive: true, force: true });
  }
}
