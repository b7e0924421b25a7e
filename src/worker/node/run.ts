/** Runs a job in a thread of its own, with a time limit, a memory limit and cancel. The thread dies with its job. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { Piece } from '@/core/piece';
import type { IntakeDone, IntakeJob } from './intake';
import type { PackJob, UnpackJob } from './pack';

export type ThreadJob = { job: 'intake'; data: IntakeJob } | { job: 'pack'; data: PackJob } | { job: 'unpack'; data: UnpackJob };
export type ThreadAnswer = { ok: true; result: unknown } | { ok: false; code: string | null; message: string; stack?: string };

/** A job that failed: `code` is stable; the message is fit for the user. */
export class JobError extends Error {
  constructor(
    readonly code: string,
    message: string,
    /** Not for the user: what really happened, for the log. */
    readonly detail?: string,
  ) {
    super(message);
  }
}

export interface RunOptions {
  timeoutMs?: number;
  memoryMb?: number;
  signal?: AbortSignal;
}

/** Asked of Node itself: a bundler would take `new Worker` for a module of its own. */
const threads = () => process.getBuiltinModule('node:worker_threads');

const threadFile = () => {
  const path = join(process.env.SCAPHOS_ROOT ?? process.cwd(), 'dist', 'worker', 'thread.js');
  if (!existsSync(path)) throw new Error(`The worker bundle ${path} is missing: run ./scaphos build.`);
  return path;
};

function runThread(job: ThreadJob, { timeoutMs = 120_000, memoryMb = 4096, signal }: RunOptions): Promise<unknown> {
  return new Promise((resolve, reject) => {
    const worker = new (threads().Worker)(threadFile(), {
      workerData: job,
      resourceLimits: { maxOldGenerationSizeMb: memoryMb, stackSizeMb: 8 },
      stderr: true,
      stdout: true,
    });
    let done = false;
    const finish = (act: () => void) => {
      if (done) return;
      done = true;
      clearTimeout(timer);
      signal?.removeEventListener('abort', abort);
      void worker.terminate();
      act();
    };
    const fail = (error: Error) => finish(() => reject(error));
    const abort = () => fail(new JobError('job/stopped', 'Stopped.'));
    const timer = setTimeout(
      () =>
        fail(
          new JobError(
            'job/too-long',
            `This took longer than ${Math.round(timeoutMs / 1000)} s and was stopped. Make the file smaller and try again.`,
          ),
        ),
      timeoutMs,
    );
    signal?.addEventListener('abort', abort);
    worker.on('message', (m: ThreadAnswer) => {
      if (m.ok) finish(() => resolve(m.result));
      else if (m.code) fail(new JobError(m.code, m.message));
      else
        fail(
          new JobError(
            'file/unreadable',
            'The file made its reader fail. It is broken in a way that cannot be told more precisely; export it again.',
            m.stack ?? m.message,
          ),
        );
    });
    worker.on('error', (e: Error & { code?: string }) =>
      fail(
        e.code === 'ERR_WORKER_OUT_OF_MEMORY'
          ? new JobError('job/memory', 'Reading this needs more memory than a file may take. Make it smaller and try again.')
          : new JobError(
              'file/unreadable',
              'The file made its reader fail. It is broken in a way that cannot be told more precisely; export it again.',
              e.stack,
            ),
      ),
    );
    worker.on('exit', (code) =>
      fail(new JobError('file/unreadable', 'The file made its reader end. Export it again.', `thread exit ${code}`)),
    );
  });
}

export const intake = (data: IntakeJob, options: RunOptions = {}) => runThread({ job: 'intake', data }, options) as Promise<IntakeDone>;
export const pack = (data: PackJob, options: RunOptions = {}) => runThread({ job: 'pack', data }, options) as Promise<Uint8Array>;
export const unpack = (data: UnpackJob, options: RunOptions = {}) =>
  runThread({ job: 'unpack', data }, options) as Promise<{ piece: Piece; blobs: string[] }>;
