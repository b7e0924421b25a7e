/**
 * A piece compiled for running: nodes with parents first, their offsets, what they follow, and which of them remember. Typed arrays,
 * no validator. A row that did not change is not worked out anew.
 */
import { Matrix4, Vector3 } from 'three';
import { MIRROR_CAMERA } from '../capture';
import { fitWorn, type WornBone, wornPose } from '../fit/worn';
import { wornWithout } from '../fit/wornareas';
import { type BodyRest, bodyRest } from '../form/body/rests';
import type { Form } from '../form/form';
import { PRESETS } from '../form/measures';
import { skeletonFor } from '../form/skeleton';
import type { LaidOn } from '../math/layonto';
import { offsetMatrix } from '../math/offset';
import type { Model } from '../model/model';
import { type LocalPose, nodeMatrices, poseAt, posedPrimitives, restPose } from '../model/pose';
import type { Anchor, Follow, Hang } from '../parts/common';
import type { Part } from '../parts/index';
import { measuresOf, shownAsk, shownBody, shownWearer } from '../piece/cast';
import { wearing } from '../piece/colourways';
import { drawnFinish } from '../piece/drawnfinish';
import type { Piece } from '../piece/schema';
import { drawnModel, drawnSky, hiddenBy, stockOf } from '../piece/selectors';
import { sameValue } from '../piece/table';
import { Seen } from './anchors';
import { meshOf } from './meshes';
import { flatPatch, type PatchMesh, seatedPatch, shapesIn } from './patch';
import type { Wears } from './state';

/** GLBs read into plain models, by SHA-256; a part whose model is not there yet is not shown. */
export interface Assets {
  models: Readonly<Record<string, Model>>;
  /** Forms by the key of their wearer (`castOf`); without the one shown, what hangs on a face is not found. */
  forms?: Readonly<Record<string, Form>>;
  /** How far re-sculpted copies of the form stand off it, by the stock file: three numbers a vertex, metres (`sculptOf`). */
  sculpts?: Readonly<Record<string, Float32Array>>;
}

/** Channels a node follows, as bits. */
export const FOLLOWS = { place: 1, yaw: 2, pitch: 4, roll: 8, upright: 16 } as const;
export const FOLLOWS_ALL = 15;

/** One part, compiled. */
export interface ShowNode {
  part: Part;
  /** In `nodes`; −1: it hangs on an anchor, or nowhere. */
  parent: number;
  anchor: Anchor | null;
  /** Node of the parent's model; −1: the parent itself. */
  bone: number;
  offset: Matrix4;
  follows: number;
  /** By how much the form shown is larger than form M in what it grows by. */
  grows: number;
  /** Number of its trail; −1: it does not lag. */
  trail: number;
  /** Itself and all it hangs from are switched on. */
  visible: boolean;
  /** SHA-256 of the GLB it is drawn from, and that, where at hand. */
  sha: string | null;
  model: Model | null;
  /** SHA-256 of the environment it shows. */
  sky: string | null;
  /** The clip that plays; −1: none. */
  clip: number;
  /** The body moves its bones; and the joints of its model of which nothing is drawn. null: it hangs as one piece. */
  /** Its finishes. */
  wears: Wears;
  worn: { bones: WornBone[]; without: number[] } | null;
  /** World from the frame it hangs in, in the wearer's rest pose. */
  rest: Matrix4;
  /** Of a live patch: how it lies; and where it is seated on a part, for what that holds. */
  patch: PatchMesh | null;
  seatedBy: SeatedBy | null;
}

export interface Show {
  piece: Piece;
  assets: Assets;
  /** Parents before children. */
  nodes: ShowNode[];
  /** Nodes in the order of the rack: numbers in `nodes`. */
  rack: number[];
  /** Nodes whose frames a step needs: those that trail and all they hang from, parents first. */
  stepped: number[];
  trails: { node: number; follow: NonNullable<Follow['trail']> }[];
  /** The joints of who wears it. */
  body: BodyRest;
  seen: Seen;
}

const bitsOf = (f: Follow) =>
  (f.place ? FOLLOWS.place : 0) |
  (f.yaw ? FOLLOWS.yaw : 0) |
  (f.pitch ? FOLLOWS.pitch : 0) |
  (f.roll ? FOLLOWS.roll : 0) |
  (f.upright ? FOLLOWS.upright : 0);

const growth = (measure: Follow['size'], piece: Piece) => (measure ? measuresOf(shownAsk(piece))[measure] / PRESETS.M[measure] : 1);

const clipOf = (part: Part, model: Model | null): number => {
  if (!model || model.clips.length === 0) return -1;
  const motion = 'motion' in part ? part.motion : null;
  return motion ? model.clips.findIndex((c) => c.name === motion.clip) : 0;
};

/** What a part is drawn from, and what of that is at hand. */
function filesOf(piece: Piece, assets: Assets, part: Part): Pick<ShowNode, 'sha' | 'model' | 'sky'> {
  const stock = stockOf(part);
  if (stock === null) return { sha: null, model: null, sky: null };
  const sha = drawnModel(piece, stock);
  return { sha, model: sha ? (assets.models[sha] ?? null) : null, sky: drawnSky(piece, stock) };
}

