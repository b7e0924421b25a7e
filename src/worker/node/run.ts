/**
 * Runs a job in a process of its own, with a time limit, a memory limit and cancel. The process dies with its job: a
 * thread would not do, an allocation that fails inside one ends the whole program.
 */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Piece } from '@/core/piece';
import type { FitDone, FitJob } from './fit';
import type { IntakeDone, IntakeJob, OpenDone } from './intake';
import type { MeasureDone, MeasureJob, SolveDone, SolveJob } from './lighten';
import type { PackJob, UnpackJob, UnpackPicturesJob } from './pack';
import type { PrepareDone, PrepareJob } from './prepare';
import type { RigDone, RigJob } from './rig';

export type Job =
  | { job: 'intake'; data: IntakeJob }
  | { job: 'open'; data: IntakeJob & { outDir: string } }
  | { job: 'prepare'; data: PrepareJob }
  | { job: 'pack'; data: PackJob }
  | { job: 'unpack'; data: UnpackJob }
  | { job: 'unpack-pictures'; data: UnpackPicturesJob }
  | { job: 'measure'; data: MeasureJob }
  | { job: 'solve'; data: SolveJob }
  | { job: 'rig'; data: RigJob }
  | { job: 'fit'; data: FitJob };
/** What a job is doing, and how far it is, 0 to 1. */
export interface Progress {
  share: number;
  what: string;
}
export type JobAnswer = { progress: Progress } | JobEnd;
type JobEnd = { ok: true; result: unknown } | { ok: false; code: string | null; message: string; stack?: string };

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
  /** By the clock on the wall; left out, two minutes, or fifteen where processor time is bounded: whoever gives way to all others waits long. */
  timeoutMs?: number;
  /** Of the JavaScript heap; the whole process, buffers counted, may have this and 2 GB more. */
  memoryMb?: number;
  /** Of processor time, all threads together: unlike `timeoutMs` it is the same on a busy machine. */
  cpuS?: number;
  /** Of the whole process; left out, the heap's and 2 GB more. */
  residentMb?: number;
  signal?: AbortSignal;
  progress?: (p: Progress) => void;
}

const LOOK_MS = 250;
const BUFFERS_MB = 2048;
const MEMORY_MB = 4096;

/** Asked of Node itself: a bundler would take the file for a module of its own. */
const { fork } = process.getBuiltinModule('node:child_process');
const { setPriority } = process.getBuiltinModule('node:os');
/** Whoever waits for a page comes before whoever waits for a job. */
const NICE = 15;

/** What V8 keeps of compiled code is for these alone. */
export const jobFlags = (memoryMb = MEMORY_MB) => [`--max-old-space-size=${memoryMb}`, '--stack-size=3000', '--expose-gc'];

const jobFile = () => {
  const path = join(process.env.SCAPHOS_ROOT ?? process.cwd(), 'dist', 'worker', 'job.cjs');
  if (!existsSync(path)) throw new Error(`The worker bundle ${path} is missing: run ./scaphos build.`);
  return path;
};

/** What a job's process is begun with, as it is where nothing confines it. */
export const jobCommand = () => ({ file: jobFile(), flags: jobFlags() });
/** Words of a command in front of it, which take away what a job needs not have: set by whoever runs it for strangers. */
const held = globalThis as { scaphosJobWords?: readonly string[] };

/** Megabytes a process holds; 0 where the system does not say (anything but Linux). */
function residentMb(pid: number | undefined): number {
  try {
    return (Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * 4096) / 1e6;
  } catch {
    return 0;
  }
}

/** Ticks of a second in /proc (USER_HZ, which Linux keeps at 100 for all programs). */
const TICKS = 100;
/** Seconds of processor time a process took; 0 where the system does not say. */
function cpuSeconds(pid: number | undefined): number {
  try {
    // the second field is the name, in brackets, and may hold anything
    const fields = readFileSync(`/proc/${pid}/stat`, 'utf8')
      .replace(/^.*\) /s, '')
      .split(' ');
    return (Number(fields[11]) + Number(fields[12])) / TICKS;
  } catch {
    return 0;
  }
}

const running = new Set<() => void>();
process.on('exit', () => {
  for (const end of running) end();
});

const brokeReader = (detail: string) =>
  new JobError(
    'file/unreadable',
    'The file made its reader fail. It is broken in a way that cannot be told more precisely; export it again.',
    detail,
  );
const endedFromOutside = (signal: string) =>
  new JobError('job/killed', 'The process that worked on this was ended from outside, perhaps for want of memory. Try again.', signal);
const outOfMemory = (detail: string) =>
  new JobError('job/memory', 'Reading this needs more memory than a file may take. Make it smaller and try again.', detail);

