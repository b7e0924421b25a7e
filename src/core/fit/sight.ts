/** Why a part cannot be seen: causes checked in a fixed order, the first that holds is the answer. */
import { BufferAttribute, BufferGeometry, DoubleSide, Matrix4, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { CaptureCamera } from '../capture';
import { type Box, emptyBox, growBox } from '../math/box';
import type { AnchorKind, ModelPart, Part, ScreenPart } from '../parts';
import { layerName } from '../piece/layers';
import type { Piece } from '../piece/schema';
import { anchorOf, drawnSky, hiddenBy } from '../piece/selectors';
import { cameraOf } from './camera';
import { partInPicture, type SeenShape } from './picture';

export type HiddenCause =
  | { cause: 'hidden' }
  /** A part it hangs from is switched off. */
  | { cause: 'hidden-with'; part: string; name: string }
  | { cause: 'not-hung' }
  /** The capture does not see what it hangs on. */
  | { cause: 'no-anchor'; anchor: AnchorKind }
  /** Its layer is switched off. */
  | { cause: 'layer-off'; layer: string; name: string }
  | { cause: 'no-triangles' }
  | { cause: 'transparent'; byMaterial: boolean }
  | { cause: 'outside' }
  /** How many head widths across the part is. */
  | { cause: 'camera-inside'; headWidths: number }
  /** Longest edge of its picture, in pixels. */
  | { cause: 'too-small'; pixels: number; far: boolean }
  /** A screen drawn after it fills the picture. */
  | { cause: 'behind-screen'; part: string; name: string }
  /** The wearer is drawn again after it, and covers all of it from here. */
  | { cause: 'behind-matte'; layer: string; name: string }
  | { cause: 'inside-form' }
  /** What hides most of it. */
  | { cause: 'behind-occluder'; part: string; name: string }
  | { cause: 'seen' };

interface HeadShape {
  positions: Float32Array;
  indices: Uint32Array;
}
/** What one part hides with, in head space, metres. */
export interface Blind extends HeadShape {
  part: string;
  /** Some of the form; else a shape of its own. */
  ofForm: boolean;
}

export interface Sight {
  part: Part;
  piece: Piece;
  /** World triangles of the part, as staged. */
  shapes: readonly SeenShape[];
  /** Whether what it hangs on is seen. */
  found: boolean;
  camera: CaptureCamera;
  /** Of the picture the user looks at. */
  widthPx: number;
  heightPx: number;
  /** World from the frame the part hangs in, before its offset, column-major. */
  frame: readonly number[];
  /** World from head, column-major. */
  head: readonly number[];
  /** The form as it is bent, in head space, metres. */
  form: HeadShape;
  /** What hides in the part's layer. */
  hides: readonly Blind[];
  headBreadthM: number;
}

/** Below this no practitioner would call it visible. */
const SMALLEST_PX = 6;

const bvhs = new WeakMap<Float32Array, WeakMap<Uint32Array, MeshBVH>>();
/** The search tree of a shape, kept as long as its vertices and its triangles are. */
function formTree({ positions, indices }: HeadShape): MeshBVH {
  const known = bvhs.get(positions) ?? new WeakMap<Uint32Array, MeshBVH>();
  bvhs.set(positions, known);
  let tree = known.get(indices);
  if (!tree) {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(positions, 3));
    g.setIndex(new BufferAttribute(indices.slice(), 1));
    tree = new MeshBVH(g);
    known.set(indices, tree);
  }
  return tree;
}

const nearestFormHit = (tree: MeshBVH, from: Vector3, direction: Vector3) =>
  tree.raycastFirst(new Ray(from, direction), DoubleSide)?.distance ?? Infinity;

/** Inside where a ray to the outside meets the back of a face first. */
function insideForm(tree: MeshBVH, p: Vector3): boolean {
  const hit = tree.raycastFirst(new Ray(p, new Vector3(0.0123, 1, 0.0077).normalize()), DoubleSide);
  return hit?.face ? hit.face.normal.y > 0 : false;
}

function boxOfShapes(shapes: readonly SeenShape[]): Box {
  return shapes.reduce((box, p) => growBox(box, p.positions), emptyBox());
}

