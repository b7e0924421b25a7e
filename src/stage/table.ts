/** The turntable: models and measured surfaces in one frame, so that what is compared is seen by the same camera. */
import {
  BackSide,
  Box3,
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  FrontSide,
  Group,
  LineBasicMaterial,
  LineSegments,
  type Material,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  MeshNormalMaterial,
  MeshStandardMaterial,
  type Object3D,
  PerspectiveCamera,
  Raycaster,
  SphereGeometry,
  Vector2,
  Vector3,
} from 'three';
import { type DrawnModel, ModelHolder } from './models';

/** How a model on the turntable is shown. */
export type TableLook = 'lit' | 'bare' | 'wire' | 'normals';

/** From where: turn of the table about up, and height over the horizon. */
export interface TableView {
  headingRad: number;
  heightRad: number;
}

/** A model by its SHA-256, moved as a whole by a column-major matrix. */
export interface OnTable {
  sha: string;
  moved?: readonly number[];
}

/** A place where detail is kept: metres of what lies on the table. */
export interface TableDab {
  atM: readonly [number, number, number];
  radiusM: number;
}

/** A surface with a colour a vertex. */
export interface HeatSurface {
  positions: Float32Array;
  normals: Float32Array;
  triangles: Uint32Array;
  /** Linear RGB. */
  colors: Float32Array;
  /** Lines over it, six coordinates a piece. */
  lines?: Float32Array;
  /** Seen through, behind it or before it. */
  ghost?: { positions: Float32Array; triangles: Uint32Array; before?: boolean };
}

const FIELD_DEG = 24;
/** What is at rest. */
const GHOST = '#2f6f9f';

function applyLook(o: Object3D, material: Material): void {
  if (o instanceof Mesh) o.material = material;
}

/** Air around what is seen. */
const MARGIN = 1.08;

const worn = new Map<string, Material>();
/** What tables wear stays: one that is thrown away takes its program along, and the next picture waits for another. */
function wears<M extends Material>(key: string, make: () => M): M {
  const known = (worn.get(key) as M | undefined) ?? make();
  worn.set(key, known);
  return known;
}

const boxes = new WeakMap<DrawnModel, Map<string, Box3>>();

/** Puts models into a group under one turn, and says from where it is seen. */
export class Table {
  readonly group = new Group();
  private readonly inner = new Group();
  private readonly made: { dispose: () => void }[] = [];
  private middle = new Vector3();
  private radius = 1;
  /** Of the upright cylinder it turns in: half its height, and its half width. */
  private turns = { high: 1, wide: 1 };

  constructor(private readonly view: TableView) {
    this.group.add(this.inner);
    this.group.rotation.y = view.headingRad;
  }

  private hold(item: OnTable, model: DrawnModel): Group {
    const held = new ModelHolder('turntable', item.sha, model);
    this.made.push({ dispose: () => held.free() });
    const { holder } = held;
    const all = new Group();
    all.matrixAutoUpdate = false;
    if (item.moved) all.matrix.copy(new Matrix4().fromArray(item.moved));
    all.add(holder);
    all.updateMatrixWorld(true);
    return all;
  }

  /** Everything is seen in the frame of this one. @returns false where it is empty */
  frame(item: OnTable, model: DrawnModel): boolean {
    const known = boxes.get(model) ?? new Map<string, Box3>();
    boxes.set(model, known);
    const key = item.moved?.join() ?? '';
    const box = known.get(key) ?? new Box3().setFromObject(this.hold(item, model));
    known.set(key, box);
    return this.frameBox(box);
  }

  /** Everything is seen in the frame of a measured surface. @returns false where it is empty */
  frameHeat({ positions }: HeatSurface): boolean {
    return this.frameBox(new Box3().setFromArray(positions));
  }

  private frameBox(box: Box3): boolean {
    if (box.isEmpty()) return false;
    box.getCenter(this.middle);
    const half = box.getSize(new Vector3()).multiplyScalar(0.5);
    this.radius = Math.max(half.length(), 1e-6);
    this.turns = { high: half.y, wide: Math.max(Math.hypot(half.x, half.z), 1e-6) };
    this.inner.position.copy(this.middle).negate();
    return true;
  }

  /** @param ink of the edges of triangles */
  put(item: OnTable, model: DrawnModel, look: TableLook, bare: Material, ink: string): void {
    const all = this.hold(item, model);
    if (look !== 'lit') {
      const cloth =
        look === 'bare'
          ? bare
          : look === 'wire'
            ? wears(`wire ${ink}`, () => new MeshBasicMaterial({ color: new Color(ink), wireframe: true }))
            : wears('normals', () => new MeshNormalMaterial({ side: DoubleSide }));
      all.traverse((o) => applyLook(o, cloth));
    }
    this.inner.add(all);
  }

