/** A model as it is seen: triangles in world space and what they wear. What every measure and view is made from. */
import type { Accessor, Document, Material, Primitive, Texture, TextureInfo } from '@gltf-transform/core';
import type { Transform } from '@gltf-transform/extensions';
import { Matrix3, Matrix4, Vector3 } from 'three';
import { placedPrimitives } from '../../intake/check/context';
import { type Model, readModel } from '../../model/model';
import { type LocalPose, nodeMatrices, type PosedPrimitive, posedPrimitives, restPose } from '../../model/pose';
import { posesToSee } from './poses';

/** What one material looks like; textures by their number in the document, −1 for none. */
export interface Wear {
  /** Linear. */
  base: [number, number, number, number];
  baseTexture: number;
  normalTexture: number;
  normalScale: number;
  /** Green roughness, blue metal. */
  roughMetalTexture: number;
  rough: number;
  metal: number;
  occlusionTexture: number;
  occlusion: number;
  emissive: [number, number, number];
  emissiveTexture: number;
  alpha: 'opaque' | 'mask' | 'blend';
  cutoff: number;
  doubleSided: boolean;
  unlit: boolean;
  /** Light goes through it (transmission): drawn as solid, it hides nothing. */
  clear: boolean;
}

export interface Shape {
  /** World metres, three a vertex. */
  positions: Float32Array;
  /** Unit, three a vertex; zero where the file has none. */
  normals: Float32Array;
  /** Two a vertex, with the base colour's texture transform applied. */
  uvs: Float32Array;
  /** Linear RGB, three a vertex; null where no shape has vertex colours. */
  colors: Float32Array | null;
  triangles: Uint32Array;
  /** Triangle → number in `wears`. */
  wear: Uint16Array;
  wears: Wear[];
  /** Where its vertices are in poses of its clips, targets and joints; empty where nothing bends. */
  poses: Pose[];
}
export interface Pose {
  /** The same of a model before and after it was prepared. */
  name: string;
  positions: Float32Array;
}
const PLAIN: Wear = {
  base: [1, 1, 1, 1],
  baseTexture: -1,
  normalTexture: -1,
  normalScale: 1,
  roughMetalTexture: -1,
  rough: 1,
  metal: 1,
  occlusionTexture: -1,
  occlusion: 1,
  emissive: [0, 0, 0],
  emissiveTexture: -1,
  alpha: 'opaque',
  cutoff: 0.5,
  doubleSided: false,
  unlit: false,
  clear: false,
};

function wearOf(m: Material | null, textures: readonly Texture[]): Wear {
  if (!m) return { ...PLAIN };
  const at = (t: Texture | null) => (t ? textures.indexOf(t) : -1);
  const mode = m.getAlphaMode();
  return {
    base: m.getBaseColorFactor() as Wear['base'],
    baseTexture: at(m.getBaseColorTexture()),
    normalTexture: at(m.getNormalTexture()),
    normalScale: m.getNormalScale(),
    roughMetalTexture: at(m.getMetallicRoughnessTexture()),
    rough: m.getRoughnessFactor(),
    metal: m.getMetallicFactor(),
    occlusionTexture: at(m.getOcclusionTexture()),
    occlusion: m.getOcclusionStrength(),
    emissive: m.getEmissiveFactor() as Wear['emissive'],
    emissiveTexture: at(m.getEmissiveTexture()),
    alpha: mode === 'MASK' ? 'mask' : mode === 'BLEND' ? 'blend' : 'opaque',
    cutoff: m.getAlphaCutoff(),
    doubleSided: m.getDoubleSided(),
    unlit: m.getExtension('KHR_materials_unlit') !== null,
    clear: m.getExtension('KHR_materials_transmission') !== null,
  };
}

function uvChange(info: TextureInfo | null): (u: number, v: number) => [number, number] {
  const t = info?.getExtension<Transform>('KHR_texture_transform');
  if (!t) return (u, v) => [u, v];
  const [ox, oy] = t.getOffset();
  const [sx, sy] = t.getScale();
  const [c, s] = [Math.cos(t.getRotation()), Math.sin(t.getRotation())];
  return (u, v) => [c * sx * u + s * sy * v + ox, -s * sx * u + c * sy * v + oy];
}

/** Which UV set the pictures of a primitive lie on. */
function uvSource(p: Primitive): { uv: Accessor | null; change: ReturnType<typeof uvChange> } {
  const m = p.getMaterial();
  const info = m?.getBaseColorTexture() ? m.getBaseColorTextureInfo() : m?.getNormalTexture() ? m.getNormalTextureInfo() : null;
  return { uv: p.getAttribute(`TEXCOORD_${info?.getTexCoord() ?? 0}`) ?? p.getAttribute('TEXCOORD_0'), change: uvChange(info) };
}

/** What the scene draws of triangles, in a pose. */
const solids = (model: Model, pose: LocalPose): PosedPrimitive[] =>
  posedPrimitives(model, pose).filter((p) => model.meshes[p.mesh].primitives[p.primitive].triangles.length > 0);

/** Places in every pose that is looked at, where anything bends: what only moves as a whole has the error it has at rest. */
function posesOf(model: Model, drawn: readonly PosedPrimitive[], vertices: number): Pose[] {
  const bends = ({ node, mesh, primitive }: PosedPrimitive) =>
    model.nodes[node].skin >= 0 || model.meshes[mesh].primitives[primitive].morphPositions.length > 0;
  if (!drawn.some(bends)) return [];
  return posesToSee(model).map(({ name, pose }) => {
    const positions = new Float32Array(vertices * 3);
    let at = 0;
    for (const p of solids(model, pose)) {
      positions.set(p.positions, at);
      at += p.positions.length;
    }
    return { name, positions };
  });
}

