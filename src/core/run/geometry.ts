/** A staged part as triangles in the world: what asks about sight, size and clearance works on. */
import { Matrix4 } from 'three';
import { type Box, emptyBox, growBox } from '../math/box';
import { posedPrimitives } from '../model/pose';
import { meshOf } from './meshes';
import type { Assets } from './show';
import type { StagePart } from './state';

export interface WorldShape {
  /** Metres; instances one after another. */
  positions: Float32Array;
  instances: number;
  /** Of one instance. */
  triangles: Uint32Array;
  /** Alpha of its material where it blends, else 1. */
  alpha: number;
}

function placed(positions: Float32Array, triangles: Uint32Array, { elements: e }: Matrix4): WorldShape {
  const out = new Float32Array(positions.length);
  for (let i = 0; i < out.length; i += 3) {
    const [x, y, z] = [positions[i], positions[i + 1], positions[i + 2]];
    for (let k = 0; k < 3; k++) out[i + k] = e[k] * x + e[4 + k] * y + e[8 + k] * z + e[12 + k];
  }
  return { positions: out, instances: 1, triangles, alpha: 1 };
}

/** Empty for what has no triangles of its own: groups, screens, occluders of the form, models not at hand. */
export function worldShapes(part: StagePart, assets: Assets): WorldShape[] {
  const world = new Matrix4().fromArray(part.matrix);
  if (part.shape?.type === 'solid') {
    const { positions, indices } = meshOf(part.shape.solid);
    return [placed(positions, indices, world)];
  }
  if (part.shape?.type === 'patch') return [placed(part.shape.mesh.positions, part.shape.mesh.triangles, world)];
  if (part.shape?.type !== 'glb' || !part.shape.pose) return [];
  const model = assets.models[part.shape.model];
  if (!model) return [];
  return posedPrimitives(model, part.shape.pose, world).map((p) => {
    const { triangles, alpha } = model.meshes[p.mesh].primitives[p.primitive];
    return { positions: p.positions, instances: p.instances, triangles, alpha };
  });
}

interface TurnedBox {
  /** The nine numbers that turn and size. */
  turn: number[];
  trs: Float32Array | null;
  box: Box;
}
/** Of a shape, as it was last turned and posed: what is only moved keeps its box. */
const turned = new WeakMap<object, TurnedBox[]>();
const KEPT = 4;
const TURN = [0, 1, 2, 4, 5, 6, 8, 9, 10];
const same = (a: ArrayLike<number>, b: ArrayLike<number>) => {
  for (let i = 0; i < b.length; i++) if (a[i] !== b[i]) return false;
  return a.length === b.length;
};

/** Box of a part as it would stand at the world's origin, turned and sized as it is. */
function boxAtOrigin(part: StagePart, assets: Assets): Box {
  const shape = part.shape;
  const of =
    shape?.type === 'solid'
      ? meshOf(shape.solid)
      : shape?.type === 'glb'
        ? assets.models[shape.model]
        : shape?.type === 'patch'
          ? shape.mesh
          : null;
  const pose = shape?.type === 'glb' ? shape.pose : null;
  const turn = TURN.map((i) => part.matrix[i]);
  // morph weights and garments are few: such a box is worked out anew
  const kept = of && !pose?.morphWeights.size && !pose?.locals ? (turned.get(of) ?? []) : null;
  const trs = pose?.trs ?? null;
  const known = kept?.find((k) => same(k.turn, turn) && (k.trs && trs ? same(k.trs, trs) : k.trs === trs));
  if (known) return known.box;
  const matrix = part.matrix.map((v, i) => (i >= 12 && i < 15 ? 0 : v));
  let box = emptyBox();
  for (const s of worldShapes({ ...part, matrix }, assets)) box = growBox(box, s.positions);
  if (of && kept) turned.set(of, [{ turn, trs: trs?.slice() ?? null, box }, ...kept].slice(0, KEPT));
  return box;
}

/** Box of everything shown of some parts, metres of the world; null where there is nothing. */
export function worldBox(parts: readonly StagePart[], assets: Assets): Box | null {
  const box = emptyBox();
  for (const p of parts) {
    if (!p.shown) continue;
    const own = boxAtOrigin(p, assets);
    for (let k = 0; k < 3; k++) {
      box[k] = Math.min(box[k], own[k] + p.matrix[12 + k]);
      box[3 + k] = Math.max(box[3 + k], own[3 + k] + p.matrix[12 + k]);
    }
  }
  return box[0] > box[3] ? null : box;
}
