/** Bones and weights put into a glTF: nodes, skins and attributes; all else stays. (glTF 2.0, section 3.7.3.) */
import type { Document, Node, Primitive } from '@gltf-transform/core';
import { Matrix4 } from 'three';
import type { Bone } from './bone';
import { RigError } from './middle';
import type { Rig } from './plan';
import type { Surface } from './surface';

/**
 * Joint frames are the model's own axes, so that a turn of nothing is the rest; a chain's last bone says in its extras where it ends. Meshes
 * that are drawn by several nodes become one each, for each is posed by itself; a mesh that is skinned ignores its own node and stands at
 * the root of the scene.
 * @throws {RigError} `rig/bones` the model has bones already, or is drawn by instances
 */
export function raiseBones(document: Document, surface: Surface, { bones, binding }: Pick<Rig, 'bones' | 'binding'>): void {
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  if (root.listSkins().length > 0) throw new RigError('rig/bones', 'The model has bones already. Take them away first, or keep them.');
  const buffer = root.listBuffers()[0] ?? document.createBuffer();
  const nodes = root.listNodes();
  const worlds = new Map<Node, number[]>(nodes.map((n) => [n, n.getWorldMatrix()]));
  const joints = bones.map((bone, i) => {
    const up = bone.parent >= 0 ? bones[bone.parent].head : [0, 0, 0];
    const joint = document.createNode(bone.name).setTranslation([bone.head[0] - up[0], bone.head[1] - up[1], bone.head[2] - up[2]]);
    // where one bone follows, this one ends there
    const open = bones.filter((b) => b.parent === i && !b.chain).length !== 1 && bone.limb >= 0;
    return joint.setExtras(chainExtras(bone, open ? [0, 1, 2].map((k) => bone.tail[k] - bone.head[k]) : null));
  });
  joints.forEach((joint, i) => {
    if (bones[i].parent >= 0) joints[bones[i].parent].addChild(joint);
    else scene.addChild(joint);
  });

  const drawn = new Map<number, Surface['sources']>();
  for (const source of surface.sources) {
    if (source.primitive.instances !== 1)
      throw new RigError('rig/bones', 'The model is drawn by instances, which bones cannot bend. Write them out first.');
    drawn.set(source.primitive.node, [...(drawn.get(source.primitive.node) ?? []), source]);
  }
  const skins = new Map<string, ReturnType<Document['createSkin']>>();
  const used = new Set<object>();
  for (const [at, sources] of drawn) {
    const node = nodes[at];
    const given = node.getMesh();
    if (!given) continue;
    const mesh = used.has(given) ? given.clone() : given;
    used.add(given);
    if (mesh !== given) for (const p of mesh.listPrimitives()) mesh.removePrimitive(p).addPrimitive(p.clone());
    const primitives = mesh.listPrimitives().filter((p) => p.getAttribute('POSITION'));
    for (const { primitive, vertices } of sources) dress(document, primitives[primitive.primitive], vertices);
    const world = worlds.get(node) as number[];
    const key = world.map((x) => x.toFixed(9)).join();
    let skin = skins.get(key);
    if (!skin) {
      const inverse = new Float32Array(bones.length * 16);
      for (const [i, b] of bones.entries())
        new Matrix4()
          .makeTranslation(-b.head[0], -b.head[1], -b.head[2])
          .multiply(new Matrix4().fromArray(world))
          .toArray(inverse, i * 16);
      skin = document
        .createSkin('rig')
        .setSkeleton(joints[0])
        .setInverseBindMatrices(document.createAccessor().setType('MAT4').setArray(inverse).setBuffer(buffer));
      for (const j of joints) skin.addJoint(j);
      skins.set(key, skin);
    }
    place(document, node, mesh, skin, scene);
  }

  function dress(doc: Document, primitive: Primitive, vertices: Uint32Array): void {
    const [j, w] = [new Uint16Array(vertices.length * 4), new Float32Array(vertices.length * 4)];
    vertices.forEach((v, i) => {
      j.set(binding.bones.subarray(v * 4, v * 4 + 4), i * 4);
      w.set(binding.shares.subarray(v * 4, v * 4 + 4), i * 4);
    });
    const joint = bones.length <= 256 ? Uint8Array.from(j) : j;
    primitive
      .setAttribute('JOINTS_0', doc.createAccessor().setType('VEC4').setArray(joint).setBuffer(buffer))
      .setAttribute('WEIGHTS_0', doc.createAccessor().setType('VEC4').setArray(w).setBuffer(buffer));
  }
}

/** What a joint says of itself in its extras. @param tail where it ends, from its own place; null: where another begins */
export const chainExtras = (bone: Bone, tail: readonly number[] | null): Record<string, unknown> => ({
  ...(tail && { tailM: tail }),
  ...(bone.sure !== undefined && { sure: bone.sure }),
  ...(bone.chain && { chain: bone.chain }),
  ...(bone.strayMm && { strayMm: bone.strayMm }),
  ...(bone.ends?.length && { ends: bone.ends }),
});

/** The skinned mesh at the scene's root: as its node where that holds nothing else, else as a node beside it of the same name. */
export function place(
  document: Document,
  node: Node,
  mesh: NonNullable<ReturnType<Node['getMesh']>>,
  skin: NonNullable<ReturnType<Node['getSkin']>>,
  scene: NonNullable<ReturnType<ReturnType<Document['getRoot']>['getDefaultScene']>>,
): void {
  const animated = document
    .getRoot()
    .listAnimations()
    .some((a) => a.listChannels().some((c) => c.getTargetNode() === node));
  if (node.listChildren().length === 0 && !animated) {
    node.getParentNode()?.removeChild(node);
    scene.addChild(node);
    node.setMesh(mesh).setSkin(skin).setTranslation([0, 0, 0]).setRotation([0, 0, 0, 1]).setScale([1, 1, 1]);
    return;
  }
  const weights = node.getWeights();
  const beside = document.createNode(node.getName()).setMesh(mesh).setSkin(skin);
  if (weights.length > 0) beside.setWeights(weights);
  node.setMesh(null);
  scene.addChild(beside);
}
