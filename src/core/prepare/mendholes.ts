/** Closing open edges in shapes that are all but closed: a flat cover over each loop, from its middle. */
import type { Document, Mesh, Primitive } from '@gltf-transform/core';
import { EPSILON, extent, holedShells, joinPrimitives } from '../intake/check/shells';
import { findTopology } from '../intake/check/topology';
import { readFloats, remapPrimitive, writeFloats } from '../model/arrays';
import { readModel } from '../model/model';

/** Area of a loop, as a share of the model's size squared, under which it is a slit. */
const SLIT = 1e-9;

/** A loop of open edges: places of its corners in order, and the side of a triangle it was found at. */
interface Loop {
  corners: number[];
  side: number;
}

/** Follows open edges from place to place; edges at a place where several loops meet are left alone. */
function findLoops(sides: readonly number[], from: (side: number) => number, to: (side: number) => number): Loop[] {
  const next = new Map<number, number>();
  const shared = new Set<number>();
  for (const s of sides) {
    if (next.has(from(s))) shared.add(from(s));
    next.set(from(s), s);
  }
  const done = new Set<number>();
  const loops: Loop[] = [];
  for (const start of sides) {
    if (done.has(start)) continue;
    const corners: number[] = [];
    let s: number | undefined = start;
    while (s !== undefined && !done.has(s)) {
      done.add(s);
      corners.push(from(s));
      s = next.get(to(s));
    }
    if (s === start && corners.length >= 3 && !corners.some((c) => shared.has(c))) loops.push({ corners, side: start });
  }
  return loops;
}

interface Cover {
  primitive: number;
  /** Vertex of the primitive whose other attributes the cover takes over. */
  like: number;
  points: number[][];
}

/** Covers every hole of a mesh. Each belongs to the primitive of the triangle beside it. */
export function closeHoles(document: Document, mesh: Mesh): void {
  const index = document.getRoot().listMeshes().indexOf(mesh);
  const model = readModel(document).meshes[index];
  const raw = mesh.listPrimitives().filter((p) => p.getAttribute('POSITION'));
  const soup = joinPrimitives(model.primitives);
  const diagonal = extent(soup.positions);
  if (soup.owner.length === 0 || !(diagonal > 0)) return;
  const topo = findTopology(soup.positions, soup.triangles, diagonal * EPSILON);
  const holed = new Set(holedShells(soup, topo));
  const to = (s: number) => topo.place[soup.triangles[s - (s % 3) + ((s + 1) % 3)]];
  const from = (s: number) => topo.place[soup.triangles[s]];
  const sides: number[] = [];
  for (let s = 0; s < soup.triangles.length; s++)
    if (topo.beyond[s] === -1 && from(s) !== to(s) && holed.has(topo.shell[Math.floor(s / 3)])) sides.push(s);
  const at: number[][] = [];
  topo.place.forEach((p, v) => {
    at[p] ??= [soup.positions[v * 3], soup.positions[v * 3 + 1], soup.positions[v * 3 + 2]];
  });
  const firstVertex = model.primitives.map((_, i) => model.primitives.slice(0, i).reduce((n, p) => n + p.positions.length / 3, 0));
  const covers = findLoops(sides, from, to).flatMap(({ corners, side }): Cover[] => {
    const points = corners.map((c) => at[c]);
    // a slit has no area to cover
    if (Math.hypot(...loopNormal(points)) / 2 < SLIT * diagonal ** 2) return [];
    const primitive = soup.owner[Math.floor(side / 3)];
    return [{ primitive, like: soup.triangles[side] - firstVertex[primitive], points }];
  });
  for (const [i, p] of raw.entries()) {
    const own = covers.filter((c) => c.primitive === i);
    if (own.length > 0) addCovers(document, p, model.primitives[i].triangles, own);
  }
}

function addCovers(document: Document, p: Primitive, triangles: Uint32Array, covers: readonly Cover[]): void {
  const before = p.getAttribute('POSITION')?.getCount() ?? 0;
  const source = Array.from({ length: before }, (_, v) => v);
  const list = Array.from(triangles);
  const points: number[][] = [];
  const normals: number[][] = [];
  for (const { like, points: loop } of covers) {
    const first = source.length;
    const middle = [0, 1, 2].map((k) => loop.reduce((s, x) => s + x[k], 0) / loop.length);
    const normal = coverNormal(loop);
    for (const x of [...loop, middle]) {
      source.push(like);
      points.push(x);
      normals.push(normal);
    }
    // the edge runs the other way round in the cover than in the triangle beside it
    for (let k = 0; k < loop.length; k++) list.push(first + ((k + 1) % loop.length), first + k, first + loop.length);
  }
  remapPrimitive(document, p, source, list);
  const write = (name: string, rows: readonly number[][]) => {
    const a = p.getAttribute(name);
    if (!a) return;
    const values = readFloats(a);
    rows.forEach((r, i) => {
      values.set(r, (before + i) * a.getElementSize());
    });
    writeFloats(a, values);
  };
  write('POSITION', points);
  write('NORMAL', normals);
  // any direction in the cover will do: no picture was made for it
  write(
    'TANGENT',
    normals.map((n) => [...acrossOf(n), 1]),
  );
}

/** A unit vector across another. */
function acrossOf([x, y, z]: readonly number[]): number[] {
  const v = Math.abs(x) < 0.9 ? [0, z, -y] : [-z, 0, x];
  const length = Math.hypot(...v) || 1;
  return v.map((k) => k / length + 0);
}

/** The normal of a loop seen from outside: the reverse of the loop's own. */
function coverNormal(loop: readonly number[][]): number[] {
  const n = loopNormal(loop);
  const length = Math.hypot(...n) || 1;
  return n.map((x) => x / length + 0);
}

/** As long as twice the loop's area (Newell's method). */
function loopNormal(loop: readonly number[][]): number[] {
  const n = [0, 0, 0];
  loop.forEach((a, i) => {
    const b = loop[(i + 1) % loop.length];
    n[0] -= (a[1] - b[1]) * (a[2] + b[2]);
    n[1] -= (a[2] - b[2]) * (a[0] + b[0]);
    n[2] -= (a[0] - b[0]) * (a[1] + b[1]);
  });
  return n;
}
