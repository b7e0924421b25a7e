/** Files that lie beside a model on disk and that it names: pictures, materials. */
import { readdir, readFile, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { COMPANION_EXTENSIONS, INTAKE_LIMITS, pictureLeaf } from '@/core/intake';

/** Folders under the model's own that are looked into, and files that are looked at. */
const [DEPTH, MOST] = [3, 5_000];
/** Of the model, in which names are looked for: they stand before or among the shapes, and no text is longer. */
const SEARCHED = 40e6;

const isCompanion = (name: string) => COMPANION_EXTENSIONS.some((e) => name.toLowerCase().endsWith(e));

/** Paths under a folder, forward slashes, of files that may belong to a model. */
async function candidates(root: string): Promise<string[]> {
  const out: string[] = [];
  let seen = 0;
  const look = async (folder: string, depth: number): Promise<void> => {
    const entries = await readdir(join(root, folder), { withFileTypes: true }).catch(() => []);
    for (const e of entries) {
      if (++seen > MOST) return;
      const path = folder ? `${folder}/${e.name}` : e.name;
      if (e.isDirectory() && depth < DEPTH && !e.name.startsWith('.')) await look(path, depth + 1);
      else if (e.isFile() && isCompanion(e.name)) out.push(path);
    }
  };
  await look('', 0);
  return out;
}

/** How a name may be written in a file: as UTF-8 and as Latin letters, plain, in XML and in an address. */
function spellings(name: string): string[] {
  const plain = [name, name.normalize('NFC'), name.normalize('NFD')];
  const written = plain.flatMap((n) => [n, n.replaceAll('&', '&amp;'), encodeURI(n), encodeURIComponent(n)]);
  // the text is read byte by byte
  return [...new Set(written.flatMap((n) => [n, Buffer.from(n, 'utf8').toString('latin1')]))].map((n) => n.toLowerCase());
}

/** The whole of a name: not the end of a longer one. */
function stands(words: string, name: string): boolean {
  for (let at = words.indexOf(name); at >= 0; at = words.indexOf(name, at + 1)) if (!/[\w-]/.test(words[at - 1] ?? '')) return true;
  return false;
}

/**
 * Files under the model's folder whose names stand in it, or in the materials (MTL) it names.
 * @returns relative path → bytes
 */
export async function companionsBeside(path: string, bytes: Uint8Array): Promise<Map<string, Uint8Array>> {
  const root = dirname(path);
  const found = new Map<string, Uint8Array>();
  const list = await candidates(root);
  let room = INTAKE_LIMITS.fileBytes;
  const searchIn = async (text: Uint8Array): Promise<void> => {
    const words = Buffer.from(text.buffer, text.byteOffset, Math.min(text.byteLength, SEARCHED)).toString('latin1').toLowerCase();
    for (const name of list) {
      if (found.has(name) || !spellings(pictureLeaf(name)).some((s) => stands(words, s))) continue;
      const { size } = await stat(join(root, name));
      if (size > room) continue;
      room -= size;
      found.set(name, await readFile(join(root, name)));
      if (/\.mtl$/i.test(name)) await searchIn(found.get(name) as Uint8Array);
    }
  };
  if (list.length > 0) await searchIn(bytes);
  return found;
}
