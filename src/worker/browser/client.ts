/** The page's side of its threads: calls fail when a thread does, instead of waiting for ever. */
import { type Remote, wrap } from 'comlink';
import type { Computing } from './core.worker';
import type { Forms } from './form.worker';

/** A slow phone fits a large helmet in a minute and more. */
const TIMEOUT_MS = 300_000;

/** A thread that starts with its first call, and again after it failed. */
function thread<T>(begin: () => Worker) {
  let worker: Worker | null = null;
  let remote: Remote<T> | null = null;
  const open = new Set<(error: Error) => void>();

  /** Ends the thread: all that wait for it are told, and the next call starts another. */
  function end(error: Error): void {
    for (const reject of open) reject(error);
    open.clear();
    worker?.terminate();
    worker = null;
    remote = null;
  }

  function start(): Remote<T> {
    if (remote) return remote;
    worker = begin();
    const lost = (e: Event) => {
      const message = (e as Partial<ErrorEvent>).message;
      end(new Error(`The computing thread failed${message ? `: ${message}` : ''}. Try again; what you did is kept.`));
    };
    worker.addEventListener('error', lost);
    worker.addEventListener('messageerror', lost);
    remote = wrap<T>(worker);
    return remote;
  }

  return <R>(call: (thread: Remote<T>) => Promise<R>): Promise<R> =>
    new Promise<R>((resolve, reject) => {
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

const inForms = thread<Forms>(() => new Worker(new URL('./form.worker.ts', import.meta.url), { type: 'module', name: 'forms' }));
export const forms = {
  warm: () => inForms((t) => t.warm() as ReturnType<Forms['warm']>),
  makeBody: (...a: Parameters<Forms['makeBody']>) => inForms((t) => t.makeBody(...a) as ReturnType<Forms['makeBody']>),
  restOfBody: (...a: Parameters<Forms['restOfBody']>) => inForms((t) => t.restOfBody(...a) as ReturnType<Forms['restOfBody']>),
  wornOverPoses: (...a: Parameters<Forms['wornOverPoses']>) => inForms((t) => t.wornOverPoses(...a) as ReturnType<Forms['wornOverPoses']>),
  clearance: (...a: Parameters<Forms['clearance']>) => inForms((t) => t.clearance(...a) as ReturnType<Forms['clearance']>),
  clearanceAt: (...a: Parameters<Forms['clearanceAt']>) => inForms((t) => t.clearanceAt(...a) as ReturnType<Forms['clearanceAt']>),
  drop: (...a: Parameters<Forms['drop']>) => inForms((t) => t.drop(...a) as ReturnType<Forms['drop']>),
  fitOccluder: (...a: Parameters<Forms['fitOccluder']>) => inForms((t) => t.fitOccluder(...a) as ReturnType<Forms['fitOccluder']>),
  skinUnder: (...a: Parameters<Forms['skinUnder']>) => inForms((t) => t.skinUnder(...a) as ReturnType<Forms['skinUnder']>),
  fitIt: (...a: Parameters<Forms['fitIt']>) => inForms((t) => t.fitIt(...a) as ReturnType<Forms['fitIt']>),
  wornBare: (...a: Parameters<Forms['wornBare']>) => inForms((t) => t.wornBare(...a) as ReturnType<Forms['wornBare']>),
  sculpt: (...a: Parameters<Forms['sculpt']>) => inForms((t) => t.sculpt(...a) as ReturnType<Forms['sculpt']>),
  ownForm: (...a: Parameters<Forms['ownForm']>) => inForms((t) => t.ownForm(...a) as ReturnType<Forms['ownForm']>),
  makeForm: (...a: Parameters<Forms['makeForm']>) => inForms((t) => t.makeForm(...a) as ReturnType<Forms['makeForm']>),
};

const inCore = thread<Computing>(() => new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module', name: 'computing' }));
export const computing = {
  formFile: (...a: Parameters<Computing['formFile']>) => inCore((t) => t.formFile(...a) as ReturnType<Computing['formFile']>),
  coarseTriangles: (form: Parameters<Computing['coarseTriangles']>[0]) =>
    inCore((t) => t.coarseTriangles(form) as ReturnType<Computing['coarseTriangles']>),
  weightsFile: (...a: Parameters<Computing['weightsFile']>) => inCore((t) => t.weightsFile(...a) as ReturnType<Computing['weightsFile']>),
  makeEnvironment: (...a: Parameters<Computing['makeEnvironment']>) =>
    inCore((t) => t.makeEnvironment(...a) as ReturnType<Computing['makeEnvironment']>),
  lightOf: (...a: Parameters<Computing['lightOf']>) => inCore((t) => t.lightOf(...a) as ReturnType<Computing['lightOf']>),
  readSky: (...a: Parameters<Computing['readSky']>) => inCore((t) => t.readSky(...a) as ReturnType<Computing['readSky']>),
  drawEnvironment: (...a: Parameters<Computing['drawEnvironment']>) =>
    inCore((t) => t.drawEnvironment(...a) as ReturnType<Computing['drawEnvironment']>),
  readTextures: (...a: Parameters<Computing['readTextures']>) =>
    inCore((t) => t.readTextures(...a) as ReturnType<Computing['readTextures']>),
  whyHidden: (...a: Parameters<Computing['whyHidden']>) => inCore((t) => t.whyHidden(...a) as ReturnType<Computing['whyHidden']>),
  histogram: (...a: Parameters<Computing['histogram']>) => inCore((t) => t.histogram(...a) as ReturnType<Computing['histogram']>),
  errorHeat: (...a: Parameters<Computing['errorHeat']>) => inCore((t) => t.errorHeat(...a) as ReturnType<Computing['errorHeat']>),
  readModel: (glb: Uint8Array) => inCore((t) => t.readModel(glb) as ReturnType<Computing['readModel']>),
};
