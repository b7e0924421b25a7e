/** Weights put right by hand: a piece that follows one bone, a region with a share, a place made smooth. */
import type { Document } from '@gltf-transform/core';
import { boxOf } from '../../math/box';
import { readModel } from '../../model';
import { mirrorName } from '../../words/humanoid';
import { distancesFrom } from '../geodesic';
import { type Held, heldBy } from '../held';
import { RigError, type Vec } from '../middle';
import { diagonal, nearestVertex, type Surface } from '../surface';
import { setShares } from './bind';

export type SharesEdit =
  | { kind: 'piece'; atM: Vec; bone: string }
  | { kind: 'region'; atM: Vec; radiusM: number; bone: string; share: number }
  | { kind: 'smooth'; atM: Vec; radiusM: number; rounds: number };

const FOUR = 4;
/** How much of an edit reaches a vertex: all in the middle, none at the border, level at both. */
const reach = (far: number, radius: number) => {
  const t = Math.min(1, Math.max(0, 1 - far / radius));
  return t * t * (3 - 2 * t);
};

/** Of the shape's diagonal: as near as this to the image of a place something lies across from it. */
const TWIN = 0.03;
const farFrom = ({ positions }: Surface, v: number, p: Vec) =>
  Math.hypot(positions[v * 3] - p[0], positions[v * 3 + 1] - p[1], positions[v * 3 + 2] - p[2]);

/** `.L` and `.R`, left and right. */
export function otherSide(bone: string): string {
  const sided = /^(.*\.)([LR])((?: \w)?\.\d+)?$/.exec(bone);
  return sided ? `${sided[1]}${sided[2] === 'L' ? 'R' : 'L'}${sided[3] ?? ''}` : mirrorName(bone);
}

type Shares = [bone: number, share: number][];
const sharesAt = ({ bones, shares }: Held['binding'], v: number): Shares =>
  Array.from({ length: FOUR }, (_, k): [number, number] => [bones[v * FOUR + k], shares[v * FOUR + k]]).filter(([, s]) => s > 0);

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
  const { surface, bones } = held;
  const place = new Map(bones.map((b, i) => [b.name, i]));
  const box = boxOf(surface.positions);
  const across = box[0] + box[3];
  const near = diagonal(box) * TWIN;
  const missing = new Set<string>();
  /** A bone of the other side is there, or it runs along the middle and is its own. */
  const hasOther = (name: string): boolean => {
    const bone = bones[place.get(name) ?? -1];
    if (otherSide(name) !== name) return place.has(otherSide(name));
    return bone !== undefined && [bone.head, bone.tail].every((p) => Math.abs(2 * p[0] - across) < 2 * near);
  };
  for (const edit of edits) {
    const one = (atM: Vec, name: string) => {
      const bone = place.get(name);
      if (edit.kind !== 'smooth' && bone === undefined) return void missing.add(name);
      editOne(held, { ...edit, atM }, bone ?? -1);
    };
    const name = edit.kind === 'smooth' ? '' : edit.bone;
    one(edit.atM, name);
    const image: Vec = [across - edit.atM[0], edit.atM[1], edit.atM[2]];
    if (!mirrored) continue;
    const [seed, other] = [nearestVertex(surface, edit.atM), nearestVertex(surface, image)];
    const lead = name || bones[held.binding.bones[seed * FOUR]]?.name || '';
    // what lies in the middle has no other side, nor what nothing lies across from
    if (other !== seed && farFrom(surface, other, image) < near && hasOther(lead)) one(image, name && otherSide(name));
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
  const { far } = distancesFrom(surface, [seed]);
  const within = Array.from({ length: far.length }, (_, v) => v).filter((v) => far[v] < edit.radiusM && sharesAt(binding, v).length > 0);
  if (edit.kind === 'region') {
    for (const v of within) {
      const own = sharesAt(binding, v);
      const had = own.find(([b]) => b === bone)?.[1] ?? 0;
      const share = had + (edit.share - had) * reach(far[v], edit.radiusM);
      setShares(binding, v, withShare(own, bone, share, bones[bone].parent));
    }
    return;
  }
  for (let round = 0; round < edit.rounds; round++) smoothOnce(surface, binding, within, (v) => reach(far[v], edit.radiusM));
}

