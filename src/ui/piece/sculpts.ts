'use client';
/** Re-sculpted copies of the form that face surfaces take their shape from. */
import { useEffect, useMemo, useState } from 'react';
import type { Model, Sculpt } from '@/core/intake';
import { drawnModel, type Piece } from '@/core/piece';
import type { Assets } from '@/core/run';
import { forms } from '@/worker/browser';

const known = new Map<string, Promise<Sculpt | null>>();

/** null: it is no copy of the form. @throws {Error} the file is not at hand */
export function loadSculpt(doc: Piece, stock: string, models: Readonly<Record<string, Model>>): Promise<Sculpt | null> {
  const sha = drawnModel(doc, stock) ?? '';
  const model = models[sha];
  if (!model) return Promise.reject(new Error(`${doc.stock[stock]?.name ?? 'The file'} is not here yet. Try again once it has come.`));
  const told = known.get(sha) ?? forms.sculpt(model);
  known.set(sha, told);
  told.catch(() => known.delete(sha));
  return told;
}

const asked = (doc: Piece) => [...new Set(Object.values(doc.parts).flatMap((p) => ('sculpt' in p && p.sculpt) || []))].sort();

export async function sculptsFor(doc: Piece, models: Readonly<Record<string, Model>>): Promise<NonNullable<Assets['sculpts']>> {
  const all = await Promise.all(asked(doc).map(async (id) => [id, (await loadSculpt(doc, id, models).catch(() => null))?.offM] as const));
  return Object.fromEntries(all.filter((a): a is readonly [string, Float32Array] => a[1] !== undefined));
}

const NONE: NonNullable<Assets['sculpts']> = {};
/** The same object until another copy is asked for, or one has come. */
export function useSculpts(doc: Piece, models: Readonly<Record<string, Model>>): NonNullable<Assets['sculpts']> {
  const [there, setThere] = useState(NONE);
  const key = useMemo(
    () =>
      asked(doc)
        .map((id) => [id, drawnModel(doc, id), models[drawnModel(doc, id) ?? ''] ? 1 : 0].join(' '))
        .join(),
    [doc, models],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: by which copies are asked for and at hand
  useEffect(() => {
    let gone = false;
    if (key === '') setThere(NONE);
    else void sculptsFor(doc, models).then((s) => !gone && setThere(s));
    return () => {
      gone = true;
    };
  }, [key]);
  return there;
}
