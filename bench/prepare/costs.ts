/** Time beside a rival's and beside our own plain recipe, memory beside the decoded model, and answers while much is prepared. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { RecipeStep, StepDraft } from '@/core/piece';
import { NO_LIMITS } from '@/core/prepare';
import { measure, solveBudget } from '@/worker/node';
import { startTestSite } from '../../e2e/support/site';
import { large } from './models';
import { rivalPath } from './rivals';

/** The steps of the rival's `optimize` that we have, with its settings. */
const PLAIN: readonly StepDraft[] = [
  { step: 'merge', settings: { materials: true, meshes: true } },
  { step: 'prune', settings: {} },
  { step: 'simplify', settings: { ratio: 0.5, errorMm: null, meshes: [], keepBorders: false, refit: false, detail: [], keep: [] } },
  { step: 'clips', settings: { resample: true, dropConstant: false } },
  {
    step: 'pictures',
    settings: {
      roles: (['color', 'normal', 'data', 'emission'] as const).map((role) => ({
        role,
        maxEdge: 2048,
        format: 'webp' as const,
        quality: 80,
      })),
      textures: [],
    },
  },
  { step: 'reorder', settings: {} },
  { step: 'quantise', settings: { positionBits: 14, normalBits: 8, uvBits: 12 } },
  { step: 'compress', settings: { method: 'meshopt' } },
];
const asSteps = (list: readonly StepDraft[]) => list.map((s, i) => ({ ...s, id: `s${i}`, on: true }) as RecipeStep);

async function seconds(work: () => unknown): Promise<number> {
  const from = performance.now();
  await work();
  return (performance.now() - from) / 1000;
}
const middle = async (work: () => unknown) => {
  const all: number[] = [];
  for (let i = 0; i < 3; i++) all.push(await seconds(work));
  return all.sort((a, b) => a - b)[1];
};

export async function measureCosts(): Promise<void> {
  const dir = mkdtempSync(join(tmpdir(), 'scaphos-bench-'));
  try {
    const [path, out] = [join(dir, 'in.glb'), join(dir, 'out.glb')];
    const glb = await large(250_000, 2048);
    writeFileSync(path, glb);
    const job = { path, bytes: glb.length, files: {}, kind: null };
    const cli = join(rivalPath('@gltf-transform/cli'), 'bin', 'cli.js');
    const args = [
      'optimize',
      path,
      out,
      '--compress',
      'meshopt',
      '--simplify-ratio',
      '0.5',
      '--simplify-error',
      '1',
      '--texture-compress',
      'webp',
    ];
    const rival = await middle(() => execFileSync(process.execPath, [cli, ...args], { stdio: 'ignore' }));
    const plain = await middle(() => measure({ ...job, steps: asSteps(PLAIN), measure: 'none', out }));
    const told = await measure({ ...job, steps: asSteps(PLAIN), measure: 'end', out });
    const measured = await seconds(() => measure({ ...job, steps: asSteps(PLAIN), measure: 'end', out }));
    console.log(
      `Plain recipe, 250 000 triangles with two pictures of 2048²: ${(plain / rival).toFixed(2)} × gltf-transform optimize (to reach: 1.5), ${(measured / rival).toFixed(2)} × with its visible error measured`,
    );
    const found = await solveBudget({
      ...job,
      steps: [],
      limits: { ...NO_LIMITS, bytes: 1_000_000, triangles: 50_000, textureEdge: 1024 },
    });
    const full = await seconds(() =>
      solveBudget({ ...job, steps: [], limits: { ...NO_LIMITS, bytes: 1_000_001, triangles: 50_000, textureEdge: 1024 } }),
    );
    console.log(
      `Full search of the same: ${(full / plain).toFixed(1)} × our plain recipe, ${(full / measured).toFixed(1)} × the measured one (to reach: 20); ${found.measured} combinations measured`,
    );
    // a process that has done nothing but start
    const small = join(dir, 'small.glb');
    writeFileSync(small, await large(100, null));
    const idle = (await measure({ path: small, bytes: 1, steps: [], files: {}, kind: null, measure: 'none' })).peakMemoryMb;
    const decoded = told.before.deviceBytes / 1e6;
    const share = (mb: number) => ((mb - idle) / decoded).toFixed(1);
    console.log(
      `Memory over an idle process, of ${decoded.toFixed(0)} MB decoded: plain recipe ${share(told.peakMemoryMb)} ×, full search ${share(found.peakMemoryMb)} × (to reach: 12)`,
    );
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
  await answersUnderLoad();
}

/** While a million triangles are prepared, how long a piece and its list take to come. */
async function answersUnderLoad(): Promise<void> {
  const site = await startTestSite();
  Object.assign(process.env, { SCAPHOS_TEST_URL: site.url, SCAPHOS_DB_URL: site.dbUrl, SCAPHOS_DATA: site.dataDir });
  const { closeTestDatabase, signedIn } = await import('../../e2e/support/http');
  try {
    const v = await signedIn();
    const piece = await v.newPiece('A million triangles');
    const taken = await v.upload(piece, [['million.glb', await large(1_000_000, null)]]);
    const { item } = taken.body.items[0];
    const target = { stock: 's', original: item.original, model: item.model, name: item.name, kind: null };
    const added = await v.post(`/api/pieces/${piece}/jobs`, { job: 'solve', target, steps: [], limits: { ...NO_LIMITS, bytes: 400_000 } });
    const times: number[] = [];
    let state = '';
    for (const until = Date.now() + 600_000; Date.now() < until; ) {
      const from = performance.now();
      await v.get(`/api/pieces/${piece}`);
      times.push(performance.now() - from);
      await new Promise((r) => setTimeout(r, 100));
      if (times.length % 20 !== 0) continue;
      const jobs = (await v.get(`/api/pieces/${piece}/jobs`)).body as { id: string; state: string }[];
      state = jobs.find((j) => j.id === added.body.id)?.state ?? 'gone';
      if (state !== 'queued' && state !== 'running') break;
    }
    times.sort((a, b) => a - b);
    const at = (q: number) => times[Math.min(times.length - 1, Math.floor(times.length * q))].toFixed(0);
    console.log(
      `While 1 000 000 triangles are prepared (it ended ${state}), ${times.length} answers: median ${at(0.5)} ms, 99 % ${at(0.99)} ms, longest ${at(1)} ms (to reach: 200)`,
    );
  } finally {
    await closeTestDatabase();
    await site.stop();
  }
}
