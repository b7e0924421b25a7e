/** Beside a fault at 103 % of a limit, a near miss at 97 %: findings begin where they say. */
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { describe, expect, test } from 'vitest';
import { addClip, createRigged, type Rigged } from '../../../../e2e/support/faulty';
import { inspectModel, judgeFindings, openGltf, ownCredit, readCredit, readGltf, readModel } from '../index';
import { findInnerShells } from './inside';
import { findCrumbs, holedShells, joinPrimitives } from './shells';
import { opposedNormals } from './surface';
import { findTopology } from './topology';

/** Codes that the checks of the whole say of a rigged thing. */
async function codesOf(spoil: (t: Rigged) => void): Promise<string[]> {
  const thing = await createRigged();
  spoil(thing);
  const glb = await new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(thing.document);
  const facts = inspectModel(await readGltf(glb, {}), glb.length, { issues: [], pictures: [], credit: readCredit(openGltf(glb).json) });
  return judgeFindings(facts, { kind: null, credit: ownCredit(facts), changed: false, pictures: [] }).map((f) => f.code);
}

test('shapes joined to one know whose each triangle was', () => {
  const one = (x: number, n: number) => ({
    positions: Float32Array.from({ length: 9 }, (_, i) => x + i),
    triangles: Uint32Array.from({ length: 3 * n }, (_, i) => i % 3),
  });
  const { positions, triangles, owner } = joinPrimitives([one(0, 2), one(100, 1), one(200, 3)]);
  expect([...owner]).toEqual([0, 0, 1, 2, 2, 2]);
  expect([...triangles]).toEqual([0, 1, 2, 0, 1, 2, 3, 4, 5, 6, 7, 8, 6, 7, 8, 6, 7, 8]);
  expect([positions[0], positions[9], positions[26]]).toEqual([0, 100, 208]);
});

describe('crumbs', () => {
  /** A large shell, and a small one two sizes of the whole away. */
  const crumbs = (triangles: number, shareOfSize: number) => {
    const d = shareOfSize / Math.sqrt(3);
    const boxes = Float64Array.from([0, 0, 0, 0.4, 0.4, 0.4, 0.9, 0.9, 0.9, 0.9 + d, 0.9 + d, 0.9 + d]);
    return findCrumbs(2, boxes, [500, triangles], 1);
  };
  test('have at most twelve triangles, and a hundredth of the size', () => {
    expect(crumbs(12, 0.0097)).toEqual([1]);
    expect(crumbs(13, 0.0097)).toEqual([]);
    expect(crumbs(12, 0.0103)).toEqual([]);
    expect(crumbs(1, 0.0097)).toEqual([1]);
  });
});

describe('shells inside another', () => {
  /** An octahedron of reach 1, and a small one that is moved along (1, 1, 1), where a face of the large one lies at a third of it. */
  const inner = (along: number) => {
    const tips = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
      [-1, 0, 0],
      [0, -1, 0],
      [0, 0, -1],
    ];
    const faces = [0, 3].flatMap((x) => [1, 4].flatMap((y) => [2, 5].map((z) => [x, y, z])));
    const shell = (size: number, at: number) =>
      faces.flatMap((f) => (f.filter((i) => i > 2).length % 2 ? f.toReversed() : f).flatMap((i) => tips[i].map((x) => x * size + at)));
    const positions = Float32Array.from([...shell(1, 0), ...shell(0.06, along)]);
    const soup = joinPrimitives([{ positions, triangles: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i) }]);
    const boxes = Float64Array.from([-1, -1, -1, 1, 1, 1, ...[-0.06, -0.06, -0.06, 0.06, 0.06, 0.06].map((x) => x + along)]);
    return findInnerShells(soup, findTopology(soup.positions, soup.triangles, 1e-6), boxes, (s) => s === 0);
  };
  test('lie in it whole: one that looks out with a corner does not', () => {
    expect(inner(0.1)).toEqual([1]);
    // its foremost corners come to (1 - 0.06) / 3
    expect(inner(0.3)).toEqual([1]);
    expect(inner(0.32)).toEqual([]);
    expect(inner(0.36)).toEqual([]);
  });
});

describe('holes', () => {
  type Corner = [number, number, number];
  const holed = (triangles: Corner[][]) => {
    const positions = Float32Array.from(triangles.flat(2));
    const soup = joinPrimitives([{ positions, triangles: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i) }]);
    return holedShells(soup, findTopology(soup.positions, soup.triangles, 1e-6)).length > 0;
  };
  /** A ball in bands of equal height, some of them missing at the top. */
  const ball = (bands: number, missing: number, around = 24): Corner[][] => {
    const at = (k: number, i: number): Corner => {
      const y = 1 - (2 * k) / bands;
      const [r, a] = [Math.sqrt(Math.max(0, 1 - y * y)), ((i % around) * 2 * Math.PI) / around];
      return [r * Math.cos(a), y, r * Math.sin(a)];
    };
    const out: Corner[][] = [];
    for (let k = missing; k < bands; k++)
      for (let i = 0; i < around; i++) {
        if (k > 0) out.push([at(k, i), at(k, i + 1), at(k + 1, i)]);
        if (k < bands - 1) out.push([at(k, i + 1), at(k + 1, i + 1), at(k + 1, i)]);
      }
    return out;
  };
  test('are where nearly all is closed: the cap that is missing is at most 0.12 of the area, counted one way', () => {
    // a cap of height h leaves an area vector of πh(2 − h) and an area of 2π(2 − h): h / 2 is what is not cancelled out
    expect(holed(ball(100, 0))).toBe(false);
    expect(holed(ball(100, 1))).toBe(true);
    expect(holed(ball(100, 11))).toBe(true);
    expect(holed(ball(100, 13))).toBe(false);
  });
  test('and what is open is at most a fifth of the edges', () => {
    // 48 × 22 triangles; taken out alone, on both sides alike, each leaves three edges open
    const whole = ball(22, 0);
    const pierced = (pairs: number) => {
      const gone = new Set<number>();
      for (let n = 0; n < pairs; n++) for (const i of [24 + n * 10, whole.length - 25 - n * 10]) gone.add(i);
      return holed(whole.filter((_, i) => !gone.has(i)));
    };
    // 2 × 45 of 1 008: 0.196; 2 × 47: 0.206
    expect(whole.length).toBe(1008);
    expect(pierced(45)).toBe(true);
    expect(pierced(47)).toBe(false);
  });
});

