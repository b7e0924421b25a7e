'use client';
import { ulid } from 'ulid';
/** Files on their way in: progress, the error where one was refused, and a way to stop. */
import { create } from 'zustand';
import { type ApiFailure, api, type UploadAnswer } from '@/api';
import { COMPANION_EXTENSIONS } from '@/core/intake';

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

/** What belongs together: a .gltf takes the companions dropped with it; every other file comes alone. */
export function groupFiles(files: readonly DroppedFile[]): DroppedFile[][] {
  const gltfs = files.filter((f) => extension(f.name) === '.gltf');
  const companions = files.filter((f) => isCompanion(f.name));
  const others = files.filter((f) => !isCompanion(f.name) && extension(f.name) !== '.gltf');
  if (gltfs.length === 0) return [...others, ...companions].map((f) => [f]);
  return [...others.map((f) => [f]), ...gltfs.map((g) => [g, ...companions])];
}

/** Sends one group; `taken` gets the stock item once the server has read it. */
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
