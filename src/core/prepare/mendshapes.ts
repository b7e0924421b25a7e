/** Mends of shapes: triangles out, turned round or joined; normals computed anew. */
import { type Document, type Mesh, Primitive } from '@gltf-transform/core';
import { weldPrimitive } from '@gltf-transform/functions';
import { isGlass } from '../intake/check/context';
import { findInnerShells } from '../intake/check/inside';
import {
  EPSILON,
  extent,
  facesInwards,
  findBacks,
  findCrumbs,
  findDuplicates,
  isDegenerate,
  isEnclosed,
  joinPrimitives,
  type Soup,
  unlitShells,
} from '../intake/check/shells';
import { countRepeats, opposedNormals } from '../intake/check/surface';
import { findPlaces, findTopology, shellBoxes, shellVolumes } from '../intake/check/topology';
import { readFloats, remapPrimitive } from '../model/arrays';
import { type Model, type ModelPrimitive, readModel, readPrimitive } from '../model/model';
import type { MendOp } from '../piece/recipe';
import { closeHoles } from './mendholes';

export const SHAPE_OPS: readonly MendOp[] = [
  'not-finite',
  'degenerate',
  'duplicates',
  'flipped',
  'outwards',
  'normals',
  'tangents',
  'weld',
  'unused',
  'close',
  'inner-shells',
  'crumbs',
];

const finite = (p: Float32Array, v: number) => Number.isFinite(p[v * 3]) && Number.isFinite(p[v * 3 + 1]) && Number.isFinite(p[v * 3 + 2]);

/** Largest side of the drawn model in a mesh's own units, for what counts as a crumb. */
export interface MendSizes {
  modelSizeOf: (mesh: number) => number;
}

/** The mesh as triangles kept, and which of them are turned round. */
interface Plan {
  soup: Soup;
  keep: Uint8Array;
  turn: Uint8Array;
}

function planShells(soup: Soup, raw: readonly Primitive[], ops: ReadonlySet<MendOp>, modelSize: number): Plan {
  const count = soup.owner.length;
  const keep = new Uint8Array(count).fill(1);
  const turn = new Uint8Array(count);
  for (let t = 0; t < count; t++)
    if (![0, 1, 2].every((k) => finite(soup.positions, soup.triangles[t * 3 + k]))) keep[t] = ops.has('not-finite') ? 0 : 1;
  const diagonal = extent(soup.positions.map((x) => (Number.isFinite(x) ? x : 0)));
  const epsilon = Math.max(diagonal * EPSILON, 1e-30);
  const { place } = findPlaces(soup.positions, epsilon);
  const flat = Array.from(soup.owner, (_, t) => isDegenerate(soup, place, t, diagonal));
  const twice = new Set(findDuplicates(soup, place));
  for (let t = 0; t < count; t++) {
    if (flat[t] && ops.has('degenerate')) keep[t] = 0;
    if (!flat[t] && twice.has(t) && ops.has('duplicates')) keep[t] = 0;
  }
  if (!['flipped', 'outwards', 'inner-shells', 'crumbs'].some((op) => ops.has(op as MendOp))) return { soup, keep, turn };
  // shells are those of the shape as it is meant: without empty and repeated triangles, and without the backs of sheets
  const backs = findBacks(soup, place);
  const clean = Array.from(soup.owner, (_, t) => t).filter((t) => keep[t] && !flat[t] && !twice.has(t) && !backs.has(t));
  const triangles = Uint32Array.from(clean.flatMap((t) => [soup.triangles[t * 3], soup.triangles[t * 3 + 1], soup.triangles[t * 3 + 2]]));
  const topo = findTopology(soup.positions, triangles, epsilon);
  const boxes = shellBoxes(soup.positions, triangles, topo.shell, topo.shells);
  const sub: Soup = { positions: soup.positions, triangles, owner: Uint16Array.from(clean, (t) => soup.owner[t]) };
  if (ops.has('flipped') || ops.has('outwards')) {
    const stays = ops.has('outwards') ? () => false : facesInwards(boxes, unlitShells(sub, topo, raw));
    for (const [i, flip] of planTurns(sub, topo, boxes, stays).entries()) turn[clean[i]] = flip;
  }
  const glass = new Uint8Array(topo.shells);
  const trianglesOf = new Uint32Array(topo.shells);
  topo.shell.forEach((s, i) => {
    trianglesOf[s]++;
    if (isGlass(raw[sub.owner[i]])) glass[s] = 1;
  });
  const gone = new Set<number>();
  if (ops.has('inner-shells'))
    for (const s of findInnerShells(sub, topo, boxes, (x) => topo.openOf[x] === 0 && topo.crowdedOf[x] === 0 && !glass[x])) gone.add(s);
  if (ops.has('crumbs')) for (const s of findCrumbs(topo.shells, boxes, trianglesOf, modelSize)) gone.add(s);
  topo.shell.forEach((s, i) => {
    if (gone.has(s)) keep[clean[i]] = 0;
  });
  return { soup, keep, turn };
}

