/** Files nobody here made: packages of models that `./scaphos test` installs, as they are and as two general programs write them anew. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { NodeIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS, KHRDracoMeshCompression } from '@gltf-transform/extensions';
import { MeshoptDecoder } from 'meshoptimizer';
import { nodeDraco } from '@/worker/node/codecs';

/** Where scripts/needs puts them. */
export const OUTSIDE = join(process.cwd(), 'dist', 'outside');
const PACKAGES = join(OUTSIDE, 'node_modules');
const MADE = join(OUTSIDE, 'made');

export interface OutsideFile {
  name: string;
  path: string;
  /** The file it was written from; itself where nobody wrote it anew. */
  from: string;
}

const walk = (dir: string): string[] =>
  readdirSync(dir, { withFileTypes: true }).flatMap((e) => (e.isDirectory() ? walk(join(dir, e.name)) : [join(dir, e.name)]));

/** Models held in modules as data addresses. */
async function unwrapped(): Promise<string[]> {
  const dir = join(PACKAGES, '@pmndrs', 'assets', 'models');
  const out: string[] = [];
  for (const f of readdirSync(dir).filter((x) => x.endsWith('.js'))) {
    const path = join(MADE, f.replace(/\.js$/, ''));
    if (!existsSync(path)) {
      const address: string = (await import(join(dir, f))).default;
      writeFileSync(path, Buffer.from(address.slice(address.indexOf(',') + 1), 'base64'));
    }
    out.push(path);
  }
  return out;
}

/** As outside programs write a model: packed by gltfpack, and with Draco by gltf-transform. */
async function rewritten(path: string, name: string, io: NodeIO): Promise<string[]> {
  const [packed, draco] = ['meshopt', 'draco'].map((how) => join(MADE, `${name.replace(/[^\w]+/g, '-')}-${how}.glb`));
  try {
    if (!existsSync(packed))
      execFileSync(process.execPath, [join(PACKAGES, 'gltfpack', 'cli.js'), '-i', path, '-o', packed, '-cc'], { stdio: 'ignore' });
    if (!existsSync(draco)) {
      const document = await io.read(path);
      document.createExtension(KHRDracoMeshCompression).setRequired(true);
      await io.write(draco, document);
    }
  } catch {
    // what they cannot write is no file to be read
  }
  return [packed, draco].filter(existsSync);
}

/** @throws {Error} the packages are not there */
export async function outsideFiles(): Promise<OutsideFile[]> {
  if (!existsSync(join(PACKAGES, '@webxr-input-profiles', 'assets')))
    throw new Error('The outside models are missing: ./scaphos test installs them, with a network.');
  mkdirSync(MADE, { recursive: true });
  const draco = await nodeDraco();
  await MeshoptDecoder.ready;
  const io = new NodeIO()
    .registerExtensions(ALL_EXTENSIONS)
    .registerDependencies({ 'draco3d.encoder': draco?.encoder, 'draco3d.decoder': draco?.decoder, 'meshopt.decoder': MeshoptDecoder });
  const profiles = walk(join(PACKAGES, '@webxr-input-profiles', 'assets', 'dist', 'profiles')).filter((f) => f.endsWith('.glb'));
  const originals = [...profiles.sort(), ...(await unwrapped()).sort()];
  const out: OutsideFile[] = [];
  for (const path of originals) {
    const name = path.split('/').slice(-2).join('/');
    out.push({ name, path, from: path });
    for (const made of await rewritten(path, name, io)) out.push({ name: basename(made), path: made, from: path });
  }
  return out;
}

export const sizeOf = (path: string): number => statSync(path).size;
