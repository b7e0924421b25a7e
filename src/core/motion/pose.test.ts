import { existsSync, readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { type ModelChannel, readGltf, readModel } from '../intake';
import { poseAt, posedPrimitives, sampleChannel } from './index';

const channel = (c: Partial<ModelChannel>): ModelChannel => ({
  node: 0,
  path: 'translation',
  interpolation: 'LINEAR',
  times: new Float32Array([0, 1, 3]),
  values: new Float32Array([0, 2, 6]),
  size: 1,
  ...c,
});

describe('sampleChannel', () => {
  test('linear: held before the first and after the last key, straight between', () => {
    const c = channel({});
    expect([-1, 0, 0.5, 1, 2, 3, 9].map((t) => sampleChannel(c, t)[0])).toEqual([0, 0, 1, 2, 4, 6, 6]);
  });
  test('step keeps the key before', () =>
    expect([0, 0.99, 1, 2.9].map((t) => sampleChannel(channel({ interpolation: 'STEP' }), t)[0])).toEqual([0, 0, 2, 2]));
  test('rotation turns at an even rate: half of a quarter turn is 45°', () => {
    const q = [0, 0, 0, 1, 0, Math.SQRT1_2, 0, Math.SQRT1_2];
    const v = sampleChannel(channel({ path: 'rotation', size: 4, times: new Float32Array([0, 1]), values: new Float32Array(q) }), 0.5);
    expect(2 * Math.acos(v[3])).toBeCloseTo(Math.PI / 4, 6);
  });
  test('cubic spline with tangents of a parabola gives the parabola (glTF 2.0, appendix C)', () => {
    // x = t²: values 0, 1, 4 at 0, 1, 2 with slopes 0, 2, 4
    const c = channel({
      interpolation: 'CUBICSPLINE',
      times: new Float32Array([0, 1, 2]),
      values: new Float32Array([0, 0, 0, 2, 1, 2, 4, 4, 4]),
    });
    for (const t of [0, 0.25, 0.5, 1, 1.5, 1.9]) expect(sampleChannel(c, t)[0]).toBeCloseTo(t * t, 6);
  });
});

/** Debian's assimp-testmodels: not made here. The file's two joints bend an eight-triangle ribbon. */
const SKINNED = '/usr/share/assimp/models/glTF2/simple_skin/simple_skin.gltf';
describe.skipIf(!existsSync(SKINNED))('a skinned file nobody here made', () => {
  test('at rest it is 1 m wide and 2 m high; bent, its top moves and its foot stays', async () => {
    const model = readModel((await readGltf(readFileSync(SKINNED), {})).document);
    const rest = posedPrimitives(model, poseAt(model, -1, 0))[0].positions;
    const bent = posedPrimitives(model, poseAt(model, 0, 1.5))[0].positions;
    expect(Math.max(...rest.filter((_, i) => i % 3 === 1))).toBeCloseTo(2, 5);
    expect(bent.slice(0, 6)).toEqual(rest.slice(0, 6));
    expect(Math.hypot(bent[24] - rest[24], bent[25] - rest[25])).toBeGreaterThan(0.5);
    // the upper joint turns about (0, 1, 0): distances to it are kept
    const toJoint = (p: Float32Array, v: number) => Math.hypot(p[v * 3], p[v * 3 + 1] - 1);
    expect(toJoint(bent, 9)).toBeCloseTo(toJoint(rest, 9), 2);
  });
});
