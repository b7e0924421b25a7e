/** Reading files in disposable processes: few at a time, failures as answers. */
import { stat } from 'node:fs/promises';
import { extname } from 'node:path';
import { IMPORTERS } from '@/core/intake';
import { type IntakeDone, type IntakeFile, intake, JobError, type RunOptions } from '@/worker/node';
import { HttpError } from './errors';
import { log } from './log';
import { turnsByKey } from './queue';
import { countReading } from './reading';

/** Two keep two cores busy; a third, which is never the same yard's, so that nobody waits for the slow files of another. */
const READERS = 3;
const OF_ONE_YARD = 2;
/** Files of one yard that wait. */
const MOST_WAITING = 200;
const held = globalThis as { scaphosReaders?: ReturnType<typeof turnsByKey> };

/** Work in a reader's process, when it is the yard's turn. @throws {HttpError} 429 too many wait, or the hour's reading is used up */
export function inTurn<T>(yardId: string, work: () => Promise<T>): Promise<T> {
  held.scaphosReaders ??= turnsByKey({
    slots: READERS,
    each: OF_ONE_YARD,
    most: MOST_WAITING,
    refuse: () => new HttpError(429, 'yard/busy', `${MOST_WAITING} files of this yard wait to be read already. Wait until some are done.`),
  });
  return held.scaphosReaders(yardId, () => countReading(yardId, work));
}

const NONE = { running: 0, waiting: 0 };
export const readerCounts = () => held.scaphosReaders?.counts() ?? NONE;

export const asHttp = (error: unknown): never => {
  if (!(error instanceof JobError)) throw error;
  if (error.detail) log.warn({ code: error.code, detail: error.detail }, 'a file made its reader fail');
  // nothing is said of the file where its reader was ended: asked again it is read
  throw new HttpError(error.code === 'job/killed' ? 503 : 422, error.code, error.message);
};

/** Models may take longer to read than what is no model. */
const MODEL_S = 20;
const OTHER_S = 10;
const isOther = (name: string) => {
  const end = extname(name).toLowerCase();
  return IMPORTERS.some((i) => i.road !== 'gltf' && i.road !== 'foreign' && i.road !== 'archive' && i.extensions.includes(end));
};

/** What reading may take: of a small model 20 s of a core and 1 GB, of a small picture or sound 10 s, of what is large more. */
export async function boundsOf(files: readonly IntakeFile[]): Promise<Pick<RunOptions, 'cpuS' | 'residentMb'>> {
  let mb = 0;
  for (const { path } of files) mb += (await stat(path)).size / 1e6;
  const least = files.every((f) => isOther(f.name)) ? OTHER_S : MODEL_S;
  return { cpuS: least + Math.max(0, mb - 5) * 2, residentMb: 1_000 + Math.max(0, mb - 5) * 16 };
}

export const readFiles = (yardId: string, files: IntakeFile[], outDir?: string, signal?: AbortSignal): Promise<IntakeDone> =>
  inTurn(yardId, async () => intake({ files, outDir }, { signal, ...(await boundsOf(files)) })).catch(asHttp);
