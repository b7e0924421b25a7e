/** The search beside recipes drawn by a seed: under the same limit none of them may show much less than what was found. */
import { readFileSync, statSync } from 'node:fs';
import type { RecipeStep } from '@/core/piece';
import { NO_LIMITS, unpackDocument } from '@/core/prepare';
import { nodeDraco } from '@/worker/node/codecs';
import { runMeasure, runSolve } from '@/worker/node/lighten';
import { drawRecipes } from './recipes';

const quiet = () => undefined;
/** Limits, as shares of what the file weighs. */
export const SHARES = [0.5, 0.17, 0.05];

const asSteps = (drafts: readonly object[]) => drafts.map((s, i) => ({ ...s, id: `s${i}`, on: true }) as RecipeStep);

/** @param draws random recipes @returns how many limits were met worse than by one of them */
export async function trySearch(name: string, path: string, draws: number, seed: number): Promise<number> {
  const bytes = statSync(path).size;
  const job = { path, bytes, files: {}, kind: null };
  const source = await unpackDocument(new Uint8Array(readFileSync(path)), await nodeDraco());
  const edge = Math.max(
    0,
    ...source
      .getRoot()
      .listTextures()
      .map((t) => Math.max(...(t.getSize() ?? [0, 0]))),
  );
  const others: { bytes: number; e: number; steps: RecipeStep[] }[] = [];
  for (const steps of drawRecipes(draws, seed, edge)) {
    const { after, e } = await runMeasure({ ...job, steps, measure: 'end' }, quiet);
    if (e !== null) others.push({ bytes: after.bytes, e, steps });
  }
  let over = 0;
  for (const share of SHARES) {
    const limit = Math.round(bytes * share);
    const from = performance.now();
    const { front, chosen, met, measured } = await runSolve({ ...job, steps: [], limits: { ...NO_LIMITS, bytes: limit } }, quiet);
    const seconds = (performance.now() - from) / 1000;
    const ours = front[chosen];
    const made = await runMeasure({ ...job, steps: asSteps(ours.steps), measure: 'end' }, quiet);
    const best = others.filter((o) => o.bytes <= limit).sort((a, b) => a.e - b.e)[0];
    console.log(
      `${name.padEnd(40)} ${(limit / 1000).toFixed(0).padStart(5)} kB: ${met ? 'met' : 'NOT MET'}, ${(made.after.bytes / 1000).toFixed(0)} kB, E ${ours.e.toFixed(3)} told, ${made.e?.toFixed(3)} true` +
        ` (${terms(made.error)}); best of ${others.filter((o) => o.bytes <= limit).length} drawn: ${best ? `${(best.bytes / 1000).toFixed(0)} kB, E ${best.e.toFixed(3)}` : 'none'}; ${measured} measured, ${seconds.toFixed(0)} s`,
    );
    if (best && (made.e ?? Number.POSITIVE_INFINITY) > best.e * 1.05) over++;
  }
  return over;
}

const terms = (e: object | null) =>
  e
    ? Object.values(e)
        .map((x) => (typeof x === 'number' ? x.toPrecision(3) : x))
        .join(' ')
    : '';
