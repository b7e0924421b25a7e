/** Weights as a file holds them: at most four bones a vertex, whose shares sum to 1. */
import { type Bone, type Home, toBone } from '../bone';
import type { Surface } from '../surface';
import { heatWeights } from './heat';
import { mostInfluences, setShares } from './shares';
import { voxelWeights } from './voxel';

export type WeightMethod = 'heat' | 'voxel';

export interface Binding {
  /** `form`: taken from the body that it lies on. */
  method: WeightMethod | 'form';
  /** Why this method, in words for whoever reads the row. */
  reason: string;
  /** Four a vertex of the surface: bones, and their shares; shares sum to 1, the greatest first. */
  bones: Uint16Array;
  shares: Float32Array;
  /** Most bones that any vertex follows. */
  maxInfluences: number;
  /** Vertices that no bone reached through the shape: they follow the nearest as the crow flies. */
  unreached: number;
}

const FOUR = 4;

/** Edges that have one triangle, and those that have more than two. */
export function edgeFaults({ triangles, piece }: Surface): { open: number; manifold: number; edges: number } {
  const uses = new Map<number, number>();
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [triangles[t + k], triangles[t + ((k + 1) % 3)]];
      const key = Math.min(a, b) * piece.length + Math.max(a, b);
      uses.set(key, (uses.get(key) ?? 0) + 1);
    }
  let [open, manifold] = [0, 0];
  for (const n of uses.values()) {
    if (n === 1) open++;
    if (n > 2) manifold++;
  }
  return { open, manifold, edges: uses.size };
}

/** Open edges of this share of all are a border, not a few slits. */
const FEW_OPEN = 0.002;

/** Which method suits a shape, and why. */
export function methodFor(surface: Surface): { method: WeightMethod; reason: string } {
  const { open, manifold, edges } = edgeFaults(surface);
  if (surface.pieces > 1)
    return { method: 'voxel', reason: `The shape is ${surface.pieces} pieces: heat does not pass from one to another, voxels do.` };
  if (manifold > 0)
    return { method: 'voxel', reason: `${manifold} edges have more than two triangles: the surface is none that heat can flow over.` };
  if (open > edges * FEW_OPEN)
    return { method: 'voxel', reason: `${open} edges are open: there is no inside from which bones could be seen.` };
  return { method: 'heat', reason: 'One closed surface: heat flows over it and is the smoothest.' };
}

/** Weights of a surface for some bones. `auto` takes the method the shape asks for; heat that reaches too little of it gives way to voxels. */
export function bind(surface: Surface, bones: readonly Bone[], asked: WeightMethod | 'auto' = 'auto', home: Home | null = null): Binding {
  const chosen = asked === 'auto' ? methodFor(surface) : { method: asked, reason: 'As asked.' };
  if (chosen.method === 'heat') {
    const { weights, cold } = heatWeights(surface, bones, home);
    const left = cold.reduce((n, c) => n + c, 0);
    if (asked === 'heat' || left === 0) return fourOf(surface, bones, weights, chosen);
    chosen.method = 'voxel';
    chosen.reason = `Of ${surface.piece.length} vertices ${left} see no bone from inside: voxels reach them.`;
  }
  return fourOf(surface, bones, voxelWeights(surface, bones, home), chosen);
}

/** Of the weights of many bones those that a file holds; what none reached follows the nearest bone. */
export function fourOf(
  surface: Surface,
  bones: readonly Bone[],
  weights: readonly Float64Array[],
  chosen: Pick<Binding, 'method' | 'reason'>,
): Binding {
  const vertices = surface.piece.length;
  const out = { bones: new Uint16Array(vertices * FOUR), shares: new Float32Array(vertices * FOUR) };
  let unreached = 0;
  const order = bones.map((_, i) => i);
  for (let v = 0; v < vertices; v++) {
    order.sort((a, b) => weights[b][v] - weights[a][v] || a - b);
    const most = order.slice(0, FOUR).map((b) => [b, weights[b][v]] as const);
    if (most.some(([, w]) => w > 0)) {
      setShares(out, v, most);
      continue;
    }
    const [x, y, z] = [surface.positions[v * 3], surface.positions[v * 3 + 1], surface.positions[v * 3 + 2]];
    const far = bones.map((b) => toBone(b, x, y, z).far);
    setShares(out, v, [[far.indexOf(Math.min(...far)), 1]]);
    unreached++;
  }
  return { ...chosen, ...out, maxInfluences: mostInfluences(out.shares), unreached };
}
