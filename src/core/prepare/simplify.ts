/**
 * The simplify step: fewer triangles, least change first. Edges collapse by quadric error (Garland and Heckbert, Surface
 * simplification using quadric error metrics, 1997, with attributes after Hoppe 1999) as meshoptimizer does it; what is rigid
 * gets its vertices placed where the quadrics are least, what is skinned or morphed keeps a subset of its own.
 */
import type { Document, Mesh, Primitive, Skin } from '@gltf-transform/core';
import { weldPrimitive } from '@gltf-transform/functions';
import { MeshoptSimplifier, type SimplifierFlags } from 'meshoptimizer';
import { Matrix4, Vector3 } from 'three';
import { putFloats, readFloats, remapPrimitive } from '../model/arrays';
import { type ModelPrimitive, readModel, readPrimitive } from '../model/model';
import { nodeMatrices, poseAt, posedPrimitives, restPose } from '../model/pose';
import type { SimplifySettings } from '../piece/recipe';
import { momentsOf } from './measure/poses';
import { refitPrimitive } from './refit';

/** How much a unit of normal, UV and pose weighs beside the size of the mesh. */
const WEIGHTS = { normal: 0.05, uv: 0.1, color: 0.1, pose: 0.5, morph: 0.5 };
/** Beyond this share of its size a shape falls apart: no number of triangles is worth that. */
const WORST = 0.1;
/** The library knows up to 32 numbers a vertex. */
const MOST_ATTRIBUTES = 32;

interface Job {
  primitive: Primitive;
  mesh: Mesh;
  triangles: number;
  /** Metres of the world a unit of the mesh is. */
  scale: number;
  skin: Skin | null;
  world: Matrix4;
  /** Its places at moments of the clips, metres: of what is skinned, where there are clips. */
  poses: Float32Array[];
}
/** Moments a collapse is judged at. */
const MOST_POSES = 3;

/** Plain lists of triangles, without vertices that are bit by bit the same. */
function weldAll(document: Document): void {
  for (const mesh of document.getRoot().listMeshes())
    for (const primitive of mesh.listPrimitives()) {
      const p = readPrimitive(primitive);
      if (!p || p.triangles.length === 0) continue;
      if (primitive.getMode() !== 4 || !primitive.getIndices())
        remapPrimitive(
          document,
          primitive,
          Array.from({ length: p.positions.length / 3 }, (_, i) => i),
          p.triangles,
        );
      weldPrimitive(primitive);
    }
}

function collectJobs(document: Document): Job[] {
  const model = readModel(document);
  const world = nodeMatrices(model, restPose(model));
  const nodes = document.getRoot().listNodes();
  const moments = nodes.some((n) => n.getSkin()) ? momentsOf(model).slice(0, MOST_POSES) : [];
  const posed = moments.map(({ clip, seconds }) => posedPrimitives(model, poseAt(model, clip, seconds)));
  const jobs: Job[] = [];
  for (const [number, mesh] of document.getRoot().listMeshes().entries()) {
    // a mesh used in several sizes is kept as fine as its largest use needs
    let [scale, at] = [0, -1];
    nodes.forEach((n, i) => {
      if (n.getMesh() !== mesh) return;
      const s = Math.cbrt(Math.abs(world[i].determinant())) || 1;
      if (s > scale) [scale, at] = [s, i];
    });
    const node = at >= 0 ? nodes[at] : null;
    for (const [k, primitive] of mesh.listPrimitives().entries()) {
      const p = readPrimitive(primitive);
      if (!p || p.triangles.length === 0) continue;
      const own = node?.getSkin() ? posed.map((list) => list.find((x) => x.mesh === number && x.primitive === k && x.node === at)) : [];
      jobs.push({
        primitive,
        mesh,
        triangles: p.triangles.length / 3,
        scale: node?.getSkin() ? skinScale(node.getSkin() as Skin) : scale || 1,
        skin: node?.getSkin() ?? null,
        world: at >= 0 ? world[at] : new Matrix4(),
        poses: own.flatMap((x) => (x ? [x.positions] : [])),
      });
    }
  }
  return jobs;
}

/** A skinned mesh is as large as its first joint's bind pose makes it. */
function skinScale(skin: Skin): number {
  const ibm = skin.getInverseBindMatrices();
  const joint = skin.listJoints()[0];
  if (!ibm || !joint) return 1;
  const m = new Matrix4().fromArray(ibm.getElement(0, [])).premultiply(new Matrix4().fromArray(joint.getWorldMatrix()));
  return Math.cbrt(Math.abs(m.determinant())) || 1;
}

const keyOf = (p: Float32Array, v: number) => `${p[v * 3]} ${p[v * 3 + 1]} ${p[v * 3 + 2]}`;

