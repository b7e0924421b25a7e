import type { Document } from '@gltf-transform/core';
import { emptyBox, growBox } from '../math/box';
import { posedPrimitives, restPose, sceneNodes } from '../motion/pose';
import { IntakeError } from './errors';
import type { Finding, ModelFacts } from './facts';
import { INTAKE_LIMITS } from './limits';
import { type Model, readModel } from './model';
import type { ReadGltf } from './read';

/** One message of the Khronos validator, as its report gives it. */
export interface ValidatorIssue {
  code: string;
  message: string;
  /** 0 error, 1 warning, 2 information, 3 hint. */
  severity: number;
  pointer?: string;
}

/** Size of the drawn scene in metres: side, up, fore. Empty scene: three zeros. */
export function sceneSize(model: Model): [number, number, number] {
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
  return box[0] > box[3] ? [0, 0, 0] : [box[3] - box[0], box[4] - box[1], box[5] - box[2]];
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

function textureFacts(document: Document): ModelFacts['textures'] {
  return document
    .getRoot()
    .listTextures()
    .map((t, i) => {
      const [width, height] = t.getSize() ?? [0, 0];
      return {
        name: t.getName() || t.getURI() || `texture ${i}`,
        width,
        height,
        bytes: t.getImage()?.byteLength ?? 0,
        type: t.getMimeType(),
      };
    });
}

/** Validator errors as blockers, one per code; what is missing as warnings. */
function findingsOf(issues: readonly ValidatorIssue[], missing: readonly string[]): Finding[] {
  const findings: Finding[] = [];
  const byCode = new Map<string, ValidatorIssue[]>();
  for (const issue of issues) if (issue.severity === 0) byCode.set(issue.code, [...(byCode.get(issue.code) ?? []), issue]);
  for (const [code, list] of byCode) {
    // a picture that did not come along is said once, in our own words
    if (code === 'IO_ERROR') continue;
    const more = list.length > 1 ? ` (${list.length} places)` : '';
    findings.push({
      code: 'gltf/invalid',
      level: 'blocker',
      message: `${list[0].message} [${code}]${more}`,
      ...(list[0].pointer ? { where: list[0].pointer } : {}),
    });
  }
  for (const name of missing)
    findings.push({
      code: 'texture/missing',
      level: 'warning',
      message: `The picture ${name} did not come along. The model shows without it; bring it in together with the file.`,
      where: name,
    });
  return findings;
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

/** The facts of a model that was read. `bytes` is what came in, companions counted. */
export function inspectModel(read: ReadGltf, bytes: number, issues: readonly ValidatorIssue[]): ModelFacts {
  const model = readModel(read.document);
  checkDrawnTotal(model);
  const { triangles, vertices } = countDrawn(model);
  const root = read.document.getRoot();
  return {
    format: read.format,
    bytes,
    readable: true,
    sizeMm: sceneSize(model).map((m) => Math.round(m * 1e6) / 1e3) as [number, number, number],
    triangles,
    vertices,
    meshes: root.listMeshes().length,
    materials: root.listMaterials().length,
    textures: textureFacts(read.document),
    bones: new Set(model.skins.flatMap((s) => s.joints)).size,
    clips: model.clips.map((c, i) => ({ name: c.name || `clip ${i}`, seconds: Math.round(c.seconds * 1e4) / 1e4 })),
    missing: read.missing,
    findings: findingsOf(issues, read.missing),
  };
}
