/** Scores of shape: read by plain means and measured with another sampling and another tree than the solver's. */
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder } from 'meshoptimizer';
import { BufferAttribute, BufferGeometry, Matrix4, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { seededRandom } from '@/core/math';

export const io = new WebIO()
  .registerExtensions(ALL_EXTENSIONS)
  .registerDependencies({ 'draco3d.decoder': await draco3d.createDecoderModule(), 'meshopt.decoder': MeshoptDecoder });
await MeshoptDecoder.ready;

export interface Triangles {
  positions: Float32Array;
  triangles: Uint32Array;
}

/** All triangles of a file in world space. */
export async function trianglesOf(glb: Uint8Array): Promise<Triangles> {
  const document = await io.readBinary(glb as Uint8Array<ArrayBuffer>);
  const positions: number[] = [];
  const triangles: number[] = [];
  const v = new Vector3();
  const row: number[] = [];
  for (const node of document.getRoot().listNodes()) {
    const world = new Matrix4().fromArray(node.getWorldMatrix());
    for (const p of node.getMesh()?.listPrimitives() ?? []) {
      const at = p.getAttribute('POSITION');
      if (!at || p.getMode() !== 4) continue;
      const first = positions.length / 3;
      for (let i = 0; i < at.getCount(); i++) {
        at.getElement(i, row);
        v.set(row[0], row[1], row[2]).applyMatrix4(world);
        positions.push(v.x, v.y, v.z);
      }
      const list = p.getIndices()?.getArray() ?? Uint32Array.from({ length: at.getCount() }, (_, i) => i);
      for (const i of list) triangles.push(first + i);
    }
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}

export const bvhOf = ({ positions, triangles }: Triangles) => {
  const g = new BufferGeometry();
  g.setAttribute('position', new BufferAttribute(positions, 3));
  g.setIndex(new BufferAttribute(triangles.slice(), 1));
  return new MeshBVH(g);
};

/** Points by area, unstratified. */
export function points({ positions: p, triangles: t }: Triangles, count: number, seed: number): Vector3[] {
  const sums: number[] = [];
  let total = 0;
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  const corner = (i: number, out: Vector3) => out.fromArray(p, t[i] * 3);
  for (let i = 0; i < t.length; i += 3) {
    corner(i, a);
    corner(i + 1, b).sub(a);
    corner(i + 2, c).sub(a);
    total += b.cross(c).length();
    sums.push(total);
  }
  const random = seededRandom(seed);
  return Array.from({ length: count }, () => {
    const want = random() * total;
    let [lo, hi] = [0, sums.length - 1];
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (sums[mid] < want) lo = mid + 1;
      else hi = mid;
    }
    const r = Math.sqrt(random());
    const s = random();
    corner(lo * 3, a);
    corner(lo * 3 + 1, b);
    corner(lo * 3 + 2, c);
    return new Vector3()
      .addScaledVector(a, 1 - r)
      .addScaledVector(b, r * (1 - s))
      .addScaledVector(c, r * s);
  });
}

export const meanTo = (list: Vector3[], bvh: MeshBVH) => {
  const out = { point: new Vector3(), distance: 0, faceIndex: 0 };
  let sum = 0;
  for (const x of list) {
    bvh.closestPointToPoint(x, out);
    sum += out.distance;
  }
  return sum / list.length;
};

/** Mean two-sided distance to an original, in its own units × 1000. */
export function distanceTo(before: Triangles): (after: Triangles) => number {
  const [bvh, list] = [bvhOf(before), points(before, 20_000, 101)];
  return (after) => 500 * (meanTo(list, bvhOf(after)) + meanTo(points(after, 20_000, 202), bvh));
}
