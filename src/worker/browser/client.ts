/** The page's side of the computing thread: calls fail when the thread does, instead of waiting for ever. */
import { type Remote, wrap } from 'comlink';
import type { Computing } from './core.worker';

const TIMEOUT_MS = 120_000;

let worker: Worker | null = null;
let remote: Remote<Computing> | null = null;
const open = new Set<(error: Error) => void>();

/** Ends the thread: all that wait for it are told, and the next call starts another. */
function end(error: Error): void {
  for (const reject of open) reject(error);
  open.clear();
  worker?.terminate();
  worker = null;
  remote = null;
}

function start(): Remote<Computing> {
  if (remote) return remote;
  worker = new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module', name: 'computing' });
  const lost = (e: Event) => {
    const message = (e as Partial<ErrorEvent>).message;
    end(new Error(`The computing thread failed${message ? `: ${message}` : ''}. Try again; what you did is kept.`));
  };
  worker.addEventListener('error', lost);
  worker.addEventListener('messageerror', lost);
  remote = wrap<Computing>(worker);
  return remote;
}

function guarded<T>(call: (thread: Remote<Computing>) => Promise<T>): Promise<T> {
  return new Promise<T>((resolve, reject) => {
    // what hangs holds up all that is queued behind it: the thread goes, the queue is told
    const timer = setTimeout(
      () => end(new Error('The computing thread took too long and was stopped. Try again; what you did is kept.')),
      TIMEOUT_MS,
    );
    open.add(reject);
    call(start())
      .then(resolve, reject)
      .finally(() => {
        clearTimeout(timer);
        open.delete(reject);
      });
  });
}

export const computing = {
  makeForm: (size: Parameters<Computing['makeForm']>[0]) => guarded((t) => t.makeForm(size) as ReturnType<Computing['makeForm']>),
  formFile: (...a: Parameters<Computing['formFile']>) => guarded((t) => t.formFile(...a) as ReturnType<Computing['formFile']>),
  makeEnvironment: (...a: Parameters<Computing['makeEnvironment']>) =>
    guarded((t) => t.makeEnvironment(...a) as ReturnType<Computing['makeEnvironment']>),
  readSky: (...a: Parameters<Computing['readSky']>) => guarded((t) => t.readSky(...a) as ReturnType<Computing['readSky']>),
  drawEnvironment: (...a: Parameters<Computing['drawEnvironment']>) =>
    guarded((t) => t.drawEnvironment(...a) as ReturnType<Computing['drawEnvironment']>),
  readTextures: (...a: Parameters<Computing['readTextures']>) =>
    guarded((t) => t.readTextures(...a) as ReturnType<Computing['readTextures']>),
  histogram: (...a: Parameters<Computing['histogram']>) => guarded((t) => t.histogram(...a) as ReturnType<Computing['histogram']>),
  errorHeat: (...a: Parameters<Computing['errorHeat']>) => guarded((t) => t.errorHeat(...a) as ReturnType<Computing['errorHeat']>),
  readModel: (glb: Uint8Array) => guarded((t) => t.readModel(glb) as ReturnType<Computing['readModel']>),
};
