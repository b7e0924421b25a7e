/** A recipe run and measured: what each step weighs and what it shows, against the original in its place. */
import { type Document, Logger } from '@gltf-transform/core';
import { cloneDocument } from '@gltf-transform/functions';
import { Matrix4 } from 'three';
import { type RecipeStep, stepsThat } from '../piece/recipe';
import { errorOf, makeReference, measureError, type Reference } from './measure/error';
import { moveShape, readShape } from './measure/shape';
import { type MipTexture, mipTexture } from './measure/texture';
import { type DracoModules, type PackingStages, packDocument, packingOf, unpackDocument } from './pack';
import { encodeAhead } from './pictures';
import { type RecipeTools, runStep } from './recipe';
import type { StepCost, VisibleError, Weight } from './terms';
import { tidyDocument } from './tidy';
import { weighDocument } from './weigh';

export interface RunTools extends RecipeTools {
  draco: DracoModules | null;
  now: () => number;
  /** Throws to stop. @param share 0 to 1 */
  progress: (share: number, what: string) => void;
}

export interface MeasuredRun {
  /** The file as it is delivered. */
  packed: Uint8Array<ArrayBuffer>;
  /** What a viewer unpacks. */
  document: Document;
  after: Weight;
  error: VisibleError | null;
  e: number | null;
  steps: StepCost[];
  unmatched: string[];
  /** By how the steps move the whole model: a column-major matrix. */
  moved: number[];
}

/** Steps that move the whole model or bring pictures that were missing: what they do is no error. */
const PLACES = stepsThat('place');
const PAINTS = stepsThat('paint');
/** Steps that show when the bytes are written: the document stays as it is. */
const PACKS = stepsThat('pack');
const SHAPES_ONLY = stepsThat('place', 'pack', 'rig', 'pose', 'shape');
const POSES = stepsThat('pose');
const RIGS = stepsThat('rig', 'pose');

const copyOf = (d: Document) => cloneDocument(d).setLogger(new Logger(Logger.Verbosity.SILENT));

/** Decoded textures by their bytes: a picture that no step touched is decoded once. */
export class TextureCache {
  private kept = new Map<string, Promise<MipTexture | null>>();
  constructor(private readonly tools: Pick<RecipeTools, 'decode' | 'sha256'>) {}
  async of(document: Document): Promise<(MipTexture | null)[]> {
    const next = new Map<string, Promise<MipTexture | null>>();
    const read = (bytes: Uint8Array) => {
      const sha = this.tools.sha256(bytes);
      const mip = next.get(sha) ?? this.kept.get(sha) ?? this.tools.decode(bytes).then(mipTexture, () => null);
      next.set(sha, mip);
      return mip;
    };
    // decoded side by side
    const textures = document.getRoot().listTextures();
    const out = await Promise.all(textures.map((t) => read(t.getImage() ?? new Uint8Array())));
    // what this document no longer wears is let go: a picture of 2048² with its mip levels holds 22 MB
    this.kept = next;
    return out;
  }
}

/** Where each step leaves the model: the product of what it and those after it still have to move. */
export async function movesOf(source: Document, steps: readonly RecipeStep[], tools: RecipeTools): Promise<Matrix4[]> {
  const last = steps.findLastIndex((s) => PLACES.has(s.step));
  if (last < 0) return steps.map(() => new Matrix4());
  const document = copyOf(source);
  const moves: Matrix4[] = [];
  for (const [i, s] of steps.entries()) moves.push(i <= last ? (await runStep(document, s, tools)).moved : new Matrix4());
  return moves;
}

/** The original as it lies, stands and is painted after its recipe: what every step is measured against. */
export async function referenceOf(
  source: Document,
  steps: readonly RecipeStep[],
  moved: Matrix4,
  distanceM: number,
  tools: RecipeTools,
  cache: TextureCache,
): Promise<Reference> {
  // what stands otherwise at rest is compared with the original standing so: with bones, where it has none of its own
  const posed = steps.findLastIndex((s) => POSES.has(s.step));
  const paints = steps.filter((s, i) => PAINTS.has(s.step) || (i <= posed && RIGS.has(s.step)));
  const document = paints.length > 0 ? copyOf(source) : source;
  for (const s of paints) await runStep(document, s, tools);
  return makeReference(moveShape(readShape(document), moved), await cache.of(document), distanceM);
}

/**
 * Runs the steps that are on and measures them.
 * @param bytes the source weighs as it came
 * @param measure after every step, once at the end, or only bytes
 */
export async function runMeasured(
  source: Document,
  bytes: number,
  steps: readonly RecipeStep[],
  distanceM: number,
  measure: 'steps' | 'end' | 'none',
  tools: RunTools,
): Promise<MeasuredRun> {
  const on = steps.filter((s) => s.on);
  const cache = new TextureCache(tools);
  const moves = measure === 'none' ? [] : await movesOf(source, on, tools);
  const product = (from: number) => moves.slice(from).reduce((m, x) => x.clone().multiply(m), new Matrix4());
  const ref = measure === 'none' ? null : await referenceOf(source, on, product(0), distanceM, tools, cache);
  const document = copyOf(source);
  const painting = on.findIndex((s) => !SHAPES_ONLY.has(s.step));
  const first = painting > 0 ? on[painting] : null;
  const working = first?.step === 'pictures' ? encodeAhead(document, first.settings, tools) : tools;
  const costs: StepCost[] = [];
  const unmatched: string[] = [];
  let before = weighDocument(document, bytes);
  let stages: PackingStages = new Map();
  let done: { packed: Uint8Array<ArrayBuffer>; seen: Document; error: VisibleError | null } | null = null;
  const look = async (i: number) => {
    const packing = packingOf(on.slice(0, i + 1));
    const packed = await packDocument(document, packing, tools.draco, stages);
    const last = i === on.length - 1;
    const wanted = ref && (measure === 'steps' || last);
    // on the way there bytes and triangles are enough
    const seen = wanted || last ? await unpackDocument(packed, tools.draco) : document;
    const error = wanted ? measureError(ref, moveShape(readShape(seen), product(i + 1)), await cache.of(seen)) : null;
    return { packed, seen, error };
  };
  for (const [i, step] of on.entries()) {
    tools.progress(i / on.length, step.step);
    // what other threads have done is taken on
    await new Promise((go) => setTimeout(go, 0));
    const from = tools.now();
    if (!PACKS.has(step.step)) {
      unmatched.push(...(await runStep(document, step, working)).unmatched);
      await tidyDocument(document);
      stages = new Map();
    }
    const ms = tools.now() - from;
    done = await look(i);
    const after = weighDocument(done.seen, done.packed.byteLength);
    costs.push({
      id: step.id,
      step: step.step,
      bytes: after.bytes,
      triangles: after.triangles,
      savedBytes: before.bytes - after.bytes,
      savedTriangles: before.triangles - after.triangles,
      e: done.error ? errorOf(done.error, distanceM) : null,
      error: done.error,
      ms: Math.round(ms),
    });
    before = after;
  }
  done ??= await look(-1);
  tools.progress(1, 'done');
  return {
    packed: done.packed,
    document: done.seen,
    after: weighDocument(done.seen, done.packed.byteLength),
    error: done.error,
    e: done.error ? errorOf(done.error, distanceM) : null,
    steps: costs,
    unmatched,
    moved: product(0).toArray(),
  };
}
