import { Document } from '@gltf-transform/core';
import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { expect, describe as group, it } from 'vitest';
import { bytesWithMips } from '../../intake/check/textures';
import { seededRandom } from '../../math';
import { addSurface, blob, plane, sphere, surfaceDocument } from '../samples';
import { THRESHOLDS, type VisibleError } from '../terms';
import { VIEW_RING, viewingDistance } from '../viewing';
import { directedDistance, sampleShape, surfaceOf } from './distance';
import { errorOf, errorTerms, makeReference, measureError } from './error';
import { heatOf } from './heat';
import { NearestTree, nearest } from './nearest';
import type { Camera } from './raster';
import { readShape, type Shape, shapeBox } from './shape';
import { greyStats, ssim } from './ssim';
import { mipTexture } from './texture';
import { drawView, FULL } from './view';
import { ringOf } from './views';
import { isSeen, lookout } from './visible';

const ball = (r: number, n = 64) => readShape(surfaceDocument('ball', sphere(r), n * 2, n));
const both = (a: Shape, b: Shape) => {
  const [there, back] = [
    directedDistance(sampleShape(a, 4_000, 1), surfaceOf(b)),
    directedDistance(sampleShape(b, 4_000, 2), surfaceOf(a)),
  ];
  return { mean: Math.max(there.meanM, back.meanM) * 1000, max: Math.max(there.maxM, back.maxM) * 1000, normalDeg: there.normalDeg };
};

group('distance', () => {
  it('of two spheres about one point is the difference of their radii (closed form)', () => {
    const d = both(ball(0.1), ball(0.103));
    expect(d.mean).toBeCloseTo(3, 1);
    expect(d.max).toBeLessThan(3.2);
    expect(d.normalDeg).toBeLessThan(0.6);
  });
  it('of two shifted planes is the shift (closed form)', () => {
    const flat = readShape(surfaceDocument('plane', plane(0.2), 4, 4));
    const up = { ...flat, positions: flat.positions.map((x, i) => (i % 3 === 1 ? x + 0.0025 : x)) };
    const d = both(flat, up);
    expect(d.mean).toBeCloseTo(2.5, 4);
    expect(d.max).toBeCloseTo(2.5, 4);
    expect(d.normalDeg).toBeCloseTo(0, 4);
  });
  it('of a plane turned by 10° has normals 10° apart', () => {
    const flat = readShape(surfaceDocument('plane', plane(0.2), 4, 4));
    const [c, s] = [Math.cos(Math.PI / 18), Math.sin(Math.PI / 18)];
    const turn = (list: Float32Array) =>
      list.map((_, i) => (i % 3 === 0 ? list[i] : i % 3 === 1 ? c * list[i] - s * list[i + 1] : s * list[i - 1] + c * list[i]));
    expect(both(flat, { ...flat, positions: turn(flat.positions), normals: turn(flat.normals) }).normalDeg).toBeCloseTo(10, 2);
  });
  it('is the same as another tree finds (three-mesh-bvh), near and far', () => {
    const s = readShape(surfaceDocument('blob', blob(0.1), 60, 30));
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(s.positions, 3));
    geometry.setIndex(new BufferAttribute(s.triangles.slice(), 1));
    const other = new MeshBVH(geometry);
    const tree = new NearestTree(s.positions, s.triangles);
    const random = seededRandom(3);
    const out = nearest();
    for (let i = 0; i < 2_000; i++) {
      const p = new Vector3(random() - 0.5, random() - 0.5, random() - 0.5).multiplyScalar(i % 2 ? 0.25 : 2);
      tree.ask(p.x, p.y, p.z, out);
      expect(out.distance).toBeCloseTo(other.closestPointToPoint(p)?.distance as number, 6);
      const q = [0, 1, 2].map((k) => out.corners.reduce((sum, v, c) => sum + s.positions[v * 3 + k] * out.weights[c], 0));
      expect(Math.hypot(q[0] - p.x, q[1] - p.y, q[2] - p.z)).toBeCloseTo(out.distance, 6);
    }
  });
  it('as heat, at every vertex: between spheres about one point their difference, of nothing left infinite', () => {
    const [a, b] = [readShape(surfaceDocument('a', sphere(0.1), 48, 24)), readShape(surfaceDocument('b', sphere(0.101), 96, 48))];
    const heat = heatOf(a, b);
    expect(heat.gapMm).toHaveLength(a.positions.length / 3);
    // facets of the outer ball lie up to r(1 − cos(π/48)) within it
    for (const gap of heat.gapMm) expect(Math.abs(gap - 1)).toBeLessThan(101 * (1 - Math.cos(Math.PI / 48)) + 0.01);
    expect(heatOf(a, { ...b, triangles: new Uint32Array() }).gapMm[0]).toBe(Number.POSITIVE_INFINITY);
  });
  it('does not depend on the order in which triangles and vertices are listed', () => {
    const [a, b] = [readShape(surfaceDocument('a', blob(0.1), 40, 20)), readShape(surfaceDocument('b', blob(0.1), 24, 12))];
    const random = seededRandom(8);
    const count = b.triangles.length / 3;
    const shuffled = Array.from({ length: count }, (_, i) => ({ i, at: random() })).sort((x, y) => x.at - y.at);
    // and each triangle begun at another corner
    const triangles = Uint32Array.from(shuffled.flatMap(({ i }) => [1, 2, 0].map((k) => b.triangles[i * 3 + k])));
    const [listed, mixed] = [b, { ...b, triangles }].map((x) => directedDistance(sampleShape(x, 3_000, 5), surfaceOf(a)));
    expect(mixed.meanM).toBeCloseTo(listed.meanM, 7);
    expect(mixed.maxM).toBeCloseTo(listed.maxM, 7);
  });
  it('from something to nothing is infinite, from nothing is nought', () => {
    const s = ball(0.1, 8);
    expect(directedDistance(sampleShape(s, 100, 1), null).meanM).toBe(Infinity);
    expect(directedDistance(sampleShape({ ...s, triangles: new Uint32Array() }, 100, 1), surfaceOf(s)).meanM).toBe(0);
  });
});

