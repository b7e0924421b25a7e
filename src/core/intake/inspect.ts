/** Everything that can be said of a model that was read. */
import { type Document, Primitive, type Texture } from '@gltf-transform/core';
import { emptyBox, growBox } from '../math/box';
import { type Model, readModel } from '../model/model';
import { posedPrimitives, restPose, sceneNodes } from '../model/pose';
import { conformance, type ValidatorIssue } from './check/conformance';
import { type CheckContext, finding, isGlass, type Picture, placedPrimitives } from './check/context';
import { checkGeometry } from './check/geometry';
import { checkMaterials } from './check/materials';
import { checkNodes } from './check/nodes';
import { checkRig } from './check/rig';
import { checkSurface } from './check/surface';
import { checkTextures, textureName } from './check/textures';
import { IntakeError } from './errors';
import type { FileCredit, FormReturn, StockFacts, WantedPicture } from './facts';
import type { Finding } from './findings';
import { INTAKE_LIMITS } from './limits';
import type { PictureFacts } from './media/facts';
import { guessPlacing } from './placing';
import { findForm } from './placing/formreturn';
import type { ReadGltf } from './read';
import { wantedPictures } from './wanted';

export type { ValidatorIssue } from './check/conformance';

/** Box of the drawn scene in metres: side, up, fore from and to. Empty scene: zeros. */
export function sceneBox(model: Model): [number, number, number, number, number, number] {
  const box = emptyBox();
  for (const p of posedPrimitives(model, restPose(model), undefined, false)) {
    const { drawn, positions } = model.meshes[p.mesh].primitives[p.primitive];
    const step = positions.length;
    const picked = new Float32Array(drawn.length * 3);
    for (let i = 0; i < p.instances; i++) {
      drawn.forEach((v, k) => {
        picked.set(p.positions.subarray(i * step + v * 3, i * step + v * 3 + 3), k * 3);
      });
      growBox(box, picked);
    }
  }
  return box[0] > box[3] ? [0, 0, 0, 0, 0, 0] : ([...box] as [number, number, number, number, number, number]);
}

/** Size of the drawn scene in metres: side, up, fore. Empty scene: three zeros. */
export function sceneSize(model: Model): [number, number, number] {
  const box = sceneBox(model);
  return [box[3] - box[0], box[4] - box[1], box[5] - box[2]];
}

/** Triangles and vertices that are drawn. */
export function countDrawn(model: Model): { triangles: number; vertices: number } {
  let triangles = 0;
  let vertices = 0;
  for (const p of posedPrimitives(model, restPose(model), undefined, false)) {
    const prim = model.meshes[p.mesh].primitives[p.primitive];
    triangles += (prim.triangles.length / 3) * p.instances;
    vertices += prim.drawn.length * p.instances;
  }
  return { triangles, vertices };
}

/** By its header, which may be wrong: what is no picture has no size. */
function sizeOf(t: Texture): readonly [number, number] {
  try {
    return t.getSize() ?? [0, 0];
  } catch {
    return [0, 0];
  }
}

function textureFacts(document: Document, pictures: readonly Picture[]): StockFacts['textures'] {
  const wanted = wantedPictures(document).byTexture;
  return document
    .getRoot()
    .listTextures()
    .flatMap((t, i) => {
      if (wanted.has(t)) return [];
      const stats = pictures[i]?.stats;
      const [width, height] = stats ? [stats.width, stats.height] : sizeOf(t);
      return [{ name: textureName(t, i), width, height, bytes: t.getImage()?.byteLength ?? 0, type: t.getMimeType() }];
    });
}

/** @throws {IntakeError} instances multiply to more vertices than can be looked at. */
function checkDrawnTotal(model: Model): void {
  let total = 0;
  for (const n of sceneNodes(model)) {
    const { mesh, instances } = model.nodes[n];
    if (mesh >= 0)
      for (const p of model.meshes[mesh].primitives) total += (p.positions.length / 3) * (instances ? instances.length / 16 : 1);
  }
  if (total > INTAKE_LIMITS.elements / 2)
    throw new IntakeError(
      'gltf/too-many',
      `The scene draws ${Math.round(total)} vertices, instances counted; up to ${INTAKE_LIMITS.elements / 2} are read.`,
    );
}

/** Names of morph targets (a mesh's `targetNames`, *common practice*), each once. */
function morphNames(document: Document): string[] {
  const out = new Set<string>();
  for (const mesh of document.getRoot().listMeshes()) {
    const named = mesh.getExtras().targetNames;
    const most = Math.max(0, ...mesh.listPrimitives().map((p) => p.listTargets().length));
    for (let i = 0; i < most; i++) {
      const name: unknown = Array.isArray(named) ? named[i] : undefined;
      out.add(typeof name === 'string' && name ? name.slice(0, 200) : `target ${i}`);
    }
  }
  return [...out];
}

/** Points and lines that are drawn by shapes without a surface. */
function bareCounts(document: Document): { points: number; lines: number } {
  let [points, lines] = [0, 0];
  for (const p of placedPrimitives(document).flat()) {
    const n = (p.getIndices() ?? p.getAttribute('POSITION'))?.getCount() ?? 0;
    const mode = p.getMode();
    if (mode === Primitive.Mode.POINTS) points += n;
    else if (mode === Primitive.Mode.LINES) lines += Math.floor(n / 2);
    else if (mode === Primitive.Mode.LINE_STRIP) lines += Math.max(0, n - 1);
    else if (mode === Primitive.Mode.LINE_LOOP) lines += n;
  }
  return { points, lines };
}