function smoothOnce(surface: Surface, binding: Held['binding'], within: readonly number[], strength: (v: number) => number): void {
  const next = within.map((v): Shares => {
    const sum = new Map<number, number>();
    const add = (of: Shares, k: number) => {
      for (const [b, w] of of) sum.set(b, (sum.get(b) ?? 0) + w * k);
    };
    const k = strength(v);
    const near = surface.start[v + 1] - surface.start[v];
    add(sharesAt(binding, v), near > 0 ? 1 - k : 1);
    for (let e = surface.start[v]; e < surface.start[v + 1]; e++) add(sharesAt(binding, surface.to[e]), k / near);
    return [...sum];
  });
  within.forEach((v, i) => void (next[i].length > 0 && setShares(binding, v, next[i])));
}

/**
 * The same in a document: only vertices whose shares change are written.
 * @returns bones that are not there
 * @throws {RigError} `rig/bones` nothing is skinned
 */
export function runShares(document: Document, edits: readonly SharesEdit[], mirrored: boolean): string[] {
  const model = readModel(document);
  const held = heldBy(model);
  if (!held) throw new RigError('rig/bones', 'The model has no bones yet, so there are no weights to put right.');
  const before = { bones: held.binding.bones.slice(), shares: held.binding.shares.slice() };
  const missing = editShares(held, edits, mirrored);
  const joints = [...new Set(model.skins.flatMap((s) => s.joints))];
  const nodes = document.getRoot().listNodes();
  const changed = (v: number) => {
    for (let k = v * FOUR; k < v * FOUR + FOUR; k++)
      if (before.bones[k] !== held.binding.bones[k] || before.shares[k] !== held.binding.shares[k]) return true;
    return false;
  };
  for (const { primitive: p, vertices } of held.surface.sources) {
    const skin = model.skins[model.nodes[p.node].skin];
    const primitive = nodes[p.node]
      .getMesh()
      ?.listPrimitives()
      .filter((x) => x.getAttribute('POSITION'))[p.primitive];
    const [j, w] = [primitive?.getAttribute('JOINTS_0'), primitive?.getAttribute('WEIGHTS_0')];
    if (!skin || !primitive || !j || !w || !vertices.some(changed)) continue;
    const inSkin = new Map(skin.joints.map((node, i) => [joints.indexOf(node), i]));
    const [of, share] = [j.clone(), w.clone().setNormalized(false)];
    const [indices, weights] = [new Uint16Array(vertices.length * FOUR), new Float32Array(vertices.length * FOUR)];
    const [row, had]: [number[], number[]] = [[], []];
    vertices.forEach((v, i) => {
      const own = changed(v) ? sharesAt(held.binding, v).filter(([b]) => inSkin.has(b)) : [];
      if (own.length === 0) {
        j.getElement(i, row);
        w.getElement(i, had);
        indices.set(row, i * FOUR);
        weights.set(had, i * FOUR);
        return;
      }
      own.forEach(([b, s], k) => {
        indices[i * FOUR + k] = inSkin.get(b) as number;
        weights[i * FOUR + k] = s;
      });
      for (let set = 1; primitive.getAttribute(`WEIGHTS_${set}`); set++)
        primitive.getAttribute(`WEIGHTS_${set}`)?.setElement(i, [0, 0, 0, 0]);
    });
    primitive.setAttribute('JOINTS_0', of.setArray(skin.joints.length <= 256 ? Uint8Array.from(indices) : indices));
    primitive.setAttribute('WEIGHTS_0', share.setArray(weights));
  }
  return missing;
}
