import { Document, Primitive } from '@gltf-transform/core';
import { describe, expect, test } from 'vitest';
import type { MendOp } from '../piece/recipe';
import { mendShapes } from './mendshapes';
import { sphere, surfaceDocument } from './samples';

describe('what has no surface', () => {
  test('loose points and lines that lie nowhere go, the rest stays as it was', async () => {
    const { POINTS, LINES } = Primitive.Mode;
    const none = Number.NaN;
    for (const [mode, places, indices, left] of [
      [POINTS, [0, none, 2, 3], null, [0, 2, 3]],
      [POINTS, [0, none, 2, 3], [3, 1, 0], [3, 0]],
      [LINES, [0, 1, none, 3, 4, 5], null, [0, 1, 4, 5]],
      [LINES, [0, 1, none, 3], [0, 1, 1, 2, 3, 0], [0, 1, 3, 0]],
      [LINES, [0, none], null, null],
    ] as const) {
      const document = new Document();
      const buffer = document.createBuffer();
      const array = new Float32Array(places.flatMap((x) => [x, 0, 0]));
      const p = document
        .createPrimitive()
        .setMode(mode)
        .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(array).setBuffer(buffer));
      if (indices) p.setIndices(document.createAccessor().setArray(Uint16Array.from(indices)).setBuffer(buffer));
      const mesh = document.createMesh('loose').addPrimitive(p);
      document.createScene().addChild(document.createNode('n').setMesh(mesh));
      mendShapes(document, new Set<MendOp>(['not-finite']), { modelSizeOf: () => 1 });
      const [after] = mesh.listPrimitives();
      if (!left) {
        expect(after).toBeUndefined();
        continue;
      }
      const at = after.getAttribute('POSITION');
      const drawn: ArrayLike<number> = after.getIndices()?.getArray() ?? Array.from({ length: at?.getCount() ?? 0 }, (_, i) => i);
      expect(Array.from(drawn, (v) => at?.getElement(v, [])[0])).toEqual(left);
      expect(after.getMode()).toBe(mode);
      expect(after.getIndices() === null).toBe(indices === null);
    }
  });
});

test('triangles that name vertices which are not there go; a shape of nothing else goes whole', () => {
  for (const [indices, left] of [
    [
      [0, 1, 2, 0, 1, 9],
      [0, 1, 2],
    ],
    [[7, 8, 9], null],
  ] as const) {
    const document = surfaceDocument('ball', sphere(0.1), 4, 3);
    const [mesh] = document.getRoot().listMeshes();
    const [p] = mesh.listPrimitives();
    p.setAttribute(
      'POSITION',
      p
        .getAttribute('POSITION')
        ?.clone()
        .setArray(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0])) ?? null,
    );
    for (const name of ['NORMAL', 'TEXCOORD_0']) p.setAttribute(name, null);
    p.getIndices()?.setArray(Uint16Array.from(indices));
    mendShapes(document, new Set<MendOp>(['not-finite']), { modelSizeOf: () => 1 });
    expect(mesh.listPrimitives().map((x) => Array.from(x.getIndices()?.getArray() ?? []))).toEqual(left ? [left] : []);
  }
});
