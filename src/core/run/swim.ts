/** How far a live patch swims over the part that it hangs on. */
import { Matrix4, Vector3 } from 'three';
import { MIRROR_CAMERA } from '../capture';
import { cameraOf } from '../fit/camera';
import { inOval, seenThrough, shapesIn } from './patch';
import { settle } from './run';
import { restShapes, type Show } from './show';
import { stageOf } from './stage';
import { type Held, wearerCapture } from './wearer';

export interface Swim {
  /** Furthest that a place of it moves over what it lay on at rest, px of the capture's picture. */
  px: number;
  /** Number of the pose in which it does. */
  pose: number;
}

/**
 * How far a live patch swims over the part it hangs on: at rest each of its places covers one of the part; turned, the two are seen apart.
 * @returns null: it hangs on no part, or covers nothing of it
 */
export function swimOver(show: Show, part: string, poses: readonly Held[]): Swim | null {
  const node = show.nodes.find((n) => n.part.id === part);
  const host = node && show.nodes[node.parent];
  if (!node || !host || node.part.kind !== 'patch' || !node.patch) return null;
  const { piece } = show;
  const world = node.rest.clone().multiply(node.offset);
  const fromWorld = world.clone().invert();
  const hostWorld = host.rest.clone().multiply(host.offset);
  const inPatch = fromWorld.clone().multiply(hostWorld);
  const shapes = shapesIn(restShapes(host), inPatch);
  const eye = new Vector3(...MIRROR_CAMERA.positionM).applyMatrix4(fromWorld);
  const covered = seenThrough(node.part.region, shapes, eye);
  const toHost = inPatch.clone().invert();
  const own = node.patch.positions;
  let most: Swim | null = null;
  const [a, b] = [new Vector3(), new Vector3()];
  for (const [pose, held] of poses.entries()) {
    const capture = wearerCapture(piece, held);
    const state = stageOf(show, settle(show, capture), capture);
    const [mine, its] = [part, host.part.id].map((id) => state.parts.find((p) => p.id === id));
    if (!mine?.found || !its) continue;
    const { widthPx = 720, heightPx = 1280 } = state.camera;
    const camera = cameraOf(state.camera, widthPx / heightPx);
    const [fromPatch, fromHost] = [new Matrix4().fromArray(mine.matrix), new Matrix4().fromArray(its.matrix).multiply(toHost)];
    for (let v = 0; v < own.length / 3; v++) {
      if (!inOval(v) || Number.isNaN(covered[v * 3 + 2])) continue;
      a.fromArray(own, v * 3)
        .applyMatrix4(fromPatch)
        .project(camera);
      b.fromArray(covered, v * 3)
        .applyMatrix4(fromHost)
        .project(camera);
      const px = Math.hypot(((a.x - b.x) * widthPx) / 2, ((a.y - b.y) * heightPx) / 2);
      if (!most || px > most.px) most = { px, pose };
    }
  }
  return most;
}
