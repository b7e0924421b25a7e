/**
 * The half mesh under construction (x >= 0): vertices with their region, pin and feature tag, faces, and the
 * named rings later steps need. Plain data, so that it survives structured cloning into a cache.
 */
import { type Block, EB, MB, NB, RB } from '../template';
import type { Vec3 } from '../vec';

export const REGIONS = ['skin', 'lips', 'brow', 'lid', 'ear', 'neck', 'bust', 'mouth', 'eye', 'nostril', 'cut'] as const;
export type Region = (typeof REGIONS)[number];
export const RG = Object.fromEntries(REGIONS.map((r, i) => [r, i])) as Record<Region, number>;

/** Which feature a vertex belongs to, and where in it (ring share s, place k along the ring). */
export interface Tag {
  feature: 'eye' | 'mouth' | 'ear' | 'nostril' | 'ball';
  s: number;
  k: number;
  up: boolean;
  /** 1 and 2: the two lining rings behind the lid rim. */
  inner: number;
  /** Depth behind the lip line, mm. */
  dz: number;
  /** Ear ring; 99 = its centre. */
  ring: number;
  /** Angle from the gaze axis on the eyeball, degrees. */
  th: number;
}
export const tagOf = (feature: Tag['feature'], rest: Partial<Tag> = {}): Tag => ({
  feature,
  s: 0,
  k: 0,
  up: false,
  inner: 0,
  dz: 10,
  ring: 0,
  th: 0,
  ...rest,
});

export interface HalfMesh {
  P: Vec3[];
  uv: [number, number][];
  region: number[];
  pin: boolean[];
  tag: (Tag | null)[];
  quads: [number, number, number, number][];
  tris: [number, number, number][];
  /** Grid row x column to vertex, -1 inside a block; row 0 is the pole. */
  G: number[][];
  rowCount: number;
  pole: number;
  eyeRings: number[][];
  mouthRings: number[][];
  mouthCenter: number;
  nostrilRings: number[][];
  nostrilCenter: number;
  earRings: number[][];
  earHalf: number[];
  earCenter: number;
  cutRings: number[][];
  cutCenter: number;
  /** Vertices on the midline. */
  mid: Set<number>;
}

export function createHalfMesh(): HalfMesh {
  return {
    P: [],
    uv: [],
    region: [],
    pin: [],
    tag: [],
    quads: [],
    tris: [],
    G: [],
    rowCount: 0,
    pole: -1,
    eyeRings: [],
    mouthRings: [],
    mouthCenter: -1,
    nostrilRings: [],
    nostrilCenter: -1,
    earRings: [],
    earHalf: [],
    earCenter: -1,
    cutRings: [],
    cutCenter: -1,
    mid: new Set(),
  };
}

export function addVertex(h: HalfMesh, p: Vec3, region: number, pinned = false, tag: Tag | null = null): number {
  h.P.push(p);
  h.uv.push([0, 0]);
  h.region.push(region);
  h.pin.push(pinned);
  h.tag.push(tag);
  return h.P.length - 1;
}

/** Quads between two rings of equal length. */
export function stitch(h: HalfMesh, A: readonly number[], B: readonly number[], closed = true): void {
  const n = A.length;
  for (let k = 0; k < (closed ? n : n - 1); k++) {
    const l = (k + 1) % n;
    h.quads.push([A[k], A[l], B[l], B[k]]);
  }
}

/** Triangles from a ring to one vertex. */
export function fan(h: HalfMesh, A: readonly number[], c: number, closed = true): void {
  const n = A.length;
  for (let k = 0; k < (closed ? n : n - 1); k++) h.tris.push([A[k], A[(k + 1) % n], c]);
}

/** Closed perimeter of a block, counter-clockwise, starting at the middle of its right side. */
export function perimeter(h: HalfMesh, b: Block): number[] {
  const o: number[] = [];
  const m = (b.i0 + b.i1) / 2;
  const { G } = h;
  for (let i = m; i > b.i0; i--) o.push(G[i][b.j1]);
  for (let j = b.j1; j > b.j0; j--) o.push(G[b.i0][j]);
  for (let i = b.i0; i < b.i1; i++) o.push(G[i][b.j0]);
  for (let j = b.j0; j < b.j1; j++) o.push(G[b.i1][j]);
  for (let i = b.i1; i > m; i--) o.push(G[i][b.j1]);
  return o;
}

export const BLOCKS: readonly Block[] = [EB, MB, RB, NB];
