/** Reading files in disposable processes: few at a time, failures as answers. */
import { stat } from 'node:fs/promises';
import { type IntakeDone, type IntakeFile, intake, JobError, type RunOptions } from '@/worker/node';
import { HttpError } from './errors';
import { log } from './log';
import { turnsByKey } from './queue';

/** One reader a core is enough; the rest wait their turn, one yard after the other. */
const READERS = 2;
/** Files of one yard that wait. */
const MOST_WAITING = 200;
const held = globalThis as { scaphosReaders?: ReturnType<typeof turnsByKey> };
export function inTurn<T>(yardId: string, work: () => Promise<T>): Promise<T> {
  held.scaphosReaders ??= turnsByKey(
    READERS,
    MOST_WAITING,
    () => new HttpError(429, 'yard/busy', `${MOST_WAITING} files of this yard wait to be read already. Wait until some are done.`),
  );
  return held.scaphosReaders(yardId, work);
}

const NONE = { running: 0, waiting: 0 };
export const readerCounts = () => held.scaphosReaders?.counts() ?? NONE;

export const asHttp = (error: unknown): never => {
  if (!(error instanceof JobError)) throw error;
  if (error.detail) log.warn({ code: error.code, detail: error.detail }, 'a file made its reader fail');
  // nothing is said of the file where its reader was ended: asked again it is read
  throw new HttpError(error.code === 'job/killed' ? 503 : 422, error.code, error.message);
};

/** What reading may take: of a small file 20 s of a core and 1 GB, of a large one more. */
export async function boundsOf(files: readonly IntakeFile[]): Promise<Pick<RunOptions, 'cpuS' | 'residentMb'>> {
  let mb = 0;
  for (const { path } of files) mb += (await stat(path)).size / 1e6;
  return { cpuS: 20 + Math.max(0, mb - 5) * 2, residentMb: 1_000 + Math.max(0, mb - 5) * 16 };
}

export const readFiles = (yardId: string, files: IntakeFile[], outDir?: string, signal?: AbortSignal): Promise<IntakeDone> =>
  inTurn(yardId, async () => intake({ files, outDir }, { signal, ...(await boundsOf(files)) })).catch(asHttp);
