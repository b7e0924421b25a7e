/**
 * The budget solver. What shows nothing is taken out first; then shapes and pictures are searched. Where that does not come under
 * the limit unseen, and many parts draw alike, the same is searched with those parts joined: sixty small parts pay for sixty heads.
 */
import { type Document, Logger } from '@gltf-transform/core';
import { cloneDocument } from '@gltf-transform/functions';
import type { StepDraft } from '../../piece/recipe';
import { bentLike, errorOf, measureShape, type Reference } from '../measure/error';
import { readShape } from '../measure/shape';
import type { MipTexture } from '../measure/texture';
import { runStep } from '../recipe';
import type { FrontPoint, Limits, Solution } from '../terms';
import { weighDocument } from '../weigh';
import { pareto } from './found';
import { idleSteps } from './idle';
import { Search, type SolveTools } from './search';

export type { SolveTools } from './search';

/** Parts are joined where at most so large a share of their draw calls stays. */
const WORTH_JOINING = 0.5;
const JOIN: StepDraft = { step: 'merge', settings: { materials: true, meshes: true } };
/** Share of the progress the first search takes where another follows. */
const FIRST = 0.5;

/**
 * @param base the model after the steps that come before; it is changed
 * @param ref what errors are measured against
 * @param limits of the place of delivery
 * @param distanceM from how far it is looked at
 * @throws what `tools.progress` throws, to stop
 */
export async function solve(
  base: Document,
  ref: Reference,
  decode: (document: Document) => Promise<(MipTexture | null)[]>,
  limits: Limits,
  distanceM: number,
  tools: SolveTools,
): Promise<Solution> {
  tools.progress(0, 'taking out what nothing uses');
  const prefix = idleSteps(base, limits);
  for (const step of prefix) await runStep(base, step, tools.recipe);
  const merged = prefix.some((s) => s.step === 'bones' && s.settings.limit !== null);
  if (!merged) return searched(prefix, base, ref, decode, limits, distanceM, tools);
  // what merging bones does to the motion nothing after it can mend: the rest is searched beside that, and told with it
  const shape = readShape(base);
  const { maxMm } = measureShape(ref, shape);
  const found = await searched(prefix, base, bentLike(ref, shape), decode, limits, distanceM, tools);
  const front = found.front.map((p) => {
    const error = { ...p.error, maxMm: Math.max(p.error.maxMm, maxMm) };
    return { ...p, error, e: errorOf(error, distanceM) };
  });
  return { ...found, front };
}

/** Both searches, of the parts as they are and, where that may be worth it, of parts joined. */
async function searched(
  prefix: readonly StepDraft[],
  ...[base, ref, decode, limits, distanceM, tools]: Parameters<typeof solve>
): Promise<Solution> {
  const joined = await joinedOf(base, tools);
  const part = (from: number, to: number): SolveTools => ({
    ...tools,
    progress: (share, what) => tools.progress(from + (to - from) * share, what),
  });
  const first = part(0, joined ? FIRST : 1);
  const apart = await new Search(base, prefix, ref, await decode(base), limits, distanceM, first).run();
  if (!joined || !isPressed(apart, limits)) return apart;
  const second = part(FIRST, 1);
  const together = await new Search(joined, [...prefix, JOIN], ref, await decode(joined), limits, distanceM, second).run();
  return better(apart, together, limits);
}

/** The limit is not met, or only at a price one sees. */
const isPressed = ({ met, front, chosen }: Solution, { bytes }: Limits): boolean =>
  bytes !== null && chosen >= 0 && (!met || front[chosen].e > 1);

/** The model with parts that draw alike joined; null where little would be won, or where something moves by itself. */
async function joinedOf(base: Document, tools: SolveTools): Promise<Document | null> {
  const root = base.getRoot();
  if (root.listAnimations().length > 0 || root.listSkins().length > 0) return null;
  const document = cloneDocument(base).setLogger(new Logger(Logger.Verbosity.SILENT));
  await runStep(document, JOIN, tools.recipe);
  const [before, after] = [weighDocument(base, 0), weighDocument(document, 0)];
  const whole = after.triangles === before.triangles;
  return whole && after.drawCalls <= before.drawCalls * WORTH_JOINING ? document : null;
}

/** Both fronts as one; chosen is the better of what was chosen: what meets the limits, then what shows less. */
function better(a: Solution, b: Solution, limits: Limits): Solution {
  const [p, q] = [a.front[a.chosen], b.front[b.chosen]];
  if (!q) return a;
  const second = a.met !== b.met ? b.met : a.met ? q.e < p.e : q.bytes < p.bytes;
  const [best, of] = second ? [q, b] : [p, a];
  const front = pareto<FrontPoint>([...a.front, ...b.front], (x) => x.bytes);
  if (!front.includes(best)) front.push(best);
  front.sort((x, y) => x.bytes - y.bytes || y.e - x.e);
  const unseen = limits.bytes === null ? front.find((x) => x.e <= 1) : undefined;
  return { front, chosen: front.indexOf(unseen ?? best), met: of.met, unmet: of.unmet, measured: a.measured + b.measured };
}
