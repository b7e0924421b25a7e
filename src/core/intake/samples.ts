/** Small glTF files made from numbers, for tests. */
import { Document, WebIO } from '@gltf-transform/core';

/** A box from −h to +h (metres) in a node, as GLB bytes. 12 triangles, 24 vertices. */
export async function boxGlb(
  h: [number, number, number] = [0.05, 0.05, 0.05],
  at: [number, number, number] = [0, 0, 0],
  alpha = 1,
): Promise<Uint8Array> {
  const doc = new Document();
  const buffer = doc.createBuffer();
  const positions: number[] = [];
  const normals: number[] = [];
  const indices: number[] = [];
  for (const axis of [0, 1, 2])
    for (const s of [1, -1]) {
      const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
      const first = positions.length / 3;
      for (const [a, b] of [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ]) {
        const p = [0, 0, 0];
        p[axis] = s * h[axis];
        p[u] = a * h[u] * s;
        p[v] = b * h[v];
        positions.push(...p);
        normals.push(...[0, 1, 2].map((k) => (k === axis ? s : 0)));
      }
      indices.push(first, first + 1, first + 2, first, first + 2, first + 3);
    }
  const accessor = (type: 'VEC3' | 'SCALAR', array: Float32Array | Uint16Array) =>
    doc
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const material = doc.createMaterial('paint').setBaseColorFactor([0.8, 0.2, 0.1, alpha]);
  if (alpha < 1) material.setAlphaMode('BLEND');
  const prim = doc
    .createPrimitive()
    .setMaterial(material)
    .setAttribute('POSITION', accessor('VEC3', new Float32Array(positions)))
    .setAttribute('NORMAL', accessor('VEC3', new Float32Array(normals)))
    .setIndices(accessor('SCALAR', new Uint16Array(indices)));
  const scene = doc
    .createScene('scene')
    .addChild(doc.createNode('box').setTranslation(at).setMesh(doc.createMesh('box').addPrimitive(prim)));
  doc.getRoot().setDefaultScene(scene);
  return new WebIO().writeBinary(doc);
}

/** A glTF of JSON and one GLB chunk, byte by byte. */
export function rawGlb(json: unknown, bin = new Uint8Array()): Uint8Array {
  const pad = (b: Uint8Array, fill: number) => {
    const out = new Uint8Array(Math.ceil(b.length / 4) * 4).fill(fill);
    out.set(b);
    return out;
  };
  const j = pad(new TextEncoder().encode(JSON.stringify(json)), 0x20);
  const b = pad(bin, 0);
  const out = new Uint8Array(12 + 8 + j.length + (b.length ? 8 + b.length : 0));
  const view = new DataView(out.buffer);
  view.setUint32(0, 0x46546c67, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, out.length, true);
  view.setUint32(12, j.length, true);
  view.setUint32(16, 0x4e4f534a, true);
  out.set(j, 20);
  if (b.length) {
    view.setUint32(20 + j.length, b.length, true);
    view.setUint32(24 + j.length, 0x004e4942, true);
    out.set(b, 28 + j.length);
  }
  return out;
}