describe('normals on the far side', () => {
  /** A strip of triangles that face +z, of which some have normals that do not. */
  const share = async (wrong: number, lean = Math.PI) => {
    const thing = await createRigged();
    const model = readModel((await readGltf(await new WebIO().writeBinary(thing.document), {})).document);
    const n = 100;
    const positions = new Float32Array(n * 9);
    const normals = new Float32Array(n * 9);
    for (let t = 0; t < n; t++) {
      positions.set([t, 0, 0, t + 1, 0, 0, t, 1, 0], t * 9);
      const a = t < wrong ? lean : 0;
      for (let k = 0; k < 3; k++) normals.set([Math.sin(a), 0, Math.cos(a)], t * 9 + k * 3);
    }
    const accessor = thing.document.createAccessor().setType('VEC3').setArray(normals);
    return opposedNormals(
      { ...model.meshes[0].primitives[0], positions, triangles: Uint32Array.from({ length: n * 3 }, (_, i) => i) },
      accessor,
    );
  };
  test('are counted by triangle, and only where all three lean over', async () => {
    expect(await share(0)).toBe(0);
    expect(await share(3)).toBeCloseTo(0.03, 9);
    expect(await share(50)).toBeCloseTo(0.5, 9);
    // three cosines under −0.6 in all: 102° from the triangle's own, not 100°
    expect(await share(5, (100 * Math.PI) / 180)).toBe(0);
    expect(await share(5, (103 * Math.PI) / 180)).toBeCloseTo(0.05, 9);
  });
});

describe('rigs and clips', () => {
  const weights = (sum: number) => (t: Rigged) => {
    const a = t.primitive.getAttribute('WEIGHTS_0');
    const v = Float32Array.from(a?.getArray() as Float32Array);
    for (let i = 0; i < v.length; i++) v[i] *= sum;
    a?.setArray(v);
  };
  test('weights may miss one by a hundredth', async () => {
    expect(await codesOf(weights(1.0097))).not.toContain('rig/weights');
    expect(await codesOf(weights(1.0103))).toContain('rig/weights');
    expect(await codesOf(weights(0.9897))).toContain('rig/weights');
  });
  const turned = (deg: number) => (t: Rigged) =>
    addClip(t.document, 'turn', t.bones[0], [0, 1], [0, 0, 0, 1, 0, Math.sin((deg * Math.PI) / 360), 0, Math.cos((deg * Math.PI) / 360)]);
  test('a clip may end three degrees from where it begins', async () => {
    expect(await codesOf(turned(2.91))).not.toContain('clip/loop-gap');
    expect(await codesOf(turned(3.09))).toContain('clip/loop-gap');
  });
});

describe('normals of a shape', () => {
  /** A strip of a hundred triangles that face fore, some of whose normals point back, or are too long. */
  const strip = (wrong: number, length = 1) =>
    codesOf(({ document }) => {
      const n = 100;
      const [positions, normals] = [new Float32Array(n * 9), new Float32Array(n * 9)];
      for (let t = 0; t < n; t++) {
        positions.set(
          [t, 0, 0, t + 1, 0, 0, t, 1, 0].map((x) => x / 100),
          t * 9,
        );
        for (let k = 0; k < 3; k++) normals.set([0, 0, t < wrong ? -1 : t === 99 ? length : 1], t * 9 + k * 3);
      }
      const put = (array: Float32Array<ArrayBuffer>) =>
        document.createAccessor().setType('VEC3').setArray(array).setBuffer(document.getRoot().listBuffers()[0]);
      const p = document.createPrimitive().setAttribute('POSITION', put(positions)).setAttribute('NORMAL', put(normals));
      document.createScene();
      document
        .getRoot()
        .listScenes()[0]
        .addChild(document.createNode('strip').setMesh(document.createMesh('strip').addPrimitive(p)));
    });
  test('may point back on two triangles of a hundred, not on three', async () => {
    expect(await strip(2)).not.toContain('geometry/normals-opposed');
    expect(await strip(3)).toContain('geometry/normals-opposed');
  });
  test('may be a tenth too long or short', async () => {
    for (const length of [0.92, 1.08]) expect(await strip(0, length)).not.toContain('geometry/normals-zero');
    for (const length of [0.88, 1.12, 0]) expect(await strip(0, length)).toContain('geometry/normals-zero');
  });
});
