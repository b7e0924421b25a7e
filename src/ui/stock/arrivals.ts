'use client';
import { ulid } from 'ulid';
/** Files on their way in: progress, the error where one was refused, and a way to stop. */
import { create } from 'zustand';
import { type ApiFailure, api, type UploadAnswer } from '@/api';
import { COMPANION_EXTENSIONS, IMPORTERS, MODEL_EXTENSIONS } from '@/core/intake';

export interface Arrival {
  id: string;
  name: string;
  share: number;
  state: 'sending' | 'reading' | 'failed';
  error?: string;
  stop: () => void;
}

interface Arrivals {
  list: Arrival[];
  dismiss: (id: string) => void;
}
export const useArrivals = create<Arrivals>((set, get) => ({
  list: [],
  dismiss: (id) => set({ list: get().list.filter((a) => a.id !== id) }),
}));

const change = (id: string, to: Partial<Arrival>) =>
  useArrivals.setState((s) => ({ list: s.list.map((a) => (a.id === id ? { ...a, ...to } : a)) }));

interface DroppedFile {
  name: string;
  file: File;
}

const extension = (name: string) => name.slice(name.lastIndexOf('.')).toLowerCase();
const isCompanion = (name: string) => (COMPANION_EXTENSIONS as readonly string[]).includes(extension(name));

const isModel = (name: string) => MODEL_EXTENSIONS.includes(extension(name));
const takesCompanions = (name: string) => IMPORTERS.some((i) => i.takesCompanions && i.extensions.includes(extension(name)));
const folder = (name: string) => name.slice(0, name.lastIndexOf('/') + 1);
const stem = (name: string) => name.slice(0, name.length - extension(name).length).toLowerCase();

/**
 * What belongs together. A model takes the buffers, materials and pictures dropped with it: all of them where it is the only one,
 * else those of its own folder and below, or, where its folder has none, all. The same model in several formats is one.
 * Everything else comes alone, so that each file gets its own answer.
 */
export function groupFiles(files: readonly DroppedFile[]): DroppedFile[][] {
  const companions = files.filter((f) => isCompanion(f.name));
  const takers = new Map<string, DroppedFile[]>();
  const alone: DroppedFile[][] = [];
  for (const f of files) {
    if (isCompanion(f.name)) continue;
    if (isModel(f.name) && takesCompanions(f.name)) takers.set(stem(f.name), [...(takers.get(stem(f.name)) ?? []), f]);
    else alone.push([f]);
  }
  if (takers.size === 0) return [...alone, ...companions.map((f) => [f])];
  const groups = [...takers.values()].map((models) => {
    const near = companions.filter((c) => c.name.startsWith(folder(models[0].name)));
    return [...models, ...(takers.size === 1 || near.length === 0 ? companions : near)];
  });
  const used = new Set(groups.flat());
  return [...alone, ...groups, ...companions.filter((c) => !used.has(c)).map((f) => [f])];
}

/** Sends one group; `taken` gets the stock items once the server has read them. */
export function bringIn(pieceId: string, group: DroppedFile[], taken: (answer: UploadAnswer) => void): void {
  const id = ulid();
  const upload = api.upload(
    pieceId,
    group.map((f) => ({ name: f.name, file: f.file })),
    (share) => change(id, { share, state: share >= 1 ? 'reading' : 'sending' }),
  );
  useArrivals.setState((s) => ({ list: [...s.list, { id, name: group[0].name, share: 0, state: 'sending', stop: upload.stop }] }));
  upload.done.then(
    (answer) => {
      useArrivals.getState().dismiss(id);
      taken(answer);
    },
    (error: ApiFailure) => change(id, { state: 'failed', error: error.message }),
  );
}
