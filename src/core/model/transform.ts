/**
 * Size, turn and place of a whole model, worked into everything that has a length or a direction: vertices, nodes, bones,
 * clips, instances. A change of basis: for T = factor · turn every local transform L becomes T·L·T⁻¹, so the hierarchy keeps its
 * meaning and no wrapper node stays behind.
 */
import type { Document, ExtensionProperty, Mesh, Node, Primitive, PrimitiveTarget } from '@gltf-transform/core';
import { Matrix3, Matrix4, Quaternion, Vector3 } from 'three';
import { OncePerAccessor, readFloats, remapPrimitive, setTriangles, writeFloats } from './arrays';
import { readModel } from './model';
import { stillMeshNodes } from './still';

export interface Similarity {
  factor: number;
  turn: Quaternion;
  /** Added last, metres. */
  shiftM: readonly [number, number, number];
}

const _v = /* @__PURE__ */ new Vector3();
const _q = /* @__PURE__ */ new Quaternion();

const eachVector = (values: Float32Array, size: number, change: (v: Vector3) => Vector3) => {
  for (let i = 0; i + 2 < values.length; i += size) {
    change(_v.set(values[i], values[i + 1], values[i + 2]));
    values[i] = _v.x;
    values[i + 1] = _v.y;
    values[i + 2] = _v.z;
  }
};

/** Whether the turn only exchanges axes: such a turn can be worked in exactly, uneven node sizes included. */
export function isQuarterTurn(q: Quaternion): boolean {
  const e = new Matrix4().makeRotationFromQuaternion(q).elements;
  return [0, 1, 2, 4, 5, 6, 8, 9, 10].every((i) => Math.abs(e[i]) < 1e-9 || Math.abs(Math.abs(e[i]) - 1) < 1e-9);
}

/** The turn with its matrix rounded to whole numbers where it exchanges axes: no 1e-17 is left in any vertex. */
function turner(q: Quaternion): (v: Vector3) => Vector3 {
  if (q.w === 1) return (v) => v;
  if (!isQuarterTurn(q)) return (v) => v.applyQuaternion(q);
  const m = new Matrix3().setFromMatrix4(new Matrix4().makeRotationFromQuaternion(q));
  m.elements.forEach((x, i) => {
    m.elements[i] = Math.round(x) + 0;
  });
  return (v) => v.applyMatrix3(m);
}

/** Changes size, turn and place of everything in the document. A turn that is not by quarters is put on the root nodes. */
export function applyTransform(document: Document, { factor, turn, shiftM }: Similarity): void {
  const quarter = isQuarterTurn(turn);
  const inner = quarter ? turn : new Quaternion();
  if (factor !== 1 || inner.w !== 1) changeBasis(document, factor, inner);
  const roots = document
    .getRoot()
    .listNodes()
    .filter((n) => !n.getParentNode());
  if (!quarter) turnRoots(document, roots, turn);
  if (shiftM.some((x) => x !== 0)) shiftRoots(document, roots, shiftM);
}

function changeBasis(document: Document, factor: number, turn: Quaternion): void {
  const root = document.getRoot();
  const once = new OncePerAccessor();
  const rotate = turner(turn);
  const point = (v: Vector3) => rotate(v).multiplyScalar(factor);
  const turns = turn.w !== 1;
  for (const mesh of root.listMeshes())
    for (const p of mesh.listPrimitives())
      for (const owner of [p, ...p.listTargets()] as (Primitive | PrimitiveTarget)[]) {
        once.apply(owner.getAttribute('POSITION'), (v, size) => eachVector(v, size, point));
        if (!turns) continue;
        once.apply(owner.getAttribute('NORMAL'), (v, size) => eachVector(v, size, rotate));
        once.apply(owner.getAttribute('TANGENT'), (v, size) => eachVector(v, size, rotate));
      }
  const inverse = turn.clone().invert();
  const conjugate = (q: Quaternion) => q.premultiply(turn).multiply(inverse);
  // for a turn by quarters this only exchanges the three sizes
  const exchange = (v: Vector3) => {
    rotate(v);
    return v.set(Math.abs(v.x), Math.abs(v.y), Math.abs(v.z));
  };
  for (const n of root.listNodes()) {
    n.setTranslation(point(_v.fromArray(n.getTranslation())).toArray());
    if (turns) {
      n.setRotation(tidyQuaternion(conjugate(_q.fromArray(n.getRotation()))));
      n.setScale(signedExchange(n.getScale(), rotate));
      holdDirection(document, n, turn);
    }
    const instances = n.getExtension('EXT_mesh_gpu_instancing') as { getAttribute(name: string): never } | null;
    if (instances) {
      once.apply(instances.getAttribute('TRANSLATION'), (v, size) => eachVector(v, size, point));
      if (turns) {
        once.apply(instances.getAttribute('ROTATION'), (v) => eachQuaternion(v, conjugate));
        once.apply(instances.getAttribute('SCALE'), (v, size) => eachVector(v, size, exchange));
      }
    }
  }
  for (const skin of root.listSkins())
    once.apply(skin.getInverseBindMatrices(), (v) => {
      const t = new Matrix4().compose(new Vector3(), turn, new Vector3(factor, factor, factor));
      const back = t.clone().invert();
      for (let i = 0; i + 15 < v.length; i += 16) new Matrix4().fromArray(v, i).premultiply(t).multiply(back).toArray(v, i);
    });
  for (const animation of root.listAnimations())
    for (const channel of animation.listChannels()) {
      const output = channel.getSampler()?.getOutput() ?? null;
      const path = channel.getTargetPath();
      if (path === 'translation') once.apply(output, (v, size) => eachVector(v, size, point));
      if (path === 'rotation' && turns) once.apply(output, (v) => eachQuaternion(v, conjugate));
      if (path === 'scale' && turns) once.apply(output, (v, size) => eachVector(v, size, exchange));
    }
  for (const m of root.listMaterials()) {
    const volume = m.getExtension('KHR_materials_volume') as Volume | null;
    if (volume)
      volume.setThicknessFactor(volume.getThicknessFactor() * factor).setAttenuationDistance(volume.getAttenuationDistance() * factor);
  }
}

