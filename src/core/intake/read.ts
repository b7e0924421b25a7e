/** Reads a glTF of any container into a glTF-Transform Document. */
import { type Document, Logger, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { checkGltfLimits, type GltfJson, openGltf } from './container';
import { IntakeError } from './errors';
import type { ModelFormat } from './facts';
import { firstSlot, standIn } from './wanted';

const MESHOPT = ['EXT_meshopt_compression', 'KHR_meshopt_compression'];

/** A companion file by its clean relative path (forward slashes). */
export type Companions = ReadonlyMap<string, Uint8Array>;

/** Decoders a platform supplies; without one, files that need it are refused by name. */
export interface GltfDecoders {
  draco?: unknown;
  meshopt?: unknown;
}

export interface ReadGltf {
  format: ModelFormat;
  document: Document;
  json: GltfJson;
  /** Pictures the file asks for that did not come along. */
  missing: string[];
  /** The bytes behind every URI that was found. */
  resources: Map<string, Uint8Array>;
}

/** A relative path without `.`, `..`, backslashes or a root; null where it leads outside. */
export function cleanPath(path: string): string | null {
  const out: string[] = [];
  for (const s of path.replaceAll('\\', '/').split('/')) {
    if (s === '' || s === '.') continue;
    if (s === '..') {
      if (out.pop() === undefined) return null;
    } else out.push(s);
  }
  return out.length > 0 ? out.join('/') : null;
}

function findCompanion(uri: string, base: string, files: Companions): Uint8Array | null {
  let name = uri;
  try {
    name = decodeURIComponent(uri);
  } catch {
    // a bare percent sign: the name is meant literally
  }
  const wanted = cleanPath(base ? `${base}/${name}` : name);
  if (wanted === null) return null;
  const exact = files.get(wanted);
  if (exact) return exact;
  // archives are often packed with textures in another folder, or with the case changed
  const leaf = wanted.slice(wanted.lastIndexOf('/') + 1).toLowerCase();
  const alike = [...files].filter(([p]) => p.slice(p.lastIndexOf('/') + 1).toLowerCase() === leaf);
  return alike.length === 1 ? alike[0][1] : null;
}

/** A buffer without bytes of its own: whoever reads EXT_meshopt_compression unpacks every view of it from another. */
function isStandIn(json: GltfJson, buffer: number): boolean {
  const b = json.buffers?.[buffer];
  const says = Object.values(b?.extensions ?? {}).some((e) => (e as { fallback?: unknown } | null)?.fallback === true);
  if (!says || b?.uri !== undefined) return false;
  return (json.bufferViews ?? []).every(
    (v) => v.buffer !== buffer || MESHOPT.some((name) => (v.extensions?.[name] as { buffer?: unknown } | undefined)?.buffer !== undefined),
  );
}

export function createGltfIo(decoders: GltfDecoders): WebIO {
  return new WebIO()
    .setLogger(new Logger(Logger.Verbosity.SILENT))
    .registerExtensions(ALL_EXTENSIONS)
    .registerDependencies({
      ...(decoders.draco ? { 'draco3d.decoder': decoders.draco } : {}),
      ...(decoders.meshopt ? { 'meshopt.decoder': decoders.meshopt } : {}),
    });
}

/**
 * Reads a GLB, or a .gltf with its companions. A missing picture is noted and stood in for; a missing buffer is an error.
 * @param base folder of the .gltf among the companions
 * @throws {IntakeError} unreadable, over a limit, or asking for what is not there.
 */
export async function readGltf(bytes: Uint8Array, decoders: GltfDecoders, files: Companions = new Map(), base = ''): Promise<ReadGltf> {
  const { format, json, bin } = openGltf(bytes);
  checkGltfLimits(json);
  const resources = new Map<string, Uint8Array>();
  const missing: string[] = [];
  (json.buffers ?? []).forEach((b, i) => {
    if (isStandIn(json, i)) return;
    if (b.uri === undefined && format === 'gltf')
      throw new IntakeError('gltf/buffer', `Buffer ${i} of the glTF names no file. Export it again.`);
    if (b.uri === undefined && !bin)
      throw new IntakeError('glb/chunk', 'The GLB has no binary chunk, but its first buffer needs it. Export it again.');
    const held = b.uri === undefined ? bin : b.uri.startsWith('data:') ? null : findCompanion(b.uri, base, files);
    if (b.uri !== undefined && !b.uri.startsWith('data:') && !held)
      throw new IntakeError(
        'file/missing-buffer',
        `The buffer ${b.uri.slice(0, 200)} did not come along: it holds the shapes. Bring it together with the glTF, or zip the folder.`,
      );
    if (held && held.byteLength < (b.byteLength ?? 0))
      throw new IntakeError(
        'gltf/buffer',
        `Buffer ${i} has ${held.byteLength} bytes, the glTF asks for ${b.byteLength}. Export or copy it again.`,
      );
    if (b.uri !== undefined && held) resources.set(b.uri, held);
  });
  for (const image of json.images ?? []) {
    if (image.uri === undefined || image.uri.startsWith('data:')) continue;
    const held = findCompanion(image.uri, base, files);
    if (held) resources.set(image.uri, held);
    else missing.push(image.uri);
  }
  const given: Record<string, Uint8Array<ArrayBuffer>> = {};
  for (const [uri, data] of resources) given[uri] = data as Uint8Array<ArrayBuffer>;
  for (const uri of missing) given[uri] = new Uint8Array(0);
  if (bin) given['@glb.bin'] = bin as Uint8Array<ArrayBuffer>;
  let document: Document;
  try {
    document = await createGltfIo(decoders).readJSON({ json: json as never, resources: given });
  } catch (error) {
    throw new IntakeError('gltf/unreadable', `The glTF could not be read: ${(error as Error).message.slice(0, 200)}`);
  }
  document
    .getRoot()
    .listTextures()
    .forEach((texture, i) => {
      if (missing.includes(texture.getURI()) || !texture.getImage()?.byteLength)
        standIn(texture, texture.getURI() || texture.getName() || `picture ${i}`, firstSlot(document, texture));
    });
  return { format, document, json, missing, resources };
}
