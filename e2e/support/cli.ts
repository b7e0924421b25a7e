/** The command line: as a program of its own, and called in this process, where nothing needs to start first. */
import { execFile, execFileSync } from 'node:child_process';
import { call } from '@/cli/call';

export interface Run {
  code: number;
  /** Lines of `--json`; checked against their schema. */
  // biome-ignore lint/suspicious/noExplicitAny: what a line holds is what the test is about
  rows: any[];
  stdout: string;
  stderr: string;
}

const lines = (args: string[], stdout: string) =>
  args.includes('--json')
    ? stdout
        .trim()
        .split('\n')
        .filter(Boolean)
        .map((l) => JSON.parse(l))
    : [];

/** `./scaphos` as a user starts it. */
export const program = (args: string[], env: Record<string, string> = {}) =>
  new Promise<Run>((resolve) => {
    execFile('./scaphos', args, { maxBuffer: 1 << 26, env: { ...process.env, ...env } }, (error, stdout, stderr) =>
      resolve({ code: error ? Number(error.code) : 0, rows: lines(args, stdout), stdout, stderr }),
    );
  });

/** What `program` does, without a start of Node and of all that a command loads. One call at a time: both streams are this process's. */
export async function scaphos(args: string[], env: Record<string, string> = {}): Promise<Run> {
  const before = { ...process.env };
  Object.assign(process.env, env);
  const said = { stdout: '', stderr: '' };
  const streams = (['stdout', 'stderr'] as const).map((name) => ({ name, write: process[name].write }));
  for (const { name } of streams)
    process[name].write = ((text: string) => {
      said[name] += text;
      return true;
    }) as typeof process.stdout.write;
  try {
    const code = await call(args);
    return { code, rows: lines(args, said.stdout), ...said };
  } finally {
    for (const { name, write } of streams) process[name].write = write;
    for (const name of Object.keys(env)) {
      if (before[name] === undefined) delete process.env[name];
      else process.env[name] = before[name];
    }
  }
}

/** Vitest's set-up: the bundles that jobs are started from, if the source is newer. */
export default function setup(): void {
  execFileSync('./scaphos', ['--help']);
}
