/** The demo pieces as the program before schema 4 kept and delivered them: they hang where they hung. */
import { readFileSync } from 'node:fs';
import { type Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { Matrix4, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { packGlb } from '@/core/deliver';
import { createGltfIo } from '@/core/intake';
import { readPiece } from '@/core/piece';
import { helmetGlb } from './models/helmet';
import { spectaclesGlb } from './models/spectacles';

/** Vertices of every mesh in the world, a few of each, metres: "part/node/mesh" to points. */
function pointsOf(doc: Document): Record<string, number[][]> {
  const out: Record<string, number[][]> = {};
  doc
    .getRoot()
    .getDefaultScene()
    ?.traverse((node) => {
      for (const [i, p] of node.getMesh()?.listPrimitives().entries() ?? []) {
        const at = p.getAttribute('POSITION');
        if (!at) continue;
        const world = new Matrix4().fromArray(node.getWorldMatrix());
        const step = Math.max(1, Math.floor(at.getCount() / 7));
        out[`${node.getName()} ${i}`] = Array.from({ length: Math.ceil(at.getCount() / step) }, (_, k) =>
          new Vector3()
            .fromArray(at.getElement(k * step, []))
            .applyMatrix4(world)
            .toArray(),
        );
      }
    });
  return out;
}

describe('pieces of schema 3', () => {
  test.each([
    ['helmet', helmetGlb],
    ['spectacles', spectaclesGlb],
  ] as const)('%s: the delivered GLB is what it was, to 0.001 mm', async (name, model) => {
    const { document, points } = JSON.parse(readFileSync(new URL(`./samples/${name}-schema-3.json`, import.meta.url), 'utf8'));
    const glb = await packGlb(
      readPiece(document),
      async () => createGltfIo({}).readBinary((await model()) as Uint8Array<ArrayBuffer>),
      () => Promise.reject(new Error('nothing is packed here')),
    );
    const now = pointsOf(await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb as Uint8Array<ArrayBuffer>));
    expect(Object.keys(now)).toEqual(Object.keys(points));
    for (const [mesh, were] of Object.entries(points as Record<string, number[][]>))
      were.forEach((p, i) => {
        expect(new Vector3().fromArray(p).distanceTo(new Vector3().fromArray(now[mesh][i])), `${mesh}, vertex ${i}`).toBeLessThan(1e-6);
      });
  });
});
