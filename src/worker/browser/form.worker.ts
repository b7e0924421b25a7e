/** The browser's thread for forms: small, so that it stands while a page is still being put together. */
import { expose, transfer } from 'comlink';
import { bentBody, bentForm } from '@/core/fit/bent';
import { CastMeasure, type Measured, skinUnder } from '@/core/fit/cells';
import type { Dropped } from '@/core/fit/drop';
import { type Growth, type Judged, leastGrowth } from '@/core/fit/growth';
import { type FitAsked, type Fitted, fitIt, headOf, shapesOfModel } from '@/core/fit/onto';
import type { WornSaid } from '@/core/fit/worn';
import { bareUnderCloth } from '@/core/fit/wornbare';
import { asOne, clothAt, type WornPoseRow, wornOverPoses } from '@/core/fit/wornfit';
import { type FacePlace, type Form, type FormAsk, makeForm } from '@/core/form';
import { type BodyAsk, bodyMeasures, bodyOfSize, type DrawnBody, drawnBody, type RestMm, restOf, shapeBody } from '@/core/form/body';
import { type OwnForm, ownOf } from '@/core/form/own';
import { type Sculpt, sculptOf } from '@/core/intake/placing/formreturn';
import type { Model } from '@/core/model';
import type { WornCell } from '@/core/run/placed';
import { bodyBase, formBase } from './formbase';

export interface Cloth {
  positions: Float32Array;
  triangles: Uint32Array;
  levels: Uint8Array;
}

/** As plain numbers: head from file, metres. */
export interface FitTold extends Omit<Fitted, 'onto'> {
  onto: { factor: number; turn: [number, number, number, number]; shiftM: [number, number, number] } | null;
}
export type ToldCell = Omit<Measured, 'distances'>;
export interface SeenCell extends Measured {
  form: { positions: Float32Array; indices: Uint32Array };
}

const shaped = async (ask: BodyAsk) => shapeBody(await bodyBase(), bodyMeasures(ask));
const madeWearer = async (ask: BodyAsk, whole: boolean) => ({
  form: makeForm(await formBase(), ask.head),
  body: whole ? drawnBody(await shaped(ask)) : null,
});
const wearers = new Map<string, ReturnType<typeof madeWearer>>();
const keyOf = ({ wearer, frames }: WornCell) => JSON.stringify([wearer, frames.body !== null]);
/** Who wears it there: made once, for a part is measured after every edit. */
function wearerOf(cell: WornCell) {
  const key = keyOf(cell);
  const made = wearers.get(key) ?? madeWearer(cell.wearer, cell.frames.body !== null);
  wearers.set(key, made);
  made.catch(() => wearers.delete(key));
  return made;
}

/** Of whom something was fitted to: how far their skin is, as it was asked. */
const heads = new Map<string, Promise<ReturnType<typeof headOf>>>();

