/**
 * What a real wearer would hide of a part and the piece's occluders do not, and what these swallow though it should be seen: places spread
 * evenly over the part, each looked at from the camera past the wearer as they are, and past what the piece hides with.
 */
import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { type Blocks, standsBetween } from './blocks';
import type { ClearanceShape } from './clearance';

export interface Leaks {
  /** Of what is drawn, the share that a wearer would hide, 0 … 1. */
  leak: number;
  /** Of what should be seen, the share that is not drawn. */
  swallowed: number;
  /** Places that leak and places that are swallowed, three numbers each, metres. */
  leaksAt: number[];
  swallowedAt: number[];
}

/** Places a part is looked at in. */
const PLACES = 1_500;
/** What lies so near before a place is the place itself, metres. */
const SELF_M = 0.0005;

/** Triangles that stand in the way. */
export class Blocker implements Blocks {
  private readonly position: BufferAttribute;
  private readonly tree: MeshBVH;

  constructor(positions: Float32Array, indices: Uint32Array) {
    const g = new BufferGeometry();
    this.position = new BufferAttribute(positions, 3);
    g.setAttribute('position', this.position);
    g.setIndex(new BufferAttribute(indices, 1));
    this.tree = new MeshBVH(g, { indirect: true });
  }

  move(positions: Float32Array): void {
    (this.position.array as Float32Array).set(positions);
    this.tree.refit();
  }

  blocks(eye: Vector3, at: Vector3, selfM: number): boolean {
    return standsBetween(this.tree, eye, at, selfM);
  }
}

/** Numbers that fill 0 … 1 evenly however many are taken (Halton 1960). */
function spread(n: number, base: number): number {
  let [out, share] = [0, 1];
  for (let i = n; i > 0; i = Math.floor(i / base)) {
    share /= base;
    out += share * (i % base);
  }
  return out;
}

/** Sound triangles of shapes as one. */
function joined(shapes: readonly ClearanceShape[]): { positions: number[]; indices: number[] } {
  const positions: number[] = [];
  const indices: number[] = [];
  for (const s of shapes) {
    const from = positions.length / 3;
    for (const x of s.positions) positions.push(x);
    for (let t = 0; t < s.triangles.length; t += 3) {
      const three = [s.triangles[t], s.triangles[t + 1], s.triangles[t + 2]];
      if (three.every((v) => Number.isFinite(s.positions[v * 3] + s.positions[v * 3 + 1] + s.positions[v * 3 + 2])))
        indices.push(...three.map((v) => v + from));
    }
  }
  return { positions, indices };
}
export function blockerOf(shapes: readonly ClearanceShape[]): Blocker {
  const { positions, indices } = joined(shapes);
  return new Blocker(Float32Array.from(positions), Uint32Array.from(indices));
}

/** The part itself, and places spread over it by area. The same for the same shape. */
export function placesOn(shapes: readonly ClearanceShape[]): { places: Vector3[]; self: Blocker } | null {
  const { positions, indices } = joined(shapes);
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  const upTo = new Float64Array(indices.length / 3);
  let area = 0;
  for (let t = 0; t < upTo.length; t++) {
    a.fromArray(positions, indices[t * 3] * 3);
    b.fromArray(positions, indices[t * 3 + 1] * 3).sub(a);
    c.fromArray(positions, indices[t * 3 + 2] * 3).sub(a);
    area += b.cross(c).length() / 2;
    upTo[t] = area;
  }
  if (!(area > 0)) return null;
  const places: Vector3[] = [];
  let t = 0;
  for (let n = 0; n < PLACES; n++) {
    // one place in each of as many equal areas
    const at = ((n + 0.5) / PLACES) * area;
    while (t < upTo.length - 1 && upTo[t] < at) t++;
    const [u, v] = [Math.sqrt(spread(n + 1, 2)), spread(n + 1, 3)];
    a.fromArray(positions, indices[t * 3] * 3);
    b.fromArray(positions, indices[t * 3 + 1] * 3);
    c.fromArray(positions, indices[t * 3 + 2] * 3);
    places.push(
      a
        .clone()
        .multiplyScalar(1 - u)
        .addScaledVector(b, u * (1 - v))
        .addScaledVector(c, u * v),
    );
  }
  return { places, self: new Blocker(Float32Array.from(positions), Uint32Array.from(indices)) };
}

/** @param wearer as they are @param hides what the piece hides with @param eye the camera; all in one frame */
export function leaksOf(part: NonNullable<ReturnType<typeof placesOn>>, wearer: Blocks, hides: readonly Blocks[], eye: Vector3): Leaks {
  const out: Leaks = { leak: 0, swallowed: 0, leaksAt: [], swallowedAt: [] };
  // hidden with the wearer as they are, and with nothing besides
  if (hides.length > 0 && hides.every((h) => h === wearer)) return out;
  let [drawn, real] = [0, 0];
  for (const p of part.places) {
    if (part.self.blocks(eye, p, SELF_M)) continue;
    const should = wearer.blocks(eye, p, SELF_M);
    const isHidden = hides.some((h) => (h === wearer ? should : h.blocks(eye, p, SELF_M)));
    if (!isHidden) drawn++;
    if (!should) real++;
    if (should && !isHidden) out.leaksAt.push(p.x, p.y, p.z);
    if (!should && isHidden) out.swallowedAt.push(p.x, p.y, p.z);
  }
  out.leak = drawn > 0 ? out.leaksAt.length / 3 / drawn : 0;
  out.swallowed = real > 0 ? out.swallowedAt.length / 3 / real : 0;
  return out;
}
