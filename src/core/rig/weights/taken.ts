/** Weights of another file, by the nearest place of its surface: of one that was painted here, or of a model that has good ones. */
import type { Document } from '@gltf-transform/core';
import { Box3, Vector3 } from 'three';
import { boxOf } from '../../math/box';
import { type Model, readModel } from '../../model';
import { type Held, heldBy } from '../held';
import { RigError } from '../middle';
import { normalsOf } from '../normals';
import { diagonal } from '../surface';
import { setShares } from './shares';
import { type NearestPlace, Skin } from './skin';
import { sharesAt, writeShares } from './write';

/** Of the shape's diagonal: nearer than this it is the very place. */
const SAME = 1e-5;
/** Of the shape's diagonal: what is further away is not the same place of a newer shape. */
const NEAR = 0.02;
/** Cosine to the normal there: what lies further aside is beyond the border of what was painted. */
const ABOVE = 0.5;
/** A place that is so much of one corner is that corner. */
const WHOLE = 0.9999;

export interface Taken {
  /** Bones that the file has weights of and the shape has not. */
  missing: string[];
  /** Vertices that took their weights from it. */
  vertices: number;
}

/** Changes shares in place: each vertex near the other's surface follows what that place follows, by the names of bones. */
export function takeShares(held: Held, from: Held): Taken {
  const { surface, bones, binding } = held;
  const size = diagonal(boxOf(surface.positions));
  const at = new Map(bones.map((b, i) => [b.name, i]));
  const bone = from.bones.map((b) => at.get(b.name) ?? -1);
  const missing = new Set<string>();
  const out = normalsOf(surface);
  if (from.surface.triangles.length === 0) return { missing: [], vertices: 0 };
  const skin = new Skin(Float32Array.from(from.surface.positions), from.surface.triangles.slice());
  const [p, n, way] = [new Vector3(), new Vector3(), new Vector3()];
  // what was painted is mostly a small part of the shape
  const about = new Box3().setFromArray(Array.from(from.surface.positions)).expandByScalar(size * NEAR);
  const hits = Array.from(surface.piece, (_, v): NearestPlace | null => {
    if (binding.shares[v * 4] === 0 || !about.containsPoint(p.fromArray(surface.positions, v * 3))) return null;
    const hit = skin.nearest(p, null);
    return hit && hit.far <= size * NEAR ? hit : null;
  });
  const cornerOf = (hit: NearestPlace | null) =>
    hit && hit.far <= size * SAME ? hit.corners[[hit.share.x, hit.share.y, hit.share.z].findIndex((w) => w > WHOLE)] : undefined;
  // of the very shape it was painted on: what only lies near was not painted
  const same = new Set(hits.map(cornerOf).filter((c) => c !== undefined)).size >= from.surface.piece.length;
  let vertices = 0;
  hits.forEach((near, v) => {
    if (!near) return;
    const corner = cornerOf(near);
    if (corner !== undefined && sharesAt(from.binding, corner).every(([b]) => bone[b] >= 0)) {
      for (let k = 0; k < 4; k++) binding.bones[v * 4 + k] = Math.max(0, bone[from.binding.bones[corner * 4 + k]]);
      binding.shares.set(from.binding.shares.subarray(corner * 4, corner * 4 + 4), v * 4);
      vertices++;
      return;
    }
    if (same && corner === undefined) return;
    let hit: NearestPlace | null = near;
    if (near.far > size * SAME) {
      p.fromArray(surface.positions, v * 3);
      hit = skin.nearest(p, n.fromArray(out, v * 3).normalize());
      if (!hit || hit.far > size * NEAR) return;
      if (Math.abs(way.subVectors(p, hit.place).dot(hit.normal)) < hit.far * ABOVE) return;
    }
    const sum = new Map<number, number>();
    hit.corners.forEach((c, k) => {
      for (const [b, w] of sharesAt(from.binding, c)) {
        if (bone[b] < 0) missing.add(from.bones[b].name);
        else sum.set(bone[b], (sum.get(bone[b]) ?? 0) + w * (hit as NearestPlace).share.getComponent(k));
      }
    });
    // less than a part in a million is only how the place was reckoned
    const taken = [...sum].filter(([, w]) => w > 1e-6);
    if (taken.length === 0) return;
    setShares(binding, v, taken);
    vertices++;
  });
  return { missing: [...missing], vertices };
}

/**
 * The same in a document: only vertices whose shares change are written.
 * @param name of the file, for the words
 * @returns what was not found, in words
 * @throws {RigError} `rig/bones` nothing is skinned here; `rig/no-weights` nothing is skinned there
 */
export function runTaken(document: Document, source: Model, name: string): string[] {
  const model = readModel(document);
  const held = heldBy(model);
  if (!held) throw new RigError('rig/bones', 'The model has no bones yet, so there are no weights to put right.');
  const from = heldBy(source);
  if (!from) throw new RigError('rig/no-weights', `${name} has no bones, so it has no weights to take.`);
  const before = { bones: held.binding.bones.slice(), shares: held.binding.shares.slice() };
  const { missing, vertices } = takeShares(held, from);
  writeShares(document, model, held, before);
  return [...missing.map((b) => `bone ${b} of ${name}`), ...(vertices === 0 ? [`any place of ${name} on this shape`] : [])];
}
