'use client';
/** Recipes that are being worked at and not kept yet: they outlive a walk to another step and a reload, and are undone step by step. */
import { create } from 'zustand';
import type { RecipeStep } from '@/core/piece';

type Steps = readonly RecipeStep[];
export interface Draft {
  steps: Steps;
  past: readonly Steps[];
  future: readonly Steps[];
  /** The search whose result comes into the table when it is there. */
  awaits: string | null;
}

interface Drafts {
  all: Readonly<Record<string, Draft>>;
}

const KEPT = 'scaphos-drafts';
const MOST_STEPS_BACK = 100;
/** Drafts of more models than this are not kept: the oldest goes. */
const MOST_DRAFTS = 50;
/** Within a moment changes of the same step are one: a dragged brush, a held arrow. */
const RUN_MS = 1_000;

function readKept(): Drafts['all'] {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? '{}');
  } catch {
    // a browser that keeps nothing, or something of another's
    return {};
  }
}

export const useDrafts = create<Drafts>(() => ({ all: typeof window === 'undefined' ? {} : readKept() }));

export const draftKey = (piece: string, stock: string) => `${piece} ${stock}`;

function put(key: string, draft: Draft | null): void {
  const { [key]: _old, ...others } = useDrafts.getState().all;
  const rest = Object.fromEntries(Object.entries(others).slice(1 - MOST_DRAFTS));
  const all = draft ? { ...rest, [key]: draft } : rest;
  useDrafts.setState({ all });
  try {
    localStorage.setItem(KEPT, JSON.stringify(all));
  } catch {
    // then it lives as long as the page
  }
}

let last = { key: '', step: '', at: 0 };
/** The only step in which two recipes differ; '' where they differ in more. */
function onlyChange(a: Steps, b: Steps): string {
  if (a.length !== b.length || a.some((s, i) => s.id !== b[i].id)) return '';
  const changed = a.filter((s, i) => s !== b[i]);
  return changed.length === 1 ? changed[0].id : '';
}

/** @param from what stood in the table */
export function setDraft(key: string, from: Steps, steps: Steps): void {
  const draft = useDrafts.getState().all[key] ?? { steps: from, past: [], future: [], awaits: null };
  const step = onlyChange(draft.steps, steps);
  const now = Date.now();
  const goesOn = step !== '' && last.key === key && last.step === step && now - last.at < RUN_MS && draft.past.length > 0;
  last = { key, step, at: now };
  put(key, { ...draft, steps, past: goesOn ? draft.past : [...draft.past, draft.steps].slice(-MOST_STEPS_BACK), future: [] });
}

/** What is in the table is in the piece now. */
export const dropDraft = (key: string): void => put(key, null);

/** The result of this search is to come into the table. */
export function awaitSearch(key: string, from: Steps, job: string | null): void {
  const draft = useDrafts.getState().all[key] ?? { steps: from, past: [], future: [], awaits: null };
  put(key, { ...draft, awaits: job });
}

export function undoDraft(key: string): void {
  const draft = useDrafts.getState().all[key];
  const before = draft?.past.at(-1);
  if (!draft || !before) return;
  last = { key: '', step: '', at: 0 };
  put(key, { ...draft, steps: before, past: draft.past.slice(0, -1), future: [...draft.future, draft.steps] });
}

export function redoDraft(key: string): void {
  const draft = useDrafts.getState().all[key];
  const next = draft?.future.at(-1);
  if (!draft || !next) return;
  put(key, { ...draft, steps: next, past: [...draft.past, draft.steps], future: draft.future.slice(0, -1) });
}
