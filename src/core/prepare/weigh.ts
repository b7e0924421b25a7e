/** What a model weighs: in its file, on a device, in draw calls; and which part of it weighs most. */
import type { Accessor, Document } from '@gltf-transform/core';
import { placedPrimitives } from '../intake/check/context';
import { bytesWithMips, textureName } from '../intake/check/textures';
import { readModel } from '../model/model';
import { sceneNodes } from '../model/pose';
import type { Weight, WeightPart } from './terms';

/** @param bytes of the file it is written as */
export function weighDocument(document: Document, bytes: number): Weight {
  const root = document.getRoot();
  const model = readModel(document);
  const raw = placedPrimitives(document);
  let [triangles, drawCalls, geometry] = [0, 0, 0];
  for (const n of sceneNodes(model)) {
    const node = model.nodes[n];
    if (node.mesh < 0) continue;
    const copies = node.instances ? node.instances.length / 16 : 1;
    for (const p of model.meshes[node.mesh].primitives) triangles += (p.triangles.length / 3) * copies;
    drawCalls += raw[node.mesh].length;
  }
  const held = new Set<Accessor>();
  let vertices = 0;
  for (const p of raw.flat()) {
    const position = p.getAttribute('POSITION');
    if (position && !held.has(position)) vertices += position.getCount();
    for (const owner of [p, ...p.listTargets()]) for (const a of owner.listAttributes()) held.add(a);
    const indices = p.getIndices();
    if (indices) held.add(indices);
  }
  for (const a of held) geometry += a.getByteLength();
  let [textureBytes, textureEdge, unpacked] = [0, 0, 0];
  for (const t of root.listTextures()) {
    const [w, h] = t.getSize() ?? [0, 0];
    textureBytes += t.getImage()?.byteLength ?? 0;
    textureEdge = Math.max(textureEdge, w, h);
    // what is packed for the chip takes a byte a pixel there (BC7, ASTC 4 × 4, ETC2 with alpha), not four
    unpacked += Math.ceil(bytesWithMips(w, h) / (t.getMimeType() === 'image/ktx2' ? 4 : 1));
  }
  return {
    bytes,
    triangles,
    vertices,
    textureBytes,
    bones: Math.max(0, ...root.listSkins().map((s) => s.listJoints().length)),
    materials: root.listMaterials().length,
    textureEdge,
    drawCalls,
    deviceBytes: unpacked + geometry,
  };
}

const numbers = (list: Iterable<Accessor>): number => {
  let sum = 0;
  for (const a of new Set(list)) sum += a.getByteLength();
  return sum;
};

/** Shares of a file's bytes, heaviest first. Packed geometry is shared out by what it holds unpacked. */
export function weighParts(document: Document, bytes: number): WeightPart[] {
  const root = document.getRoot();
  const meshes = root.listMeshes().map((m) => ({
    kind: 'mesh' as const,
    name: m.getName() || 'unnamed mesh',
    bytes: numbers(
      m
        .listPrimitives()
        .flatMap((p) => [
          ...p.listAttributes(),
          ...p.listTargets().flatMap((t) => t.listAttributes()),
          ...(p.getIndices() ? [p.getIndices() as Accessor] : []),
        ]),
    ),
  }));
  const clips = root.listAnimations().map((a) => ({
    kind: 'clip' as const,
    name: a.getName() || 'unnamed clip',
    bytes: numbers(a.listSamplers().flatMap((s) => [s.getInput(), s.getOutput()].filter((x) => x !== null))),
  }));
  const textures = root
    .listTextures()
    .map((t, i) => ({ kind: 'texture' as const, name: textureName(t, i), bytes: t.getImage()?.byteLength ?? 0 }));
  const pictures = textures.reduce((s, t) => s + t.bytes, 0);
  const unpacked = [...meshes, ...clips].reduce((s, p) => s + p.bytes, 0);
  const left = Math.max(0, bytes - pictures);
  const share = unpacked > 0 ? Math.min(1, left / unpacked) : 0;
  const parts: WeightPart[] = [...textures, ...[...meshes, ...clips].map((p) => ({ ...p, bytes: Math.round(p.bytes * share) }))];
  const rest = bytes - parts.reduce((s, p) => s + p.bytes, 0);
  if (rest > 0) parts.push({ kind: 'rest', name: 'names, materials, nodes', bytes: rest });
  return parts.filter((p) => p.bytes > 0).sort((a, b) => b.bytes - a.bytes || (a.name < b.name ? -1 : 1));
}