/** A second look, where NaN may stand in the positions: they must not reach a size. */
const finite = (x: number) => (Number.isFinite(x) ? x : 0);

export interface InspectExtras {
  issues: readonly ValidatorIssue[];
  /** In the order of the document's textures. */
  pictures: readonly Picture[];
  /** Pictures that came along and are not used. */
  loose: readonly PictureFacts[];
  credit: FileCredit;
  unitRecord: string | null;
  cannotCarry: string | null;
}

export const NO_CREDIT: FileCredit = { author: '', source: '', licence: '', says: '' };

/** The facts of a model that was read. `bytes` is what came in, companions counted. */
export function inspectModel(read: Pick<ReadGltf, 'document' | 'format'>, bytes: number, given: Partial<InspectExtras> = {}): StockFacts {
  const extras: InspectExtras = { issues: [], pictures: [], loose: [], credit: NO_CREDIT, unitRecord: null, cannotCarry: null, ...given };
  const { document } = read;
  const model = readModel(document);
  checkDrawnTotal(model);
  const { triangles, vertices } = countDrawn(model);
  const root = document.getRoot();
  const box = sceneBox(model).map(finite) as StockFacts['boxM'];
  const sizeMm = [3, 4, 5].map((k) => Math.round((box[k] - box[k - 3]) * 1e6) / 1e3) as [number, number, number];
  const wanted = wantedPictures(document);
  // a placeholder is no picture: nothing is said of its pixels
  const pictures = root.listTextures().map((t, i) => {
    const p = extras.pictures[i] ?? { name: textureName(t, i), bytes: 0, sha: `none ${i}`, stats: null };
    return wanted.byTexture.has(t) ? { ...p, sha: `wanted ${i}`, stats: null } : p;
  });
  const context: CheckContext = { document, model, pictures, sizeM: Math.max(...sizeMm) / 1000, format: read.format };
  const raw = placedPrimitives(document);
  const broken: WantedPicture[] = brokenPictures(document, pictures, wanted.byTexture, given.pictures !== undefined);
  const findings: Finding[] = [
    ...conformance(extras.issues),
    ...(vertices === 0 && model.clips.length === 0
      ? [finding('scene/empty', 'warning', 'Nothing in it is drawn. Was the selection empty when it was exported?')]
      : []),
    ...(vertices > 0 && triangles === 0
      ? [
          finding(
            'scene/no-surface',
            'warning',
            'It has points or lines and no surface: it cannot be fitted, shaded or made light. Mesh it first.',
          ),
        ]
      : []),
    ...checkNodes(context, box),
    ...checkTextures(context),
    ...checkGeometry(context),
    ...checkSurface(context),
    ...checkMaterials(context),
    ...checkRig(context),
  ];
  return {
    kind: 'model',
    format: read.format,
    bytes,
    readable: true,
    sizeMm,
    triangles,
    vertices,
    meshes: root.listMeshes().length,
    materials: root.listMaterials().length,
    textures: textureFacts(document, pictures),
    bones: new Set(model.skins.flatMap((s) => s.joints)).size,
    morphs: morphNames(document),
    ...bareCounts(document),
    clips: model.clips.map((c, i) => ({ name: c.name || `clip ${i}`, seconds: Math.round(c.seconds * 1e4) / 1e4 })),
    missing: wanted.list.map((w) => w.name),
    findings,
    meshList: model.meshes
      .map((m, i) => ({
        name: m.name || `mesh ${i}`,
        triangles: m.primitives.reduce((s, p) => s + p.triangles.length / 3, 0),
        primitives: m.primitives.length,
        materials: [...new Set(raw[i].map((p) => p.getMaterial()?.getName() ?? '').filter(Boolean))].slice(0, 20),
      }))
      .sort((a, b) => b.triangles - a.triangles)
      .slice(0, 500),
    clipKeys: model.clips.map((c) => c.channels.reduce((s, ch) => s + ch.times.length, 0)),
    boxM: box,
    placing: guessPlacing(model, sizeMm, (m, p) => !!raw[m][p] && isGlass(raw[m][p])),
    unitRecord: extras.unitRecord,
    cannotCarry: extras.cannotCarry,
    wanted: [...wanted.list, ...broken],
    loose: [...extras.loose],
    credit: extras.credit,
    form: formOf(model),
  };
}

function formOf(model: Model): FormReturn | null {
  const found = findForm(model);
  if (!found) return null;
  const { shapes: _shapes, ...rest } = found;
  return rest;
}

/** Pictures that are there and that no reader can read; only where pictures were read at all. */
function brokenPictures(
  document: Document,
  pictures: readonly Picture[],
  wanted: ReadonlyMap<unknown, string>,
  looked: boolean,
): WantedPicture[] {
  if (!looked) return [];
  return document
    .getRoot()
    .listTextures()
    .flatMap((t, i) =>
      pictures[i].stats || wanted.has(t) || t.getMimeType() === 'image/ktx2'
        ? []
        : [{ name: textureName(t, i), slots: slotsOf(document, t), broken: true }],
    );
}
function slotsOf(document: Document, texture: unknown): WantedPicture['slots'] {
  return wantedPictures(document, new Set([texture])).list[0]?.slots ?? [];
}
