/** Files that can be made again at any time: made once however many ask, whole or not at all, dropped when nobody asks for them. */
import { mkdir, readdir, rename, stat, unlink, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { cacheDir } from './config';
import { newId } from './ids';
import { asHttp } from './readers';
import { requireDisk } from './reserve';

const CACHE_DAYS = 7;
const FOLDERS = ['packages', 'solved', 'drawn', 'read'] as const;
export const cacheFile = (folder: (typeof FOLDERS)[number], name: string) => join(cacheDir(), folder, name);

const underWay = new Map<string, Promise<string>>();

async function build(path: string, make: () => Promise<Uint8Array>): Promise<string> {
  await requireDisk(0);
  await mkdir(dirname(path), { recursive: true });
  const bytes = await make().catch(asHttp);
  const temp = `${path}.${newId()}`;
  await writeFile(temp, bytes);
  await rename(temp, path);
  return path;
}

/** The file, made if it is not there. @throws {HttpError} 422 it cannot be made */
export async function cached(path: string, make: () => Promise<Uint8Array>): Promise<string> {
  if (await stat(path).catch(() => null)) return path;
  const job = underWay.get(path) ?? build(path, make).finally(() => underWay.delete(path));
  underWay.set(path, job);
  return job;
}

/** Drops what nobody asked for in a week. */
export async function sweepCache(now = Date.now()): Promise<void> {
  for (const dir of FOLDERS.map((name) => join(/* turbopackIgnore: true */ cacheDir(), name)))
    for (const name of await readdir(/* turbopackIgnore: true */ dir).catch(() => [])) {
      const found = await stat(join(dir, name)).catch(() => null);
      if (found && now - found.atimeMs > CACHE_DAYS * 86_400_000) await unlink(join(dir, name)).catch(() => undefined);
    }
}
