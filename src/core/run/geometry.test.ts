/** Triangles and boxes of staged parts against a cube written down by hand. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { expect, test } from 'vitest';
import type { LocalPose } from '../model/pose';
import type { SolidShape } from '../parts';
import { type StagePart, worldBox, worldShapes } from './index';

const CUBE: SolidShape = { form: 'box', sizeMm: [20, 40, 60], roundMm: 0, wallMm: 8, open: [] };
const part = (matrix: Matrix4, set: Partial<StagePart> = {}): StagePart => ({
  id: 'a',
  shown: true,
  found: true,
  matrix: matrix.toArray(),
  layer: 'main',
  shape: { type: 'solid', solid: CUBE },
  opacity: 1,
  solid: false,
  occludes: false,
  wears: {},
  ...set,
});
const NONE = { models: {} };

test('a solid’s corners are where its matrix takes them, in each axis', () => {
  const turn = new Quaternion().setFromAxisAngle(new Vector3(1, 2, 3).normalize(), 0.7);
  const matrix = new Matrix4().compose(new Vector3(0.3, -0.2, 0.5), turn, new Vector3(1, 2, 0.5));
  const [shape, ...more] = worldShapes(part(matrix), NONE);
  expect(more).toEqual([]);
  expect(shape.instances).toBe(1);
  expect(shape.triangles.length % 3).toBe(0);
  const corners = new Set<string>();
  for (let i = 0; i < shape.positions.length; i += 3) {
    const p = new Vector3().fromArray(shape.positions, i).applyMatrix4(matrix.clone().invert());
    // a corner of the cube as it was modelled
    expect(Math.abs(p.x)).toBeCloseTo(0.01, 6);
    expect(Math.abs(p.y)).toBeCloseTo(0.02, 6);
    expect(Math.abs(p.z)).toBeCloseTo(0.03, 6);
    corners.add([p.x, p.y, p.z].map(Math.sign).join());
  }
  expect(corners.size).toBe(8);
});

test('a box is of what is shown, follows what is moved and turned, and is none where there is nothing', () => {
  const at = (x: number) => part(new Matrix4().makeTranslation(x, 0, 0));
  for (const x of [0, 0.5, -0.25]) {
    const box = worldBox([at(x)], NONE);
    for (const [k, want] of [x - 0.01, -0.02, -0.03, x + 0.01, 0.02, 0.03].entries()) expect(box?.[k]).toBeCloseTo(want, 6);
  }
  const turned = worldBox([part(new Matrix4().makeRotationY(Math.PI / 2))], NONE);
  expect(turned?.[3]).toBeCloseTo(0.03, 6);
  // and back: what was kept of the one turn is not taken for the other
  expect(worldBox([at(0)], NONE)?.[3]).toBeCloseTo(0.01, 6);
  expect(worldBox([{ ...at(0), shown: false }], NONE)).toBeNull();
  const both = worldBox([at(0), at(1)], NONE);
  expect([both?.[0], both?.[3]].map((v) => Math.round((v ?? 0) * 1e4) / 1e4)).toEqual([-0.01, 1.01]);
});

test('a model’s box is of its pose, whichever pose was asked for before', () => {
  const nodes = [
    {
      name: 'n',
      parent: -1,
      children: [],
      translation: [0, 0, 0],
      rotation: [0, 0, 0, 1],
      scale: [1, 1, 1],
      mesh: 0,
      skin: -1,
      morphWeights: [],
      instances: null,
    },
  ];
  const primitive = {
    positions: new Float32Array([0, 0, 0, 0.1, 0, 0, 0, 0.2, 0]),
    triangles: new Uint32Array([0, 1, 2]),
    drawn: new Uint32Array([0, 1, 2]),
    joints: null,
    weights: null,
    influences: 0,
    morphPositions: [],
    uvs: null,
    alpha: 1,
  };
  const model = { nodes, meshes: [{ name: 'm', primitives: [primitive] }], skins: [], clips: [], sceneRoots: [0] };
  const posed = (up: number, set: Partial<LocalPose> = {}): StagePart => {
    const pose: LocalPose = { trs: new Float32Array([0, up, 0, 0, 0, 0, 1, 1, 1, 1]), morphWeights: new Map(), ...set };
    return part(new Matrix4(), { shape: { type: 'glb', model: 'm', pose, without: [] } });
  };
  const assets = { models: { m: model as never } };
  const top = (p: StagePart) => worldBox([p], assets)?.[4];
  expect(top(posed(0))).toBeCloseTo(0.2, 6);
  expect(top(posed(1))).toBeCloseTo(1.2, 6);
  expect(top(posed(0))).toBeCloseTo(0.2, 6);
  // worn: where the body has it, not where its numbers say
  expect(top(posed(0, { locals: new Map([[0, new Matrix4().makeTranslation(0, 3, 0)]]) }))).toBeCloseTo(3.2, 6);
  expect(top(posed(0, { locals: new Map([[0, new Matrix4().makeTranslation(0, 5, 0)]]) }))).toBeCloseTo(5.2, 6);
  expect(top(part(new Matrix4(), { shape: { type: 'glb', model: 'm', pose: null, without: [] } }))).toBeUndefined();
});
