/** Models for drawing: parsed once, cloned per part, posed by what the run says. */
import { type AnimationClip, BufferAttribute, BufferGeometry, Group, type Material, Mesh, type Object3D, SkinnedMesh } from 'three';
import { MeshoptDecoder } from 'three/addons/libs/meshopt_decoder.module.js';
import { type GLTF, GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { clone } from 'three/addons/utils/SkeletonUtils.js';
import { finishFor } from '@/core/finish';
import { type DrawShape, trianglesWithout, type Wears } from '@/core/run';
import { FinishMaterial, hasPictures, type TextureOf } from './finishes';

export interface DrawnModel {
  scene: Group;
  clips: AnimationClip[];
  /** Materials of its colourways, which no mesh may wear as it comes. */
  variants: readonly Material[];
}

/** Parses a GLB. Nodes are marked with their number in the file, so that the run and drawing speak of the same node. */
export async function parseModel(glb: ArrayBuffer): Promise<DrawnModel> {
  const gltf = await new GLTFLoader().setMeshoptDecoder(MeshoptDecoder).parseAsync(glb, '');
  const scene = gltf.scene ?? new Group();
  for (const [object, at] of gltf.parser.associations) {
    // the loader's own default material is listed without a place in the file
    const node = (at as { nodes?: number } | undefined)?.nodes;
    if (node !== undefined && 'isObject3D' in object) (object as Object3D).userData.node = node;
  }
  return { scene, clips: gltf.animations, variants: await variantsOf(gltf) };
}

/** What KHR_materials_variants names: the loader makes a material only for what wears it. */
async function variantsOf({ parser }: GLTF): Promise<Material[]> {
  const { extensions, materials = [] } = parser.json as { extensions?: Record<string, unknown>; materials?: unknown[] };
  if (!extensions?.KHR_materials_variants) return [];
  return Promise.all(materials.map((_, i) => parser.getDependency('material', i) as Promise<Material>));
}

/** A material by its name, of all that a file has. */
export function materialIn({ scene, variants }: DrawnModel, name: string): Material | null {
  let found: Material | null = null;
  scene.traverse((o) => {
    if (found || !(o instanceof Mesh)) return;
    const all = (Array.isArray(o.material) ? o.material : [o.material]) as Material[];
    found = all.find((m) => m.name === name) ?? null;
  });
  return found ?? variants.find((m) => m.name === name) ?? null;
}

type Glb = Extract<DrawShape, { type: 'glb' }>;

/** A geometry of fewer triangles: its vertices are the file's, and stay. */
function letGo(less: BufferGeometry): void {
  for (const name of Object.keys(less.attributes)) less.deleteAttribute(name);
  less.morphAttributes = {};
  less.dispose();
}

/** What hides comes before what it hides. */
export const firstOf = (material: Material | Material[]): number => ([material].flat().every((m) => m.userData.first) ? -1 : 0);

/** One model on stage: a clone under a holder that the run places. */
export class ModelHolder {
  readonly holder = new Group();
  private readonly nodes = new Map<number, Object3D>();
  private readonly original = new Map<Mesh, Material | Material[]>();
  private copies: Material[] = [];
  /** Geometries of the file, of which less is drawn. */
  private readonly whole = new Map<Mesh, BufferGeometry>();
  private without = '';
  private worn: { opacity: number; solid: boolean; wears: Wears; version: number } = { opacity: 1, solid: false, wears: {}, version: -1 };
  /** One for each material that wears a finish, and for meshes that have none. */
  private readonly finishes = new Map<Material, FinishMaterial>();

  constructor(
    id: string,
    /** SHA-256 of its GLB. */
    readonly model: string,
    private readonly drawn: DrawnModel,
  ) {
    const scene = clone(drawn.scene);
    this.holder.matrixAutoUpdate = false;
    this.holder.add(scene);
    this.holder.userData.part = id;
    scene.traverse((o) => {
      if (typeof o.userData.node === 'number') this.nodes.set(o.userData.node, o);
      o.frustumCulled = false; // skinned bounds are not kept up to date
      if (o instanceof Mesh) this.original.set(o, o.material);
    });
  }

  pose({ pose, without }: Glb): void {
    if (!pose) return;
    this.leaveOut(without);
    for (const [i, o] of this.nodes) {
      const t = pose.trs;
      const local = pose.locals?.get(i);
      o.matrixAutoUpdate = !local;
      if (local) o.matrix.copy(local);
      o.position.fromArray(t, i * 10);
      o.quaternion.fromArray(t, i * 10 + 3);
      o.scale.fromArray(t, i * 10 + 7);
      const weights = pose.morphWeights.get(i);
      if (weights) o.traverse((m) => m instanceof Mesh && m.morphTargetInfluences?.splice(0, weights.length, ...weights));
    }
  }

  /** Draws nothing of what some joints (nodes) move. */
  private leaveOut(joints: readonly number[]): void {
    const key = joints.join(' ');
    if (key === this.without) return;
    this.without = key;
    const out = new Set(joints);
    for (const mesh of this.original.keys()) {
      if (!(mesh instanceof SkinnedMesh)) continue;
      const { index, attributes } = this.whole.get(mesh) ?? mesh.geometry;
      if (!this.whole.has(mesh)) this.whole.set(mesh, mesh.geometry);
      if (mesh.geometry !== this.whole.get(mesh)) letGo(mesh.geometry);
      mesh.geometry = this.whole.get(mesh) as BufferGeometry;
      const { skinIndex, skinWeight, position } = attributes;
      if (out.size === 0 || !skinIndex || !skinWeight) continue;
      const [joints, shares]: number[][] = [[], []];
      for (let v = 0; v < position.count; v++)
        for (let k = 0; k < 4; k++) {
          joints.push(skinIndex.getComponent(v, k));
          shares.push(skinWeight.getComponent(v, k));
        }
      const isOut = (j: number) => out.has(mesh.skeleton.bones[j]?.userData.node);
      const less = new BufferGeometry();
      for (const name of Object.keys(attributes)) less.setAttribute(name, attributes[name]);
      less.morphAttributes = mesh.geometry.morphAttributes;
      less.morphTargetsRelative = mesh.geometry.morphTargetsRelative;
      const all = index ? index.array : Uint32Array.from({ length: position.count }, (_, i) => i);
      less.setIndex(new BufferAttribute(trianglesWithout(all, joints, shares, 4, isOut), 1));
      mesh.geometry = less;
    }
  }

  /** @param textureOf pictures of maps, of which another `version` may hold more */
  wear(opacity: number, solid: boolean, wears: Wears, textureOf: TextureOf, version: number): void {
    const { worn } = this;
    const newer = worn.version !== version && Object.values(wears).some(hasPictures);
    if (worn.opacity === opacity && worn.solid === solid && worn.wears === wears && !newer) return;
    this.worn = { opacity, solid, wears, version };
    for (const m of this.copies) m.dispose();
    this.copies = [];
    const fade = (m: Material) => {
      if (opacity === 1 && !solid) return m;
      const copy = m.clone();
      this.copies.push(copy);
      copy.opacity = (m.transparent && !solid ? m.opacity : 1) * opacity;
      copy.transparent = opacity < 1 || (m.transparent && !solid);
      if (solid) copy.depthWrite = true;
      return copy;
    };
    const used = new Set<Material>();
    const dress = (m: Material) => {
      const finish = finishFor(wears, m.name);
      if (!finish) return fade(m);
      used.add(m);
      const made = this.finishes.get(m) ?? new FinishMaterial(m, (name) => materialIn(this.drawn, name));
      this.finishes.set(m, made);
      return made.of(finish, opacity, solid, textureOf);
    };
    for (const [mesh, material] of this.original) {
      mesh.material = Array.isArray(material) ? material.map(dress) : dress(material);
      mesh.renderOrder = firstOf(mesh.material);
    }
    for (const [m, made] of this.finishes)
      if (!used.has(m)) {
        made.free();
        this.finishes.delete(m);
      }
  }

  /** Geometries and materials of the file are the assets'; only what was made here goes. */
  free(): void {
    for (const m of [...this.copies]) m.dispose();
    for (const made of this.finishes.values()) made.free();
    for (const [mesh, whole] of this.whole) if (mesh.geometry !== whole) letGo(mesh.geometry);
    this.holder.traverse((o) => (o as Partial<{ skeleton: { dispose: () => void } }>).skeleton?.dispose());
  }
}