/** Places where shapes of one mesh meet: both must keep them, or a gap opens. */
function seamPlaces(mesh: Mesh): Set<string> {
  const owner = new Map<string, Primitive>();
  const shared = new Set<string>();
  const list = mesh.listPrimitives().filter((p) => p.getAttribute('POSITION'));
  if (list.length < 2) return shared;
  for (const p of list) {
    const at = readPrimitive(p) as ModelPrimitive;
    for (const v of at.drawn) {
      const key = keyOf(at.positions, v);
      const had = owner.get(key);
      if (had === undefined) owner.set(key, p);
      else if (had !== p) shared.add(key);
    }
  }
  return shared;
}

interface Channel {
  /** The attribute it is written back to; null for what only guides. */
  name: 'NORMAL' | 'TEXCOORD_0' | null;
  values: Float32Array;
  size: number;
  weight: number;
}

/** What collapses must respect besides places. `unit`: what makes the mesh one across. */
function channels(job: Job, p: ModelPrimitive, unit: number, detail: Float32Array | null): Channel[] {
  const out: Channel[] = [];
  const { primitive } = job;
  const normal = primitive.getAttribute('NORMAL');
  if (normal) out.push({ name: 'NORMAL', values: readFloats(normal), size: 3, weight: WEIGHTS.normal });
  const uv = primitive.getAttribute('TEXCOORD_0');
  // without a material nothing is read by UVs
  if (uv?.getElementSize() === 2 && primitive.getMaterial())
    out.push({ name: 'TEXCOORD_0', values: readFloats(uv), size: 2, weight: WEIGHTS.uv });
  const color = primitive.getAttribute('COLOR_0');
  if (color) {
    const all = readFloats(color);
    const size = color.getElementSize();
    out.push({
      name: null,
      values: Float32Array.from({ length: (all.length / size) * 3 }, (_, i) => all[Math.floor(i / 3) * size + (i % 3)]),
      size: 3,
      weight: WEIGHTS.color,
    });
  }
  const scale = unit / job.scale;
  // what is skinned bends between its bones: only its places in poses tell what a collapse does there
  for (const pose of job.poses) out.push({ name: null, values: pose.map((x) => x * scale), size: 3, weight: WEIGHTS.pose });
  if (job.poses.length === 0 && job.skin && p.joints && p.weights)
    out.push({ name: null, values: boneCentres(job.skin, p, scale), size: 3, weight: WEIGHTS.pose });
  for (const t of p.morphPositions) out.push({ name: null, values: t.map((x) => x * unit), size: 3, weight: WEIGHTS.morph });
  if (detail) {
    // places count again by their dab: flat regions stay free, curved ones get dear
    const values = p.positions.map((x, i) => x * unit * detail[Math.floor(i / 3)]);
    out.push({ name: null, values, size: 3, weight: 1 });
  }
  let used = 0;
  return out.filter((c) => {
    used += c.size;
    return used <= MOST_ATTRIBUTES;
  });
}

/** The middle of the joints a vertex follows, by weight, in mesh sizes: neighbours that follow other bones differ in it. */
function boneCentres(skin: Skin, p: ModelPrimitive, unit: number): Float32Array {
  const joints = skin.listJoints().map((j) => j.getWorldTranslation());
  const count = p.positions.length / 3;
  const out = new Float32Array(count * 3);
  for (let v = 0; v < count; v++)
    for (let k = 0; k < p.influences; k++) {
      const w = p.weights?.[v * p.influences + k] ?? 0;
      const at = joints[p.joints?.[v * p.influences + k] ?? 0];
      if (w && at) for (let i = 0; i < 3; i++) out[v * 3 + i] += w * at[i] * unit;
    }
  return out;
}

function detailWeights(job: Job, positions: Float32Array, dabs: SimplifySettings['detail']): Float32Array | null {
  if (dabs.length === 0) return null;
  const out = new Float32Array(positions.length / 3);
  const v = new Vector3();
  let any = false;
  for (let i = 0; i < out.length; i++) {
    v.fromArray(positions, i * 3).applyMatrix4(job.world);
    for (const d of dabs) {
      const r = Math.hypot(v.x - d.atM[0], v.y - d.atM[1], v.z - d.atM[2]) / d.radiusM;
      if (r < 1) out[i] = Math.max(out[i], d.weight * (1 - r * r));
    }
    any ||= out[i] > 0;
  }
  return any ? out : null;
}

const interleave = (list: readonly Channel[], count: number): [Float32Array, number, number[]] => {
  const stride = list.reduce((s, c) => s + c.size, 0);
  const out = new Float32Array(count * stride);
  let at = 0;
  for (const c of list) {
    for (let v = 0; v < count; v++) for (let k = 0; k < c.size; k++) out[v * stride + at + k] = c.values[v * c.size + k];
    at += c.size;
  }
  return [out, stride, list.flatMap((c) => Array(c.size).fill(c.weight))];
};

