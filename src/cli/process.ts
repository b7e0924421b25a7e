/** Small helpers around child processes and ports. */
import { type ChildProcess, type SpawnOptions, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import type { Readable, Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

export const sleep = (ms: number) => new Promise<void>((r) => setTimeout(r, ms));

/** Runs to its end; resolves with exit code and what it printed. */
export function run(command: string, args: string[], options: SpawnOptions = {}): Promise<{ code: number; output: string }> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'], ...options });
    let output = '';
    child.stdout?.on('data', (d) => {
      output += d;
    });
    child.stderr?.on('data', (d) => {
      output += d;
    });
    child.on('error', reject);
    child.on('close', (code) => resolve({ code: code ?? 1, output }));
  });
}

/** Runs a command whose output, or whose input, is a stream. Resolves with its code and the last line it complained with. */
function piped(command: string, args: string[], env: NodeJS.ProcessEnv, join: (child: ChildProcess) => Promise<unknown>) {
  return new Promise<{ code: number; said: string }>((resolve, reject) => {
    const child = spawn(command, args, { env, stdio: ['pipe', 'pipe', 'pipe'] });
    let said = '';
    child.stderr?.on('data', (d) => {
      said = (said + d).slice(-2000);
    });
    child.on('error', reject);
    const joined = join(child);
    child.on('close', (code) => joined.then(() => resolve({ code: code ?? 1, said: said.trim().split('\n').at(-1) ?? '' }), reject));
  });
}
export const streamFrom = (command: string, args: string[], to: Writable, env: NodeJS.ProcessEnv) =>
  piped(command, args, env, (child) => {
    child.stdin?.end();
    return pipeline(child.stdout as Readable, to);
  });
export const streamInto = (command: string, args: string[], from: Readable, env: NodeJS.ProcessEnv) =>
  // one that ends early says why by its code
  piped(command, args, env, (child) => pipeline(from, child.stdin as Writable).catch(() => undefined));

export function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

/** The command line of a process, so that a number that was given anew is not taken for ours. */
export function commandOf(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
  } catch {
    return '';
  }
}

/** Asks a process to end, waits, and insists after `patienceMs`. */
export async function stopPid(pid: number, patienceMs = 15_000): Promise<void> {
  if (!isAlive(pid)) return;
  process.kill(pid, 'SIGTERM');
  for (const until = Date.now() + patienceMs; Date.now() < until; ) {
    if (!isAlive(pid)) return;
    await sleep(100);
  }
  if (isAlive(pid)) process.kill(pid, 'SIGKILL');
}

export async function stopChild(child: ChildProcess): Promise<void> {
  if (child.pid && child.exitCode === null && child.signalCode === null) await stopPid(child.pid);
}

/** Whether a port can be listened on. */
export function portIsFree(port: number, host: string): Promise<boolean> {
  return new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, host, () => server.close(() => resolve(true)));
  });
}

export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => (typeof address === 'object' && address ? resolve(address.port) : reject(new Error('no port'))));
    });
  });
}