/** Which triangles to turn: neighbours made to agree, then closed shells made to face outwards, but for those that may face inwards. */
function planTurns(sub: Soup, topo: ReturnType<typeof findTopology>, boxes: Float64Array, stays: (shell: number) => boolean): Uint8Array {
  const turn = new Uint8Array(topo.shell.length);
  const seen = new Uint8Array(topo.shell.length);
  const members: number[][] = Array.from({ length: topo.shells }, () => []);
  for (let start = 0; start < seen.length; start++) {
    if (seen[start]) continue;
    seen[start] = 1;
    const open = [start];
    for (let t = open.pop(); t !== undefined; t = open.pop()) {
      members[topo.shell[t]].push(t);
      for (let s = 0; s < 3; s++) {
        const next = topo.beyond[t * 3 + s];
        if (next < 0 || seen[next]) continue;
        seen[next] = 1;
        turn[next] = turn[t] ^ topo.same[t * 3 + s];
        open.push(next);
      }
    }
  }
  const turned = sub.triangles.slice();
  turn.forEach((x, t) => {
    if (x) [turned[t * 3 + 1], turned[t * 3 + 2]] = [turned[t * 3 + 2], turned[t * 3 + 1]];
  });
  const volumes = shellVolumes(sub.positions, turned, topo.shell, topo.shells);
  for (let s = 0; s < topo.shells; s++) {
    const flips = members[s].reduce((n, t) => n + turn[t], 0);
    const closed = topo.openOf[s] === 0 && topo.crowdedOf[s] === 0;
    // an open shape keeps the side most of it shows
    const other = closed && !isEnclosed(boxes, s) && !stays(s) ? volumes[s] < 0 : flips * 2 > members[s].length;
    if (other) for (const t of members[s]) turn[t] ^= 1;
  }
  return turn;
}

/** Triangles a plain list names; 0 for strips, fans, lines and points. */
const listedTriangles = (p: Primitive): number =>
  p.getMode() === Primitive.Mode.TRIANGLES ? Math.floor(((p.getIndices() ?? p.getAttribute('POSITION'))?.getCount() ?? 0) / 3) : 0;

