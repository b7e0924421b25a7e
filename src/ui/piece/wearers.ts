'use client';
/** Who wears a piece: forms and bodies made in a thread of their own, each once. */
import { useEffect, useMemo, useState } from 'react';
import type { Form, FormAsk } from '@/core/form';
import type { BodyAsk, DrawnBody } from '@/core/form/body';
import { knowsRest, tellRest } from '@/core/form/body/rests';
import { formLike, ownOf } from '@/core/form/own';
import { askOf, bodyAskOf, type Wearer as CastWearer, hasBody, hasFace, type Piece, shownAsk, shownBody } from '@/core/piece';
import { computing, forms } from '@/worker/browser';
import { say } from '../kit/say';
import { useDocument } from './context';
import { followed, loadStage } from './stagehooks';

/** What a thread makes by what is asked for. The three sizes stay, and as many others as were last asked for: sliders ask for a new one with every move. */
class Making<A, T> {
  private readonly all = new Map<string, { making: Promise<T>; made: T | null; stays: boolean }>();

  constructor(
    private readonly make: (ask: A) => Promise<T>,
    private readonly stays: (ask: A) => boolean,
    private readonly mostOthers: number,
  ) {}

  load(ask: A): Promise<T> {
    const key = JSON.stringify(ask);
    const there = this.all.get(key);
    if (there) return there.making;
    const entry = { making: followed(this.make(ask)), made: null as T | null, stays: this.stays(ask) };
    entry.making.then(
      (made) => {
        entry.made = made;
      },
      () => this.all.delete(key),
    );
    this.all.set(key, entry);
    const others = [...this.all].filter(([, e]) => !e.stays);
    if (others.length > this.mostOthers) this.all.delete(others[0][0]);
    return entry.making;
  }

  /** What is made already; null: it is not. */
  now(ask: A): T | null {
    return this.all.get(JSON.stringify(ask))?.made ?? null;
  }
}

/** Few triangles for small pictures, once: until they are there, and if they should not come, all are drawn. */
function coarsen({ positions, normals, colors, indices, groups }: Form): void {
  const made = computing.coarseTriangles({ positions, normals, colors, indices, groups });
  Promise.all([made, loadStage()]).then(
    ([coarse, stage]) => stage.setCoarse(coarse),
    () => undefined,
  );
}
/** What is the same for all of a kind stands once: a thread would send a copy each time, and what is worked out by topology is kept by its array. */
const first: { head?: Form; body?: Uint32Array } = {};
const heads = new Making<FormAsk, Form>(
  async (ask) => {
    if (first.head) return formLike(first.head, await forms.ownForm(ask));
    const form = await forms.makeForm(ask);
    if (first.head) return formLike(first.head, ownOf(form));
    first.head = form;
    coarsen(form);
    return form;
  },
  (ask) => typeof ask === 'string',
  12,
);
const bodies = new Making<BodyAsk, DrawnBody>(
  async (ask) => {
    const { drawn, rest } = await forms.makeBody(ask);
    tellRest(ask, rest);
    first.body ??= drawn.indices;
    return { ...drawn, indices: first.body };
  },
  (ask) => typeof ask.head === 'string',
  3,
);
export const loadForm = (ask: FormAsk): Promise<Form> => heads.load(ask);

/** Head and bust, and the whole body where it is asked for and made. */
export interface Wearer {
  form: Form;
  body: DrawnBody | null;
}
export async function loadWearer(ask: BodyAsk, whole: boolean): Promise<Wearer> {
  const [form, body] = await Promise.all([heads.load(ask.head), whole ? bodies.load(ask) : null]);
  return { form, body };
}
function wearerNow(ask: BodyAsk, whole: boolean): Wearer | null {
  const [form, body] = [heads.now(ask.head), whole ? bodies.now(ask) : null];
  return form && (body || !whole) ? { form, body } : null;
}

/** The body of who is shown, the same object until it is another. */
export function useShownBody(): BodyAsk {
  const said = JSON.stringify(shownBody(useDocument()));
  return useMemo(() => JSON.parse(said), [said]);
}

/** A wearer: at once where they are made, else head and bust first, the body as soon as it is made; who was there before until then. */
export function useWearer(ask: BodyAsk, whole: boolean): Wearer | null {
  const [wearer, setWearer] = useState<Wearer | null>(null);
  const said = JSON.stringify(ask);
  // biome-ignore lint/correctness/useExhaustiveDependencies: by what it says, not by which object says it
  const now = useMemo(() => wearerNow(ask, whole), [said, whole]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: by what it says, not by which object says it
  useEffect(() => {
    let gone = false;
    const take = (w: Wearer) => !gone && setWearer(w);
    if (now) take(now);
    else
      loadWearer(ask, false)
        .then((bust) => {
          if (whole && !bodies.now(ask)) take(bust);
          return loadWearer(ask, whole).then(take);
        })
        .catch((e: Error) => say.error(e.message));
    return () => {
      gone = true;
    };
  }, [said, whole]);
  return now ?? wearer;
}

/** The form of who is shown, for what hangs on a face; null: nothing does, or it is not made yet. */
export function useFaceForm(doc: Piece): Form | null {
  const [there, setThere] = useState<{ said: string; form: Form } | null>(null);
  const ask = hasFace(doc) ? shownAsk(doc) : null;
  const said = JSON.stringify(ask);
  // biome-ignore lint/correctness/useExhaustiveDependencies: by what it says, not by which object says it
  const now = useMemo(() => ask && heads.now(ask), [said]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: by what it says, not by which object says it
  useEffect(() => {
    let gone = false;
    if (ask && !now)
      loadForm(ask).then(
        (form) => !gone && setThere({ said, form }),
        () => undefined,
      );
    return () => {
      gone = true;
    };
  }, [said]);
  return now ?? (there?.said === said ? there.form : null);
}

/** Forms of some wearers, by key, where something of a piece hangs on a face. */
export async function formsFor(doc: Piece, wearers: readonly CastWearer[]): Promise<Readonly<Record<string, Form>>> {
  if (hasBody(doc)) await Promise.all(wearers.map((w) => knowBody(bodyAskOf(w))));
  if (!hasFace(doc)) return {};
  return Object.fromEntries(await Promise.all(wearers.map(async (w) => [w.key, await loadForm(askOf(w))] as const)));
}

/** Where the joints of a body by measures are, told once. */
async function knowBody(ask: BodyAsk): Promise<void> {
  if (!knowsRest(ask)) tellRest(ask, await followed(forms.restOfBody(ask)));
}
