/**
 * Signed distance to a closed surface of triangles: the nearest place by a search tree, its side by the angle-weighted normal of the face,
 * edge or corner it lies on (Bærentzen & Aanæs 2005), which is right wherever the surface is closed.
 */
import { BufferAttribute, BufferGeometry, Triangle, Vector3 } from 'three';
import { type HitPointInfo, MeshBVH } from 'three-mesh-bvh';
import { weldPlaces } from '../math/weld';
import { type Blocks, standsBetween } from './blocks';

/** Beyond this nothing is asked; metres. */
export const REACH_M = 0.15;
/** Of a triangle's barycentric coordinates: nearer to nought than this it is its edge. */
const ON_EDGE = 1e-7;

/** Tells how far a place is from a closed surface, metres, negative inside; `REACH_M` at most. */
export interface Distances {
  distance(x: number, y: number, z: number): number;
}

export class SurfaceField implements Blocks, Distances {
  private readonly position: BufferAttribute;
  private readonly tree: MeshBVH;
  /** Vertex → the first at its place. */
  private readonly weld: Uint32Array;
  /** Faces round each welded vertex, and across each edge by its welded ends. */
  private readonly round: number[][] = [];
  private readonly across = new Map<number, number[]>();
  /** Whether what was told last is nearest to an open edge, where the surface has no side. */
  atOpenEdge = false;
  private readonly hit = { point: new Vector3() } as HitPointInfo;
  private readonly p = new Vector3();
  private readonly n = new Vector3();

  /** @param positions taken as its own @param indices left as they are */
  constructor(
    positions: Float32Array,
    private readonly indices: Uint32Array,
  ) {
    const g = new BufferGeometry();
    this.position = new BufferAttribute(positions, 3);
    g.setAttribute('position', this.position);
    g.setIndex(new BufferAttribute(indices, 1));
    this.tree = new MeshBVH(g, { indirect: true });
    this.weld = weldPlaces(positions);
    const count = positions.length / 3;
    for (let t = 0; t < indices.length; t += 3)
      for (let k = 0; k < 3; k++) {
        const a = this.weld[indices[t + k]];
        const b = this.weld[indices[t + ((k + 1) % 3)]];
        this.round[a] ??= [];
        this.round[a].push(t);
        const edge = a < b ? a * count + b : b * count + a;
        const list = this.across.get(edge);
        if (list) list.push(t);
        else this.across.set(edge, [t]);
      }
  }

  /** The same triangles with their corners elsewhere. */
  move(positions: Float32Array): void {
    (this.position.array as Float32Array).set(positions);
    this.tree.refit();
  }

  /** Metres, negative inside. @param withinM where nothing is so near, this is told */
  distance(x: number, y: number, z: number, withinM = REACH_M): number {
    const { hit, p, n } = this;
    p.set(x, y, z);
    const reach = Math.min(withinM, REACH_M);
    this.atOpenEdge = false;
    // beyond its reach the tree tells what it came across, not what is nearest
    if (!this.tree.closestPointToPoint(p, hit, 0, reach) || hit.distance > reach) return reach;
    this.normalAt(hit.faceIndex * 3, hit.point, n);
    return p.sub(hit.point).dot(n) < 0 ? -hit.distance : hit.distance;
  }

  /** The place of the surface that is nearest; null where nothing is within `REACH_M`. */
  nearest(x: number, y: number, z: number): { triangle: number; bary: [number, number, number]; apartM: number } | null {
    const { hit, p } = this;
    if (!this.tree.closestPointToPoint(p.set(x, y, z), hit, 0, REACH_M) || hit.distance > REACH_M) return null;
    this.face(hit.faceIndex * 3, this.n);
    const [a, b, c] = this.corner;
    const bary = Triangle.getBarycoord(hit.point, a, b, c, new Vector3());
    return bary && { triangle: hit.faceIndex, bary: [bary.x, bary.y, bary.z], apartM: hit.distance };
  }

  /** Whether the surface stands between the two. */
  blocks(eye: Vector3, at: Vector3, selfM: number): boolean {
    return standsBetween(this.tree, eye, at, selfM);
  }

  private readonly corner = [new Vector3(), new Vector3(), new Vector3()];
  private readonly u = new Vector3();
  private readonly v = new Vector3();

  private face(t: number, out: Vector3): Vector3 {
    const [a, b, c] = this.corner;
    a.fromBufferAttribute(this.position, this.indices[t]);
    b.fromBufferAttribute(this.position, this.indices[t + 1]);
    c.fromBufferAttribute(this.position, this.indices[t + 2]);
    return out.crossVectors(this.u.subVectors(b, a), this.v.subVectors(c, a)).normalize();
  }

