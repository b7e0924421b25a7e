/** The steps one can put into a recipe here, as they start; and how a search's steps join those that stand before. */
import { ulid } from 'ulid';
import type { RecipeStep, StepDraft } from '@/core/piece';
import { type StepCost, THRESHOLDS } from '@/core/prepare/terms';

export const OFFERED: readonly { label: string; about: string; draft: StepDraft }[] = [
  {
    label: 'Transforms into the shapes',
    about: 'Sizes and turns of nodes worked into the shapes; size, turn and move it',
    draft: { step: 'transform', settings: { factor: 1, turnDeg: { yaw: 0, pitch: 0, roll: 0 }, shiftM: [0, 0, 0], apply: true } },
  },
  {
    label: 'Origin under its base',
    about: 'The middle of its lowest side becomes its origin',
    draft: { step: 'pivot', settings: { to: 'base', pointM: [0, 0, 0] } },
  },
  {
    label: 'Origin in its middle',
    about: 'The middle of its box becomes its origin',
    draft: { step: 'pivot', settings: { to: 'centre', pointM: [0, 0, 0] } },
  },
  {
    label: 'Origin at a point',
    about: 'The point that hangs on its anchor becomes its origin',
    draft: { step: 'pivot', settings: { to: 'point', pointM: [0, 0, 0] } },
  },
  { label: 'Drop to the ground', about: 'Its lowest point comes to height 0', draft: { step: 'ground', settings: {} } },
  {
    label: 'Mend the shapes',
    about: 'Weld, empty and turned triangles, crumbs, normals, tangents',
    draft: { step: 'mend', settings: { ops: ['weld', 'degenerate', 'flipped', 'crumbs', 'normals', 'tangents'] } },
  },
  {
    label: 'Take out what is hidden',
    about: 'What lies inside, or behind an occluder from every side',
    draft: { step: 'hidden', settings: { inside: true, behind: [] } },
  },
  {
    label: 'Merge what draws alike',
    about: 'Equal materials, meshes that wear the same',
    draft: { step: 'merge', settings: { materials: true, meshes: true } },
  },
  { label: 'Take out what is unused', about: 'What nothing uses, vertices that are twice there', draft: { step: 'prune', settings: {} } },
  {
    label: 'Raise chains of bones',
    about: 'One in each limb of the shape, joined to one root, with weights',
    draft: { step: 'chains', settings: { chains: 'all', more: [], changes: {}, weights: 'auto' } },
  },
  {
    label: 'Raise a figure',
    about: 'Humanoid bones in a body with head, hands and feet, with weights',
    draft: { step: 'figure', settings: { detail: 22, jointsM: {}, weights: 'auto' } },
  },
  {
    label: 'Bones of the body',
    about: 'For a garment that lies on it: bones of the body, weights of the skin below',
    draft: { step: 'garment', settings: { form: 'M', detail: 22, smooth: 6 } },
  },
  {
    label: 'Another rest pose',
    about: 'Arms of a figure with bones held otherwise at rest; motions stay',
    draft: { step: 'stance', settings: { rest: 'T' } },
  },
  {
    label: 'Take out idle bones',
    about: 'And four influences a vertex',
    draft: { step: 'bones', settings: { dropUnused: true, fourInfluences: true, limit: null } },
  },
  {
    label: 'Resample clips',
    about: 'Without keys that lie on a line and tracks that stand still',
    draft: { step: 'clips', settings: { resample: true, dropConstant: true } },
  },
  {
    label: 'Simplify',
    about: 'Fewer triangles, fitted to the surface',
    draft: { step: 'simplify', settings: { ratio: 0.5, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] } },
  },
  {
    label: 'Write pictures anew',
    about: 'Size, format and quality',
    draft: {
      step: 'pictures',
      settings: {
        roles: (['color', 'normal', 'data', 'emission'] as const).map((role) => ({
          role,
          maxEdge: 1024,
          format: 'webp' as const,
          quality: 85,
        })),
        textures: [],
      },
    },
  },
  {
    label: 'Join pictures in an atlas',
    about: 'Pictures of materials that draw alike become one',
    draft: { step: 'atlas', settings: { maxEdge: 1024 } },
  },
  {
    label: 'Pack occlusion',
    about: 'Occlusion, roughness and metal in one picture',
    draft: { step: 'texture', settings: { ops: ['pack', 'drop-alpha', 'merge'], maxEdge: 16384 } },
  },
  { label: 'Reorder', about: 'An order that packs and draws well', draft: { step: 'reorder', settings: {} } },
  {
    label: 'Quantise',
    about: 'Numbers of fewer bits',
    draft: { step: 'quantise', settings: { positionBits: 14, normalBits: 8, uvBits: 12 } },
  },
  { label: 'Compress', about: 'Draco or meshopt', draft: { step: 'compress', settings: { method: 'draco' } } },
];

/** Steps that a search found are known by their name: another search takes their place. */
const FOUND = 'found-';
export const asStep = (d: StepDraft): RecipeStep => ({ ...d, id: ulid(), on: true }) as RecipeStep;
export const asFound = (d: StepDraft): RecipeStep => ({ ...d, id: `${FOUND}${ulid()}`, on: true }) as RecipeStep;
export const beforeSearch = (steps: readonly RecipeStep[]): RecipeStep[] => steps.filter((s) => !s.id.startsWith(FOUND));
/** Steps that are about places or bones of one file alone. */
const OF_ONE_FILE: ReadonlySet<RecipeStep['step']> = new Set(['relink', 'repaint', 'known', 'shares', 'weights']);

/** What belongs to one file alone is not taken to another: pictures that were linked, places that were painted, pressed or dragged. */
export const portable = (steps: readonly RecipeStep[]): (StepDraft & { on: boolean })[] =>
  steps.flatMap((s): (StepDraft & { on: boolean })[] => {
    if (OF_ONE_FILE.has(s.step)) return [];
    const { id: _id, ...rest } = s;
    switch (rest.step) {
      case 'simplify':
        return [{ ...rest, settings: { ...rest.settings, detail: [] } }];
      case 'figure':
        return [{ ...rest, settings: { ...rest.settings, jointsM: {} } }];
      case 'chains':
        return rest.settings.chains === 'all' ? [{ ...rest, settings: { ...rest.settings, more: [], changes: {} } }] : [];
      default:
        return [rest];
    }
  });

/** Two recipes that do the same, whatever their steps are called. */
export const sameSteps = (a: readonly StepDraft[], b: readonly StepDraft[]): boolean => {
  const plain = (list: readonly (StepDraft & { on?: boolean })[]) =>
    JSON.stringify(list.filter((s) => s.on !== false).map((s) => [s.step, s.settings]));
  return plain(a) === plain(b);
};

export const FORMULA = `E = max(mean mm/${THRESHOLDS.meanMm}, most mm/${THRESHOLDS.maxMm}, normals °/${THRESHOLDS.normalDeg}, silhouette/${THRESHOLDS.silhouette}, (1 − SSIM)/${THRESHOLDS.ssimLoss})`;

/** What each step of a table cost: costs are told of the steps that are on, in their order. */
export function costsByPlace(steps: readonly RecipeStep[], costs: readonly StepCost[]): (StepCost | undefined)[] {
  let at = 0;
  return steps.map((s) => (s.on ? costs[at++] : undefined));
}
