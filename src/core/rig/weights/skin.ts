/** The nearest place of a surface, of which what lies on it takes its weights. */
import { BufferAttribute, BufferGeometry, Triangle, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';

export interface NearestPlace {
  far: number;
  place: Vector3;
  /** Vertices of its triangle, and how much of the place each is. */
  corners: [number, number, number];
  share: Vector3;
  /** Of its triangle. */
  normal: Vector3;
}

/** A surface as a tree to ask for the nearest place. */
export class Skin {
  private readonly tree: MeshBVH;
  private readonly index: ArrayLike<number>;
  /** @param triangles are put in another order */
  constructor(
    private readonly positions: Float32Array,
    triangles: Uint32Array,
  ) {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(positions, 3));
    g.setIndex(new BufferAttribute(triangles, 1));
    this.tree = new MeshBVH(g);
    this.index = (g.getIndex() as BufferAttribute).array;
  }

  /** The nearest place; with `out`, of skin that looks to the same side. */
  nearest(p: Vector3, out: Vector3 | null): NearestPlace | null {
    let far = Infinity;
    let face = -1;
    const place = new Vector3();
    const [at, n] = [new Vector3(), new Vector3()];
    this.tree.shapecast({
      boundsTraverseOrder: (box) => box.distanceToPoint(p),
      intersectsBounds: (_box, _leaf, score) => (score ?? 0) < far,
      intersectsTriangle: (tri, i) => {
        if (out && tri.getNormal(n).dot(out) <= 0) return false;
        tri.closestPointToPoint(p, at);
        const d = at.distanceTo(p);
        if (d < far) {
          far = d;
          face = i;
          place.copy(at);
        }
        return false;
      },
    });
    if (face < 0) return null;
    const corners = [0, 1, 2].map((k) => this.index[face * 3 + k]) as [number, number, number];
    const [a, b, c] = corners.map((v) => new Vector3().fromArray(this.positions, v * 3));
    const tri = new Triangle(a, b, c);
    return {
      far,
      place,
      corners,
      share: tri.getBarycoord(place, new Vector3()) ?? new Vector3(1, 0, 0),
      normal: tri.getNormal(new Vector3()),
    };
  }
}
