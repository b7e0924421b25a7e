/**
 * Fifty artists save once a second (`SCAPHOS_SECONDS`, 180) while weights are asked and a model is searched for: how long an answer
 * takes, and whether memory stays. Judged are saves for which the machine was given its processors.
 */
import { readFileSync } from 'node:fs';
import { boxGlb } from '@/core/intake/samples';
import { add, createModelItem, createModelPart, PIECE_SCHEMA } from '@/core/piece';
import { NO_LIMITS } from '@/core/prepare';
import type { Artist } from '../../e2e/support/artists';
import { beginArtists } from '../../e2e/support/kills';
import { startProgram } from '../../e2e/support/program';
import { given, judge, judgeFaults, say, sleep } from './judge';
import { watchStolen } from './stolen';

const SECONDS = given('SCAPHOS_SECONDS', 180);
const MOST_P95_MS = 100;
const residentMb = (pid: number) => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1e3;

/** A model of the artist's own, hung, so that its weight is something; and a search for it under a limit. */
async function search(artist: Artist): Promise<() => Promise<Response>> {
  const { original, model, bytes } = await artist.take('box.glb', await boxGlb());
  const stock = createModelItem({ id: 'box', name: 'box.glb', original, model, bytes });
  await artist.ask('POST', `/api/pieces/${artist.piece}/edits`, {
    saveId: 'searched',
    baseRevision: 0,
    schema: PIECE_SCHEMA,
    edits: [add('stock', stock), add('parts', createModelPart('box', 'box', 'Box'))],
  });
  const target = { stock: 'box', original, model, name: 'box.glb', kind: null };
  await artist.ask('POST', `/api/pieces/${artist.piece}/jobs`, { job: 'solve', target, steps: [], limits: { ...NO_LIMITS, bytes: 1_000 } });
  return () => artist.ask('GET', `/api/pieces/${artist.piece}/weight`);
}

export async function pace(): Promise<void> {
  say(`Fifty artists, a save a second, ${SECONDS} s:`);
  const program = await startProgram();
  try {
    const [searcher, ...savers] = await beginArtists(program, 51, 1);
    const weigh = await search(searcher);
    const working = savers.map((a) => a.work(1000, false));
    const site = program.pid('site');
    const stolen = watchStolen();
    await sleep(20_000);
    const held: number[] = [];
    for (const until = Date.now() + SECONDS * 1000; Date.now() < until; await sleep(5_000)) {
      held.push(residentMb(site));
      await weigh();
    }
    for (const a of savers) a.stop();
    stolen.end();
    await Promise.all(working);
    for (const a of savers) await a.check();
    const line = (times: readonly [number, number][]) => {
      const took = times.map(([from, to]) => to - from).sort((a, b) => a - b);
      const at = (share: number) => Math.round(took[Math.min(took.length - 1, Math.floor(took.length * share))] ?? 0);
      return { p95: at(0.95), words: `half within ${at(0.5)} ms, 95 % within ${at(0.95)} ms (${MOST_P95_MS}), all within ${at(1)} ms` };
    };
    const all = savers.flatMap((a) => a.times);
    const own = all.filter(([from, to]) => stolen.undisturbed(from, to));
    say(`  ${all.length} saves: ${line(all).words}; the host kept ${(stolen.share() * 100).toFixed(0)} % of the processors for itself`);
    judge(
      own.length >= 500 && line(own).p95 <= MOST_P95_MS,
      `${own.length} saves while it kept none, and not of what that left undone: ${line(own).words}`,
    );
    judgeFaults(savers.flatMap((a) => a.faults));
    // the heap breathes: the middle of each third
    const third = (n: number) => held.slice((held.length * n) / 3, (held.length * (n + 1)) / 3).sort((x, y) => x - y);
    const middles = [0, 1, 2].map((n) => Math.round(third(n)[Math.floor(third(n).length / 2)]));
    judge(middles[2] <= middles[1] * 1.1, `memory of the site by thirds of the time: ${middles.join(', ')} MB (the last within 10 %)`);
  } finally {
    await program.end();
  }
}
