/**
 * Files of strangers are read by processes that reach little: no network (a namespace of their own, with nothing in it) and, where the
 * server is root, another user with no capability, who may read blobs and write into the folder of the job. What the system does not
 * allow is left out, and /api/health says what holds.
 */
import { execFile } from 'node:child_process';
import { chmod, chown, mkdir, readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { jobCommand } from '@/worker/node';
import { blobDir, config, solvedDir, tempDir } from './config';
import { log } from './log';

/** User and group of nobody else: the first that Debian leaves to services which are given one at their start (*from memory*). */
const READER = 61_184;
const AS_READER = [
  ...['setpriv', '--reuid', String(READER), '--regid', String(READER), '--clear-groups'],
  ...['--no-new-privs', '--inh-caps=-all', '--bounding-set=-all', '--'],
];
const NO_NETWORK = ['unshare', '--net', '--'];
/** For who is not root: within a namespace in which one is. */
const NO_NETWORK_OF_OWN = ['unshare', '--user', '--map-current-user', '--net', '--'];

export interface Confined {
  network: boolean;
  user: boolean;
}
const held = globalThis as { scaphosConfined?: Confined; scaphosJobWords?: readonly string[] };
export const confined = (): Confined => held.scaphosConfined ?? { network: false, user: false };

/** Whether a process that is begun with these words works: it reads and writes what it must, and sees no network if it should not. */
function works(words: readonly string[], network: boolean): Promise<boolean> {
  const must = { read: [jobCommand().file, blobDir()], write: [tempDir(), solvedDir()], network };
  const look = `const { accessSync, constants: c } = require('fs'), must = ${JSON.stringify(must)};
    for (const f of must.read) accessSync(f, c.R_OK);
    for (const f of must.write) accessSync(f, c.W_OK | c.X_OK);
    if (must.network && Object.keys(require('os').networkInterfaces()).length) throw new Error('a network');`;
  const [command, ...rest] = [...words, process.execPath, '-e', look];
  return new Promise((resolve) => execFile(command, rest, { timeout: 20_000 }, (error) => resolve(!error)));
}

/** Hands to the readers' group what they read, and to them what they write. */
async function open(): Promise<void> {
  const own = process.getuid?.() ?? 0;
  const root = config().dataDir;
  // nobody else comes in
  await chown(root, own, READER);
  await chmod(root, (((await stat(root)).mode & 0o777) | 0o010) & ~0o007);
  for (const dir of [tempDir(), solvedDir()]) await handOver(dir);
  await shareBlobs(blobDir(), own);
}

async function shareBlobs(dir: string, own: number): Promise<void> {
  // of an older Scaphos, or of one that did not run as root
  if ((await stat(dir)).gid === READER) return;
  const entries = await readdir(dir, { withFileTypes: true });
  for (const e of entries) {
    const path = join(dir, e.name);
    if (e.isDirectory()) await shareBlobs(path, own);
    else if (e.isFile()) await share(path);
  }
  // last: where this was cut it is done anew
  await chown(dir, own, READER);
  await chmod(dir, 0o750);
}

/** What comes in from now on is not the readers': when they are of another user again, all is handed over anew. */
const takeBack = () => chown(blobDir(), process.getuid?.() ?? 0, process.getgid?.() ?? 0);

/** A file or folder that readers may read, as the server's own; for the server alone where it has no readers of another user. */
export async function share(path: string): Promise<void> {
  const folder = (await stat(path)).isDirectory();
  if (confined().user) await chown(path, process.getuid?.() ?? 0, READER);
  await chmod(path, (folder ? 0o700 : 0o600) | (confined().user ? (folder ? 0o050 : 0o040) : 0));
}

/** A folder that readers write into. */
export async function handOver(dir: string): Promise<void> {
  await mkdir(dir, { recursive: true });
  if (confined().user) await chown(dir, READER, READER);
}

/** Once, when a server starts: as narrow as the system allows. */
export async function confineReaders(): Promise<void> {
  const root = process.getuid?.() === 0;
  // what lies in the data folder readers can read, whatever this process was started with
  if (root) process.umask(0o022);
  for (const dir of [blobDir(), tempDir(), solvedDir()]) await mkdir(dir, { recursive: true });
  const ways: [Confined, string[]][] = root
    ? [
        [{ network: true, user: true }, [...NO_NETWORK, ...AS_READER]],
        [{ network: false, user: true }, AS_READER],
        [{ network: true, user: false }, NO_NETWORK],
      ]
    : [[{ network: true, user: false }, NO_NETWORK_OF_OWN]];
  for (const [how, words] of ways) {
    held.scaphosConfined = how;
    if (root && !how.user) await takeBack();
    const opened = how.user
      ? await open().then(
          () => true,
          () => false,
        )
      : true;
    if (opened && (await works(words, how.network))) {
      held.scaphosJobWords = words;
      // they may not write what V8 makes of their code: it is made for them
      const { file, flags } = jobCommand();
      if (how.user) execFile(process.execPath, [...flags, file], { timeout: 60_000 }, () => undefined);
      return;
    }
  }
  held.scaphosConfined = { network: false, user: false };
  if (root) await takeBack();
  log.warn('readers run as this user and with its network: the system allows neither another user nor a namespace without one');
}
