/** A model as plain data: what evaluation needs of a glTF. Metres; arrays are views of the file's own numbers, decoded. */
import type { Accessor, Document, Material, Node, Primitive } from '@gltf-transform/core';
import { Matrix4, Quaternion, Vector3 } from 'three';
import { type ModelMaterial, readMaterial } from './material';
import { type ModelVariant, readVariants } from './variants';

export interface ModelPrimitive {
  positions: Float32Array;
  /** Triangle list; strips and fans expanded. Empty for points and lines. */
  triangles: Uint32Array;
  /** Distinct vertices that are drawn, in order. */
  drawn: Uint32Array;
  /** Four influences a vertex, more are folded in by `influences`. */
  joints: Uint16Array | null;
  weights: Float32Array | null;
  influences: number;
  morphPositions: Float32Array[];
  /** First UV set, u and v a vertex; null without one. */
  uvs: Float32Array | null;
  /** Alpha of the material where it blends, else 1. */
  alpha: number;
  /** Which of the model's; −1: none. */
  material: number;
}
export interface ModelMesh {
  name: string;
  primitives: ModelPrimitive[];
}
type Point = [number, number, number];

export interface ModelNode {
  name: string;
  parent: number;
  children: number[];
  translation: [number, number, number];
  /** x, y, z, w. */
  rotation: [number, number, number, number];
  scale: [number, number, number];
  mesh: number;
  skin: number;
  morphWeights: number[];
  /** Where a last bone ends, metres from its own place (`extras.tailM`); null where nothing says. */
  tailM: [number, number, number] | null;
  /** Of a joint that was found: how sure it is, 0 … 1 (`extras.sure`); null where nothing says. */
  sure: number | null;
  /** What was said by hand of a joint: the humanoid bone it is, '' none of a figure's (`extras.humanoid`); null where nothing was. */
  humanoid: string | null;
  /** Of a chain's first joint: the name the chain was found under, and which of its joints this is (`extras.chain`). */
  chain: { found: string; joint: number } | null;
  /** Of a chain's first joint: how far its line strays from 1, 2, 3 … straight bones, mm (`extras.strayMm`). */
  strayMm: number[] | null;
  /** Of a figure's hips: ends that belong to none of its limbs, metres of the model (`extras.ends`). */
  ends: { rootM: Point; tipM: Point }[];
  /** Instances (EXT_mesh_gpu_instancing), each a column-major matrix in node space; null for one. */
  instances: Float32Array | null;
}
export interface ModelSkin {
  joints: number[];
  /** Column-major, one a joint. */
  inverseBind: Float32Array;
}
export interface ModelChannel {
  node: number;
  path: 'translation' | 'rotation' | 'scale' | 'weights';
  interpolation: 'LINEAR' | 'STEP' | 'CUBICSPLINE';
  times: Float32Array;
  values: Float32Array;
  size: number;
}
export interface ModelClip {
  name: string;
  seconds: number;
  /** false: it stays at its end (`extras.loop` of the clip says so). */
  loop: boolean;
  channels: ModelChannel[];
}
export interface Model {
  /** In the order of the file, so that a node's number is the same for every reader. */
  nodes: ModelNode[];
  meshes: ModelMesh[];
  materials: ModelMaterial[];
  /** Colourways of the file (KHR_materials_variants): which material stands in for which, by name. */
  variants: ModelVariant[];
  skins: ModelSkin[];
  clips: ModelClip[];
  /** Nodes the default scene draws, roots first. */
  sceneRoots: number[];
}

const floats = (a: Accessor): Float32Array => {
  const array = a.getArray();
  if (array instanceof Float32Array && !a.getNormalized()) return array;
  const n = a.getCount();
  const size = a.getElementSize();
  const out = new Float32Array(n * size);
  const row: number[] = [];
  for (let i = 0; i < n; i++) out.set(a.getElement(i, row), i * size);
  return out;
};

function triangleList(prim: Primitive, count: number): Uint32Array {
  const source = prim.getIndices()?.getArray() ?? Uint32Array.from({ length: count }, (_, i) => i);
  const mode = prim.getMode();
  if (mode === 4) return new Uint32Array(source).subarray(0, source.length - (source.length % 3));
  if ((mode !== 5 && mode !== 6) || source.length < 3) return new Uint32Array();
  const out = new Uint32Array((source.length - 2) * 3);
  for (let i = 0; i + 2 < source.length; i++) {
    const first = mode === 6 ? source[0] : source[i];
    // every second triangle of a strip is turned round to keep its winding
    const odd = mode === 5 && i % 2 === 1;
    out.set([first, odd ? source[i + 2] : source[i + 1], odd ? source[i + 1] : source[i + 2]], i * 3);
  }
  return out;
}

