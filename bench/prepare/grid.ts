/** Every combination of a grid on two small models: how far any of it lies under the front the search reports. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { RecipeStep, StepDraft } from '@/core/piece';
import { NO_LIMITS } from '@/core/prepare';
import { blob, rippledTorus, surfaceDocument } from '@/core/prepare/samples';
import { runMeasure, runSolve } from '@/worker/node/lighten';
import { io } from './triangles';

const RATIOS = [0.15, 0.2, 0.25, 0.3, 0.35, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1];
const PLACES = [7, 8, 9, 10, 11, 12];
const NORMALS = [6, 7, 8];

/** Least E the front offers for so many bytes, log-linear between its points. */
function frontAt(front: readonly { bytes: number; e: number }[], bytes: number): number | null {
  const k = front.findIndex((p) => p.bytes > bytes);
  if (k === 0) return null;
  if (k < 0) return front[front.length - 1].e;
  const [a, b] = [front[k - 1], front[k]];
  const t = (Math.log(bytes) - Math.log(a.bytes)) / (Math.log(b.bytes) - Math.log(a.bytes));
  return Math.exp(Math.log(a.e) + t * (Math.log(b.e) - Math.log(a.e)));
}

const percent = (x: number) => `${(x * 100).toFixed(1)} %`;

export async function tryGrids(): Promise<void> {
  const dir = mkdtempSync(join(tmpdir(), 'scaphos-bench-'));
  try {
    for (const [name, document, limit] of [
      ['torus of 2 304 triangles', surfaceDocument('torus', rippledTorus(0.06, 0.02, 7), 48, 24), 5_000],
      ['blob of 2 208 triangles', surfaceDocument('blob', blob(0.08), 48, 24), 5_000],
    ] as const) {
      const path = join(dir, 'in.glb');
      const glb = await io.writeBinary(document);
      writeFileSync(path, glb);
      const job = { path, bytes: glb.length, files: {}, kind: null };
      const quiet = () => undefined;
      const { front } = await runSolve({ ...job, steps: [], limits: { ...NO_LIMITS, bytes: limit } }, quiet);
      let [tried, worst, unseen, at] = [0, 0, 0, ''];
      for (const ratio of RATIOS)
        for (const positionBits of PLACES)
          for (const normalBits of NORMALS) {
            const drafts: StepDraft[] = [
              { step: 'prune', settings: {} },
              { step: 'simplify', settings: { ratio, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] } },
              { step: 'reorder', settings: {} },
              { step: 'quantise', settings: { positionBits, normalBits, uvBits: 10 } },
              { step: 'compress', settings: { method: 'draco' } },
            ];
            const steps = drafts.map((s, i) => ({ ...s, id: `s${i}`, on: true }) as RecipeStep);
            const { after, e } = await runMeasure({ ...job, steps, measure: 'end' }, quiet);
            tried++;
            const best = frontAt(front, after.bytes);
            // what is left of the front's first point it does not speak of
            if (best === null || e === null || e > front[0].e) continue;
            const beats = 1 - e / best;
            if (e <= 1) unseen = Math.max(unseen, beats);
            if (beats > worst) [worst, at] = [beats, `${ratio} ${positionBits} ${normalBits}, ${after.bytes} bytes, E ${e.toFixed(3)}`];
          }
      console.log(
        `Grid of ${tried} on a ${name}: the front of ${front.length} points is beaten by at most ${percent(unseen)} where it is not seen, by at most ${percent(worst)} anywhere${at ? ` (${at})` : ''}; to reach: 2 %`,
      );
    }
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
}
