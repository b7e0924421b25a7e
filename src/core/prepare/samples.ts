/** Models made from formulas, for tests and the bench: what their surface is, is known. */
import { Document, Logger, type Material } from '@gltf-transform/core';

export type Surface = (u: number, v: number) => readonly [number, number, number];

/** A sphere of radius r, poles up and down. */
export const sphere =
  (r: number): Surface =>
  (u, v) => {
    const [a, b] = [u * 2 * Math.PI, v * Math.PI];
    return [r * Math.sin(b) * Math.sin(a), -r * Math.cos(b), r * Math.sin(b) * Math.cos(a)];
  };
/** A torus whose tube swells and shrinks. */
export const rippledTorus =
  (r: number, tube: number, ripples: number): Surface =>
  (u, v) => {
    const [a, b] = [u * 2 * Math.PI, v * 2 * Math.PI];
    const t = tube * (1 + 0.15 * Math.sin(ripples * a) * Math.cos(3 * b));
    return [(r + t * Math.cos(b)) * Math.sin(a), t * Math.sin(b), (r + t * Math.cos(b)) * Math.cos(a)];
  };
/** A ball with large and fine bumps. */
export const blob =
  (r: number): Surface =>
  (u, v) => {
    const [x, y, z] = sphere(1)(u, v);
    const f =
      1 +
      0.14 * Math.sin(3 * x + 1) * Math.cos(4 * y) +
      0.05 * Math.sin(11 * z + 5 * x) +
      0.012 * Math.sin(37 * x) * Math.sin(31 * y) * Math.sin(29 * z);
    return [r * f * x, r * f * y, r * f * z];
  };
export const plane =
  (size: number): Surface =>
  (u, v) => [(u - 0.5) * size, 0, (0.5 - v) * size];

/** Adds a node with the surface as a grid of 2·across·down triangles; normals from differences, UVs the parameters. */
export function addSurface(
  document: Document,
  name: string,
  f: Surface,
  across: number,
  down: number,
  material: Material | null = null,
  at: [number, number, number] = [0, 0, 0],
) {
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const count = (across + 1) * (down + 1);
  const [positions, normals, uvs] = [new Float32Array(count * 3), new Float32Array(count * 3), new Float32Array(count * 2)];
  const h = 1e-4;
  for (let j = 0; j <= down; j++)
    for (let i = 0; i <= across; i++) {
      const [u, v, k] = [i / across, j / down, j * (across + 1) + i];
      positions.set(f(u, v), k * 3);
      uvs.set([u, v], k * 2);
      // at a pole one direction has no length: a little beside it both have
      const w = Math.min(1 - 1e-3, Math.max(1e-3, v));
      const [a, b, c, d] = [f(u - h, w), f(u + h, w), f(u, w - h), f(u, w + h)];
      const p = [0, 1, 2].map((x) => b[x] - a[x]);
      const q = [0, 1, 2].map((x) => d[x] - c[x]);
      const n = [p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]];
      const l = Math.hypot(...n) || 1;
      normals.set(
        n.map((x) => x / l),
        k * 3,
      );
    }
  const triangles: number[] = [];
  const same = (x: number, y: number) => [0, 1, 2].every((k) => Math.abs(positions[x * 3 + k] - positions[y * 3 + k]) < 1e-9);
  for (let j = 0; j < down; j++)
    for (let i = 0; i < across; i++) {
      const a = j * (across + 1) + i;
      const [b, c, d] = [a + 1, a + across + 1, a + across + 2];
      // at a pole a square is one triangle
      if (!same(a, b)) triangles.push(a, b, d);
      if (!same(c, d)) triangles.push(a, d, c);
    }
  const put = (type: 'VEC3' | 'VEC2', array: Float32Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', put('VEC3', positions))
    .setAttribute('NORMAL', put('VEC3', normals))
    .setAttribute('TEXCOORD_0', put('VEC2', uvs))
    .setIndices(document.createAccessor().setArray(Uint32Array.from(triangles)).setBuffer(buffer))
    .setMaterial(material);
  const node = document.createNode(name).setTranslation(at).setMesh(document.createMesh(name).addPrimitive(primitive));
  const scene = document.getRoot().listScenes()[0] ?? document.createScene('scene');
  scene.addChild(node);
  return node;
}

export function surfaceDocument(name: string, f: Surface, across: number, down: number): Document {
  const document = new Document().setLogger(new Logger(Logger.Verbosity.SILENT));
  addSurface(document, name, f, across, down, document.createMaterial('paint').setBaseColorFactor([0.7, 0.5, 0.3, 1]).setMetallicFactor(0));
  return document;
}