interface Volume extends ExtensionProperty {
  getThicknessFactor(): number;
  setThicknessFactor(x: number): Volume;
  getAttenuationDistance(): number;
  setAttenuationDistance(x: number): Volume;
}

const eachQuaternion = (values: Float32Array, change: (q: Quaternion) => Quaternion) => {
  for (let i = 0; i + 3 < values.length; i += 4) change(_q.fromArray(values, i)).toArray(values, i);
};

function tidyQuaternion(q: Quaternion): [number, number, number, number] {
  return q
    .normalize()
    .toArray()
    .map((x) => (Math.abs(x) < 1e-12 ? 0 : x)) as [number, number, number, number];
}

/** Sizes of a node after axes are exchanged; a negative size stays with its axis. */
function signedExchange(s: readonly number[], rotate: (v: Vector3) => Vector3): [number, number, number] {
  const out: [number, number, number] = [1, 1, 1];
  for (let k = 0; k < 3; k++) {
    const to = rotate(new Vector3(k === 0 ? 1 : 0, k === 1 ? 1 : 0, k === 2 ? 1 : 0)).toArray();
    out[to.map(Math.abs).indexOf(1)] = s[k];
  }
  return out;
}

/** Cameras and lights look along their own −Z: they move to a child that turns with the model. */
function holdDirection(document: Document, n: Node, turn: Quaternion): void {
  const light = n.getExtension('KHR_lights_punctual');
  if (!n.getCamera() && !light) return;
  const child = document.createNode(`${n.getName()} direction`).setCamera(n.getCamera()).setRotation(tidyQuaternion(turn.clone()));
  if (light) child.setExtension('KHR_lights_punctual', light);
  n.setCamera(null).setExtension('KHR_lights_punctual', null);
  n.addChild(child);
}

function turnRoots(document: Document, roots: readonly Node[], turn: Quaternion): void {
  for (const n of roots)
    n.setTranslation(_v.fromArray(n.getTranslation()).applyQuaternion(turn).toArray()).setRotation(
      _q.fromArray(n.getRotation()).premultiply(turn).toArray(),
    );
  const once = new OncePerAccessor();
  eachRootOutput(document, roots, (path, output) => {
    if (path === 'translation') once.apply(output, (v, size) => eachVector(v, size, (x) => x.applyQuaternion(turn)));
    if (path === 'rotation') once.apply(output, (v) => eachQuaternion(v, (q) => q.premultiply(turn)));
  });
}

function shiftRoots(document: Document, roots: readonly Node[], shift: readonly [number, number, number]): void {
  for (const n of roots) n.setTranslation(n.getTranslation().map((x, k) => x + shift[k]) as [number, number, number]);
  const once = new OncePerAccessor();
  eachRootOutput(document, roots, (path, output, cubic) => {
    if (path !== 'translation') return;
    once.apply(output, (v, size) => {
      for (let i = 0; i < v.length; i++) if (!cubic || Math.floor(i / size) % 3 === 1) v[i] += shift[i % size];
    });
  });
}

