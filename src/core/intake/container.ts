/** From bytes to glTF JSON and its resources, with every limit checked before anything is allocated. */
import { IntakeError } from './errors';
import { INTAKE_LIMITS } from './limits';

type Json = Record<string, unknown>;
interface GltfSparse {
  count: number;
  indices: { bufferView: number; byteOffset?: number; componentType: number };
  values: { bufferView: number; byteOffset?: number };
}
export interface GltfJson {
  asset?: { version?: string };
  scene?: number;
  scenes?: { nodes?: number[] }[];
  nodes?: { children?: number[]; [k: string]: unknown }[];
  buffers?: { uri?: string; byteLength?: number; extensions?: Json }[];
  bufferViews?: { buffer: number; byteOffset?: number; byteLength: number; byteStride?: number; extensions?: Json }[];
  accessors?: { bufferView?: number; byteOffset?: number; componentType: number; count: number; type: string; sparse?: GltfSparse }[];
  images?: { uri?: string; name?: string; bufferView?: number; mimeType?: string }[];
  meshes?: { primitives?: { targets?: unknown[] }[] }[];
  animations?: { channels?: unknown[] }[];
  materials?: unknown[];
  textures?: unknown[];
  skins?: { joints?: unknown[] }[];
  extensionsUsed?: string[];
  extensionsRequired?: string[];
  [k: string]: unknown;
}

export interface GltfSource {
  format: 'glb' | 'gltf';
  json: GltfJson;
  /** The GLB's own chunk. */
  bin: Uint8Array | null;
}

const MAGIC = 0x46546c67;
const CHUNK_JSON = 0x4e4f534a;
const CHUNK_BIN = 0x004e4942;

/**
 * Splits a GLB or reads a .gltf. (glTF 2.0, section 4.4: binary container.)
 * @throws {IntakeError} with what was wrong and where.
 */