/** Mends one mesh; a primitive that loses all its triangles goes. */
function mendMesh(document: Document, mesh: Mesh, model: Model['meshes'][number], ops: ReadonlySet<MendOp>, modelSize: number): void {
  const raw = mesh.listPrimitives().filter((p) => p.getAttribute('POSITION'));
  const soup = joinPrimitives(model.primitives);
  if (soup.owner.length > 0 || ops.has('not-finite')) {
    const { keep, turn } = planShells(soup, raw, ops, modelSize);
    let [firstVertex, t] = [0, 0];
    model.primitives.forEach((p, i) => {
      const count = p.triangles.length / 3;
      const list: number[] = [];
      // those that name vertices which are not there were not read
      let changed = ops.has('not-finite') && listedTriangles(raw[i]) > count;
      let turned = 0;
      for (let k = 0; k < count; k++, t++) {
        if (!keep[t]) {
          changed = true;
          continue;
        }
        const [a, b, c] = [0, 1, 2].map((s) => soup.triangles[t * 3 + s] - firstVertex);
        if (turn[t]) {
          changed = true;
          turned++;
          list.push(a, c, b);
        } else list.push(a, b, c);
      }
      firstVertex += p.positions.length / 3;
      if (!changed) return;
      if (list.length === 0) {
        raw[i].dispose();
        return;
      }
      compact(document, raw[i], list, p.positions.length / 3);
      if (turned > 0) computeNormals(document, raw[i]);
    });
  }
  if (ops.has('not-finite')) for (const p of mesh.listPrimitives()) mendPoints(document, p);
  if (ops.has('close')) closeHoles(document, mesh);
  for (const p of mesh.listPrimitives()) mendSurface(document, p, ops);
}

/** Points and loose lines one end of which lies nowhere, or is turned nowhere, go. */
function mendPoints(document: Document, p: Primitive): void {
  const mode = p.getMode();
  const ends = mode === Primitive.Mode.POINTS ? 1 : mode === Primitive.Mode.LINES ? 2 : 0;
  const places = p.getAttribute('POSITION');
  if (ends === 0 || !places) return;
  const read = [places, p.getAttribute('NORMAL')].flatMap((a) => (a ? [readFloats(a)] : []));
  const whole = Array.from({ length: places.getCount() }, (_, v) => read.every((values) => finite(values, v)));
  if (whole.every(Boolean)) return;
  const list = p.getIndices()?.getArray() ?? whole.map((_, v) => v);
  const kept: number[] = [];
  for (let i = 0; i + ends <= list.length; i += ends) {
    const one = Array.from({ length: ends }, (_, k) => list[i + k]);
    if (one.every((v) => whole[v])) kept.push(...one);
  }
  if (kept.length === 0) {
    p.dispose();
    return;
  }
  const listed = p.getIndices() !== null;
  compact(document, p, kept, whole.length);
  p.setMode(mode);
  if (!listed) p.setIndices(null);
}

/** Keeps only the vertices a list of triangles, lines or points names. */
function compact(document: Document, p: Primitive, list: readonly number[] | Uint32Array, vertices: number): void {
  const to = new Int32Array(vertices).fill(-1);
  const source: number[] = [];
  const renamed = Array.from(list, (v) => {
    if (to[v] < 0) {
      to[v] = source.length;
      source.push(v);
    }
    return to[v];
  });
  remapPrimitive(document, p, source, renamed);
}

function mendSurface(document: Document, p: Primitive, ops: ReadonlySet<MendOp>): void {
  if (!p.getAttribute('POSITION')) return;
  if (ops.has('normals') && needsNormals(p)) computeNormals(document, p);
  const tangent = p.getAttribute('TANGENT');
  if (ops.has('tangents') && tangent && hasBadLength(tangent)) p.setAttribute('TANGENT', null);
  if (ops.has('unused')) {
    const m = readPrimitive(p) as ModelPrimitive;
    if (m.drawn.length > 0 && m.drawn.length < m.positions.length / 3 && m.triangles.length > 0) {
      const to = new Int32Array(m.positions.length / 3).fill(-1);
      m.drawn.forEach((v, i) => {
        to[v] = i;
      });
      remapPrimitive(
        document,
        p,
        m.drawn,
        Array.from(m.triangles, (v) => to[v]),
      );
    }
  }
  if (ops.has('weld') && countRepeats(p) > 0) weldPrimitive(p);
}

function hasBadLength(a: NonNullable<ReturnType<Primitive['getAttribute']>>): boolean {
  const row: number[] = [];
  for (let i = 0; i < a.getCount(); i++) {
    a.getElement(i, row);
    if (!(Math.abs(Math.hypot(row[0], row[1], row[2]) - 1) <= 0.1)) return true;
  }
  return false;
}

