/** Live patches put on a part where the wearer's face has them. Brings the edits of a piece along: what only draws one goes without. */
import { Matrix4, Vector3 } from 'three';
import { MIRROR_CAMERA } from '../capture';
import { offsetOf } from '../fit/acts';
import type { Form } from '../form/form';
import { type Grid, type LaidOn, layOnto } from '../math/layonto';
import { onPart, type Part } from '../parts';
import { createPatch } from '../piece/defaults';
import { add, type SingleEdit } from '../piece/edits';
import { type PatchRegion, WINDOWS } from '../words/windows';
import { worldShapes } from './geometry';
import { seenThrough, shapesIn } from './patch';
import { settle } from './run';
import { restFramesOf, type Show } from './show';
import { stageOf } from './stage';
import { type Held, wearerCapture } from './wearer';

/** Of the part's breadth and height, as the camera sees it, what all patches together take. */
const FILLS = 0.62;
/** Before the foremost place that a patch covers, metres. */
const BEFORE_M = 0.002;
const AT_REST: Held = { head: { yawDeg: 0, pitchDeg: 0, rollDeg: 0 } };

/**
 * Patches of some regions put on a part as they lie on the wearer's face, as large together as the part has room for.
 * @param nameOf a free name @returns null: the part has no surface that the camera sees
 */
export function patchesOn(
  show: Show,
  form: Form,
  host: Part,
  regions: readonly PatchRegion[],
  newId: () => string,
  nameOf: (label: string) => string,
): { edits: SingleEdit[]; ids: string[] } | null {
  const { piece, assets } = show;
  const capture = wearerCapture(piece, AT_REST);
  const staged = stageOf(show, settle(show, capture), capture).parts.find((p) => p.id === host.id);
  const shapes = staged?.found ? worldShapes(staged, assets) : [];
  const [low, high] = [new Vector3(Infinity, Infinity, Infinity), new Vector3(-Infinity, -Infinity, -Infinity)];
  const v = new Vector3();
  for (const { positions } of shapes)
    for (let i = 0; i < positions.length; i += 3) {
      if (!Number.isFinite(positions[i] + positions[i + 1] + positions[i + 2])) continue;
      v.fromArray(positions, i);
      low.min(v);
      high.max(v);
    }
  if (low.x > high.x) return null;
  const eye = new Vector3(...MIRROR_CAMERA.positionM);
  const placed = regions.map((region) => ({ region, ...placeOf(form, region) }));
  const ends = (k: 0 | 1) => [
    Math.min(...placed.map((p) => p.middle[k] - p.size[k] / 2)),
    Math.max(...placed.map((p) => p.middle[k] + p.size[k] / 2)),
  ];
  const [[left, right], [foot, top]] = [ends(0), ends(1)];
  const room = roomOn(shapes, low, high, eye);
  const grow = FILLS * Math.min(room.breadth / (right - left), room.height / (top - foot));
  const fromWorld = restFramesOf(show).world(host.id).invert();
  const edits: SingleEdit[] = [];
  const ids: string[] = [];
  let at = piece.orders.parts.indexOf(host.id) + 1;
  for (const { region, middle, size } of placed) {
    const scale = (size[0] / WINDOWS[region].sizeM[0]) * grow;
    const x = room.x + (middle[0] - (left + right) / 2) * grow;
    const y = room.y + (middle[1] - (foot + top) / 2) * grow;
    const world = (z: number) => new Matrix4().makeScale(scale, scale, scale).setPosition(x, y, z);
    const ahead = world(high.z + BEFORE_M);
    const met = seenThrough(region, shapesIn(shapes, ahead.clone().invert()), eye.clone().applyMatrix4(ahead.clone().invert()));
    const foremost = met.reduce((most, z, i) => (i % 3 === 2 && z > most ? z : most), -Infinity);
    const there = Number.isFinite(foremost) ? world(high.z + BEFORE_M + foremost * scale + BEFORE_M) : ahead;
    const id = newId();
    const part = createPatch(id, nameOf(WINDOWS[region].label), region, onPart(host.id));
    edits.push(add('parts', { ...part, layer: host.layer, offset: offsetOf(fromWorld.clone().multiply(there)) }, at++));
    ids.push(id);
  }
  return { edits, ids };
}

const SEEN: Grid = { across: 64, up: 64 };
/** Where most of a part is as the eye sees it, and how far it reaches from there to both sides and up and down alike: a staff on a ball is left out. */
function roomOn(
  shapes: readonly LaidOn[],
  low: Vector3,
  high: Vector3,
  eye: Vector3,
): { x: number; y: number; breadth: number; height: number } {
  const [w, h] = [high.x - low.x, high.y - low.y];
  const box = { x: (low.x + high.x) / 2, y: (low.y + high.y) / 2, breadth: w, height: h };
  const own = new Matrix4().makeTranslation(-box.x, -box.y, -high.z - BEFORE_M);
  const { x, y, z } = eye.clone().applyMatrix4(own);
  const row = SEEN.across + 1;
  const seen = layOnto(shapesIn(shapes, own), SEEN, [w, h], [x, y, z]);
  const is = (i: number, j: number) => i >= 0 && j >= 0 && i < row && j <= SEEN.up && !Number.isNaN(seen[j * row + i]);
  let [count, si, sj] = [0, 0, 0];
  for (let v = 0; v < seen.length; v++) {
    if (Number.isNaN(seen[v])) continue;
    count++;
    si += v % row;
    sj += Math.floor(v / row);
  }
  const [i, j] = [Math.round(si / count), Math.round(sj / count)];
  // a ring has its middle where it is not
  if (!is(i, j)) return box;
  const reach = (di: number, dj: number) => {
    let n = 0;
    while (is(i + di * (n + 1), j + dj * (n + 1))) n++;
    return n;
  };
  return {
    x: low.x + (i / SEEN.across) * w,
    y: low.y + (j / SEEN.up) * h,
    breadth: (2 * Math.min(reach(-1, 0), reach(1, 0)) * w) / SEEN.across,
    height: (2 * Math.min(reach(0, -1), reach(0, 1)) * h) / SEEN.up,
  };
}

/** Where a region is on a face, and how large, metres: side and up. */
function placeOf(form: Form, region: PatchRegion): { middle: [number, number]; size: [number, number] } {
  const { across, wide, up, sizeM } = WINDOWS[region];
  const [p, q] = across.map((name) => form.landmarks[name].position);
  const breadth = Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) * wide;
  const height = (breadth * sizeM[1]) / sizeM[0];
  return { middle: [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2 + up * height], size: [breadth, height] };
}
