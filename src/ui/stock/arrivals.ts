'use client';
/** Files on their way in: progress, the error where one was refused, and a way to stop. Half-sent files outlive a reload. */
import { type DBSchema, openDB } from 'idb';
import { ulid } from 'ulid';
import { create } from 'zustand';
import { type ApiFailure, type SendFile, sendFiles, type UploadAnswer } from '@/api';
import { COMPANION_EXTENSIONS, frameGroups, IMPORTERS, MODEL_EXTENSIONS } from '@/core/intake';

export interface Arrival {
  id: string;
  name: string;
  share: number;
  /** `waiting`: it does not go on for now, and is tried again. */
  state: 'sending' | 'waiting' | 'reading' | 'failed';
  error?: string;
  /** Why it waits. */
  why?: string;
  /** Where only the server was away. */
  again?: () => void;
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

/** Numbered frames come together, as one sequence; the rest for itself. */
function withFrames(files: readonly DroppedFile[]): DroppedFile[][] {
  const frames = frameGroups(files.filter((f) => isCompanion(f.name) || extension(f.name) === '.avif').map((f) => f.name));
  const taken = new Set(frames.flatMap((g) => g.frames));
  return [
    ...frames.map((g) => g.frames.flatMap((n) => files.find((f) => f.name === n) ?? [])),
    ...files.filter((f) => !taken.has(f.name)).map((f) => [f]),
  ];
}

/**
 * What belongs together. A model takes the buffers, materials and pictures dropped with it: all of them where it is the only one,
 * else those of its own folder and below, or, where its folder has none, all. The same model in several formats is one; numbered
 * frames without a model are one sequence. Everything else comes alone, so that each file gets its own answer.
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
  if (takers.size === 0) return [...alone, ...withFrames(companions)];
  const groups = [...takers.values()].map((models) => {
    const near = companions.filter((c) => c.name.startsWith(folder(models[0].name)));
    return [...models, ...(takers.size === 1 || near.length === 0 ? companions : near)];
  });
  const used = new Set(groups.flat());
  return [...alone, ...groups, ...companions.filter((c) => !used.has(c)).map((f) => [f])];
}

interface Kept {
  id: string;
  piece: string;
  name: string;
  files: SendFile[];
}
interface Schema extends DBSchema {
  sending: { key: string; value: Kept; indexes: { piece: string } };
}
const open = () =>
  openDB<Schema>('scaphos-sending', 1, {
    upgrade: (db) => void db.createObjectStore('sending', { keyPath: 'id' }).createIndex('piece', 'piece'),
  });
/** A browser that keeps nothing still sends: only a reload costs then. */
const keepSending = async (work: (db: Awaited<ReturnType<typeof open>>) => Promise<unknown>) => {
  await open()
    .then(work)
    .catch(() => undefined);
};

const nameOf = (group: readonly { name: string }[]) =>
  group.length > 1 && frameGroups(group.map((f) => f.name)).some((g) => g.frames.length === group.length)
    ? `${group.length} frames, ${group[0].name}`
    : group[0].name;

export type Taken = (answer: UploadAnswer) => void;

/** The server was away, or one was signed out: nothing is wrong with the file. */
const canGoOn = (error: ApiFailure) => error.code === 'http/offline' || error.status === 401;

/** Sends one group; resolves once the server has read them. Rejects with the server's sentence, or when stopped. */
function send(kept: Kept): Promise<UploadAnswer> {
  const { id, files } = kept;
  let share = 0;
  const sending = sendFiles(kept.piece, files, {
    progress: (s) => {
      share = s;
      change(id, { share, state: s >= 1 ? 'reading' : 'sending' });
    },
    placed: (i, url) => {
      files[i] = { ...files[i], url };
      void keepSending((db) => db.put('sending', kept));
    },
    waiting: (why) => change(id, why ? { state: 'waiting', why } : { state: share >= 1 ? 'reading' : 'sending' }),
  });
  useArrivals.setState((s) => ({ list: [...s.list, { id, name: kept.name, share, state: 'sending', stop: sending.stop }] }));
  const forget = () => keepSending((db) => db.delete('sending', id));
  return sending.done.then(
    async (answer) => {
      await forget();
      useArrivals.getState().dismiss(id);
      return answer;
    },
    async (error: ApiFailure) => {
      // what only waits stays kept for the next visit
      if (!canGoOn(error)) await forget();
      change(id, { state: 'failed', error: error.message });
      throw error;
    },
  );
}

/** Sends and says what came in; what only waits for the server can be tried again. `earlier`: from a visit before, which another tab may have taken up. */
function deliver(kept: Kept, taken: Taken, earlier = false): void {
  const run = () =>
    send(kept).then(taken, (error: ApiFailure) => {
      if (!canGoOn(error)) return;
      const again = () => {
        useArrivals.getState().dismiss(kept.id);
        deliver(kept, taken);
      };
      change(kept.id, { again });
    });
  // one waits for the other, and looks whether it is still to be sent; without TLS there are no locks
  if (!navigator.locks) void run();
  else
    void navigator.locks.request(`scaphos-sending ${kept.id}`, async () => (!earlier || (await isStillKept(kept.id)) ? run() : undefined));
}

/** A browser that keeps nothing cannot tell: it sends. */
const isStillKept = (id: string): Promise<boolean> =>
  open()
    .then((db) => db.get('sending', id))
    .then(
      (found) => found !== undefined,
      () => true,
    );

const keptOf = (piece: string, group: readonly DroppedFile[]): Kept => ({
  id: ulid(),
  piece,
  name: nameOf(group),
  files: group.map((f) => ({ ...f, url: null })),
});

/** Sends one group and says what came in; failures stand in the list of arrivals. */
export function bringIn(piece: string, group: readonly DroppedFile[], taken: Taken): void {
  const kept = keptOf(piece, group);
  void keepSending((db) => db.put('sending', kept)).then(() => deliver(kept, taken));
}

/** Keeps files for a piece that is not open yet: its Stock sends them when it is. Rejects where the browser keeps nothing. */
export async function keepForLater(piece: string, files: readonly File[]): Promise<void> {
  const db = await open();
  for (const group of groupFiles(files.map((file) => ({ name: file.webkitRelativePath || file.name, file }))))
    await db.put('sending', keptOf(piece, group));
}

/** The same for one who waits for it. */
export async function sendGroup(piece: string, group: readonly DroppedFile[]): Promise<UploadAnswer> {
  const kept = keptOf(piece, group);
  await keepSending((db) => db.put('sending', kept));
  return send(kept);
}

/** A file that waits for the server is given up. */
export const forgetSending = (id: string): void => void keepSending((db) => db.delete('sending', id));

/** Goes on with what an earlier visit left half sent. */
export async function goOn(piece: string, taken: Taken): Promise<void> {
  await keepSending(async (db) => {
    for (const kept of await db.getAllFromIndex('sending', 'piece', piece)) {
      if (useArrivals.getState().list.some((a) => a.id === kept.id)) continue;
      deliver(kept, taken, true);
    }
  });
}
