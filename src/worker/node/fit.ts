/** The fit job: a model fitted to a form by what it is, and how it sits there over a cast. Runs in a disposable process. */
import { readFile } from 'node:fs/promises';
import { Matrix4, Vector3 } from 'three';
import { offsetOf } from '@/core/fit/acts';
import { CastMeasure, type ClearanceCell, type Measured } from '@/core/fit/cells';
import { isWrong } from '@/core/fit/judge';
import { type FitPair, fitIt, headOf, shapesOfModel } from '@/core/fit/onto';
import { sheetOf } from '@/core/fit/sheet';
import { nearestPair, whereItStarts } from '@/core/fit/starts';
import {
  buildFormBase,
  contradictionsOf,
  type Form,
  FormError,
  type FormSize,
  type Measures,
  makeForm,
  POSES,
  type Pose,
  PRESETS,
} from '@/core/form';
import { yawPitchRoll } from '@/core/math';
import { readModel } from '@/core/model';
import {
  add,
  applyEdit,
  castOf,
  createModelPart,
  createPiece,
  formRow,
  ModelItem,
  measuresOf,
  type Offset,
  onAnchor,
  type Piece,
  type Wearer,
} from '@/core/piece';
import { placedCell } from '@/core/run/placed';
import type { Kind } from '@/core/words/kinds';
import { placeWords } from '@/core/words/places';
import { readGlb } from './codecs';
import { writeFitSheet } from './fitsheet';

/** Who is fitted to, and who it is judged on: sizes, or measures under a name. */
export type FitWearer = FormSize | { name: string; measures: Partial<Measures> };

export interface FitJob {
  /** File of the plain GLB. */
  path: string;
  kind: Kind;
  form: FitWearer;
  cast: FitWearer[];
  gapM: number;
  keepSize: boolean;
  /** File that the fit sheet is written to, .pdf or .png; null: none is. */
  sheet: string | null;
  /** What stands over it. */
  title: string;
}

export interface FitDone {
  /** From the file's metres to the head's; null: nothing is claimed. */
  offset: Offset | null;
  scale: number | null;
  rotationDeg: { yaw: number; pitch: number; roll: number } | null;
  translationMm: [number, number, number] | null;
  pairs: { name: string; modelMm: number[]; formMm: number[]; residualMm: number }[];
  clearance: { deepestMm: number; atMm: number[]; cutShare: number; meanGapMm: number | null } | null;
  /** Every wearer of the cast in every pose of the strip. */
  cells: { form: string; pose: string; deepestMm: number; cutShare: number; share: number; swallowed: number }[];
  confidence: number;
  reason: string;
}

const round = (x: number, digits: number) => Number(x.toFixed(digits));
const toMm = (p: readonly number[]) => p.map((x) => round(x * 1000, 3));
const pairOf = ({ name, modelM, formM, residualMm }: FitPair) => ({
  name,
  modelMm: modelM.map((x) => Number((x * 1000).toPrecision(9))),
  formMm: toMm(formM),
  residualMm: round(residualMm, 3),
});

const nameOf = (w: FitWearer) => (typeof w === 'string' ? w : w.name);
const asked = (w: FitWearer) => (typeof w === 'string' ? w : w.measures);

/** @throws {FormError} `form/measure` of a wearer whose measures contradict */
export async function runFit(job: FitJob): Promise<FitDone> {
  const base = buildFormBase();
  const form = formOf(base, job.form);
  const model = readModel(await readGlb(await readFile(job.path)));
  const fitted = fitIt(shapesOfModel(model), job, headOf(form));
  const { onto } = fitted;
  const told = { pairs: fitted.pairs.map(pairOf), confidence: round(fitted.confidence, 3), reason: fitted.reason };
  if (!onto) return { offset: null, scale: null, rotationDeg: null, translationMm: null, clearance: null, cells: [], ...told };
  const e = yawPitchRoll(onto.turn);
  const deg = (rad: number) => round((rad * 180) / Math.PI, 4) + 0;
  const offset = offsetOf(new Matrix4().compose(onto.shiftM, onto.turn, new Vector3(1, 1, 1).multiplyScalar(onto.factor)));
  const piece = wornPiece(offset);
  const assets = { models: { [SHA]: model } };
  const cast = new CastMeasure();
  const measure = (w: FitWearer, poses: readonly Pose[]) => {
    const worn = formOf(base, w);
    const { of, wearer } = wornBySomebody(piece, w);
    return poses.flatMap((pose) => {
      const placed = placedCell(of, assets, of.parts.thing, wearer, { head: pose });
      const measured = placed && cast.measure(JSON.stringify(w), { form: worn, body: null }, placed.cell);
      return measured ? [{ w, pose, measured, form: worn, cell: placed.cell }] : [];
    });
  };
  const cells = job.cast.flatMap((w) => measure(w, POSES));
  if (job.sheet !== null) await sheetOfCells(job.sheet, job, cells, (w, pose) => measure(w, [pose])[0]?.measured ?? null);
  // of the form it was fitted to, whether that is of the cast or not
  const [own] = measure(
    job.form,
    POSES.filter((p) => p.id === 'front'),
  );
  const c = own?.measured.clearance;
  return {
    offset,
    scale: onto.factor,
    rotationDeg: { yaw: deg(e.y), pitch: deg(e.x), roll: deg(e.z) },
    translationMm: toMm(onto.shiftM.toArray()) as [number, number, number],
    clearance: c
      ? {
          deepestMm: round(c.deepestMm, 3),
          atMm: toMm(c.atM),
          cutShare: round(c.cutShare, 5),
          meanGapMm: c.meanGapMm === null ? null : round(c.meanGapMm, 3),
        }
      : null,
    cells: cells.map(({ w, pose, measured: { clearance, leaks } }) => ({
      form: nameOf(w),
      pose: pose.id,
      deepestMm: round(clearance.deepestMm, 3),
      cutShare: round(clearance.cutShare, 5),
      share: round(leaks?.leak ?? 0, 5),
      swallowed: round(leaks?.swallowed ?? 0, 5),
    })),
    ...told,
  };
}