  private normalAt(t: number, at: Vector3, out: Vector3): void {
    const own = this.face(t, out);
    const [a, b, c] = this.corner;
    const whole = this.u.subVectors(b, a).cross(this.v.subVectors(c, a)).length();
    if (!(whole > 0)) return;
    // how far the place is from each corner's opposite edge
    const share = [
      [b, c],
      [c, a],
      [a, b],
    ].map(([p, q]) => this.u.subVectors(p, at).cross(this.v.subVectors(q, at)).length() / whole);
    const off = share.flatMap((s, k) => (s < ON_EDGE ? [k] : []));
    const { indices, weld } = this;
    const count = this.position.count;
    if (off.length === 1) {
      const [i, j] = [weld[indices[t + ((off[0] + 1) % 3)]], weld[indices[t + ((off[0] + 2) % 3)]]];
      const faces = this.across.get(i < j ? i * count + j : j * count + i) ?? [t];
      this.atOpenEdge = faces.length < 2;
      const sum = new Vector3();
      for (const f of faces) sum.add(this.face(f, this.n2));
      out.copy(sum);
    } else if (off.length === 2) {
      const k = [0, 1, 2].find((q) => !off.includes(q)) as number;
      const at0 = weld[indices[t + k]];
      this.atOpenEdge = this.isOpenAt(at0);
      const sum = new Vector3();
      for (const f of this.round[at0]) {
        const angle = this.angleAt(f, at0);
        sum.addScaledVector(this.face(f, this.n2), angle);
      }
      out.copy(sum);
    } else out.copy(own);
  }

  /** Whether an edge at a welded corner belongs to one face alone. */
  private isOpenAt(vertex: number): boolean {
    const { indices, weld } = this;
    const count = this.position.count;
    return this.round[vertex].some((t) =>
      [0, 1, 2].some((k) => {
        const [a, b] = [weld[indices[t + k]], weld[indices[t + ((k + 1) % 3)]]];
        return (a === vertex || b === vertex) && this.across.get(a < b ? a * count + b : b * count + a)?.length === 1;
      }),
    );
  }

  private readonly n2 = new Vector3();

  /** Of a face at a welded corner, radians. */
  private angleAt(t: number, vertex: number): number {
    const { indices, weld, position } = this;
    const k = [0, 1, 2].find((q) => weld[indices[t + q]] === vertex) ?? 0;
    const at = (q: number) => new Vector3().fromBufferAttribute(position, indices[t + ((k + q) % 3)]);
    const o = at(0);
    return at(1).sub(o).angleTo(at(2).sub(o));
  }
}

/**
 * Distances asked once a node of a grid, and told between them: many times as fast where the same places are asked again.
 * Where a wide grid says that the surface is far, a finer one is not asked.
 */
export class CoarseField implements Distances {
  private readonly fine: Grid;
  private readonly wide: Grid;

  /** @param beyond of what is further out than the grid */
  constructor(
    of: Distances,
    private readonly beyond: number,
  ) {
    this.fine = new Grid(of, FINE_NODE_M);
    this.wide = new Grid(of, WIDE_NODE_M);
  }

  distance(x: number, y: number, z: number): number {
    if (!(Math.max(Math.abs(x), Math.abs(y), Math.abs(z)) < HALF_M)) return this.beyond;
    const far = this.wide.distance(x, y, z);
    return Math.abs(far) > FAR_M ? far : this.fine.distance(x, y, z);
  }
}

/** Half an edge of the grids, metres, and how far their nodes are apart: between the finer ones it is true to a millimetre. */
const HALF_M = 0.28;
const [FINE_NODE_M, WIDE_NODE_M] = [0.006, 0.02];
/** Further than this it is told by the wide grid alone. */
const FAR_M = 0.035;

class Grid {
  private readonly nodes: Float32Array;
  private readonly edge: number;
  constructor(
    private readonly of: Distances,
    private readonly spacing: number,
  ) {
    this.edge = Math.ceil((2 * HALF_M) / spacing) + 2;
    this.nodes = new Float32Array(this.edge ** 3).fill(Number.NaN);
  }

  private node(i: number, j: number, k: number): number {
    const key = (i * this.edge + j) * this.edge + k;
    const known = this.nodes[key];
    if (!Number.isNaN(known)) return known;
    const d = this.of.distance(i * this.spacing - HALF_M, j * this.spacing - HALF_M, k * this.spacing - HALF_M);
    this.nodes[key] = d;
    return d;
  }

  distance(x: number, y: number, z: number): number {
    const [u, v, w] = [(x + HALF_M) / this.spacing, (y + HALF_M) / this.spacing, (z + HALF_M) / this.spacing];
    const [i, j, k] = [Math.floor(u), Math.floor(v), Math.floor(w)];
    const [a, b, c] = [u - i, v - j, w - k];
    const low =
      (1 - b) * ((1 - c) * this.node(i, j, k) + c * this.node(i, j, k + 1)) +
      b * ((1 - c) * this.node(i, j + 1, k) + c * this.node(i, j + 1, k + 1));
    const high =
      (1 - b) * ((1 - c) * this.node(i + 1, j, k) + c * this.node(i + 1, j, k + 1)) +
      b * ((1 - c) * this.node(i + 1, j + 1, k) + c * this.node(i + 1, j + 1, k + 1));
    return (1 - a) * low + a * high;
  }
}