  putHeat({ positions, normals, triangles, colors, lines, ghost }: HeatSurface, ink: string): void {
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(positions, 3));
    geometry.setAttribute('normal', new BufferAttribute(normals, 3));
    geometry.setAttribute('color', new BufferAttribute(colors, 3));
    geometry.setIndex(new BufferAttribute(triangles, 1));
    // lines lie on it
    const under = lines !== undefined;
    const material = wears(
      `heat ${under}`,
      () =>
        new MeshStandardMaterial({
          vertexColors: true,
          roughness: 0.9,
          side: DoubleSide,
          polygonOffset: under,
          polygonOffsetFactor: 1,
          polygonOffsetUnits: 1,
        }),
    );
    if (normals.every((x) => x === 0)) geometry.computeVertexNormals();
    this.made.push(geometry);
    const mesh = new Mesh(geometry, material);
    mesh.frustumCulled = false;
    this.inner.add(mesh);
    if (ghost) {
      const other = new BufferGeometry().setAttribute('position', new BufferAttribute(ghost.positions, 3));
      other.setIndex(new BufferAttribute(ghost.triangles, 1));
      // inside seen alone: its outline stays where the other stands before it
      const side = ghost.before ? FrontSide : BackSide;
      const veil = wears(
        `veil ${side}`,
        () => new MeshBasicMaterial({ color: new Color(GHOST), transparent: true, opacity: 0.28, depthWrite: false, side }),
      );
      this.made.push(other);
      const seen = new Mesh(other, veil);
      seen.frustumCulled = false;
      seen.raycast = () => undefined;
      this.inner.add(seen);
    }
    if (!lines || lines.length === 0) return;
    const drawn = new BufferGeometry().setAttribute('position', new BufferAttribute(lines, 3));
    const pen = wears(`pen ${ink}`, () => new LineBasicMaterial({ color: new Color(ink) }));
    this.made.push(drawn);
    const all = new LineSegments(drawn, pen);
    all.frustumCulled = false;
    // a press is on the surface, not on what lies over it
    all.raycast = () => undefined;
    this.inner.add(all);
  }

  putDabs(dabs: readonly TableDab[], color: string): void {
    if (dabs.length === 0) return;
    const geometry = new SphereGeometry(1, 20, 12);
    const material = wears(
      `dab ${color}`,
      () => new MeshBasicMaterial({ color: new Color(color), transparent: true, opacity: 0.28, depthWrite: false }),
    );
    this.made.push(geometry);
    for (const d of dabs) {
      const mesh = new Mesh(geometry, material);
      mesh.position.set(...d.atM);
      mesh.scale.setScalar(d.radiusM);
      this.inner.add(mesh);
    }
  }

  /** As near as all of it is seen whichever way it is turned. */
  private away(aspect: number): number {
    const { high, wide } = this.turns;
    const [sin, cos] = [Math.abs(Math.sin(this.view.heightRad)), Math.abs(Math.cos(this.view.heightRad))];
    const slope = Math.tan((FIELD_DEG / 2) * (Math.PI / 180));
    // the edge that is nearest, below where one looks down, and what is farthest aside
    const upright = (high * cos + wide * sin) / slope + wide * cos - high * sin;
    return Math.max(upright, wide / (slope * Math.min(aspect, 100)), this.radius) * MARGIN;
  }

  camera(aspect: number): PerspectiveCamera {
    const camera = new PerspectiveCamera(FIELD_DEG, aspect, this.radius / 100, this.radius * 100);
    const { heightRad: h } = this.view;
    const distance = this.away(aspect);
    // straight from above the horizon's up is no up any more
    if (Math.abs(h) > 1.5) camera.up.set(0, 0, -Math.sign(h));
    camera.position.set(0, distance * Math.sin(h), distance * Math.cos(h));
    camera.lookAt(0, 0, 0);
    camera.updateMatrixWorld();
    return camera;
  }

  /** The place on what lies on the table under a point of the picture (0..1 from its upper left), metres; null beside it. */
  pick(aspect: number, x: number, y: number): [number, number, number] | null {
    const ray = new Raycaster();
    ray.setFromCamera(new Vector2(x * 2 - 1, 1 - y * 2), this.camera(aspect));
    this.group.updateMatrixWorld(true);
    const hit = ray.intersectObjects(this.inner.children, true)[0];
    if (!hit) return null;
    return this.inner.worldToLocal(hit.point.clone()).toArray();
  }

  /** Where places of what lies on the table (metres, one after another) are in the picture, 0..1 from its upper left. */
  marks(aspect: number, places: ArrayLike<number>): Float64Array {
    const camera = this.camera(aspect);
    this.group.updateMatrixWorld(true);
    const v = new Vector3();
    const out = new Float64Array((places.length / 3) * 2);
    for (let i = 0; i * 3 < places.length; i++) {
      v.set(places[i * 3], places[i * 3 + 1], places[i * 3 + 2])
        .applyMatrix4(this.inner.matrixWorld)
        .project(camera);
      out[i * 2] = (v.x + 1) / 2;
      out[i * 2 + 1] = (1 - v.y) / 2;
    }
    return out;
  }

  dispose(): void {
    for (const m of this.made) m.dispose();
  }
}