/** One shape with fewer triangles; it never loses its last one. */
function simplifyJob(
  document: Document,
  job: Job,
  target: number,
  errorM: number,
  settings: SimplifySettings,
  seams: ReadonlySet<string>,
): void {
  const { primitive } = job;
  const p = readPrimitive(primitive) as ModelPrimitive;
  const count = p.positions.length / 3;
  const corners = Math.max(3, Math.round(target) * 3);
  if (corners >= p.triangles.length && errorM === 0) return;
  const extent = MeshoptSimplifier.getScale(p.positions, 3) || 1;
  const normal = primitive.getAttribute('NORMAL');
  const normals = normal ? readFloats(normal) : null;
  const rigid = !p.joints && p.morphPositions.length === 0;
  const list = channels(job, p, 1 / extent, detailWeights(job, p.positions, settings.detail));
  const [attributes, stride, weights] = interleave(list, count);
  const lock = seams.size > 0 ? Uint8Array.from({ length: count }, (_, v) => (seams.has(keyOf(p.positions, v)) ? 1 : 0)) : null;
  // places where normals or UVs part may collapse, at the price of what they differ by: the poles of a ball are such places
  const flags: SimplifierFlags[] = ['ErrorAbsolute', 'Permissive'];
  if (settings.keepBorders) flags.push('LockBorder');
  const error = Math.min(errorM / job.scale, extent * WORST);
  let [indices, positions] = [p.triangles, p.positions];
  if (rigid) {
    indices = p.triangles.slice();
    positions = p.positions.slice();
    const placed = attributes.slice();
    const [n] = MeshoptSimplifier.simplifyWithUpdate(indices, positions, 3, placed, stride, weights, lock, corners, error, flags);
    indices = indices.subarray(0, n);
    if (n >= 3) writeBack(primitive, positions, placed, stride, list);
  } else
    [indices] = MeshoptSimplifier.simplifyWithAttributes(
      p.triangles,
      p.positions,
      3,
      attributes,
      stride,
      weights,
      lock,
      corners,
      error,
      flags,
    );
  if (indices.length < 3) return;
  const to = new Int32Array(count).fill(-1);
  const source: number[] = [];
  const triangles = Uint32Array.from(indices, (v) => {
    if (to[v] < 0) to[v] = source.push(v) - 1;
    return to[v];
  });
  const changed = triangles.length < p.triangles.length;
  remapPrimitive(document, primitive, source, triangles);
  const original = { positions: p.positions, triangles: p.triangles, normals };
  if (changed && settings.refit) refitPrimitive(primitive, original, lock ? Uint8Array.from(source, (v) => lock[v]) : null);
  if (changed) primitive.setAttribute('TANGENT', null);
}

/** Places and attributes as the simplifier moved them. */
function writeBack(primitive: Primitive, positions: Float32Array, placed: Float32Array, stride: number, list: readonly Channel[]): void {
  putFloats(primitive, 'POSITION', positions);
  let at = 0;
  for (const c of list) {
    const values = new Float32Array((placed.length / stride) * c.size);
    for (let v = 0; v * stride < placed.length; v++) for (let k = 0; k < c.size; k++) values[v * c.size + k] = placed[v * stride + at + k];
    at += c.size;
    if (c.name === 'NORMAL')
      for (let i = 0; i < values.length; i += 3) {
        const l = Math.hypot(values[i], values[i + 1], values[i + 2]);
        if (l > 0) for (let k = 0; k < 3; k++) values[i + k] /= l;
        else values[i + 1] = 1;
      }
    if (c.name) putFloats(primitive, c.name, values);
  }
}

/** Simplifies every shape of triangles of a document. Meshes named in `settings.meshes` share their number by their triangles. */
export async function runSimplify(document: Document, settings: SimplifySettings): Promise<void> {
  await MeshoptSimplifier.ready;
  weldAll(document);
  const jobs = collectJobs(document);
  const perMesh = new Map<Mesh, number>();
  for (const j of jobs) perMesh.set(j.mesh, (perMesh.get(j.mesh) ?? 0) + j.triangles);
  const own = new Map(settings.meshes.map((m) => [m.mesh, m.triangles]));
  const kept = new Map(settings.keep.map((m) => [m.mesh, m.weight]));
  const seams = new Map<Mesh, ReadonlySet<string>>();
  // every place a mesh's shapes share is looked up before the first of them moves
  for (const j of jobs) if (!seams.has(j.mesh)) seams.set(j.mesh, seamPlaces(j.mesh));
  for (const job of jobs) {
    const wanted = own.get(job.mesh.getName());
    const share = job.triangles / (perMesh.get(job.mesh) ?? 1);
    const weight = kept.get(job.mesh.getName()) ?? 1;
    const ratio = settings.ratio === null ? 0 : Math.min(1, settings.ratio * weight);
    const target = wanted !== undefined ? wanted * share : job.triangles * ratio;
    const errorM = wanted !== undefined || settings.errorMm === null ? Number.POSITIVE_INFINITY : settings.errorMm / 1000 / weight;
    if (wanted === undefined && settings.ratio === null && settings.errorMm === null) continue;
    if (settings.errorMm === 0 && settings.ratio === null) continue;
    simplifyJob(document, job, target, errorM, settings, seams.get(job.mesh) ?? new Set());
  }
}