function drawnVertices(prim: Primitive, count: number): Uint32Array {
  const indices = prim.getIndices()?.getArray();
  if (!indices) return Uint32Array.from({ length: count }, (_, i) => i);
  const used = new Uint8Array(count);
  for (const i of indices) if (i < count) used[i] = 1;
  const out = new Uint32Array(count);
  let n = 0;
  for (let i = 0; i < count; i++) if (used[i]) out[n++] = i;
  return out.slice(0, n);
}

/** Without triangles that name a vertex that is not there. */
function wholeTriangles(list: Uint32Array, count: number): Uint32Array {
  if (list.every((i) => i < count)) return list;
  const out: number[] = [];
  for (let t = 0; t + 2 < list.length; t += 3)
    if (list[t] < count && list[t + 1] < count && list[t + 2] < count) out.push(list[t], list[t + 1], list[t + 2]);
  return Uint32Array.from(out);
}

const uvsOf = (prim: Primitive): Float32Array | null => {
  const a = prim.getAttribute('TEXCOORD_0');
  return a ? floats(a) : null;
};

/** The plain data of one primitive; null without positions. */
export function readPrimitive(prim: Primitive, materials: readonly Material[] = []): ModelPrimitive | null {
  const position = prim.getAttribute('POSITION');
  if (!position) return null;
  const positions = floats(position);
  const count = position.getCount();
  const sets: [Accessor, Accessor][] = [];
  for (let s = 0; ; s++) {
    const j = prim.getAttribute(`JOINTS_${s}`);
    const w = prim.getAttribute(`WEIGHTS_${s}`);
    if (!j || !w) break;
    sets.push([j, w]);
  }
  const influences = sets.length * 4;
  const joints = influences ? new Uint16Array(count * influences) : null;
  const weights = influences ? new Float32Array(count * influences) : null;
  sets.forEach(([ja, wa], s) => {
    const j = ja.getArray();
    const w = floats(wa);
    if (!j || !joints || !weights) return;
    for (let v = 0; v < count; v++)
      for (let k = 0; k < 4; k++) {
        joints[v * influences + s * 4 + k] = j[v * 4 + k];
        weights[v * influences + s * 4 + k] = w[v * 4 + k];
      }
  });
  const material = prim.getMaterial();
  const triangles = triangleList(prim, count);
  let drawn: Uint32Array | null = null;
  return {
    positions,
    triangles: wholeTriangles(triangles, count),
    // few ask for it, and of a million vertices it takes a while
    get drawn() {
      drawn ??= drawnVertices(prim, count);
      return drawn;
    },
    joints,
    weights,
    influences,
    uvs: uvsOf(prim),
    morphPositions: prim.listTargets().flatMap((t) => {
      const p = t.getAttribute('POSITION');
      return p ? [floats(p)] : [];
    }),
    alpha: material?.getAlphaMode() === 'BLEND' ? material.getBaseColorFactor()[3] : 1,
    material: material ? materials.indexOf(material) : -1,
  };
}

interface InstancedMesh {
  getAttribute(name: string): Accessor | null;
}

const _t = /* @__PURE__ */ new Vector3();
const _r = /* @__PURE__ */ new Quaternion();
const _s = /* @__PURE__ */ new Vector3();
const _m = /* @__PURE__ */ new Matrix4();

/** Rows of TRS as column-major matrices. */
function readInstances(node: Node): Float32Array | null {
  const ext = node.getExtension('EXT_mesh_gpu_instancing') as InstancedMesh | null;
  if (!ext) return null;
  const t = ext.getAttribute('TRANSLATION');
  const r = ext.getAttribute('ROTATION');
  const s = ext.getAttribute('SCALE');
  const count = (t ?? r ?? s)?.getCount() ?? 0;
  const out = new Float32Array(count * 16);
  for (let i = 0; i < count; i++) {
    _t.fromArray(t?.getElement(i, []) ?? [0, 0, 0]);
    _r.fromArray(r?.getElement(i, []) ?? [0, 0, 0, 1]);
    _s.fromArray(s?.getElement(i, []) ?? [1, 1, 1]);
    _m.compose(_t, _r, _s).toArray(out, i * 16);
  }
  return out;
}

const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

function readTail(n: Node): Point | null {
  const { tailM } = n.getExtras() as { tailM?: unknown };
  return isPoint(tailM) ? tailM : null;
}

