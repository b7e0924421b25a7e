/** The mend of a cause, as an edit or a pose: one press, after which the question is asked again. */
import { Matrix4, Vector3 } from 'three';
import type { Pose } from '../form/poses';
import { type Box, emptyBox, growBox } from '../math/box';
import { ANCHOR_LABELS, MAIN_LAYER_ID, onAnchor } from '../parts/common';
import { change, changePart, type Edit, remove } from '../piece/edits';
import type { Offset } from '../words/values';
import type { HiddenCause, Sight } from './sight';

export interface Mend {
  label: string;
  act: { kind: 'edit'; edit: Edit } | { kind: 'pose'; pose: Pose };
}

/** Sizes a wrong unit makes: mm, cm and inches read as metres, and the other way round. */
const UNIT_FACTORS = [0.001, 0.01, 0.0254, 0.1, 10, 100, 1000];

/** The part's box in head space, metres. */
export function boxInHead(s: Sight): Box {
  const toHead = new Matrix4().fromArray(s.head as number[]).invert();
  const box = emptyBox();
  const v = new Vector3();
  for (const p of s.shapes)
    for (let i = 0; i + 2 < p.positions.length; i += 3)
      growBox(
        box,
        v
          .set(p.positions[i], p.positions[i + 1], p.positions[i + 2])
          .applyMatrix4(toHead)
          .toArray(),
      );
  return box;
}

const edit = (label: string, e: Edit): Mend => ({ label, act: { kind: 'edit', edit: e } });
const place = (s: Sight, offset: Partial<Offset>): Edit => changePart(s.part.id, { offset: { ...s.part.offset, ...offset } });

/** @param by metres in head space */
function moveBy(s: Sight, by: readonly number[]): Edit {
  const toFrame = new Matrix4()
    .fromArray(s.frame as number[])
    .invert()
    .multiply(new Matrix4().fromArray(s.head as number[]));
  const e = toFrame.elements;
  const [dx, dy, dz] = [0, 1, 2].map((k) => e[k] * by[0] + e[4 + k] * by[1] + e[8 + k] * by[2]);
  const [x, y, z] = s.part.offset.positionM;
  return place(s, { positionM: [x + dx, y + dy, z + dz] });
}

/** A factor that brings the part's longest edge to about a head's width: a unit's where one fits, else the exact one. */
export function headSizeFactor(longestM: number, headBreadthM: number): number {
  const exact = headBreadthM / longestM;
  const unit = UNIT_FACTORS.find((f) => longestM * f > headBreadthM * 0.5 && longestM * f < headBreadthM * 2.2);
  return unit ?? exact;
}

function resize(s: Sight): Mend {
  const box = boxInHead(s);
  const factor = headSizeFactor(Math.max(box[3] - box[0], box[4] - box[1], box[5] - box[2]), s.headBreadthM);
  const size = s.part.offset.size.map((k) => Math.min(1e6, Math.max(1e-6, k * factor))) as Offset['size'];
  return { label: `Make it about a head wide (×${Number(factor.toPrecision(3))})`, act: { kind: 'edit', edit: place(s, { size }) } };
}

function bringToHead(s: Sight): Mend {
  const b = boxInHead(s);
  return {
    label: 'Bring it to the head',
    act: { kind: 'edit', edit: moveBy(s, [-(b[0] + b[3]) / 2, -(b[1] + b[4]) / 2, -(b[2] + b[5]) / 2]) },
  };
}

function beforeTheFace(s: Sight): Mend {
  const part = boxInHead(s);
  let front = -Infinity;
  for (let i = 2; i < s.form.positions.length; i += 3) front = Math.max(front, s.form.positions[i]);
  return { label: 'Move it before the face', act: { kind: 'edit', edit: moveBy(s, [0, 0, front + 0.002 - part[2]]) } };
}

/**
 * What to press for a cause; null where nothing is wrong.
 * @param seenAt poses in which the part is seen, nearest first
 */
export function mendOf(s: Sight, cause: HiddenCause, seenAt: readonly Pose[]): Mend | null {
  const id = s.part.id;
  switch (cause.cause) {
    case 'hidden':
      return edit('Show it', changePart(id, { visible: true }));
    case 'hidden-with':
      return edit(`Show ${cause.name}`, changePart(cause.part, { visible: true }));
    case 'layer-off':
      return edit(`Show layer ${cause.name}`, change('layers', cause.layer, { visible: true }));
    case 'no-anchor':
      return edit('Hang it on the head', changePart(id, { hang: onAnchor('head') }));
    case 'behind-screen':
      return s.piece.parts[cause.part]
        ? edit(`Hide ${cause.name}`, changePart(cause.part, { visible: false }))
        : edit(`Hide layer ${cause.name}`, change('layers', cause.part, { visible: false }));
    case 'behind-matte':
      return edit('Bring it before the wearer', changePart(id, { layer: MAIN_LAYER_ID }));
    case 'not-hung':
      return edit('Hang it on the head', changePart(id, { hang: onAnchor('head') }));
    case 'no-triangles':
      return edit('Lift it off the rack', remove('parts', id));
    case 'transparent':
      return cause.byMaterial
        ? edit('Draw it solid', changePart(id, { solid: true }))
        : edit('Make it opaque', changePart(id, { opacity: 1 }));
    case 'outside':
      return bringToHead(s);
    case 'camera-inside':
      return resize(s);
    case 'too-small':
      return cause.far ? bringToHead(s) : resize(s);
    case 'inside-form':
      return beforeTheFace(s);
    case 'behind-occluder':
      if (seenAt.length > 0) return { label: `Turn to ${seenAt[0].label}`, act: { kind: 'pose', pose: seenAt[0] } };
      return edit(`Hide ${cause.name}`, changePart(cause.part, { visible: false }));
    case 'seen':
      return null;
  }
}

/** The cause as a sentence with its number. */
export function sayCause(cause: HiddenCause): string {
  switch (cause.cause) {
    case 'hidden':
      return 'It is hidden.';
    case 'hidden-with':
      return `It hangs from ${cause.name}, which is hidden.`;
    case 'layer-off':
      return `Its layer, ${cause.name}, is switched off.`;
    case 'no-anchor':
      return `Its anchor, ${ANCHOR_LABELS[cause.anchor].toLowerCase()}, is not seen by the camera.`;
    case 'behind-screen':
      return `${cause.name} is drawn after it and fills the picture.`;
    case 'behind-matte':
      return `The wearer is drawn again after it (${cause.name}) and covers all of it from here.`;
    case 'not-hung':
      return 'It is not hung: it lies in the rack without an anchor.';
    case 'no-triangles':
      return 'It has no triangles: there is nothing to draw.';
    case 'transparent':
      return cause.byMaterial ? 'It is fully transparent: its materials say so.' : 'It is fully transparent: its opacity is 0 %.';
    case 'outside':
      return 'It is outside the picture.';
    case 'camera-inside':
      return `The camera is inside it: it is ${Number(cause.headWidths.toPrecision(3))} × the head’s width.`;
    case 'too-small':
      return `It is too ${cause.far ? 'far' : 'small'}: ${cause.pixels < 0.1 ? 'under 0.1' : cause.pixels.toFixed(1)} px in the picture.`;
    case 'inside-form':
      return 'It is inside the form, and the occluder covers it.';
    case 'behind-occluder':
      return `It is behind ${cause.name} from here, which hides it.`;
    case 'seen':
      return 'It can be seen.';
  }
}