function runJob(
  job: Job,
  {
    cpuS = Infinity,
    timeoutMs = Number.isFinite(cpuS) ? 900_000 : 120_000,
    memoryMb = MEMORY_MB,
    residentMb: most = memoryMb + BUFFERS_MB,
    signal,
    progress,
  }: RunOptions,
): Promise<unknown> {
  return new Promise((resolve, reject) => {
    const [execPath, ...words] = [...(held.scaphosJobWords ?? []), process.execPath];
    const child = fork(jobFile(), [], {
      serialization: 'advanced',
      execPath,
      execArgv: [...words, ...jobFlags(memoryMb)],
      // one store of freed memory a thread holds on to more than it gives back; large pieces go back at once
      env: {
        MALLOC_ARENA_MAX: '2',
        MALLOC_MMAP_THRESHOLD_: '1048576',
        PATH: process.env.PATH,
        TZ: process.env.TZ,
        NODE_ENV: process.env.NODE_ENV,
        SCAPHOS_EFFORT: process.env.SCAPHOS_EFFORT,
      },
      stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
    });
    try {
      if (child.pid) setPriority(child.pid, NICE);
    } catch {
      // it has ended already: `close` says why
    }
    let said = '';
    child.stderr?.on('data', (d) => {
      said = (said + d).slice(-4000);
    });
    const kill = () => void child.kill('SIGKILL');
    running.add(kill);
    let done = false;
    const finish = (act: () => void) => {
      if (done) return;
      done = true;
      clearTimeout(timer);
      clearInterval(watch);
      signal?.removeEventListener('abort', abort);
      running.delete(kill);
      kill();
      act();
    };
    const fail = (error: Error) => finish(() => reject(error));
    const abort = () => fail(new JobError('job/stopped', 'Stopped.'));
    const tooLong = (s: number) =>
      fail(new JobError('job/too-long', `This took longer than ${Math.round(s)} s and was stopped. Make the file smaller and try again.`));
    const timer = setTimeout(() => tooLong(timeoutMs / 1000), timeoutMs);
    // wasm memory and buffers lie outside the heap limit
    const watch = setInterval(() => {
      const mb = residentMb(child.pid);
      if (cpuSeconds(child.pid) > cpuS) tooLong(cpuS);
      else if (mb > most) fail(outOfMemory(`${Math.round(mb)} MB resident`));
    }, LOOK_MS);
    if (signal?.aborted) return abort();
    signal?.addEventListener('abort', abort);
    child.on('message', (m: JobAnswer) => {
      if ('progress' in m) return void (done || progress?.(m.progress));
      if (m.ok) finish(() => resolve(m.result));
      else if (m.code) fail(new JobError(m.code, m.message));
      else fail(brokeReader(m.stack ?? m.message));
    });
    // it could not be started: nothing is said of the file
    child.on('error', (e) => fail(endedFromOutside(e.message)));
    child.on('close', (code, killedBy) => {
      if (/heap limit|out of memory/i.test(said)) fail(outOfMemory(said));
      // a reader that breaks aborts or is ended by its own fault, never like this
      else if (killedBy === 'SIGKILL' || killedBy === 'SIGTERM') fail(endedFromOutside(killedBy));
      else fail(brokeReader(`ended with ${code ?? killedBy}\n${said}`));
    });
    // who cannot be told any more has ended, or ends now: `close` says why
    child.send(job, (e) => e && child.kill('SIGKILL'));
  });
}

export const intake = (data: IntakeJob, options: RunOptions = {}) => runJob({ job: 'intake', data }, options) as Promise<IntakeDone>;
export const openModel = (data: IntakeJob & { outDir: string }, options: RunOptions = {}) =>
  runJob({ job: 'open', data }, options) as Promise<OpenDone>;
export const prepare = (data: PrepareJob, options: RunOptions = {}) => runJob({ job: 'prepare', data }, options) as Promise<PrepareDone>;
/** Searching takes its time: it says how far it is and can be stopped. */
const HEAVY_MS = 30 * 60_000;
export const measure = (data: MeasureJob, options: RunOptions = {}) =>
  runJob({ job: 'measure', data }, { timeoutMs: HEAVY_MS, ...options }) as Promise<MeasureDone>;
export const solveBudget = (data: SolveJob, options: RunOptions = {}) =>
  runJob({ job: 'solve', data }, { timeoutMs: HEAVY_MS, ...options }) as Promise<SolveDone>;
export const rig = (data: RigJob, options: RunOptions = {}) =>
  runJob({ job: 'rig', data }, { timeoutMs: HEAVY_MS, ...options }) as Promise<RigDone>;
export const fitToForm = (data: FitJob, options: RunOptions = {}) => runJob({ job: 'fit', data }, options) as Promise<FitDone>;
export const pack = (data: PackJob, options: RunOptions = {}) => runJob({ job: 'pack', data }, options) as Promise<Uint8Array>;
export const unpackPictures = (data: UnpackPicturesJob, options: RunOptions = {}) =>
  runJob({ job: 'unpack-pictures', data }, options) as Promise<Uint8Array>;
export const unpack = (data: UnpackJob, options: RunOptions = {}) =>
  runJob({ job: 'unpack', data }, options) as Promise<{ piece: Piece; blobs: string[] }>;