function wornBy(rest: BodyRest, part: Part, model: Model | null): ShowNode['worn'] {
  const said = 'worn' in part ? part.worn : null;
  if (!said || !model) return null;
  return { bones: fitWorn(model, said.bones, rest.skeleton), without: wornWithout(model, said) };
}

const NO_FINISH: Wears = {};
/** What a part wears; the very object of before where nothing of it changed. */
function finishesOf(piece: Piece, part: Part, before: Wears = NO_FINISH): Wears {
  const worn = Object.entries(wearing(piece, part)).map(
    ([name, id]) => [name, id === null ? null : drawnFinish(piece, piece.finishes[id])] as const,
  );
  if (worn.length === 0) return NO_FINISH;
  if (Object.keys(before).length === worn.length && worn.every(([name, finish]) => before[name] === finish)) return before;
  return Object.fromEntries(worn);
}

/** What of a node depends on its row, its model and the form alone. */
function compileRow(piece: Piece, assets: Assets, part: Part, rest: BodyRest): ShowNode {
  const { sha, model, sky } = filesOf(piece, assets, part);
  return {
    part,
    parent: -1,
    anchor: part.hang?.on === 'anchor' ? part.hang.anchor : null,
    bone: -1,
    offset: offsetMatrix(part.offset),
    follows: bitsOf(part.follow),
    grows: growth(part.follow.size, piece),
    trail: -1,
    visible: true,
    sha,
    model,
    sky,
    clip: clipOf(part, model),
    wears: NO_FINISH,
    worn: wornBy(rest, part, model),
    rest: new Matrix4(),
    patch: null,
    seatedBy: null,
  };
}

const trailing = (part: Part) => {
  const t = part.follow.trail;
  return t && (t.placeHalfLifeMs > 0 || t.turnHalfLifeMs > 0 || t.sizeHalfLifeMs > 0 || t.deadZoneM > 0) ? t : null;
};

/**
 * Compiles a piece. @param last the show before the edit: rows that are the same are taken from it.
 */
export function compile(piece: Piece, assets: Assets, last?: Show): Show {
  const body = bodyRest(shownBody(piece));
  const same = last && sameValue(shownAsk(last.piece), shownAsk(piece)) && last.body === body;
  const known = new Map(same ? last.nodes.map((n) => [n.part.id, n]) : []);
  const nodes: ShowNode[] = [];
  const at = new Map<string, number>();
  const trails: Show['trails'] = [];
  const put = (part: Part): number => {
    const there = at.get(part.id);
    if (there !== undefined) return there;
    const hang = part.hang;
    const parent = hang?.on === 'part' ? put(piece.parts[hang.part]) : -1;
    const old = known.get(part.id);
    const files = filesOf(piece, assets, part);
    const kept = old && old.part === part && old.sha === files.sha && old.model === files.model && old.sky === files.sky;
    const node = kept ? { ...old } : compileRow(piece, assets, part, body);
    node.wears = finishesOf(piece, part, old?.wears);
    node.parent = parent;
    const carrier = parent >= 0 ? nodes[parent].model : null;
    node.bone = hang?.on === 'part' && hang.bone !== undefined && carrier ? carrier.nodes.findIndex((n) => n.name === hang.bone) : -1;
    node.visible = hiddenBy(piece, part) === null;
    const trail = trailing(part);
    node.trail = trail ? trails.length : -1;
    if (trail) trails.push({ node: nodes.length, follow: trail });
    at.set(part.id, nodes.length);
    nodes.push(node);
    return nodes.length - 1;
  };
  const rack = piece.orders.parts.map((id) => put(piece.parts[id]));
  const needed = new Set<number>();
  for (const t of trails) for (let n = t.node; n >= 0; n = nodes[n].parent) needed.add(n);
  const show: Show = {
    piece,
    assets,
    nodes,
    rack,
    stepped: [...needed].sort((a, b) => a - b),
    trails,
    body,
    seen: new Seen(skeletonFor(shownAsk(piece)), body, assets.forms?.[shownWearer(piece).key] ?? null),
  };
  restFrames(show);
  seatPatches(show);
  return show;
}

/** How a node's model is posed: by its clip, and where a body wears it by that. */
export function poseOf(node: ShowNode, seen: Seen, timeS: number): LocalPose | null {
  const { model, part } = node;
  if (!model) return null;
  const motion = 'motion' in part ? part.motion : null;
  return asWorn(node, seen, model, poseAt(model, node.clip, motion ? motion.fromS + timeS * motion.speed : timeS));
}
function asWorn({ worn }: ShowNode, seen: Seen, model: Model, pose: LocalPose): LocalPose {
  const bones = worn && seen.bodyBones;
  if (!worn || !bones) return pose;
  const back = bones.world.clone().invert();
  return wornPose(model, pose, worn.bones, (i) => back.clone().multiply(bones.joint[i]));
}
/** Bones of a node's model while the wearer rests, in the space of the model. */
const restBones = (node: ShowNode, seen: Seen, model: Model) => nodeMatrices(model, asWorn(node, seen, model, restPose(model)));