/** One wearer of the cast in one pose. */
interface FitCell {
  w: FitWearer;
  pose: Pose;
  measured: Measured;
  form: Form;
  cell: ClearanceCell;
}

async function sheetOfCells(
  path: string,
  { cast, title }: FitJob,
  cells: readonly FitCell[],
  again: (w: FitWearer, pose: Pose) => Measured | null,
): Promise<void> {
  const at = (pose: Pose, w: FitWearer) => cells.find((c) => c.pose === pose && c.w === w) ?? null;
  const worst = (w: FitWearer) => cells.filter((c) => c.w === w && isWrong(c.measured)).sort(deepestFirst)[0];
  const heads = cast.map((w) => ({ measures: headOfWearer(w), wrong: worst(w) !== undefined }));
  const pair = nearestPair(heads);
  const starts =
    pair &&
    (await whereItStarts(heads[pair.fits].measures, heads[pair.not].measures, (measures) => {
      const told = again({ name: 'between', measures }, worst(cast[pair.not]).pose);
      return told !== null && isWrong(told);
    }));
  const words = (w: FitWearer) => (typeof w === 'string' ? `form ${w}` : w.name);
  const asked = sheetOf(title, title, {
    wearers: cast.map(words),
    poses: POSES.map((p) => p.label),
    cells: POSES.map((p) =>
      cast.map((w) => {
        const told = at(p, w)?.measured;
        return told ? { ...told, where: told.near && placeWords(told.near) } : null;
      }),
    ),
    starts: starts && pair && { ...starts, from: words(cast[pair.fits]), to: words(cast[pair.not]) },
  });
  await writeFitSheet(
    path,
    asked,
    POSES.map((p) =>
      cast.map((w) => {
        const of = at(p, w);
        return of && { form: of.form, cell: of.cell, distances: of.measured.distances };
      }),
    ),
  );
}
const deepestFirst = (a: FitCell, b: FitCell) => b.measured.clearance.deepestMm - a.measured.clearance.deepestMm;
const headOfWearer = (w: FitWearer): Measures => measuresOf(asked(w));

function formOf(base: ReturnType<typeof buildFormBase>, w: FitWearer) {
  try {
    const form = makeForm(base, asked(w));
    const [wrong] = contradictionsOf(asked(w), form);
    if (wrong) throw new FormError(`nobody has these measures together. ${wrong}`);
    return form;
  } catch (error) {
    if (error instanceof FormError) throw Object.assign(new Error(`Form ${nameOf(w)}: ${error.message}`), { code: error.code });
    throw error;
  }
}

/** The piece with whoever is asked for in its cast. */
function wornBySomebody(piece: Piece, w: FitWearer): { of: Piece; wearer: Wearer } {
  if (typeof w === 'string') return { of: piece, wearer: castOf(piece).find((c) => c.key === w) as Wearer };
  const row = formRow('own', w.name, 'M', { ...PRESETS.M, headCircumference: undefined, ...w.measures });
  const of = { ...piece, forms: { own: row } };
  return { of, wearer: castOf(of).find((c) => c.row === row) as Wearer };
}

const SHA = '0'.repeat(64);
/** A new piece that the thing hangs in as it was fitted. */
function wornPiece(offset: Offset): Piece {
  const stock = ModelItem.parse({ id: 'thing', kind: 'model', name: 'thing', original: SHA, model: SHA, bytes: 1 });
  const piece = applyEdit(createPiece('Fit'), add('stock', stock));
  return applyEdit(piece, add('parts', { ...createModelPart('thing', 'thing', 'Thing', onAnchor('head')), offset }));
}
