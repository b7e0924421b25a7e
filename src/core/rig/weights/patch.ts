/** Painted weights as a file: a skinned mesh of plain glTF, which takes its place on the shape it was painted on again. */
import { Document } from '@gltf-transform/core';
import { Matrix4 } from 'three';
import type { WeightPatch } from './brush';

/** The patch with its bones, each by its name where it stands; positions are those of the shape. */
export function patchDocument({ positions, triangles, bones, joints, shares }: WeightPatch): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'SCALAR' | 'VEC3' | 'VEC4' | 'MAT4', array: Float32Array | Uint32Array | Uint16Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const scene = document.createScene('weights');
  const nodes = bones.map((b) => document.createNode(b.name).setTranslation(b.head));
  const root = document.createNode('bones');
  for (const n of nodes) root.addChild(n);
  const inverse = new Float32Array(bones.length * 16);
  bones.forEach((b, i) => {
    new Matrix4().makeTranslation(-b.head[0], -b.head[1], -b.head[2]).toArray(inverse, i * 16);
  });
  const skin = document.createSkin('weights').setInverseBindMatrices(accessor('MAT4', inverse));
  for (const n of nodes) skin.addJoint(n);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', positions))
    .setAttribute('JOINTS_0', accessor('VEC4', joints))
    .setAttribute('WEIGHTS_0', accessor('VEC4', shares))
    .setIndices(accessor('SCALAR', triangles));
  const mesh = document.createMesh('weights').addPrimitive(primitive);
  scene.addChild(root).addChild(document.createNode('painted').setMesh(mesh).setSkin(skin));
  return document;
}