export function openGltf(bytes: Uint8Array): GltfSource {
  if (bytes.byteLength > INTAKE_LIMITS.fileBytes)
    throw new IntakeError('file/too-large', `The file has ${bytes.byteLength} bytes; up to ${INTAKE_LIMITS.fileBytes} are read.`);
  if (bytes.byteLength === 0) throw new IntakeError('file/empty', 'The file is empty: 0 bytes. Export it again.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.byteLength >= 4 && view.getUint32(0, true) === MAGIC) return openGlb(bytes, view);
  return { format: 'gltf', json: parseJson(bytes, 'The file'), bin: null };
}

function openGlb(bytes: Uint8Array, view: DataView): GltfSource {
  if (bytes.byteLength < 20)
    throw new IntakeError('glb/truncated', `The GLB stops after ${bytes.byteLength} bytes, inside its header. Export or copy it again.`);
  const version = view.getUint32(4, true);
  if (version !== 2)
    throw new IntakeError('gltf/version', `This is a GLB of version ${version}; version 2 is read. Export it as glTF 2.0.`);
  const length = view.getUint32(8, true);
  if (length > bytes.byteLength)
    throw new IntakeError(
      'glb/truncated',
      `The GLB says it has ${length} bytes, ${length - bytes.byteLength} of them are missing at its end. Export or copy it again.`,
    );
  let json: GltfJson | null = null;
  let bin: Uint8Array | null = null;
  for (let at = 12, n = 0; at + 8 <= length; n++) {
    const chunkLength = view.getUint32(at, true);
    const type = view.getUint32(at + 4, true);
    if (at + 8 + chunkLength > length)
      throw new IntakeError('glb/chunk', `Chunk ${n} of the GLB, at byte ${at}, is longer than the file. Export it again.`);
    const chunk = bytes.subarray(at + 8, at + 8 + chunkLength);
    if (n === 0 && type !== CHUNK_JSON) throw new IntakeError('glb/chunk', 'The first chunk of the GLB is not its JSON. Export it again.');
    if (n === 0) json = parseJson(chunk, 'The JSON chunk of the GLB');
    if (type === CHUNK_BIN && !bin) bin = chunk;
    at += 8 + Math.ceil(chunkLength / 4) * 4;
  }
  if (!json) throw new IntakeError('glb/chunk', 'The GLB has no JSON chunk. Export it again.');
  return { format: 'glb', json, bin };
}

function parseJson(bytes: Uint8Array, what: string): GltfJson {
  if (bytes.byteLength > INTAKE_LIMITS.jsonBytes)
    throw new IntakeError('gltf/json', `${what} is ${bytes.byteLength} bytes of JSON; up to ${INTAKE_LIMITS.jsonBytes} are read.`);
  if (countMarks(bytes) > INTAKE_LIMITS.jsonMarks)
    throw new IntakeError('gltf/json', `${what} holds more than ${INTAKE_LIMITS.jsonMarks} entries. Split it where the model was made.`);
  let json: unknown;
  try {
    json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch (error) {
    throw new IntakeError('gltf/json', `${what} is not JSON: ${(error as Error).message.slice(0, 160)}. Is it a glTF?`);
  }
  if (typeof json !== 'object' || json === null || Array.isArray(json))
    throw new IntakeError('gltf/json', `${what} is JSON, but not a glTF.`);
  const asset = (json as GltfJson).asset;
  if (typeof asset !== 'object' || asset === null) throw new IntakeError('gltf/json', `${what} is JSON without "asset": not a glTF.`);
  if (!/^2\.\d+$/.test(String(asset.version)))
    throw new IntakeError('gltf/version', `This is glTF ${String(asset.version).slice(0, 12)}; version 2 is read. Export it as glTF 2.0.`);
  return json as GltfJson;
}

/** Braces, brackets and commas: what makes JSON large in memory. Text of embedded files has none. */
function countMarks(bytes: Uint8Array): number {
  let n = 0;
  for (const b of bytes) if (b === 0x2c || b === 0x5b || b === 0x7b) n++;
  return n;
}

const isCount = (x: unknown) => Number.isInteger(x) && (x as number) >= 0;
const COMPONENT_BYTES: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const TYPE_SIZE: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };

/**
 * Counts, loops, depth and accessor ranges, iteratively (a deep chain must not reach a recursive parser).
 * @throws {IntakeError} over a limit, a loop, or an accessor past its buffer.
 */
export function checkGltfLimits(json: GltfJson): void {
  checkShape(json);
  const nodes = json.nodes ?? [];
  if (nodes.length > INTAKE_LIMITS.nodes)
    throw new IntakeError('gltf/too-many', `The file has ${nodes.length} nodes; up to ${INTAKE_LIMITS.nodes} are read.`);
  checkNodeTree(nodes);
  const accessors = json.accessors ?? [];
  if (accessors.length > INTAKE_LIMITS.accessors)
    throw new IntakeError('gltf/too-many', `The file has ${accessors.length} accessors; up to ${INTAKE_LIMITS.accessors} are read.`);
  checkMany(json);
  checkPacked(json);
  let elements = 0;
  let unbacked = 0;
  accessors.forEach((a, i) => {
    const size = (COMPONENT_BYTES[a?.componentType] ?? 0) * (TYPE_SIZE[a?.type] ?? 0);
    if (!size || !isCount(a.count) || !isCount(a.byteOffset ?? 0))
      throw new IntakeError('gltf/accessor', `Accessor ${i} has no valid type, component type, offset or count. Export the file again.`);
    elements += a.count * TYPE_SIZE[a.type];
    if (elements > INTAKE_LIMITS.elements)
      throw new IntakeError('gltf/too-many', `The accessors up to number ${i} ask for more than ${INTAKE_LIMITS.elements} numbers.`);
    if (a.bufferView === undefined) unbacked += a.count * TYPE_SIZE[a.type];
    if (unbacked > INTAKE_LIMITS.unbackedElements)
      throw new IntakeError(
        'gltf/too-many',
        `The accessors up to number ${i} ask for more than ${INTAKE_LIMITS.unbackedElements} numbers that are nowhere in the file.`,
      );
    if (a.sparse !== undefined) checkSparse(json, a, i, size);
    if (a.bufferView === undefined) return;
    const v = json.bufferViews?.[a.bufferView];
    if (!v)
      throw new IntakeError('gltf/accessor', `Accessor ${i} reads buffer view ${a.bufferView}, which is not there. Export the file again.`);
    const reach = a.count === 0 ? 0 : (a.byteOffset ?? 0) + (v.byteStride ?? size) * (a.count - 1) + size;
    if (reach > v.byteLength)
      throw new IntakeError(
        'gltf/accessor',
        `Accessor ${i} reads ${reach} bytes of buffer view ${a.bufferView}, which has ${v.byteLength}. Export the file again.`,
      );
  });
}

/** What a sparse accessor replaces lies in views that hold it (glTF 2.0, section 3.6.2.3). */
function checkSparse(json: GltfJson, a: NonNullable<GltfJson['accessors']>[number], i: number, elementBytes: number): void {
  const wrong = (what: string) => new IntakeError('gltf/accessor', `The sparse values of accessor ${i} ${what}. Export the file again.`);
  const { count, indices, values } = (a.sparse ?? {}) as GltfSparse;
  if (!Number.isInteger(count) || count < 1 || count > a.count) throw wrong(`are ${String(count).slice(0, 20)}, of ${a.count}`);
  for (const [part, size] of [
    [indices, COMPONENT_BYTES[indices?.componentType] ?? 0],
    [values, elementBytes],
  ] as const) {
    const v = json.bufferViews?.[part?.bufferView];
    if (!v || !size || (part.byteOffset ?? 0) + count * size > v.byteLength) throw wrong('do not lie in their buffer views');
  }
}

const count = (lists: unknown[]) => lists.reduce<number>((n, l) => n + (Array.isArray(l) ? l.length : 0), 0);
/** What is slow in numbers that no wearable has: how many there are, how many are read, and what is said. */
const MANY: readonly [(json: GltfJson) => number, number, (n: number) => string][] = [
  [
    (j) => count((j.meshes ?? []).map((m) => m.primitives)),
    INTAKE_LIMITS.primitives,
    (n) => `The meshes have ${n} primitives; up to ${INTAKE_LIMITS.primitives} are read. Join what wears one material.`,
  ],
  [
    (j) => count((j.meshes ?? []).flatMap((m) => (Array.isArray(m.primitives) ? m.primitives.map((p) => p?.targets) : []))),
    INTAKE_LIMITS.targets,
    (n) => `The meshes have ${n} morph targets; up to ${INTAKE_LIMITS.targets} are read.`,
  ],
  [
    (j) => count((j.animations ?? []).map((m) => m.channels)),
    INTAKE_LIMITS.channels,
    (n) => `The animations have ${n} channels; up to ${INTAKE_LIMITS.channels} are read.`,
  ],
  [(j) => count([j.animations]), INTAKE_LIMITS.clips, (n) => `The file has ${n} animations; up to ${INTAKE_LIMITS.clips} are read.`],
  [
    (j) => count([j.materials]),
    INTAKE_LIMITS.materials,
    (n) => `The file has ${n} materials; up to ${INTAKE_LIMITS.materials} are read. Join those that are alike.`,
  ],
  [(j) => count([j.textures]), INTAKE_LIMITS.textures, (n) => `The file has ${n} textures; up to ${INTAKE_LIMITS.textures} are read.`],
  [
    (j) => count((j.skins ?? []).map((s) => s.joints)),
    INTAKE_LIMITS.joints,
    (n) => `The skins have ${n} joints; up to ${INTAKE_LIMITS.joints} are read.`,
  ],
];

function checkMany(json: GltfJson): void {
  for (const [of, most, words] of MANY) if (of(json) > most) throw new IntakeError('gltf/too-many', words(of(json)));
}

/** Views that are packed ask for memory by what they say they unpack to (EXT_meshopt_compression). */
function checkPacked(json: GltfJson): void {
  for (const [i, v] of (json.bufferViews ?? []).entries())
    for (const e of Object.values(v.extensions ?? {})) {
      const packed = e as { count?: unknown; byteStride?: unknown; byteLength?: unknown };
      if (packed?.count === undefined) continue;
      const asks = Number(packed.count) * Number(packed.byteStride);
      if (!(asks <= Number(packed.byteLength) * INTAKE_LIMITS.meshoptRatio))
        throw new IntakeError(
          'gltf/view',
          `Buffer view ${i} says that its ${Number(packed.byteLength)} bytes unpack to ${asks}. Export the file again.`,
        );
    }
}

const LISTS = [
  'nodes',
  'scenes',
  'meshes',
  'accessors',
  'bufferViews',
  'buffers',
  'images',
  'textures',
  'materials',
  'skins',
  'animations',
  'samplers',
  'cameras',
];

/** A list that is not a list of objects would crash readers far from the cause. */
function checkShape(json: GltfJson): void {
  for (const key of LISTS) {
    const list = json[key];
    if (list === undefined) continue;
    if (!Array.isArray(list)) throw new IntakeError('gltf/json', `"${key}" is not a list. Export the file again.`);
    const at = list.findIndex((x) => typeof x !== 'object' || x === null || Array.isArray(x));
    if (at >= 0) throw new IntakeError('gltf/json', `"${key}" ${at} is not an object. Export the file again.`);
  }
}

function checkNodeTree(nodes: NonNullable<GltfJson['nodes']>): void {
  const parent = new Int32Array(nodes.length).fill(-1);
  nodes.forEach((n, i) => {
    if (n.children !== undefined && !Array.isArray(n.children))
      throw new IntakeError('gltf/node', `The children of node ${i} are not a list. Export the file again.`);
    for (const c of n.children ?? []) {
      if (!Number.isInteger(c) || c < 0 || c >= nodes.length)
        throw new IntakeError('gltf/node', `Node ${i} has child ${c}, which is not there. Export the file again.`);
      if (parent[c] >= 0 || c === i)
        throw new IntakeError(
          'gltf/loop',
          `Node ${c} has two parents (${parent[c] >= 0 ? parent[c] : i} and ${i}). Nodes must form a tree; export the file again.`,
        );
      parent[c] = i;
    }
  });
  const depth = new Int32Array(nodes.length);
  for (let i = 0; i < nodes.length; i++) {
    const path: number[] = [];
    let at = i;
    while (at >= 0 && depth[at] === 0) {
      depth[at] = -1;
      path.push(at);
      at = parent[at];
      if (at >= 0 && depth[at] === -1)
        throw new IntakeError('gltf/loop', `Node ${at} is its own ancestor. Nodes must form a tree; export the file again.`);
    }
    let d = at < 0 ? 0 : depth[at];
    for (const n of path.reverse()) depth[n] = ++d;
    if (d > INTAKE_LIMITS.nodeDepth)
      throw new IntakeError(
        'gltf/too-deep',
        `The nodes are nested more than ${INTAKE_LIMITS.nodeDepth} deep. Flatten the hierarchy where the model was made.`,
      );
  }
}
