/** At equal bytes and at equal distance: our front beside what two rivals make of a model. */
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { RecipeStep } from '@/core/piece';
import { NO_LIMITS } from '@/core/prepare';
import { measure, solveBudget } from '@/worker/node';
import { MODELS } from './models';
import { openPictures } from './pictures';
import { RIVAL_NAMES, RIVALS, type Rival, SWEEP } from './rivals';
import { distanceTo, trianglesOf } from './triangles';

interface Score {
  bytes: number;
  /** Mean two-sided distance. */
  meanMm: number;
  /** 1 less the similarity of the worst held-out view. */
  loss: number;
}

/** Points of our front that are made and scored. */
const PICKED = 10;

const median = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1] ?? Number.NaN;
const summary = (list: number[]) =>
  list.length === 0 ? 'no overlap' : `median ${median(list).toFixed(2)}, worst ${Math.max(...list).toFixed(2)} (${list.length})`;

type Measure = keyof Score;

/** Log-linear between neighbours. Left of the first there is nothing; right of the last, the last. */
function between(list: readonly Score[], x: number, from: Measure, to: Measure): number | null {
  const sorted = list.filter((s) => s[from] > 0 && s[to] > 0).sort((a, b) => a[from] - b[from]);
  if (sorted.length === 0 || x < sorted[0][from]) return null;
  const k = sorted.findIndex((s) => s[from] >= x);
  if (k <= 0) return k === 0 ? sorted[0][to] : sorted[sorted.length - 1][to];
  const [a, b] = [sorted[k - 1], sorted[k]];
  const t = (Math.log(x) - Math.log(a[from])) / (Math.log(b[from]) - Math.log(a[from]));
  return Math.exp(Math.log(a[to]) + t * (Math.log(b[to]) - Math.log(a[to])));
}

/** @param only models whose name holds this; left out, all */
export async function compareAll(only = ''): Promise<void> {
  const dir = mkdtempSync(join(tmpdir(), 'scaphos-bench-'));
  const pictures = await openPictures();
  const all = { bytes: [] as number[], distance: [] as number[], views: [] as number[] };
  console.log('Mean two-sided distance at equal bytes (ours / rival), bytes at equal distance (ours / rival), and similarity of the worst');
  console.log('held-out view at equal bytes (ours − rival, the least). Under 1, and from 0 up, is better.');
  try {
    for (const { name, make } of MODELS.filter((m) => m.name.includes(only))) {
      const glb = await make();
      const [path, out] = [join(dir, 'in.glb'), join(dir, 'out.glb')];
      writeFileSync(path, glb);
      const [distance, views] = [distanceTo(await trianglesOf(glb)), await pictures.of(glb)];
      const score = async (): Promise<Score> => {
        const made = new Uint8Array(readFileSync(out));
        return { bytes: statSync(out).size, meanMm: distance(await trianglesOf(made)), loss: 1 - (await views.worst(made)) };
      };
      const rivals = new Map<Rival, Score[]>();
      for (const rival of RIVAL_NAMES) {
        const list: Score[] = [];
        for (const [ratio, error] of SWEEP) {
          try {
            RIVALS[rival](path, out, ratio, error);
          } catch {
            console.log(`${name}: ${rival} failed at a ratio of ${ratio}`);
            continue;
          }
          list.push(await score());
        }
        rivals.set(rival, list);
      }
      const least = Math.min(...[...rivals.values()].flat().map((s) => s.bytes));
      const job = { path, bytes: glb.length, files: {}, kind: null };
      const { front } = await solveBudget({ ...job, steps: [], limits: { ...NO_LIMITS, bytes: Math.round(least * 0.6) } });
      const every = Math.ceil(front.length / PICKED);
      const ours: Score[] = [];
      for (const p of front.filter((_, i) => i % every === 0 || i === front.length - 1)) {
        const steps = p.steps.map((s, i) => ({ ...s, id: `s${i}`, on: true }) as RecipeStep);
        await measure({ ...job, steps, measure: 'none', out });
        ours.push(await score());
      }
      for (const [rival, list] of rivals) {
        const atBytes = list.flatMap((s) => ratio(between(ours, s.bytes, 'bytes', 'meanMm'), s.meanMm));
        const atDistance = list.flatMap((s) => ratio(between(ours, s.meanMm, 'meanMm', 'bytes'), s.bytes));
        const gains = list.flatMap((s) => {
          const mine = between(ours, s.bytes, 'bytes', 'loss');
          return mine === null ? [] : [s.loss - mine];
        });
        all.bytes.push(...atBytes);
        all.distance.push(...atDistance);
        all.views.push(...gains);
        const seen = views.blank
          ? 'nothing of it is visible'
          : gains.length === 0
            ? 'no overlap'
            : `${Math.min(...gains).toFixed(4)} (median ${median(gains).toFixed(4)})`;
        console.log(`${name.padEnd(44)} ${rival.padEnd(15)} bytes: ${summary(atBytes)}; distance: ${summary(atDistance)}; views: ${seen}`);
      }
    }
  } finally {
    await pictures.close();
    rmSync(dir, { recursive: true, force: true });
  }
  const lower = all.views.filter((v) => v < 0).length;
  console.log(
    `All: distance at equal bytes ${summary(all.bytes)} (to reach: median 1, worst 1.1); bytes at equal distance ${summary(all.distance)}`,
  );
  console.log(
    `(to reach: median 0.9); ${lower} of ${all.views.length} worst held-out views lower than the rival's, by ${Math.max(0, -Math.min(...all.views)).toFixed(4)} at most.`,
  );
}

/** Nothing to compare with where ours does not reach, or theirs is exact. */
const ratio = (ours: number | null, theirs: number): number[] => (ours === null || !(theirs > 0) ? [] : [ours / theirs]);
