/** Where a body hides nothing under a garment, worked out: where cloth lies over the skin. */
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { BARE } from '../form/body/bare';
import type { DrawnBody } from '../form/body/body';
import type { BodySkeleton } from '../form/body/pose';
import { weldPlaces } from '../math/weld';
import type { Model } from '../model/model';
import type { WornSaid } from './worn';
import { clothAt } from './wornfit';

/** Cloth further off the skin than this is no cover, metres. */
const OFF_M = 0.06;
/** Cloth that is so deep in the skin lies over it all the same, metres. */
const IN_M = 0.012;

/**
 * Levels of the body at rest: bare where cloth lies over it, but for a ring along every opening, so that the arm hides the far side of its
 * sleeve.
 */
export function bareUnderCloth(model: Model, said: WornSaid, rest: BodySkeleton, body: DrawnBody): Uint8Array {
  const { positions: p, normals: n, indices } = body;
  const out = new Uint8Array(p.length / 3);
  const trees = clothAt(model, said, rest)
    .filter(({ triangles }) => triangles.length > 0)
    .map(({ positions, triangles }) => {
      const g = new BufferGeometry().setAttribute('position', new BufferAttribute(positions, 3));
      return new MeshBVH(g.setIndex(new BufferAttribute(triangles.slice(), 1)));
    });
  const place = weldPlaces(p);
  const ray = new Ray();
  const out3 = new Vector3();
  for (let v = 0; v < out.length; v++) {
    if (place[v] !== v) continue;
    out3.fromArray(n, v * 3);
    ray.origin.fromArray(p, v * 3).addScaledVector(out3, -IN_M);
    ray.direction.copy(out3);
    if (trees.some((t) => t.raycastFirst(ray, DoubleSide, 0, IN_M + OFF_M) !== null)) out[v] = BARE;
  }
  const end = body.groups.find((g) => g.name === 'eyes')?.start ?? indices.length;
  const edge = new Uint8Array(out.length);
  for (let t = 0; t < end; t += 3) {
    const three = [place[indices[t]], place[indices[t + 1]], place[indices[t + 2]]];
    if (three.some((v) => out[v] === 0)) for (const v of three) edge[v] = 1;
  }
  for (let v = 0; v < out.length; v++) out[v] = edge[place[v]] ? 0 : out[place[v]];
  return out;
}