const front: Camera = {
  right: new Vector3(1, 0, 0),
  up: new Vector3(0, 1, 0),
  back: new Vector3(0, 0, 1),
  centre: new Vector3(),
  scale: 1000,
  width: 260,
  height: 260,
};
const covered = (s: Shape) => drawView(s, [], front).cover.reduce((n, x) => n + x, 0) / FULL;

group('rasteriser', () => {
  it('a ball of 100 mm at one pixel a millimetre covers π·100² pixels', () => {
    expect(Math.abs(covered(ball(0.1)) / (Math.PI * 100 ** 2) - 1)).toBeLessThan(0.002);
  });
  it('what is nearer hides what is behind, whatever their order', () => {
    const luma = (sheets: readonly { red: boolean; z: number }[]) => {
      const document = new Document();
      for (const { red, z } of sheets) {
        const paint = document.createMaterial().setBaseColorFactor(red ? [1, 0, 0, 1] : [0, 0, 1, 1]);
        addSurface(document, 'sheet', (u, v) => [(u - 0.5) * 0.1, (v - 0.5) * 0.1, 0], 1, 1, paint, [0, 0, z]);
      }
      return drawView(readShape(document), [], front).luma[130 * 260 + 130];
    };
    const [red, blue] = [luma([{ red: true, z: 0.05 }]), luma([{ red: false, z: 0.05 }])];
    expect(red).toBeGreaterThan(blue + 0.1);
    for (const z of [-0.05, 0.1]) {
      const hidden = z < 0.05;
      expect(
        luma([
          { red: true, z: 0.05 },
          { red: false, z },
        ]),
      ).toBeCloseTo(hidden ? red : blue, 6);
      expect(
        luma([
          { red: false, z },
          { red: true, z: 0.05 },
        ]),
      ).toBeCloseTo(hidden ? red : blue, 6);
    }
  });
  it('the back of a single-sided sheet is not drawn, of a double-sided one it is', () => {
    const document = surfaceDocument('sheet', (u, v) => [(0.5 - u) * 0.1, (v - 0.5) * 0.1, 0], 1, 1);
    expect(covered(readShape(document))).toBe(0);
    document.getRoot().listMaterials()[0].setDoubleSided(true);
    expect(covered(readShape(document))).toBe(10_000);
  });
  it('a picture lands where its UVs say, upright', () => {
    const document = surfaceDocument('sheet', (u, v) => [(u - 0.5) * 0.1, (0.5 - v) * 0.1, 0], 1, 1);
    const m = document.getRoot().listMaterials()[0].setBaseColorTexture(document.createTexture('t')).setDoubleSided(true);
    m.setBaseColorFactor([1, 1, 1, 1]);
    // upper left red, the rest black
    const data = new Uint8Array(16 * 16 * 4).fill(0);
    for (let y = 0; y < 16; y++) for (let x = 0; x < 16; x++) data.set([x < 8 && y < 8 ? 255 : 0, 0, 0, 255], (y * 16 + x) * 4);
    const { luma } = drawView(readShape(document), [mipTexture({ width: 16, height: 16, data })], front);
    const light = (x: number, y: number) => luma[y * 260 + x];
    expect(light(100, 100)).toBeGreaterThan(0.2);
    for (const [x, y] of [
      [160, 100],
      [100, 160],
      [160, 160],
    ])
      expect(light(x, y)).toBeLessThan(0.15);
  });
  it('mip levels end in the mean of the picture', () => {
    const data = Uint8Array.from({ length: 64 * 32 * 4 }, (_, i) => (i % 4 === 3 ? 255 : (i * 7) % 256));
    const levels = mipTexture({ width: 64, height: 32, data }).levels;
    const last = levels[levels.length - 1];
    expect([last.width, last.height]).toEqual([1, 1]);
    const mean = data.filter((_, i) => i % 4 === 0).reduce((s, x) => s + x, 0) / (64 * 32);
    expect(Math.abs(last.data[0] - mean)).toBeLessThan(3);
    expect(levels.reduce((s, l) => s + l.width * l.height * 4, 0)).toBe(bytesWithMips(64, 32));
  });
});

