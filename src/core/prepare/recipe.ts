/** Running a recipe on a Document, and putting fixes together into steps. */
import type { Document } from '@gltf-transform/core';
import { Matrix4, Vector3 } from 'three';
import type { BodyBase } from '../form/body';
import { IntakeError } from '../intake/errors';
import { sceneSize } from '../intake/inspect';
import { findForm } from '../intake/placing/formreturn';
import { type Model, readModel } from '../model/model';
import { nodeMatrices, restPose } from '../model/pose';
import { applyNodes, applyTransform } from '../model/transform';
import { type RecipeStep, type SettingsOf, type StepDraft, type StepKind, turnOf } from '../piece/recipe';
import {
  addClip,
  hangChains,
  motionClip,
  type Rig,
  RigError,
  raiseBones,
  restIn,
  retargetClip,
  retargetName,
  rigChains,
  rigFigure,
  rigLimbs,
  runShares,
  type Surface,
  surfaceOf,
  tellBones,
} from '../rig';
import { rigLaid } from '../rig/weights/laid';
import { runTaken } from '../rig/weights/taken';
import { runAtlas } from './atlas';
import { runBones } from './bones';
import { runClips } from './clips';
import { runHidden } from './hidden';
import { mendMaterials } from './mendmaterials';
import { mendRig } from './mendrig';
import { mendShapes } from './mendshapes';
import { runMerge, runPrune } from './merge';
import { runPictures } from './pictures';
import type { PictureBytes, PictureTools } from './picturetools';
import { runGround, runPivot } from './place';
import { runSimplify } from './simplify';
import { readPictures, runRelink, runRepaint, runTextures } from './textures';
import { tidyDocument } from './tidy';

export interface RecipeTools extends PictureTools {
  /** A picture by its SHA-256; null where it is not at hand. */
  picture: (sha: string) => Promise<PictureBytes | null>;
  /** A model, for its clips or its weights, by its SHA-256; null where it is not at hand. */
  model: (sha: string) => Promise<Model | null>;
  /** What every body is made from. */
  body: () => Promise<BodyBase>;
}

export interface RecipeReport {
  /** What a step was made for and did not find in this model. */
  unmatched: string[];
}

/** What one step did. */
export interface StepReport extends RecipeReport {
  /** By how it moved the whole model. */
  moved: Matrix4;
}

/** Runs one step on the document. Quantise, reorder and compress show when the bytes are written (`packDocument`). */
export async function runStep(document: Document, step: StepDraft, tools: RecipeTools): Promise<StepReport> {
  const moved = new Matrix4();
  const unmatched = await changeBy(document, step, tools, moved);
  return { unmatched, moved };
}

type Run<K extends StepKind> = (
  document: Document,
  settings: SettingsOf<K>,
  tools: RecipeTools,
  moved: Matrix4,
) => Promise<string[] | undefined> | string[] | undefined;
const nothing = () => undefined;
const notForModels = () => {
  throw new IntakeError('recipe/kind', 'That is no step for a model.');
};

/** How each step changes a model; what it was made for and did not find comes back. */
const RUNS: { readonly [K in StepKind]: Run<K> } = {
  transform: (document, settings, _, moved) => {
    const { factor, shiftM, apply } = settings;
    if (apply) applyNodes(document);
    const turn = turnOf(settings);
    applyTransform(document, { factor, turn, shiftM });
    moved.compose(new Vector3(...shiftM), turn, new Vector3(factor, factor, factor));
    return undefined;
  },
  mend: runMend,
  relink: (document, settings, tools) => runRelink(document, settings, tools.picture),
  repaint: (document, settings, tools) => runRepaint(document, settings, tools),
  texture: (document, settings, tools) => runTextures(document, settings, tools).then(nothing),
  pivot: (document, settings, _, moved) => void moved.makeTranslation(...runPivot(document, settings)),
  ground: (document, _settings, _, moved) => void moved.makeTranslation(...runGround(document)),
  hidden: (document, settings) => void runHidden(document, settings),
  merge: (document, settings) => runMerge(document, settings).then(nothing),
  prune: (document) => runPrune(document).then(nothing),
  chains: (document, settings) => void runChains(document, settings),
  figure: (document, settings) => void runFigure(document, settings),
  garment: async (document, settings, tools) => {
    const base = await tools.body();
    return void raised(document, (surface) => rigLaid(surface, base, settings));
  },
  known: (document, { joints }) => tellBones(document, joints),
  weights: runWeights,
  stance: (document, { rest }) => void inWords(() => restIn(document, rest)),
  shares: (document, { edits, mirrored }) => inWords(() => runShares(document, edits, mirrored)),
  motion: (document, settings) => void runMotion(document, settings),
  retarget: runRetarget,
  bones: (document, settings) => void runBones(document, settings),
  clips: (document, settings) => runClips(document, settings).then(nothing),
  simplify: (document, settings) => runSimplify(document, settings).then(nothing),
  atlas: (document, settings, tools) => runAtlas(document, settings, tools).then(nothing),
  pictures: (document, settings, tools) => runPictures(document, settings, tools).then(nothing),
  reorder: nothing,
  quantise: nothing,
  compress: nothing,
  raster: notForModels,
  straighten: notForModels,
  crop: notForModels,
  alpha: notForModels,
  encode: notForModels,
  plane: notForModels,
  play: notForModels,
  sheet: notForModels,
  trim: notForModels,
};

