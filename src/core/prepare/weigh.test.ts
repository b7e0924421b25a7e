/** What a model weighs, beside another reader of the same documents and beside what is known in closed form. */
import { existsSync, readFileSync } from 'node:fs';
import type { Document } from '@gltf-transform/core';
import { EXTMeshGPUInstancing } from '@gltf-transform/extensions';
import { inspect } from '@gltf-transform/functions';
import { MeshoptDecoder } from 'meshoptimizer';
import sharp from 'sharp';
import { expect, describe as group, it } from 'vitest';
import { helmetGlb } from '../../../demo/models/helmet';
import { spectaclesGlb } from '../../../demo/models/spectacles';
import { bentTube, draco, painted } from '../../../e2e/support/preparing';
import { readGltf } from '../intake';
import { addSurface, sphere, surfaceDocument } from './samples';
import { weighDocument, weighParts } from './weigh';

const png = async (edge: number) =>
  new Uint8Array(
    await sharp({ create: { width: edge, height: edge, channels: 4, background: { r: 200, g: 90, b: 40, alpha: 1 } } })
      .png()
      .toBuffer(),
  );

group('a model weighs', () => {
  it('5 592 404 bytes on a device for a picture of 1024², however small its file (four bytes a pixel, a third more for its mip levels)', async () => {
    const d = await painted();
    const before = weighDocument(d, 0);
    const file = await png(1024);
    d.getRoot()
      .listTextures()[0]
      .setImage(file as Uint8Array<ArrayBuffer>);
    const after = weighDocument(d, 0);
    const of256 = Array.from({ length: 9 }, (_, k) => (256 >> k) ** 2 * 4).reduce((a, b) => a + b);
    expect(after.deviceBytes - before.deviceBytes).toBe(5_592_404 - of256);
    expect([after.textureEdge, after.textureBytes]).toEqual([1024, file.byteLength]);
    expect(file.byteLength).toBeLessThan(50_000);
  });
  it('its triangles as often as they are drawn, its vertices as often as they are held', () => {
    const d = surfaceDocument('ball', sphere(0.1), 16, 8);
    const [mesh] = d.getRoot().listMeshes();
    const once = weighDocument(d, 0);
    expect(once).toMatchObject({ triangles: 2 * 16 * 8 - 2 * 16, vertices: 17 * 9, drawCalls: 1, bones: 0, materials: 1 });
    d.getRoot()
      .listScenes()[0]
      .addChild(d.createNode('again').setMesh(mesh).setTranslation([1, 0, 0]));
    expect(weighDocument(d, 0)).toMatchObject({
      triangles: 2 * once.triangles,
      vertices: once.vertices,
      drawCalls: 2,
      deviceBytes: once.deviceBytes,
    });
    // five copies in one draw call (EXT_mesh_gpu_instancing)
    const batch = d.createExtension(EXTMeshGPUInstancing).createInstancedMesh();
    const places = d.createAccessor().setType('VEC3').setArray(new Float32Array(15)).setBuffer(d.getRoot().listBuffers()[0]);
    d.getRoot().listNodes()[1].setExtension('EXT_mesh_gpu_instancing', batch.setAttribute('TRANSLATION', places));
    expect(weighDocument(d, 0)).toMatchObject({ triangles: 6 * once.triangles, drawCalls: 2 });
  });
  it('what is in no scene is not drawn', () => {
    const d = surfaceDocument('ball', sphere(0.1), 16, 8);
    addSurface(d, 'spare', sphere(0.05), 16, 8);
    const spare = d.getRoot().listNodes()[1];
    const both = weighDocument(d, 0).triangles;
    d.getRoot().listScenes()[0].removeChild(spare);
    expect(weighDocument(d, 0).triangles).toBe(both / 2);
  });

  const engine = '/usr/share/assimp/models/glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb';
  const models: [string, () => Promise<Document>][] = [
    ['spectacles of the demo', async () => (await readGltf(await spectaclesGlb(), {})).document],
    ['helmet of the demo', async () => (await readGltf(await helmetGlb(), {})).document],
    ['a skinned tube', async () => bentTube()],
    ...(existsSync(engine)
      ? [
          [
            'a file nobody here made',
            async () => (await readGltf(new Uint8Array(readFileSync(engine)), { draco: draco.decoder, meshopt: MeshoptDecoder })).document,
          ] as [string, () => Promise<Document>],
        ]
      : []),
  ];
  it.each(models)('%s: the same numbers another reader gives (gltf-transform inspect)', async (_, load) => {
    const d = await load();
    const [own, other] = [weighDocument(d, 0), inspect(d)];
    expect(own.triangles).toBe(other.scenes.properties.reduce((s, x) => s + x.renderVertexCount, 0) / 3);
    expect(own.materials).toBe(other.materials.properties.length);
    const pictures = other.textures.properties;
    expect(own.textureBytes).toBe(pictures.reduce((s, t) => s + t.size, 0));
    const edges = pictures.flatMap((t) => t.resolution.split('x').map(Number));
    expect(own.textureEdge).toBe(Math.max(0, ...edges));
    const geometry = d
      .getRoot()
      .listAccessors()
      .filter((a) => a.listParents().some((p) => p.propertyType === 'Primitive' || p.propertyType === 'PrimitiveTarget'))
      .reduce((s, a) => s + a.getByteLength(), 0);
    expect(own.deviceBytes).toBe(geometry + pictures.reduce((s, t) => s + (t.gpuSize ?? 0), 0));
  });
  it.each(models)('%s: its parts come to the whole file, the heaviest first', async (_, load) => {
    const d = await load();
    const bytes = 1_234_567;
    const parts = weighParts(d, bytes);
    expect(parts.reduce((s, p) => s + p.bytes, 0)).toBe(bytes);
    expect(parts.map((p) => p.bytes)).toEqual(parts.map((p) => p.bytes).sort((a, b) => b - a));
    for (const t of d.getRoot().listTextures())
      expect(parts.some((p) => p.kind === 'texture' && p.bytes === t.getImage()?.byteLength)).toBe(true);
    expect(parts.filter((p) => p.kind === 'clip').length).toBe(d.getRoot().listAnimations().length);
  });
});