/** Everything the default scene draws of triangles, at rest and in poses. Points and lines have no surface and are left out. */
export function readShape(document: Document): Shape {
  const model = readModel(document);
  const raw = placedPrimitives(document);
  const textures = document.getRoot().listTextures();
  const materials: (Material | null)[] = [];
  const rest = restPose(model);
  const world = nodeMatrices(model, rest);
  const drawn = solids(model, rest);
  let [vertices, corners] = [0, 0];
  for (const p of drawn) {
    vertices += p.positions.length / 3;
    corners += model.meshes[p.mesh].primitives[p.primitive].triangles.length * p.instances;
  }
  const shape: Shape = {
    positions: new Float32Array(vertices * 3),
    normals: new Float32Array(vertices * 3),
    uvs: new Float32Array(vertices * 2),
    colors: drawn.some((p) => raw[p.mesh][p.primitive].getAttribute('COLOR_0')) ? new Float32Array(vertices * 3).fill(1) : null,
    triangles: new Uint32Array(corners),
    wear: new Uint16Array(corners / 3),
    wears: [],
    poses: posesOf(model, drawn, vertices),
  };
  let [v0, c0] = [0, 0];
  const row: number[] = [];
  const n = new Vector3();
  for (const p of drawn) {
    const primitive = raw[p.mesh][p.primitive];
    const material = primitive.getMaterial();
    let wear = materials.indexOf(material);
    if (wear < 0) {
      wear = materials.push(material) - 1;
      shape.wears.push(wearOf(material, textures));
    }
    const { triangles } = model.meshes[p.mesh].primitives[p.primitive];
    const count = p.positions.length / 3 / p.instances;
    shape.positions.set(p.positions, v0 * 3);
    const normal = primitive.getAttribute('NORMAL');
    const { uv, change } = uvSource(primitive);
    const color = primitive.getAttribute('COLOR_0');
    const places = placesOf(model, p.node, world);
    for (let i = 0; i < p.instances; i++) {
      const turn = new Matrix3().getNormalMatrix(places[i] ?? places[0]);
      for (let v = 0; v < count; v++) {
        const to = v0 + i * count + v;
        if (normal) {
          normal.getElement(v, row);
          n.set(row[0], row[1], row[2])
            .applyMatrix3(turn)
            .normalize()
            .toArray(shape.normals, to * 3);
        }
        if (uv) {
          uv.getElement(v, row);
          [shape.uvs[to * 2], shape.uvs[to * 2 + 1]] = change(row[0], row[1]);
        }
        if (color && shape.colors) {
          color.getElement(v, row);
          for (let k = 0; k < 3; k++) shape.colors[to * 3 + k] = row[k];
        }
      }
      for (let k = 0; k < triangles.length; k++) shape.triangles[c0 + k] = triangles[k] + v0 + i * count;
      shape.wear.fill(wear, c0 / 3, (c0 + triangles.length) / 3);
      c0 += triangles.length;
    }
    v0 += count * p.instances;
  }
  return shape;
}

/** Where the directions of a node's mesh point: a skinned mesh follows its first joint. */
function placesOf(model: ReturnType<typeof readModel>, node: number, world: readonly Matrix4[]): Matrix4[] {
  const { skin, instances } = model.nodes[node];
  const first = model.skins[skin]?.joints[0];
  if (first !== undefined) return [new Matrix4().fromArray(model.skins[skin].inverseBind, 0).premultiply(world[first])];
  if (!instances) return [world[node]];
  return Array.from({ length: instances.length / 16 }, (_, i) => new Matrix4().fromArray(instances, i * 16).premultiply(world[node]));
}

/** The shape moved as a whole (a step that places the model is no error). */
export function moveShape(shape: Shape, by: Matrix4): Shape {
  if (by.equals(new Matrix4())) return shape;
  const turn = new Matrix3().getNormalMatrix(by);
  const normals = shape.normals.slice();
  const v = new Vector3();
  for (let i = 0; i < normals.length; i += 3) v.fromArray(normals, i).applyMatrix3(turn).normalize().toArray(normals, i);
  const moved = (places: Float32Array): Float32Array => {
    const out = places.slice();
    for (let i = 0; i < out.length; i += 3) v.fromArray(out, i).applyMatrix4(by).toArray(out, i);
    return out;
  };
  const poses = shape.poses.map((p) => ({ ...p, positions: moved(p.positions) }));
  return { ...shape, positions: moved(shape.positions), normals, poses };
}

/** Lower and upper corner, metres, of what is finite; all zero where nothing is. */
export function shapeBox({ positions, triangles }: Pick<Shape, 'positions' | 'triangles'>): { min: Vector3; max: Vector3 } {
  const min = new Vector3(Infinity, Infinity, Infinity);
  const max = new Vector3(-Infinity, -Infinity, -Infinity);
  const v = new Vector3();
  for (const i of triangles) {
    v.fromArray(positions, i * 3);
    if (!Number.isFinite(v.x + v.y + v.z)) continue;
    min.min(v);
    max.max(v);
  }
  return min.x <= max.x ? { min, max } : { min: new Vector3(), max: new Vector3() };
}
