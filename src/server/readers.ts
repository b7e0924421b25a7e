/** Reading files in disposable processes: few at a time, failures as answers. */
import { type IntakeDone, type IntakeFile, intake, JobError } from '@/worker/node';
import { HttpError } from './errors';
import { log } from './log';

/** One reader a core is enough; the rest wait their turn. */
const READERS = 2;
let running = 0;
const waiting: (() => void)[] = [];
export async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  if (running >= READERS) await new Promise<void>((r) => waiting.push(r));
  running++;
  try {
    return await work();
  } finally {
    running--;
    waiting.shift()?.();
  }
}

export const asHttp = (error: unknown): never => {
  if (!(error instanceof JobError)) throw error;
  if (error.detail) log.warn({ code: error.code, detail: error.detail }, 'a file made its reader fail');
  throw new HttpError(422, error.code, error.message);
};

export const readFiles = (files: IntakeFile[], outDir?: string, signal?: AbortSignal): Promise<IntakeDone> =>
  inTurn(() => intake({ files, outDir }, { signal })).catch(asHttp);
