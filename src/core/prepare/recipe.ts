/** Running a recipe on a Document, and putting fixes together into steps. */
import type { Document } from '@gltf-transform/core';
import { Matrix4, type Quaternion, Vector3 } from 'three';
import { IntakeError } from '../intake/errors';
import { sceneSize } from '../intake/inspect';
import { quarterQuaternion } from '../intake/placing';
import { findForm } from '../intake/placing/formreturn';
import { yawPitchRoll } from '../math/turns';
import { readModel } from '../model/model';
import { nodeMatrices, restPose } from '../model/pose';
import { applyNodes, applyTransform } from '../model/transform';
import { type MendOp, type RecipeStep, type StepDraft, stepsFor, type TextureSettings, type TransformSettings } from '../piece/recipe';
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

export const turnOf = (t: Pick<TransformSettings, 'turnDeg'>): Quaternion =>
  quarterQuaternion({ yawDeg: t.turnDeg.yaw, pitchDeg: t.turnDeg.pitch, rollDeg: t.turnDeg.roll });

/** Runs one step on the document. Quantise, reorder and compress show when the bytes are written (`packDocument`). */
export async function runStep(document: Document, step: StepDraft, tools: RecipeTools): Promise<StepReport> {
  const moved = new Matrix4();
  const unmatched = await changeBy(document, step, tools, moved);
  return { unmatched, moved };
}

async function changeBy(document: Document, step: StepDraft, tools: RecipeTools, moved: Matrix4): Promise<string[]> {
  switch (step.step) {
    case 'transform': {
      const { factor, shiftM, apply } = step.settings;
      if (apply) applyNodes(document);
      const turn = turnOf(step.settings);
      applyTransform(document, { factor, turn, shiftM });
      moved.compose(new Vector3(...shiftM), turn, new Vector3(factor, factor, factor));
      return [];
    }
    case 'mend': {
      const ops = new Set(step.settings.ops);
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
      return [];
    }
    case 'relink':
      return runRelink(document, step.settings, tools.picture);
    case 'repaint':
      return runRepaint(document, step.settings, tools);
    case 'texture':
      await runTextures(document, step.settings, tools);
      return [];
    case 'pivot':
      moved.makeTranslation(...runPivot(document, step.settings));
      return [];
    case 'ground':
      moved.makeTranslation(...runGround(document));
      return [];
    case 'hidden':
      runHidden(document, step.settings);
      return [];
    case 'merge':
      await runMerge(document, step.settings);
      return [];
    case 'prune':
      await runPrune(document);
      return [];
    case 'bones':
      runBones(document, step.settings);
      return [];
    case 'clips':
      await runClips(document, step.settings);
      return [];
    case 'simplify':
      await runSimplify(document, step.settings);
      return [];
    case 'atlas':
      await runAtlas(document, step.settings, tools);
      return [];
    case 'pictures':
      await runPictures(document, step.settings, tools);
      return [];
    case 'reorder':
    case 'quantise':
    case 'compress':
      return [];
    default:
      throw new IntakeError('recipe/kind', `${step.step} is no step for a model.`);
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

/** `b` after `a` as one transform. */
export function combineTransforms(a: TransformSettings, b: TransformSettings): TransformSettings {
  const turn = turnOf(b).multiply(turnOf(a));
  const e = yawPitchRoll(turn);
  const deg = (x: number) => tidy(Math.round((x * 180e9) / Math.PI) / 1e9);
  const shift = new Vector3(...a.shiftM)
    .applyQuaternion(turnOf(b))
    .multiplyScalar(b.factor)
    .add(new Vector3(...b.shiftM));
  return {
    factor: Number((a.factor * b.factor).toPrecision(12)),
    turnDeg: { yaw: deg(e.y), pitch: deg(e.x), roll: deg(e.z) },
    shiftM: [tidy(shift.x), tidy(shift.y), tidy(shift.z)],
    apply: a.apply || b.apply,
  };
}

const tidy = (x: number) => (Math.abs(x) < 1e-12 ? 0 : x);

/** Mending can show what was hidden before (a vertex that no triangle uses any more): fixes are asked for this often. */
export const FIX_ROUNDS = 4;

const STEP_ORDER: readonly StepDraft['step'][] = [...new Set(['model', 'picture', 'sequence', 'sound'].flatMap(stepsFor))];

/**
 * Many fixes as few steps, one of each kind, in the order of work. Each fix speaks of the model as it is: a shift comes before
 * a size, a size before a turn, so that together they do what each does alone.
 */
export function mergeDrafts(drafts: readonly StepDraft[]): StepDraft[] {
  const out: StepDraft[] = [];
  for (const kind of STEP_ORDER) {
    const same = drafts.filter((d) => d.step === kind);
    if (same.length === 0) continue;
    if (kind === 'transform') {
      const parts = same.map((d) => d.settings as TransformSettings);
      const rank = (t: TransformSettings) => (t.shiftM.some((x) => x !== 0) ? 0 : t.factor !== 1 ? 1 : 2);
      out.push({ step: kind, settings: parts.sort((x, y) => rank(x) - rank(y)).reduce(combineTransforms) });
    } else if (kind === 'mend') {
      out.push({ step: kind, settings: { ops: [...new Set(same.flatMap((d) => (d.settings as { ops: MendOp[] }).ops))] } });
    } else if (kind === 'relink' || kind === 'repaint') {
      out.push({ step: kind, settings: { links: same.flatMap((d) => (d.settings as { links: never[] }).links) } });
    } else if (kind === 'alpha') {
      out.push({ step: kind, settings: { ops: [...new Set(same.flatMap((d) => (d.settings as { ops: ('bleed' | 'drop')[] }).ops))] } });
    } else if (kind !== 'texture') {
      // of what can be one way only, the last word counts
      out.push({ step: kind, settings: same[same.length - 1].settings } as StepDraft);
    } else {
      const all = same.map((d) => d.settings as TextureSettings);
      out.push({
        step: kind,
        settings: {
          ops: [...new Set(all.flatMap((t) => t.ops))],
          maxEdge: Math.min(...all.filter((t) => t.ops.includes('resize')).map((t) => t.maxEdge), 16384),
        },
      });
    }
  }
  return out;
}
