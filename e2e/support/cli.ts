/** The command line as a user calls it. */
import { execFile } from 'node:child_process';

export interface Run {
  code: number;
  /** Lines of `--json`; checked against their schema. */
  // biome-ignore lint/suspicious/noExplicitAny: what a line holds is what the test is about
  rows: any[];
  stdout: string;
  stderr: string;
}
export const scaphos = (args: string[], env: Record<string, string> = {}) =>
  new Promise<Run>((resolve) => {
    execFile('./scaphos', args, { maxBuffer: 1 << 26, env: { ...process.env, ...env } }, (error, stdout, stderr) => {
      const rows = args.includes('--json')
        ? stdout
            .trim()
            .split('\n')
            .filter(Boolean)
            .map((l) => JSON.parse(l))
        : [];
      resolve({ code: error ? Number(error.code) : 0, rows, stdout, stderr });
    });
  });
