/** STL, read by three's loader: the converter hands every byte of a file over by itself, which takes minutes for large ones. */
import { Document, WebIO } from '@gltf-transform/core';
import type { BufferGeometry } from 'three';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { type Converter, pictureLeaf } from '@/core/intake';

/** Most solids are written one; each becomes a mesh of its own. */
const groupsOf = (g: BufferGeometry) =>
  g.groups.length > 1 ? g.groups : [{ start: 0, count: g.getAttribute('position').count, materialIndex: 0 }];

export const convertStl: Converter = async (main) => {
  const geometry = new STLLoader().parse(main.bytes.slice().buffer);
  const [position, normal] = [geometry.getAttribute('position'), geometry.getAttribute('normal')];
  if (position.count === 0 || position.count % 3 !== 0 || normal.count !== position.count) throw new Error('a facet without three corners');
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  document.getRoot().setDefaultScene(scene);
  const material = document.createMaterial('surface').setRoughnessFactor(0.7).setMetallicFactor(0);
  const name = pictureLeaf(main.name).replace(/\.[^.]*$/, '');
  const names: string[] = geometry.userData.groupNames ?? [];
  for (const [i, { start, count }] of groupsOf(geometry).entries()) {
    if (count < 3) continue;
    const part = (from: Float32Array) =>
      document
        .createAccessor()
        .setType('VEC3')
        .setArray(from.slice(start * 3, (start + count) * 3))
        .setBuffer(buffer);
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', part(position.array as Float32Array))
      .setMaterial(material);
    // many writers leave them at nought: then viewers shade by the triangles anyway
    const directions = (normal.array as Float32Array).subarray(start * 3, (start + count) * 3);
    if (directions.every((x, k) => k % 3 !== 0 || x !== 0 || directions[k + 1] !== 0 || directions[k + 2] !== 0))
      primitive.setAttribute('NORMAL', part(normal.array as Float32Array));
    const called = names[i]?.trim() || name || 'shape';
    scene.addChild(document.createNode(called).setMesh(document.createMesh(called).addPrimitive(primitive)));
  }
  return new WebIO().writeBinary(document);
};
