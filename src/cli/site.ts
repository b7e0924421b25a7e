/** Building and starting the web application. */
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, stat, writeFile } from 'node:fs/promises';
import { hostname, networkInterfaces } from 'node:os';
import { join } from 'node:path';
import { rootDir } from './data';
import { CliFailure, say } from './failure';
import { run, sleep, stopChild } from './process';

const SOURCES = [
  'app',
  'src',
  'public',
  'next.config.ts',
  'proxy.ts',
  'instrumentation.ts',
  'postcss.config.mjs',
  'tsconfig.json',
  'package.json',
  'package-lock.json',
];

async function fingerprint(root: string): Promise<string> {
  const hash = createHash('sha256');
  const walk = async (path: string): Promise<void> => {
    const found = await stat(join(root, path)).catch(() => null);
    if (!found) return;
    if (found.isDirectory()) for (const name of (await readdir(join(root, path))).sort()) await walk(join(path, name));
    else if (!/\.test\.tsx?$/.test(path)) hash.update(`${path}\0`).update(await readFile(join(root, path)));
  };
  for (const s of SOURCES) await walk(s);
  return hash.digest('hex');
}

const nextBin = (root: string) => join(root, 'node_modules', 'next', 'dist', 'bin', 'next');

/** `next build`, only where the sources changed since the last one. */
export async function buildSite(): Promise<void> {
  const root = rootDir();
  const stamp = join(root, '.next', 'scaphos-built');
  const now = await fingerprint(root);
  if (existsSync(join(root, '.next', 'BUILD_ID')) && (await readFile(stamp, 'utf8').catch(() => '')) === now) return;
  say('Building the application (once, about half a minute) …');
  const { code, output } = await run(process.execPath, [nextBin(root), 'build'], {
    cwd: root,
    env: { ...process.env, NODE_ENV: 'production' },
  });
  if (code !== 0) throw new CliFailure(`The application could not be built:\n${output.trim().split('\n').slice(-25).join('\n')}`, 70);
  await mkdir(join(root, '.next'), { recursive: true });
  await writeFile(stamp, now);
}

export interface RunningSite {
  pid: number;
  stop: () => Promise<void>;
  /** Resolves when it ends of itself. */
  ended: Promise<number>;
}

/** Longer than a proxy or a busy client leaves a connection idle: one that is closed just when it is used again loses a request. */
const KEEP_ALIVE_MS = 75_000;

/** Every name the site is reached by; SCAPHOS_PUBLIC is the address a proxy in front gives it. */
export function hostsOf(port: number, host: string, given = process.env.SCAPHOS_PUBLIC): string[] {
  const everywhere = host === '0.0.0.0' || host === '::';
  const own = everywhere
    ? [hostname(), ...Object.values(networkInterfaces()).flatMap((list) => (list ?? []).map((i) => i.address.replace(/%.*$/, '')))]
    : [host];
  const names = ['localhost', '127.0.0.1', '::1', ...own].map((n) => (n.includes(':') ? `[${n}]` : n.toLowerCase()));
  const shown = given && URL.canParse(given) ? [new URL(given).host] : [];
  return [...new Set([...shown, ...names.flatMap((n) => (port === 80 || port === 443 ? [n, `${n}:${port}`] : [`${n}:${port}`]))])];
}

/** What does not answer within this is asked again. */
const ANSWER_MS = 10_000;

export async function startSite(port: number, host: string, env: Record<string, string>): Promise<RunningSite> {
  const root = rootDir();
  const words = ['start', '--port', String(port), '--hostname', host, '--keepAliveTimeout', String(KEEP_ALIVE_MS)];
  const child = spawn(process.execPath, [nextBin(root), ...words], {
    cwd: root,
    env: { ...process.env, NODE_ENV: 'production', SCAPHOS_HOSTS: hostsOf(port, host).join(','), ...env },
    stdio: ['ignore', 'inherit', 'inherit'],
    detached: true,
  });
  const ended = new Promise<number>((resolve) => child.on('exit', (code) => resolve(code ?? 1)));
  let code: number | null = null;
  void ended.then((c) => {
    code = c;
  });
  const at = host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host;
  for (const until = Date.now() + 60_000; Date.now() < until; ) {
    if (code !== null) throw new CliFailure('The application ended at once. Its words are above.', 70);
    const answers = await fetch(`http://${at}:${port}/api/health`, { signal: AbortSignal.timeout(ANSWER_MS) }).then(
      (r) => r.ok,
      () => false,
    );
    if (answers) return { pid: child.pid as number, stop: () => stopChild(child), ended };
    await sleep(150);
  }
  await stopChild(child);
  throw new CliFailure('The application did not answer within a minute.', 70);
}
