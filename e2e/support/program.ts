/** A Scaphos as an operator starts it: the program itself, on a folder and a port of its own, with what it starts. */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { databaseUrl } from '@/cli/mariadb';
import { commandOf, freePort, sleep } from '@/cli/process';
import { type Knex, openDatabase } from '@/server/db';

/** A bound on a hang: a first start of the demo reads its models in jobs, which give way to all else. */
const HANG_MS = 600_000;

export interface Program {
  url: string;
  dir: string;
  child: ChildProcess;
  /** Processes it started: the database and the site. */
  pid(what: 'database' | 'site'): number;
  /** Processes of files being read or prepared. */
  jobs(): number[];
  healthy(): Promise<boolean>;
  untilHealthy(): Promise<void>;
  database(): Promise<Knex>;
  /** Another command on the same folder. */
  ask(...words: string[]): Promise<{ code: number | null; out: string }>;
  /** Its last words, for who does not understand what it does. */
  said(): string;
  /** Stops it and removes its folder. */
  end(): Promise<void>;
}

/** 0 where it is gone. */
function parentOf(pid: number): number {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // the name in brackets may hold anything
    return Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]);
  } catch {
    return 0;
  }
}

const ended = (child: ChildProcess) =>
  new Promise<number | null>((r) => (child.exitCode === null && child.signalCode === null ? child.once('exit', r) : r(child.exitCode)));

/** @throws {Error} with what it said, where it does not end; it is killed then */
async function endedInTime(child: ChildProcess, what: string, said: () => string): Promise<number | null> {
  let hangs: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => {
    hangs = setTimeout(() => {
      child.kill('SIGKILL');
      reject(new Error(`${what} did not end:\n${said()}`));
    }, HANG_MS);
  });
  return Promise.race([ended(child), late]).finally(() => clearTimeout(hangs));
}

export const programDir = () => mkdtemp(join(tmpdir(), 'scaphos-program-'));

/** Every process that was started for this folder, whoever its parent is now. */
export const processesOf = (dir: string): number[] =>
  readdirSync('/proc')
    .filter((p) => /^\d+$/.test(p) && Number(p) !== process.pid)
    .map(Number)
    .filter((pid) => {
      try {
        return (
          readFileSync(`/proc/${pid}/environ`, 'latin1').split('\0').includes(`SCAPHOS_DATA=${dir}`) || commandOf(pid).includes(`${dir}/`)
        );
      } catch {
        return false;
      }
    });

/** A command, what it has said so far, and its end. */
export function runProgram(words: readonly string[], env: Record<string, string>, heard?: (text: unknown) => void) {
  const child = spawn(process.execPath, ['dist/cli/main.js', ...words], {
    env: { ...process.env, SCAPHOS_ROOT: process.cwd(), SCAPHOS_LOG: 'error', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let out = '';
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (d) => {
      out += d;
      heard?.(d);
    });
  return { child, out: () => out, ended: ended(child) };
}

/** @param words of the command it is started with @param at a folder that is there already */
export async function startProgram(env: Record<string, string> = {}, words: readonly string[] = ['start'], at?: string): Promise<Program> {
  // the program as it is now, if the source is newer
  execFileSync('./scaphos', ['--help']);
  const dir = at ?? (await programDir());
  const port = await freePort();
  let said = '';
  const run = (words: string[]) =>
    runProgram(words, { SCAPHOS_DATA: dir, ...env }, (d) => {
      said = `${said}${d}`.slice(-4000);
    });
  const { child } = run([...words, '--port', String(port)]);
  const url = `http://127.0.0.1:${port}`;
  const running = () => JSON.parse(readFileSync(join(dir, 'running.json'), 'utf8')) as { children: number[]; dbPort: number };
  const program: Program = {
    url,
    dir,
    child,
    pid: (what) => running().children.find((pid) => /mariadbd/.test(commandOf(pid)) === (what === 'database')) ?? 0,
    jobs: () =>
      readdirSync('/proc')
        .filter((p) => /^\d+$/.test(p))
        .map(Number)
        .filter((pid) => /worker\/job\.cjs/.test(commandOf(pid)) && parentOf(pid) === program.pid('site')),
    healthy: () =>
      fetch(`${url}/api/health`, { signal: AbortSignal.timeout(60_000) }).then(
        (r) => r.ok,
        () => false,
      ),
    async untilHealthy() {
      for (const until = Date.now() + HANG_MS; Date.now() < until; await sleep(50)) if (await program.healthy()) return;
      throw new Error(`it never answered:\n${said}`);
    },
    said: () => said,
    database: async () => openDatabase(await databaseUrl(dir, running().dbPort)),
    async ask(...words) {
      const asked = run(words);
      return { code: await endedInTime(asked.child, words.join(' '), asked.out), out: asked.out() };
    },
    async end() {
      child.kill('SIGTERM');
      await endedInTime(child, 'it', () => said);
      await rm(dir, { recursive: true, force: true });
    },
  };
  await program.untilHealthy();
  return program;
}