/** World from the frame that a node without a parent hangs in; false where it is not seen. */
export function hangFrame(node: ShowNode, seen: Seen, out: Matrix4): boolean {
  if (node.worn && node.anchor) {
    const bones = seen.bodyBones;
    if (bones) out.copy(bones.world);
    return bones !== null;
  }
  return node.anchor !== null && seen.anchor(node.anchor, out);
}

/** A wearer who stands straight before the mirror's camera. */
function lookAtRest(show: Show): void {
  const { shouldersM } = skeletonFor(shownAsk(show.piece));
  show.seen.look({
    timeS: 0,
    camera: MIRROR_CAMERA,
    head: new Matrix4().toArray(),
    shoulders: new Matrix4().makeTranslation(...shouldersM).toArray(),
  });
}

/** Frames of a wearer at rest: where what does not follow stays. */
function restFrames(show: Show): void {
  lookAtRest(show);
  const world: Matrix4[] = [];
  show.nodes.forEach((n, i) => {
    n.rest.identity();
    if (n.parent >= 0) {
      n.rest.copy(world[n.parent]);
      const carrier = show.nodes[n.parent].model;
      if (n.bone >= 0 && carrier) n.rest.multiply(restBones(show.nodes[n.parent], show.seen, carrier)[n.bone]);
    } else hangFrame(n, show.seen, n.rest);
    world[i] = n.rest.clone().multiply(n.offset);
  });
}

/** What a seat was worked out from. */
export interface SeatedBy {
  host: Part;
  model: Model | null;
  /** From the host's frame to the patch', and from the world's. */
  inPatch: number[];
  fromWorld: number[];
}

/** Triangles of a node at rest, in its own frame. */
export function restShapes({ part, model }: ShowNode): LaidOn[] {
  if ('shape' in part) {
    const { positions, indices } = meshOf(part.shape);
    return [{ positions, triangles: indices }];
  }
  if (!model) return [];
  return posedPrimitives(model, restPose(model), new Matrix4()).map((p) => ({
    positions: p.positions,
    triangles: model.meshes[p.mesh].primitives[p.primitive].triangles,
  }));
}

const EYE = new Vector3(...MIRROR_CAMERA.positionM);
/** Lays each live patch that is to be seated onto the part it hangs on, as the Mirror's camera sees them at rest. */
function seatPatches(show: Show): void {
  for (const node of show.nodes) {
    const { part } = node;
    if (!('seated' in part)) continue;
    const host = show.nodes[node.parent];
    if (!part.seated || !host) {
      node.patch = flatPatch(part.region);
      node.seatedBy = null;
      continue;
    }
    const world = node.rest.clone().multiply(node.offset).invert();
    const inPatch = world.clone().multiply(host.rest).multiply(host.offset);
    const by: SeatedBy = { host: host.part, model: host.model, inPatch: inPatch.toArray(), fromWorld: world.toArray() };
    if (node.patch && node.seatedBy && sameSeat(node.seatedBy, by)) continue;
    node.seatedBy = by;
    node.patch = seatedPatch(part.region, shapesIn(restShapes(host), inPatch), EYE.clone().applyMatrix4(world));
  }
}
const near = (a: readonly number[], b: readonly number[]) => a.every((x, i) => Math.abs(x - b[i]) < 1e-9);
const sameSeat = (a: SeatedBy, b: SeatedBy) =>
  a.model === b.model && shapeOf(a.host) === shapeOf(b.host) && near(a.inPatch, b.inPatch) && near(a.fromWorld, b.fromWorld);
const shapeOf = (part: Part) => ('shape' in part ? part.shape : null);

/** Frames of a wearer at rest, for acts that keep a part where it is. */
export function restFramesOf(show: Show): { world(part: string): Matrix4; of(hang: Hang): Matrix4 } {
  const at = new Map(show.nodes.map((n, i) => [n.part.id, i]));
  const world = (id: string): Matrix4 => {
    const n = show.nodes[at.get(id) ?? -1];
    return n ? n.rest.clone().multiply(n.offset) : new Matrix4();
  };
  return {
    world,
    of(hang) {
      const frame = new Matrix4();
      if (hang.on === 'part') {
        frame.copy(world(hang.part));
        const from: ShowNode | undefined = show.nodes[at.get(hang.part) ?? -1];
        const carrier = from?.model;
        const bone = carrier && hang.bone !== undefined ? carrier.nodes.findIndex((x) => x.name === hang.bone) : -1;
        lookAtRest(show);
        if (carrier && bone >= 0) frame.multiply(restBones(from, show.seen, carrier)[bone]);
        return frame;
      }
      lookAtRest(show);
      show.seen.anchor(hang.anchor, frame);
      return frame;
    },
  };
}