function needsNormals(p: Primitive): boolean {
  const normal = p.getAttribute('NORMAL');
  const m = readPrimitive(p) as ModelPrimitive;
  if (m.triangles.length === 0 || p.getMaterial()?.getExtension('KHR_materials_unlit')) return false;
  return !normal || hasBadLength(normal) || opposedNormals(m, normal) > 0.02;
}

const CREASE = Math.cos((45 * Math.PI) / 180);

/** Normals weighted by the angle at each corner (Thürmer and Wüthrich 1998), smooth where faces meet under 45°. */
export function computeNormals(document: Document, p: Primitive): void {
  const { positions, triangles } = readPrimitive(p) as ModelPrimitive;
  const { place, places } = findPlaces(positions, Math.max(extent(positions) * EPSILON, 1e-30));
  const count = triangles.length / 3;
  const face = new Float64Array(count * 3);
  const angle = new Float64Array(count * 3);
  for (let t = 0; t < count; t++) {
    const at = [0, 1, 2].map((k) => triangles[t * 3 + k] * 3);
    const edge = (i: number, j: number) => [0, 1, 2].map((k) => positions[at[j] + k] - positions[at[i] + k]);
    const [u, v] = [edge(0, 1), edge(0, 2)];
    const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    const length = Math.hypot(...n);
    if (!(length > 0)) continue;
    for (let k = 0; k < 3; k++) face[t * 3 + k] = n[k] / length;
    for (let k = 0; k < 3; k++) {
      const [a, b] = [edge(k, (k + 1) % 3), edge(k, (k + 2) % 3)];
      const cos = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (Math.hypot(...a) * Math.hypot(...b));
      angle[t * 3 + k] = Math.acos(Math.max(-1, Math.min(1, cos)));
    }
  }
  const corners: number[][] = Array.from({ length: places }, () => []);
  for (let c = 0; c < count * 3; c++) corners[place[triangles[c]]].push(c);
  const key = new Map<string, number>();
  const source: number[] = [];
  const normals: number[] = [];
  const list: number[] = [];
  for (let c = 0; c < count * 3; c++) {
    const t = Math.floor(c / 3) * 3;
    const sum = [0, 0, 0];
    for (const o of corners[place[triangles[c]]]) {
      const q = Math.floor(o / 3) * 3;
      const dot = face[t] * face[q] + face[t + 1] * face[q + 1] + face[t + 2] * face[q + 2];
      if (dot >= CREASE) for (let k = 0; k < 3; k++) sum[k] += face[q + k] * angle[o];
    }
    const length = Math.hypot(...sum);
    const n = length > 0 ? sum.map((x) => x / length) : [0, 1, 0];
    const id = `${triangles[c]} ${n.map((x) => Math.round(x * 1000)).join(' ')}`;
    let v = key.get(id);
    if (v === undefined) {
      v = source.length;
      key.set(id, v);
      source.push(triangles[c]);
      normals.push(...n);
    }
    list.push(v);
  }
  remapPrimitive(document, p, source, list);
  const buffer = p.getAttribute('POSITION')?.getBuffer() ?? null;
  p.setAttribute('NORMAL', document.createAccessor().setType('VEC3').setArray(Float32Array.from(normals)).setBuffer(buffer));
  p.setAttribute('TANGENT', null);
  for (const target of p.listTargets()) target.setAttribute('NORMAL', null).setAttribute('TANGENT', null);
}

export function mendShapes(document: Document, ops: ReadonlySet<MendOp>, sizes: MendSizes): void {
  if (!SHAPE_OPS.some((op) => ops.has(op))) return;
  const model = readModel(document);
  for (const [i, mesh] of document.getRoot().listMeshes().entries()) mendMesh(document, mesh, model.meshes[i], ops, sizes.modelSizeOf(i));
  for (const mesh of document.getRoot().listMeshes()) {
    if (mesh.listPrimitives().length > 0) continue;
    for (const n of document.getRoot().listNodes()) if (n.getMesh() === mesh) n.setMesh(null).setSkin(null).setWeights([]);
    mesh.dispose();
  }
}
