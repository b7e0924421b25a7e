/** The hidden step: triangles out that cannot be seen from anywhere outside. */
import type { Document } from '@gltf-transform/core';
import { Matrix4, Vector3 } from 'three';
import { placedPrimitives } from '../intake/check/context';
import { remapPrimitive } from '../model/arrays';
import { readModel, readPrimitive } from '../model/model';
import { nodeMatrices, posedPrimitives, restPose, sceneNodes } from '../model/pose';
import type { HiddenSettings } from '../piece/recipe';
import { readShape, type Shape } from './measure/shape';
import { evenDirections, isSeen, lookout } from './measure/visible';

/** More sides than a measure looks from: what goes must be hidden from all. */
const DIRECTIONS = 120;

/** Points of a triangle that are asked for: its middle, and near its corners and edges. */
const POINTS: readonly (readonly [number, number, number])[] = [
  [1 / 3, 1 / 3, 1 / 3],
  [0.96, 0.02, 0.02],
  [0.02, 0.96, 0.02],
  [0.02, 0.02, 0.96],
  [0.49, 0.49, 0.02],
  [0.49, 0.02, 0.49],
  [0.02, 0.49, 0.49],
];

/** The shape with only the triangles of some meshes. */
function onlyMeshes(document: Document, names: ReadonlySet<string>): Shape {
  const copy = readShape(document);
  const model = readModel(document);
  const keep: number[] = [];
  let t = 0;
  for (const p of posedPrimitives(model, restPose(model))) {
    const n = (model.meshes[p.mesh].primitives[p.primitive].triangles.length / 3) * p.instances;
    if (names.has(model.meshes[p.mesh].name)) for (let i = t; i < t + n; i++) keep.push(i);
    t += n;
  }
  return {
    ...copy,
    triangles: Uint32Array.from(keep.flatMap((i) => [copy.triangles[i * 3], copy.triangles[i * 3 + 1], copy.triangles[i * 3 + 2]])),
    wear: Uint16Array.from(keep, (i) => copy.wear[i]),
  };
}

/**
 * Takes out triangles that no direction shows. What moves (skins, morphs, moved nodes) may show later and stays; so does what
 * stands behind glass. `behind` limits what hides to the named meshes, which stay themselves.
 */
export function runHidden(document: Document, settings: HiddenSettings): void {
  const behind = new Set(settings.behind);
  if (!settings.inside && behind.size === 0) return;
  const model = readModel(document);
  const raw = placedPrimitives(document);
  const cover = settings.inside ? readShape(document) : onlyMeshes(document, behind);
  if (cover.triangles.length === 0) return;
  const look = lookout(cover, evenDirections(DIRECTIONS));
  const moving = movingNodes(model);
  const world = nodeMatrices(model, restPose(model));
  const seen = new Map<string, Uint8Array>();
  const v = new Vector3();
  for (const n of sceneNodes(model)) {
    const node = model.nodes[n];
    if (node.mesh < 0) continue;
    model.meshes[node.mesh].primitives.forEach((p, k) => {
      const key = `${node.mesh} ${k}`;
      const mark = seen.get(key) ?? new Uint8Array(p.triangles.length / 3);
      seen.set(key, mark);
      if (
        moving.has(n) ||
        node.skin >= 0 ||
        p.morphPositions.length > 0 ||
        (behind.has(model.meshes[node.mesh].name) && !settings.inside)
      ) {
        mark.fill(1);
        return;
      }
      const places = node.instances
        ? Array.from({ length: node.instances.length / 16 }, (_, i) =>
            new Matrix4().fromArray(node.instances as Float32Array, i * 16).premultiply(world[n]),
          )
        : [world[n]];
      for (const place of places)
        for (let t = 0; t < mark.length; t++) {
          for (let q = 0; q < POINTS.length && !mark[t]; q++) {
            v.set(0, 0, 0);
            for (let c = 0; c < 3; c++) {
              const at = p.triangles[t * 3 + c] * 3;
              v.x += p.positions[at] * POINTS[q][c];
              v.y += p.positions[at + 1] * POINTS[q][c];
              v.z += p.positions[at + 2] * POINTS[q][c];
            }
            v.applyMatrix4(place);
            if (isSeen(look, v.x, v.y, v.z)) mark[t] = 1;
          }
        }
    });
  }
  for (const [key, mark] of seen) {
    const [mesh, k] = key.split(' ').map(Number);
    if (mark.every((x) => x)) continue;
    const primitive = raw[mesh][k];
    const p = readPrimitive(primitive);
    if (!p) continue;
    const to = new Int32Array(p.positions.length / 3).fill(-1);
    const source: number[] = [];
    const triangles: number[] = [];
    for (let t = 0; t < mark.length; t++)
      if (mark[t])
        for (let c = 0; c < 3; c++) {
          const at = p.triangles[t * 3 + c];
          if (to[at] < 0) to[at] = source.push(at) - 1;
          triangles.push(to[at]);
        }
    if (triangles.length === 0) primitive.dispose();
    else remapPrimitive(document, primitive, source, triangles);
  }
  for (const mesh of document.getRoot().listMeshes()) if (mesh.listPrimitives().length === 0) mesh.dispose();
}

/** Nodes that a clip moves, and everything under them. */
function movingNodes(model: ReturnType<typeof readModel>): Set<number> {
  const out = new Set<number>();
  const open = model.clips.flatMap((c) => c.channels.map((x) => x.node));
  for (let n = open.pop(); n !== undefined; n = open.pop()) {
    if (out.has(n)) continue;
    out.add(n);
    open.push(...model.nodes[n].children);
  }
  return out;
}
