/**
 * What a server bears. First everything it consists of is killed by turns while artists save and send files (`SCAPHOS_KILLS`, 200): what
 * was acknowledged must be there, once. Then fifty artists save once a second (`SCAPHOS_SECONDS`, 180) while weights are asked and a
 * model is searched for: how long an answer takes, and whether memory stays.
 */
import { readFileSync } from 'node:fs';
import { boxGlb } from '@/core/intake/samples';
import { add, createModelItem, createModelPart, PIECE_SCHEMA } from '@/core/piece';
import { NO_LIMITS } from '@/core/prepare';
import type { Artist } from '../e2e/support/artists';
import { bear, beginArtists } from '../e2e/support/kills';
import { type Program, startProgram } from '../e2e/support/program';

const given = (name: string, usual: number) => Number(process.env[name] ?? usual);
const KILLS = given('SCAPHOS_KILLS', 200);
const SECONDS = given('SCAPHOS_SECONDS', 180);
const MOST_BACK_MS = 10_000;
const MOST_P95_MS = 100;

const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));
const say = (line: string) => console.log(line);
const residentMb = (pid: number) => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1e3;
let failed = false;
const judge = (well: boolean, line: string) => {
  failed ||= !well;
  say(`${well ? '  ' : '! '}${line}`);
};

/** A model of the artist's own, hung, so that its weight is something; and a search for it under a limit. */
async function search(artist: Artist): Promise<() => Promise<Response>> {
  const bytes = await boxGlb();
  const sent = await artist.ask('POST', '/api/uploads', bytes, {
    'tus-resumable': '1.0.0',
    'upload-length': String(bytes.length),
    'content-type': 'application/offset+octet-stream',
  });
  const id = (sent.headers.get('location') ?? '').replace(/^.*\//, '');
  const taken = await artist.ask('POST', `/api/pieces/${artist.piece}/assets`, { uploads: [{ id, name: 'box.glb' }] });
  const { item } = ((await taken.json()) as { items: { item: { original: string; model: string; bytes: number } }[] }).items[0];
  const stock = createModelItem({ id: 'box', name: 'box.glb', original: item.original, model: item.model, bytes: item.bytes });
  await artist.ask('POST', `/api/pieces/${artist.piece}/edits`, {
    saveId: 'searched',
    baseRevision: 0,
    schema: PIECE_SCHEMA,
    edits: [add('stock', stock), add('parts', createModelPart('box', 'box', 'Box'))],
  });
  const target = { stock: 'box', original: item.original, model: item.model, name: 'box.glb', kind: null };
  await artist.ask('POST', `/api/pieces/${artist.piece}/jobs`, { job: 'solve', target, steps: [], limits: { ...NO_LIMITS, bytes: 1_000 } });
  return () => artist.ask('GET', `/api/pieces/${artist.piece}/weight`);
}

async function pace(program: Program): Promise<void> {
  const artists = await beginArtists(program, 51, 1);
  const [searcher, ...savers] = artists;
  const weigh = await search(searcher);
  const working = savers.map((a) => a.work(1000, false));
  const site = program.pid('site');
  await sleep(20_000);
  const before = residentMb(site);
  for (const until = Date.now() + SECONDS * 1000; Date.now() < until; await sleep(5_000)) await weigh();
  const now = residentMb(site);
  for (const a of savers) a.stop();
  await Promise.all(working);
  for (const a of savers) await a.check();
  const took = savers.flatMap((a) => a.tookMs).sort((a, b) => a - b);
  const at = (share: number) => Math.round(took[Math.min(took.length - 1, Math.floor(took.length * share))]);
  const faults = savers.flatMap((a) => a.faults);
  for (const f of faults.slice(0, 10)) say(`  ${f}`);
  judge(
    at(0.95) <= MOST_P95_MS,
    `${took.length} saves: half within ${at(0.5)} ms, 95 % within ${at(0.95)} ms (${MOST_P95_MS}), all within ${at(1)} ms`,
  );
  judge(faults.length === 0, `${faults.length} faults`);
  judge(now < before * 1.5 + 50, `memory of the site: ${Math.round(before)} MB after 20 s, ${Math.round(now)} MB at the end`);
}

say(`Killed ${KILLS} times under 20 artists:`);
const bore = await bear(20, KILLS, 1);
for (const f of bore.faults.slice(0, 10)) say(`  ${f}`);
judge(
  bore.faults.length === 0,
  `${JSON.stringify(bore.kills)}: ${bore.saves} saves and ${bore.uploads} files acknowledged, ${bore.faults.length} faults`,
);
judge(bore.verified.code === 0, bore.verified.out.trim());
judge(bore.slowestMs <= MOST_BACK_MS, `back after at most ${Math.round(bore.slowestMs)} ms (${MOST_BACK_MS})`);
say(`Fifty artists, a save a second, ${SECONDS} s:`);
const program = await startProgram();
await pace(program).finally(() => program.end());
process.exit(failed ? 1 : 0);