/** The one true cause, the earliest in the fixed order that holds; `seen` where none does. */
export function whyHidden(s: Sight): HiddenCause {
  const off = hiddenBy(s.piece, s.part);
  if (off) return off.id === s.part.id ? { cause: 'hidden' } : { cause: 'hidden-with', part: off.id, name: off.name };
  const anchor = anchorOf(s.piece, s.part);
  if (anchor === null) return { cause: 'not-hung' };
  if (!s.found) return { cause: 'no-anchor', anchor };
  const layer = s.piece.layers[s.part.layer];
  if (!layer.visible) return { cause: 'layer-off', layer: layer.id, name: layerName(layer) };
  if (!s.shapes.some((p) => p.triangles.length > 0)) return { cause: 'no-triangles' };
  const { opacity = 1, solid = false } = s.part as Partial<ModelPart>;
  if (opacity === 0) return { cause: 'transparent', byMaterial: false };
  if (!solid && s.shapes.every((p) => p.alpha === 0)) return { cause: 'transparent', byMaterial: true };
  const camera = cameraOf(s.camera, s.widthPx / s.heightPx);
  const box = boxOfShapes(s.shapes);
  const eye = camera.position.clone();
  const sizeM = Math.max(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
  const cameraInside = eye.x > box[0] && eye.x < box[3] && eye.y > box[1] && eye.y < box[4] && eye.z > box[2] && eye.z < box[5];
  const { points: inPicture, pixels } = partInPicture(s.shapes, camera, s.widthPx, s.heightPx);
  // inside a shell nothing but the shell's size is worth saying, even where it has a gap before the camera
  if (inPicture.length === 0 && !cameraInside) return { cause: 'outside' };
  if (cameraInside) return { cause: 'camera-inside', headWidths: sizeM / s.headBreadthM };
  const distance = eye.distanceTo(new Vector3((box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2));
  if (pixels < SMALLEST_PX) return { cause: 'too-small', pixels, far: distance > 4 && sizeM > 0.03 };
  return coveredAbove(s, inPicture, eye) ?? pastOccluders(s, inPicture, eye);
}

/** What is drawn after the part's layer and covers all of it from here. */
function coveredAbove(s: Sight, points: readonly Vector3[], eye: Vector3): HiddenCause | null {
  const { orders, layers, parts } = s.piece;
  for (const id of orders.layers.slice(orders.layers.indexOf(s.part.layer) + 1)) {
    const layer = layers[id];
    if (!layer.visible) continue;
    if (layer.kind === 'camera') return { cause: 'behind-screen', part: id, name: layerName(layer) };
    if (layer.kind === 'screen') {
      const full = orders.parts
        .map((p) => parts[p])
        .find((p) => p.kind === 'screen' && p.layer === id && p.opacity === 1 && fillsAll(s.piece, p) && p.hang && !hiddenBy(s.piece, p));
      if (full) return { cause: 'behind-screen', part: full.id, name: full.name };
    }
    if (layer.kind === 'matte' && points.every((p) => throughForm(s, p, eye) !== layer.matte.invert))
      return { cause: 'behind-matte', layer: id, name: layerName(layer) };
  }
  return null;
}

/** Whether a screen leaves nothing of what is under it. */
function fillsAll(piece: Piece, screen: ScreenPart): boolean {
  if (screen.colour !== null) return true;
  return screen.stock !== null && (drawnSky(piece, screen.stock) !== null || screen.fit !== 'within');
}

/** Whether the wearer's picture lies on the line from the eye through a point, before it or behind. */
function throughForm(s: Sight, p: Vector3, eye: Vector3): boolean {
  const toHead = new Matrix4().fromArray(s.head as number[]).invert();
  const from = eye.clone().applyMatrix4(toHead);
  return nearestFormHit(formTree(s.form), from, p.clone().applyMatrix4(toHead).sub(from).normalize()) < Infinity;
}

/** Buried in the form that hides it, or only behind what hides from here. */
function pastOccluders(s: Sight, points: readonly Vector3[], eye: Vector3): HiddenCause {
  const toHead = new Matrix4().fromArray(s.head as number[]).invert();
  const eyeInHead = eye.clone().applyMatrix4(toHead);
  const local = points.map((p) => p.clone().applyMatrix4(toHead));
  const blinds = s.hides.filter((h) => h.indices.length > 0).map((h) => ({ ...h, tree: formTree(h), covers: 0 }));
  let visible = false;
  for (const p of local) {
    const ray = p.clone().sub(eyeInHead);
    const far = ray.length();
    ray.divideScalar(far);
    const before = blinds.filter(({ tree }) => nearestFormHit(tree, eyeInHead, ray) <= far - 1e-4);
    for (const b of before) b.covers++;
    visible ||= before.length === 0;
  }
  if (visible) return { cause: 'seen' };
  const form = formTree(s.form);
  if (blinds.some((b) => b.ofForm) && local.every((p) => insideForm(form, p))) return { cause: 'inside-form' };
  const { part } = blinds.reduce((a, b) => (b.covers > a.covers ? b : a));
  return { cause: 'behind-occluder', part, name: s.piece.parts[part].name };
}
