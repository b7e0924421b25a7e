/** Files on their way to the server, by the tus protocol: a broken line or a restarted server costs nothing that was sent. */
import type { Upload } from 'tus-js-client';
import { ApiFailure, api } from './client';
import type { UploadAnswer } from './schemas';

export interface SendFile {
  name: string;
  file: Blob;
  /** Where an earlier try left off. */
  url: string | null;
}

export interface Sending {
  done: Promise<UploadAnswer>;
  stop: () => void;
}

export interface SendEvents {
  /** Share of all bytes that the server has. */
  progress: (share: number) => void;
  /** A file has its place on the server: kept, it can be gone on with after a reload. */
  placed: (index: number, url: string) => void;
  /** Why it does not go on and is tried again; null: it goes on. */
  waiting: (why: string | null) => void;
}

const STRETCH = 16e6;
/** Waits before trying again; the last is repeated. The first tries are quick, a restarting server takes seconds. */
const RETRIES_MS = [300, 1000, 2000, 3000, ...Array<number>(60).fill(5000)];

/** Bytes at a time that are hashed without holding up the page. */
const HASH_STRETCH = 2e6;
async function hashOf(file: Blob, stopped: () => boolean): Promise<string> {
  const hash = await (await import('hash-wasm')).createSHA256();
  for (let at = 0; at < file.size && !stopped(); at += HASH_STRETCH)
    hash.update(new Uint8Array(await file.slice(at, at + HASH_STRETCH).arrayBuffer()));
  return hash.digest('hex');
}

const whyWaiting = (status: number) => (status >= 500 ? `the server answers with ${status}` : 'the line is broken');

const stoppedFailure = () => new ApiFailure(0, 'http/stopped', 'Stopped. Nothing was brought in.');

/** The server's own sentence, where it gave one. */
function failureOf(error: Error & { originalResponse?: { getStatus: () => number; getBody: () => string } | null }): ApiFailure {
  const response = error.originalResponse;
  if (!response)
    return new ApiFailure(
      0,
      'http/offline',
      'The server does not answer. The file is kept here; it goes on when the page is opened again.',
    );
  try {
    const { error: said } = JSON.parse(response.getBody()) as { error: { code: string; message: string } };
    return new ApiFailure(response.getStatus(), said.code, said.message);
  } catch {
    return new ApiFailure(response.getStatus(), 'http/failed', `The server answered with ${response.getStatus()}.`);
  }
}

/** Sends files and has them taken into the piece's stock together. */
export function sendFiles(piece: string, files: readonly SendFile[], on: SendEvents): Sending {
  let stopped = false;
  let running: Upload | null = null;
  const urls: string[] = files.map((f) => f.url ?? '');
  const total = files.reduce((s, f) => s + f.file.size, 0) || 1;
  const sendOne = async (index: number, before: number) => {
    const { Upload } = await import('tus-js-client');
    return new Promise<void>((resolve, reject) => {
      const { file, url, name } = files[index];
      running = new Upload(file, {
        endpoint: '/api/uploads',
        uploadUrl: url,
        chunkSize: STRETCH,
        retryDelays: RETRIES_MS,
        // where a file goes on is kept with the file itself
        storeFingerprintForResuming: false,
        metadata: { filename: name },
        onShouldRetry: (error) => {
          const status = error.originalResponse?.getStatus() ?? 0;
          const again = !stopped && (status === 0 || status === 409 || status === 423 || status >= 500);
          if (again) on.waiting(whyWaiting(status));
          return again;
        },
        onUploadUrlAvailable: () => {
          urls[index] = running?.url ?? '';
          on.placed(index, urls[index]);
        },
        onProgress: (sent) => {
          on.waiting(null);
          on.progress((before + sent) / total);
        },
        onSuccess: () => resolve(),
        onError: (error) => reject(failureOf(error as never)),
      });
      running.start();
    });
  };
  const work = async (): Promise<UploadAnswer> => {
    let before = 0;
    for (let i = 0; i < files.length; i++) {
      await sendOne(i, before);
      if (stopped) throw stoppedFailure();
      before += files[i].file.size;
    }
    on.progress(1);
    const uploads = [];
    for (const [i, f] of files.entries())
      uploads.push({ id: urls[i].slice(urls[i].lastIndexOf('/') + 1), name: f.name, sha256: await hashOf(f.file, () => stopped) });
    for (let tries = 0; ; tries++) {
      if (stopped) throw stoppedFailure();
      try {
        return await api.takeUploads(piece, { uploads });
      } catch (error) {
        const failure = error as ApiFailure;
        if (!failure.offline || tries >= RETRIES_MS.length) throw failure;
        on.waiting(whyWaiting(failure.status));
        await new Promise((r) => setTimeout(r, RETRIES_MS[tries]));
        on.waiting(null);
      }
    }
  };
  let give: (error: ApiFailure) => void = () => undefined;
  const given = new Promise<never>((_, reject) => {
    give = reject;
  });
  return {
    done: Promise.race([work(), given]),
    stop: () => {
      stopped = true;
      void running?.abort(true).catch(() => undefined);
      give(stoppedFailure());
    },
  };
}
