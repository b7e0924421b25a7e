/** Weights put right by hand: a piece that follows one bone, a region with a share, a place made smooth. */
import type { Document } from '@gltf-transform/core';
import { type Model, readModel } from '../../model';
import { dressBare } from '../dress';
import { type Held, heldBy } from '../held';
import { RigError, type Vec } from '../middle';
import { nearestVertex, type Surface } from '../surface';
import { mirrorOf } from './mirror';
import { reachedFrom } from './reach';
import { setShares } from './shares';
import { type Shares, sharesAt, writeShares } from './write';

export type SharesEdit =
  | { kind: 'piece'; atM: Vec; bone: string }
  | { kind: 'region'; atM: Vec; radiusM: number; bone: string; share: number }
  | { kind: 'smooth'; atM: Vec; radiusM: number; rounds: number };

/** The bone's share, the others in proportion; where it alone held the vertex its parent takes what is left. */
function withShare(own: Shares, bone: number, share: number, parent: number): Shares {
  const others = own.filter(([b]) => b !== bone);
  const sum = others.reduce((s, [, w]) => s + w, 0);
  if (sum > 0) return [[bone, share], ...others.map(([b, w]): [number, number] => [b, (w / sum) * (1 - share)])];
  if (parent < 0) return [[bone, 1]];
  return [
    [bone, share],
    [parent, 1 - share],
  ];
}

/**
 * Changes shares in place.
 * @returns bones that are not there
 */
export function editShares(held: Held, edits: readonly SharesEdit[], mirrored = false): string[] {
  const place = new Map(held.bones.map((b, i) => [b.name, i]));
  const imageOf = mirrored ? mirrorOf(held) : null;
  const missing = new Set<string>();
  for (const edit of edits) {
    const one = (atM: Vec, name: string | null) => {
      const bone = name === null ? undefined : place.get(name);
      if (name !== null && bone === undefined) return void missing.add(name);
      editOne(held, { ...edit, atM }, bone ?? -1);
    };
    const name = edit.kind === 'smooth' ? null : edit.bone;
    one(edit.atM, name);
    const image = imageOf?.(edit.atM, name);
    if (image) one(image.atM, image.bone);
  }
  return [...missing];
}

function editOne({ surface, bones, binding }: Held, edit: SharesEdit, bone: number): void {
  const seed = nearestVertex(surface, edit.atM);
  if (seed < 0) return;
  if (edit.kind === 'piece') {
    for (let v = 0; v < surface.piece.length; v++) if (surface.piece[v] === surface.piece[seed]) setShares(binding, v, [[bone, 1]]);
    return;
  }
  const reached = reachedFrom(surface, seed, edit.atM, edit.radiusM);
  for (const v of [...reached.keys()]) if (sharesAt(binding, v).length === 0) reached.delete(v);
  if (edit.kind === 'region') {
    for (const [v, reach] of reached) {
      const own = sharesAt(binding, v);
      const had = own.find(([b]) => b === bone)?.[1] ?? 0;
      const share = had + (edit.share - had) * reach;
      setShares(binding, v, withShare(own, bone, share, bones[bone].parent));
    }
    return;
  }
  for (let round = 0; round < edit.rounds; round++) smoothOnce(surface, binding, reached);
}

function smoothOnce(surface: Surface, binding: Held['binding'], reached: ReadonlyMap<number, number>): void {
  const next = [...reached].map(([v, k]): readonly [number, Shares] => {
    const sum = new Map<number, number>();
    const add = (of: Shares, k: number) => {
      for (const [b, w] of of) sum.set(b, (sum.get(b) ?? 0) + w * k);
    };
    const near = surface.start[v + 1] - surface.start[v];
    add(sharesAt(binding, v), near > 0 ? 1 - k : 1);
    for (let e = surface.start[v]; e < surface.start[v + 1]; e++) add(sharesAt(binding, surface.to[e]), k / near);
    return [v, [...sum]];
  });
  for (const [v, shares] of next) if (shares.length > 0) setShares(binding, v, shares);
}

/** Nodes without a skin, of which a whole piece is to follow a bone. */
function bareNodes(model: Model, { surface }: Held, edits: readonly SharesEdit[]): number[] {
  const pieces = new Set(edits.flatMap((e) => (e.kind === 'piece' ? [surface.piece[nearestVertex(surface, e.atM)]] : [])));
  return surface.sources
    .filter(({ primitive, vertices }) => model.nodes[primitive.node].skin < 0 && vertices.some((v) => pieces.has(surface.piece[v])))
    .map((s) => s.primitive.node);
}

/**
 * The same in a document: only vertices whose shares change are written; a piece without a skin gets one.
 * @returns bones that are not there
 * @throws {RigError} `rig/bones` nothing is skinned
 */
export function runShares(document: Document, edits: readonly SharesEdit[], mirrored: boolean): string[] {
  const bare = readModel(document);
  const seen = heldBy(bare);
  if (seen) dressBare(document, bare, bareNodes(bare, seen, edits));
  const model = readModel(document);
  const held = heldBy(model);
  if (!held) throw new RigError('rig/bones', 'The model has no bones yet, so there are no weights to put right.');
  const before = { bones: held.binding.bones.slice(), shares: held.binding.shares.slice() };
  const missing = editShares(held, edits, mirrored);
  writeShares(document, model, held, before);
  return missing;
}
