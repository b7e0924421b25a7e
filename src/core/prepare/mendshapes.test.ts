import { Document, Primitive } from '@gltf-transform/core';
import { describe, expect, test } from 'vitest';
import type { MendOp } from '../piece/recipe';
import { mendShapes } from './mendshapes';
import { plane, sphere, surfaceDocument } from './samples';

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

test('a sheet with a back of its own keeps it: the same places, facing the other way', () => {
  const document = surfaceDocument('sheet', plane(0.1), 2, 1);
  const [p] = document.getRoot().listMeshes()[0].listPrimitives();
  const front: number[] = [...(p.getIndices()?.getArray() ?? [])];
  const back = front.map((_, i) => front[i - (i % 3) + [0, 2, 1][i % 3]]);
  const indices = (list: number[]) => p.setIndices(document.createAccessor().setArray(Uint16Array.from(list)));
  const triangles = (op: MendOp) => {
    mendShapes(document, new Set([op]), { modelSizeOf: () => 1 });
    return (p.getIndices()?.getCount() ?? 0) / 3;
  };
  indices([...front, ...back]);
  expect(triangles('duplicates')).toBe((front.length / 3) * 2);
  expect(triangles('flipped')).toBe((front.length / 3) * 2);
  indices([...front, front[1], front[2], front[0]]);
  expect(triangles('duplicates')).toBe(front.length / 3);
});

test('a cover takes on what its neighbours have: tangents too, of length 1 and across its normal; a slit gets none', () => {
  const document = surfaceDocument('ball', sphere(0.1), 16, 8);
  const [p] = document.getRoot().listMeshes()[0].listPrimitives();
  const places = p.getAttribute('POSITION');
  const n = places?.getCount() ?? 0;
  p.setAttribute(
    'TANGENT',
    document
      .createAccessor()
      .setType('VEC4')
      .setArray(new Float32Array(Array.from({ length: n }, () => [1, 0, 0, 1]).flat()))
      .setBuffer(document.getRoot().listBuffers()[0]),
  );
  const list = p.getIndices()?.getArray() as Uint16Array;
  p.setIndices(
    document
      .createAccessor()
      .setArray(list.slice(3 * 60))
      .setBuffer(document.getRoot().listBuffers()[0]),
  );
  mendShapes(document, new Set<MendOp>(['close']), { modelSizeOf: () => 1 });
  const [tangent, normal] = [p.getAttribute('TANGENT'), p.getAttribute('NORMAL')];
  expect(tangent?.getCount()).toBeGreaterThan(n - 60);
  const added = tangent?.getElement((tangent?.getCount() ?? 0) - 1, []) ?? [];
  const across = normal?.getElement((normal?.getCount() ?? 0) - 1, []) ?? [];
  expect(Math.hypot(added[0], added[1], added[2])).toBeCloseTo(1, 6);
  expect(added[0] * across[0] + added[1] * across[1] + added[2] * across[2]).toBeCloseTo(0, 6);
});