function readSure(n: Node): number | null {
  const { sure } = n.getExtras() as { sure?: unknown };
  return typeof sure === 'number' && sure >= 0 && sure <= 1 ? sure : null;
}

function readHumanoid(n: Node): string | null {
  const { humanoid } = n.getExtras() as { humanoid?: unknown };
  return typeof humanoid === 'string' ? humanoid : null;
}

function readChain(n: Node): ModelNode['chain'] {
  const { chain } = n.getExtras() as { chain?: { found?: unknown; joint?: unknown } };
  const { found, joint } = chain ?? {};
  return typeof found === 'string' && typeof joint === 'number' && Number.isInteger(joint) && joint >= 0 ? { found, joint } : null;
}

function readStray(n: Node): number[] | null {
  const { strayMm } = n.getExtras() as { strayMm?: unknown };
  return Array.isArray(strayMm) && strayMm.length > 0 && strayMm.every((x) => typeof x === 'number' && x >= 0) ? strayMm : null;
}

const isPoint = (p: unknown): p is Point => Array.isArray(p) && p.length === 3 && p.every(Number.isFinite);

function readEnds(n: Node): ModelNode['ends'] {
  const { ends } = n.getExtras() as { ends?: unknown };
  if (!Array.isArray(ends)) return [];
  return ends.flatMap((e: Partial<Record<'rootM' | 'tipM', unknown>> | null) =>
    isPoint(e?.rootM) && isPoint(e?.tipM) ? [{ rootM: e.rootM, tipM: e.tipM }] : [],
  );
}

/** The plain data of a Document. The document is not changed; large arrays may be shared with it. */
export function readModel(document: Document): Model {
  const root = document.getRoot();
  const nodes = root.listNodes();
  const materials = root.listMaterials();
  const nodeIndex = new Map(nodes.map((n, i) => [n, i]));
  const meshIndex = new Map(root.listMeshes().map((m, i) => [m, i]));
  const skinIndex = new Map(root.listSkins().map((s, i) => [s, i]));
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const at = (n: Node | null | undefined) => (n ? (nodeIndex.get(n) ?? -1) : -1);
  return {
    nodes: nodes.map((n) => ({
      name: n.getName(),
      parent: at(n.getParentNode()),
      children: n.listChildren().map(at),
      translation: n.getTranslation(),
      rotation: n.getRotation(),
      scale: n.getScale(),
      mesh: meshIndex.get(n.getMesh() as never) ?? -1,
      skin: skinIndex.get(n.getSkin() as never) ?? -1,
      morphWeights: n.getWeights().length ? n.getWeights() : (n.getMesh()?.getWeights() ?? []),
      tailM: readTail(n),
      sure: readSure(n),
      humanoid: readHumanoid(n),
      chain: readChain(n),
      strayMm: readStray(n),
      ends: readEnds(n),
      instances: readInstances(n),
    })),
    meshes: root
      .listMeshes()
      .map((m) => ({ name: m.getName(), primitives: m.listPrimitives().flatMap((p) => readPrimitive(p, materials) ?? []) })),
    materials: materials.map(readMaterial),
    variants: readVariants(document),
    skins: root.listSkins().map((s) => {
      const joints = s.listJoints().map(at);
      const given = s.getInverseBindMatrices();
      const inverseBind = given ? floats(given) : new Float32Array(joints.length * 16);
      if (!given) for (let i = 0; i < joints.length; i++) inverseBind.set(IDENTITY, i * 16);
      return { joints, inverseBind };
    }),
    clips: root.listAnimations().map((a) => {
      const channels = a.listChannels().flatMap((c): ModelChannel[] => {
        const sampler = c.getSampler();
        const input = sampler?.getInput();
        const output = sampler?.getOutput();
        const path = c.getTargetPath();
        if (!sampler || !input || !output || !path || !c.getTargetNode()) return [];
        const times = floats(input);
        const values = floats(output);
        const interpolation = sampler.getInterpolation();
        const rows = times.length * (interpolation === 'CUBICSPLINE' ? 3 : 1);
        if (times.length === 0 || values.length % rows !== 0) return [];
        return [{ node: at(c.getTargetNode()), path, interpolation, times, values, size: values.length / rows }];
      });
      return {
        loop: a.getExtras().loop !== false,
        name: a.getName(),
        seconds: channels.reduce((s, c) => Math.max(s, c.times[c.times.length - 1]), 0),
        channels,
      };
    }),
    sceneRoots: scene ? scene.listChildren().map(at) : [],
  };
}
