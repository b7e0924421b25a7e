/** Recipes drawn by a seed, of the steps an artist would take in the order they would. */
import { seededRandom } from '@/core/math';
import type { RecipeStep, StepDraft } from '@/core/piece';

const EDGES = [128, 256, 512, 1024, 2048, 4096];

/** @param edge longest edge of a picture in the model, px; 0 without pictures */
export function drawRecipes(count: number, seed: number, edge: number): RecipeStep[][] {
  const random = seededRandom(seed);
  const whole = (low: number, high: number) => low + Math.floor(random() * (high - low + 1));
  const one = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  return Array.from({ length: count }, () => {
    const steps: StepDraft[] = [{ step: 'prune', settings: {} }];
    const ratio = random() < 0.25 ? 1 : 0.03 ** random();
    if (ratio < 1)
      steps.push({
        step: 'simplify',
        settings: { ratio, errorMm: null, meshes: [], keepBorders: random() < 0.2, refit: true, detail: [], keep: [] },
      });
    const edges = EDGES.filter((e) => e <= edge);
    if (edges.length > 0) {
      const [maxEdge, format, quality] = [one(edges), one(['webp', 'webp', 'jpeg'] as const), whole(30, 98)];
      steps.push({
        step: 'pictures',
        settings: {
          roles: (['color', 'normal', 'data', 'emission'] as const).map((role) => ({ role, maxEdge, format, quality })),
          textures: [],
        },
      });
    }
    steps.push({ step: 'reorder', settings: {} });
    steps.push({ step: 'quantise', settings: { positionBits: whole(9, 16), normalBits: whole(6, 12), uvBits: whole(9, 14) } });
    steps.push({ step: 'compress', settings: { method: one(['draco', 'draco', 'meshopt'] as const) } });
    return steps.map((s, i) => ({ ...s, id: `s${i}`, on: true }) as RecipeStep);
  });
}