group('similarity', () => {
  const size = 32;
  const noise = (seed: number) => {
    const random = seededRandom(seed);
    return Float32Array.from({ length: size * size }, () => random());
  };
  const of = (a: Float32Array, b: Float32Array) => ssim(greyStats(a, size, size), greyStats(b, size, size), size, size);
  it('of a picture with itself is 1', () => expect(of(noise(1), noise(1))).toBeCloseTo(1, 6));
  it('of two plain greys is their luminance term alone (closed form)', () => {
    const [a, b] = [0.4, 0.6];
    const c1 = 0.01 ** 2;
    expect(of(new Float32Array(size * size).fill(a), new Float32Array(size * size).fill(b))).toBeCloseTo(
      (2 * a * b + c1) / (a * a + b * b + c1),
      3,
    );
  });
  it('of unrelated noise is near 0, of a negative under 0', () => {
    expect(Math.abs(of(noise(1), noise(2)))).toBeLessThan(0.1);
    expect(
      of(
        noise(1),
        noise(1).map((x) => 1 - x),
      ),
    ).toBeLessThan(-0.5);
  });
});

group('visible error', () => {
  const ref = makeReference(ball(0.1), [], 0.5);
  it('of a model beside itself is nothing', () => {
    const e = measureError(ref, ref.shape, []);
    expect(e.meanMm).toBeLessThan(1e-3);
    expect(e.silhouette).toBe(0);
    expect(e.ssimWorst).toBeCloseTo(1, 5);
  });
  it('of a ball 1 % larger: 1 mm, and a silhouette of 2 % (area goes with the square)', () => {
    const e = measureError(ref, ball(0.101), []);
    expect(e.meanMm).toBeCloseTo(1, 1);
    expect(e.silhouette).toBeGreaterThan(0.016);
    expect(e.silhouette).toBeLessThan(0.027);
  });
  it('what appears beside the original counts in the similarity, not in the silhouette alone', () => {
    const at = (...xs: number[]) => {
      const document = new Document();
      const paint = document.createMaterial().setBaseColorFactor([1, 1, 1, 1]).setMetallicFactor(0);
      for (const x of xs) addSurface(document, `ball ${x}`, sphere(0.01), 24, 12, paint, [x, 0, 0]);
      return readShape(document);
    };
    const [two, three] = [at(-0.1, 0.1), at(-0.1, 0, 0.1)];
    expect(measureError(makeReference(two, [], 0.5), two, []).ssimWorst).toBeCloseTo(1, 5);
    expect(measureError(makeReference(two, [], 0.5), three, []).ssimWorst).toBeLessThan(0.9);
  });
  it('E is the largest term over its threshold, and millimetres count half from twice as far', () => {
    const e: VisibleError = { meanMm: 0.1, maxMm: 0.9, normalDeg: 1, silhouette: 0.001, ssimWorst: 0.99, worstView: '' };
    expect(errorOf(e, 0.5)).toBeCloseTo(0.9);
    expect(errorTerms(e, 1).maxMm).toBeCloseTo(0.45);
    expect(errorOf(e, 1)).toBeCloseTo(0.5);
    expect(errorOf({ ...e, ssimWorst: 1 - THRESHOLDS.ssimLoss * 3 }, 0.5)).toBeCloseTo(3);
  });
  it('a large thing is looked at from further away than a small one', () => {
    expect(viewingDistance('figure')).toBeGreaterThan(viewingDistance('eyewear'));
    expect(viewingDistance(null)).toBe(0.5);
  });
  it('every camera of the ring holds the whole box', () => {
    const box = shapeBox(ball(0.1, 8));
    const cameras = ringOf(box, 0.5);
    expect(cameras).toHaveLength(VIEW_RING.length);
    for (const c of cameras)
      for (let i = 0; i < 8; i++) {
        const p = new Vector3(i & 1 ? box.min.x : box.max.x, i & 2 ? box.min.y : box.max.y, i & 4 ? box.min.z : box.max.z).sub(c.centre);
        expect(Math.abs(p.dot(c.right)) * c.scale).toBeLessThan(c.width / 2);
        expect(Math.abs(p.dot(c.up)) * c.scale).toBeLessThan(c.height / 2);
      }
  });
  it('what lies inside a closed ball is not seen, its skin is', () => {
    const look = lookout(ball(0.1));
    expect(isSeen(look, 0, 0, 0)).toBe(false);
    expect(isSeen(look, 0.05, 0.05, 0)).toBe(false);
    expect(isSeen(look, 0.1, 0, 0)).toBe(true);
  });
});