function eachRootOutput(
  document: Document,
  roots: readonly Node[],
  visit: (path: string, output: Parameters<OncePerAccessor['apply']>[0], cubic: boolean) => void,
): void {
  for (const animation of document.getRoot().listAnimations())
    for (const c of animation.listChannels()) {
      const node = c.getTargetNode();
      const sampler = c.getSampler();
      if (node && sampler && roots.includes(node))
        visit(c.getTargetPath() ?? '', sampler.getOutput(), sampler.getInterpolation() === 'CUBICSPLINE');
    }
}

/** Works turns and sizes of still mesh nodes into their shapes; each such node comes to the scene's root with its place only. */
export function applyNodes(document: Document): number {
  const model = readModel(document);
  const nodes = document.getRoot().listNodes();
  const scenes = document.getRoot().listScenes();
  const scene = document.getRoot().getDefaultScene() ?? scenes[0];
  let applied = 0;
  for (const i of stillMeshNodes(model)) {
    const node = nodes[i];
    const mesh = node.getMesh();
    const world = new Matrix4().fromArray(node.getWorldMatrix());
    const e = world.elements;
    const plain = [0, 1, 2].every((c) => [0, 1, 2].every((r) => Math.abs(e[c * 4 + r] - (c === r ? 1 : 0)) < 1e-7));
    if (!mesh || plain) continue;
    applied++;
    bake(document, mesh, world);
    const holder = document
      .createNode(node.getName())
      .setTranslation([e[12], e[13], e[14]])
      .setMesh(mesh)
      .setWeights(node.getWeights())
      .setExtras(node.getExtras());
    node.setMesh(null).setWeights([]);
    scene.addChild(holder);
    for (let empty: Node | null = node; empty && isIdle(document, empty); ) {
      const parent: Node | null = empty.getParentNode();
      empty.dispose();
      empty = parent;
    }
  }
  return applied;
}

const isIdle = (document: Document, n: Node): boolean =>
  n.listChildren().length === 0 &&
  !n.getMesh() &&
  !n.getCamera() &&
  n.listExtensions().length === 0 &&
  !document
    .getRoot()
    .listSkins()
    .some((s) => s.listJoints().includes(n) || s.getSkeleton() === n) &&
  !document
    .getRoot()
    .listAnimations()
    .some((a) => a.listChannels().some((c) => c.getTargetNode() === n));

/** Turns and sizes a mesh by the linear part of `m`; the place stays with the node. */
function bake(document: Document, mesh: Mesh, m: Matrix4): void {
  const linear = new Matrix3().setFromMatrix4(m);
  const normal = new Matrix3().getNormalMatrix(m);
  const flips = m.determinant() < 0;
  const direct = (v: Vector3) => v.applyMatrix3(linear);
  const shade = (v: Vector3) => v.applyMatrix3(normal);
  for (const p of mesh.listPrimitives()) {
    if (flips) flipTriangles(document, p);
    // shared with another mesh, the arrays must not change under it
    for (const owner of [p, ...p.listTargets()] as (Primitive | PrimitiveTarget)[]) {
      const base = owner === p;
      for (const name of ['POSITION', 'NORMAL', 'TANGENT']) {
        const a = owner.getAttribute(name);
        if (!a) continue;
        const copy = a.clone();
        const values = readFloats(a);
        const size = a.getElementSize();
        if (name === 'POSITION') eachVector(values, size, direct);
        else if (name === 'NORMAL') eachVector(values, size, (v) => (base && v.lengthSq() > 0 ? shade(v).normalize() : shade(v)));
        else {
          eachVector(values, size, (v) => (base && v.lengthSq() > 0 ? direct(v).normalize() : direct(v)));
          if (flips && size === 4) for (let i = 3; i < values.length; i += 4) values[i] = -values[i];
        }
        owner.setAttribute(name, writeFloats(copy, values));
      }
    }
  }
}

/** Turns every triangle of a primitive to face the other way. */
export function flipTriangles(document: Document, p: Primitive): void {
  const vertices = p.getAttribute('POSITION')?.getCount() ?? 0;
  const index = p.getIndices()?.getArray();
  if (p.getMode() !== 4) return;
  const list: number[] = index ? Array.from(index as ArrayLike<number>) : Array.from({ length: vertices }, (_, i) => i);
  for (let t = 0; t + 2 < list.length; t += 3) [list[t + 1], list[t + 2]] = [list[t + 2], list[t + 1]];
  if (index) setTriangles(document, p, list, vertices);
  else
    remapPrimitive(
      document,
      p,
      Uint32Array.from({ length: vertices }, (_, i) => i),
      list,
    );
}
