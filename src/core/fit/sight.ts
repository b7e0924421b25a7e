/** Why a part cannot be seen: causes checked in a fixed order, the first that holds is the answer. */
import { BufferAttribute, BufferGeometry, DoubleSide, Matrix4, PerspectiveCamera, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { CaptureCamera } from '../capture';
import { type Box, emptyBox, growBox } from '../math/box';
import type { Model } from '../model/model';
import type { PosedPrimitive } from '../model/pose';
import type { ModelPart } from '../piece/schema';
import { partInPicture } from './picture';

export type HiddenCause =
  | { cause: 'hidden' }
  | { cause: 'not-hung' }
  | { cause: 'no-triangles' }
  | { cause: 'transparent'; byMaterial: boolean }
  | { cause: 'outside' }
  /** How many head widths across the part is. */
  | { cause: 'camera-inside'; headWidths: number }
  /** Longest edge of its picture, in pixels. */
  | { cause: 'too-small'; pixels: number; far: boolean }
  | { cause: 'inside-form' }
  | { cause: 'behind-occluder' }
  | { cause: 'seen' };

export interface Sight {
  part: ModelPart;
  model: Model;
  /** World positions of the part, as evaluated. */
  posed: readonly PosedPrimitive[];
  camera: CaptureCamera;
  /** Of the picture the user looks at. */
  widthPx: number;
  heightPx: number;
  /** World from head, column-major. */
  head: readonly number[];
  /** The form in head space, metres, and whether an occluder of its shape is on. */
  form: { positions: Float32Array; indices: Uint32Array };
  occluderOn: boolean;
  headBreadthM: number;
}

/** Below this no practitioner would call it visible. */
const SMALLEST_PX = 6;

const bvhs = new WeakMap<Float32Array, MeshBVH>();
/** The form's search tree, kept as long as its positions are. */
function formTree(form: Sight['form']): MeshBVH {
  let tree = bvhs.get(form.positions);
  if (!tree) {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(form.positions, 3));
    g.setIndex(new BufferAttribute(form.indices.slice(), 1));
    tree = new MeshBVH(g);
    bvhs.set(form.positions, tree);
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

export function cameraOf(c: CaptureCamera, aspect: number): PerspectiveCamera {
  const camera = new PerspectiveCamera(c.fovDeg, aspect, 0.01, 100);
  camera.position.set(...c.positionM);
  camera.lookAt(...c.targetM);
  camera.updateMatrixWorld();
  camera.updateProjectionMatrix();
  return camera;
}

function boxOfPosed(posed: readonly PosedPrimitive[]): Box {
  return posed.reduce((box, p) => growBox(box, p.positions), emptyBox());
}

/** The one true cause, the earliest in the fixed order that holds; `seen` where none does. */
export function whyHidden(s: Sight): HiddenCause {
  if (!s.part.visible) return { cause: 'hidden' };
  if (s.part.anchor === null) return { cause: 'not-hung' };
  const drawn = s.posed.map((p) => s.model.meshes[p.mesh].primitives[p.primitive]);
  if (!drawn.some((p) => p.triangles.length > 0)) return { cause: 'no-triangles' };
  if (s.part.opacity === 0) return { cause: 'transparent', byMaterial: false };
  if (!s.part.solid && drawn.every((p) => p.alpha === 0)) return { cause: 'transparent', byMaterial: true };
  const camera = cameraOf(s.camera, s.widthPx / s.heightPx);
  const box = boxOfPosed(s.posed);
  const eye = new Vector3(...s.camera.positionM);
  const sizeM = Math.max(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
  const cameraInside = eye.x > box[0] && eye.x < box[3] && eye.y > box[1] && eye.y < box[4] && eye.z > box[2] && eye.z < box[5];
  const { points: inPicture, pixels } = partInPicture(s.model, s.posed, camera, s.widthPx, s.heightPx);
  // inside a shell nothing but the shell's size is worth saying, even where it has a gap before the camera
  if (inPicture.length === 0 && !cameraInside) return { cause: 'outside' };
  if (cameraInside) return { cause: 'camera-inside', headWidths: sizeM / s.headBreadthM };
  const distance = eye.distanceTo(new Vector3((box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2));
  if (pixels < SMALLEST_PX) return { cause: 'too-small', pixels, far: distance > 4 && sizeM > 0.03 };
  if (!s.occluderOn) return { cause: 'seen' };
  return sightPastForm(s, inPicture, eye);
}

/** With the occluder on: buried in the form, or only behind it from here. */
function sightPastForm(s: Sight, points: readonly Vector3[], eye: Vector3): HiddenCause {
  const tree = formTree(s.form);
  const toHead = new Matrix4().fromArray(s.head as number[]).invert();
  const eyeInHead = eye.clone().applyMatrix4(toHead);
  const local = points.map((p) => p.clone().applyMatrix4(toHead));
  const visible = local.some((p) => {
    const ray = p.clone().sub(eyeInHead);
    const far = ray.length();
    return nearestFormHit(tree, eyeInHead, ray.divideScalar(far)) > far - 1e-4;
  });
  if (visible) return { cause: 'seen' };
  return local.every((p) => insideForm(tree, p)) ? { cause: 'inside-form' } : { cause: 'behind-occluder' };
}