const forms = {
  /** Makes or fetches what every form is made from, before one is asked for. */
  async warm(): Promise<void> {
    await formBase();
  },
  async makeBody(ask: BodyAsk): Promise<{ drawn: DrawnBody; rest: RestMm }> {
    const shape = await shaped(ask);
    return { drawn: drawnBody(shape), rest: restOf(shape) };
  },
  /** Where its joints are, of a body that nobody draws. */
  restOfBody: async (ask: BodyAsk): Promise<RestMm> => restOf(await shaped(ask)),
  /** How a garment sits over the body's poses. */
  async wornOverPoses(model: Model, said: WornSaid, ask: BodyAsk): Promise<WornPoseRow[]> {
    const shape = await shaped(ask);
    return wornOverPoses(model, said, shape.skeleton, drawnBody(shape));
  },
  /** Cloth as it lies on the body at rest, and where that lies over the skin: levels of `packBare`. */
  async wornBare(model: Model, said: WornSaid, ask: BodyAsk): Promise<Cloth> {
    const shape = await shaped(ask);
    const levels = bareUnderCloth(model, said, shape.skeleton, drawnBody(shape));
    return { ...asOne(clothAt(model, said, shape.skeleton)), levels };
  },
  /** How a part sits on each of some wearers, in each of their moments. */
  async clearance(cells: WornCell[]): Promise<(ToldCell | null)[]> {
    const cast = new CastMeasure();
    const out: (ToldCell | null)[] = [];
    for (const cell of cells) {
      const told = cast.measure(keyOf(cell), await wearerOf(cell), cell);
      out.push(told && { clearance: told.clearance, near: told.near, leaks: told.leaks });
    }
    return out;
  },
  /** One of them, place by place, and who wears it there. */
  async clearanceAt(cell: WornCell): Promise<SeenCell | null> {
    const wearer = await wearerOf(cell);
    const told = new CastMeasure().measure(keyOf(cell), wearer, cell);
    const { positions } = wearer.body ? bentBody(wearer.body, cell.frames, wearer.form) : bentForm(wearer.form, cell.frames);
    return told && { ...told, form: { positions, indices: (wearer.body ?? wearer.form).indices } };
  },
  /** The least growth of an occluder at which nothing leaks in any of some cells. */
  async fitOccluder(cells: WornCell[], occluder: string, nowMm: number): Promise<Growth> {
    const cast = new CastMeasure();
    const judge = async (growMm: number): Promise<Judged> => {
      const worst: Judged = { leak: 0, swallowed: 0 };
      for (const cell of cells) {
        if (!cell.sight) continue;
        const hides = cell.sight.hides.map((h) => (h.part === occluder ? { ...h, growMm } : h));
        const told = cast.leaks(keyOf(cell), await wearerOf(cell), { ...cell, sight: { ...cell.sight, hides } });
        worst.leak = Math.max(worst.leak, told?.leak ?? 0);
        worst.swallowed = Math.max(worst.swallowed, told?.swallowed ?? 0);
      }
      return worst;
    };
    return leastGrowth(judge, nowMm);
  },
  /** How far a part goes along a way of the head's frame until it lies on its wearer. */
  async drop(cell: WornCell, along: readonly [number, number, number], gapM: number): Promise<Dropped | null> {
    const wearer = await wearerOf(cell);
    return new CastMeasure().drop(keyOf(cell), wearer, cell, along, gapM);
  },
  /** The place of the skin that a part comes nearest to, and that of the part, in the head's frame; null: it is nowhere near. */
  async skinUnder(cell: WornCell): Promise<{ skin: FacePlace; atM: [number, number, number]; apartM: number } | null> {
    return skinUnder(await wearerOf(cell), cell);
  },
  /** A model as its file has it, fitted to a wearer by what it is. */
  async fitIt(model: Model, asked: FitAsked, ask: FormAsk): Promise<FitTold> {
    const key = JSON.stringify(ask);
    const known = heads.get(key) ?? madeWearer({ ...bodyOfSize('M'), head: ask }, false).then(({ form }) => headOf(form));
    heads.set(key, known);
    const { onto, ...told } = fitIt(shapesOfModel(model), asked, await known);
    return { ...told, onto: onto && { factor: onto.factor, turn: onto.turn.toArray(), shiftM: onto.shiftM.toArray() } };
  },
  /** A re-sculpted copy of the form; null: it is none. */
  sculpt: async (model: Model): Promise<Sculpt | null> => sculptOf(model),
  makeForm: async (ask: FormAsk): Promise<Form> => makeForm(await formBase(), ask),
  /** The same for a page that has a form already: a slider asks for one with every move. */
  ownForm: async (ask: FormAsk): Promise<OwnForm> => {
    const own = ownOf(makeForm(await formBase(), ask));
    return transfer(own, [own.positions.buffer, own.normals.buffer]);
  },
};
export type Forms = typeof forms;
expose(forms);