async function changeBy(document: Document, step: StepDraft, tools: RecipeTools, moved: Matrix4): Promise<string[]> {
  const run = RUNS[step.step] as Run<StepKind>;
  return (await run(document, step.settings as never, tools, moved)) ?? [];
}

async function runMend(document: Document, settings: SettingsOf<'mend'>, tools: RecipeTools): Promise<undefined> {
  const ops = new Set(settings.ops);
  if (ops.has('the-form')) takeOutForm(document);
  const model = readModel(document);
  const world = nodeMatrices(model, restPose(model));
  const size = Math.max(...sceneSize(model).map((x) => (Number.isFinite(x) ? x : 0)));
  const scaleOf = (mesh: number) => {
    const n = model.nodes.findIndex((x) => x.mesh === mesh);
    return n < 0 ? 1 : new Vector3().setFromMatrixScale(world[n]).length() / Math.sqrt(3) || 1;
  };
  mendShapes(document, ops, { modelSizeOf: (mesh) => size / scaleOf(mesh) });
  // only blending is judged by pixels
  mendMaterials(document, ops, ops.has('opaque') ? await readPictures(document, tools) : []);
  mendRig(document, ops);
  return undefined;
}

const runChains = (document: Document, { chains, more, changes, weights }: SettingsOf<'chains'>) => {
  const asked = (chains === 'all' ? more : chains).map(({ name, rootM, tipM, bones }) => ({
    name: name ?? undefined,
    root: rootM,
    tip: tipM,
    bones,
  }));
  if (document.getRoot().listSkins().length === 0)
    return raised(document, (surface) =>
      chains === 'all' ? rigLimbs(surface, weights, { asked, changes }) : rigChains(surface, asked, weights, changes),
    );
  return inWords(() => {
    if (chains === 'all')
      throw new RigError(
        'rig/bones',
        'The model has bones already. Press root and tip of what else is to move: a chain hangs from the bone there.',
      );
    hangChains(document, asked, weights, changes);
  });
};

const runFigure = (document: Document, { detail, jointsM, weights }: SettingsOf<'figure'>) =>
  raised(document, (surface) => rigFigure(surface, { detail, joints: jointsM, weights }));

const runMotion = (document: Document, { clips }: SettingsOf<'motion'>) =>
  inWords(() => {
    for (const asked of clips) addClip(document, motionClip(document, asked));
  });

/** Clips whose motion is not at hand come back by the names of their files. */
async function runRetarget(document: Document, { clips }: SettingsOf<'retarget'>, tools: RecipeTools): Promise<string[]> {
  const missing: string[] = [];
  for (const asked of clips) {
    const source = await tools.model(asked.motion);
    if (!source) missing.push(asked.name);
    else inWords(() => addClip(document, retargetClip(document, source, { ...asked, name: retargetName(asked) })));
  }
  return missing;
}

/** Files that are not at hand come back by their names, and bones by theirs. */
async function runWeights(document: Document, { taken }: SettingsOf<'weights'>, tools: RecipeTools): Promise<string[]> {
  const missing: string[] = [];
  for (const { weights, name } of taken) {
    const source = await tools.model(weights);
    missing.push(...(source ? inWords(() => runTaken(document, source, name)) : [name]));
  }
  return missing;
}

const raised = (document: Document, rig: (surface: Surface) => Pick<Rig, 'bones' | 'binding'>) =>
  inWords(() => {
    const surface = surfaceOf(readModel(document));
    raiseBones(document, surface, rig(surface));
  });

/** @throws {IntakeError} with the code and words of what barred it */
function inWords<T>(run: () => T): T {
  try {
    return run();
  } catch (error) {
    throw error instanceof RigError ? new IntakeError(error.code, error.message) : error;
  }
}

/** The form a model was made upon, out of it. */
function takeOutForm(document: Document): void {
  const found = findForm(readModel(document));
  const meshes = document.getRoot().listMeshes();
  const gone = (found?.shapes ?? []).map(([mesh, primitive]) => meshes[mesh].listPrimitives()[primitive]);
  for (const p of gone) p.dispose();
  for (const m of meshes) if (m.listPrimitives().length === 0) m.dispose();
}

/** Runs the steps that are on, in order, on the document; what a step leaves unused goes with it. */
export async function runRecipe(document: Document, steps: readonly RecipeStep[], tools: RecipeTools): Promise<RecipeReport> {
  const unmatched: string[] = [];
  for (const step of steps) {
    if (!step.on) continue;
    unmatched.push(...(await runStep(document, step, tools)).unmatched);
    await tidyDocument(document);
  }
  return { unmatched };
}
