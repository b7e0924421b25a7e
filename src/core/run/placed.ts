/** A part as it lies on a wearer of a size, held so, in the head's frame: what its clearance and its leaks are asked of. */
import { Matrix4, Vector3 } from 'three';
import { isBehind } from '../fit/acts';
import { cameraOf } from '../fit/camera';
import type { ClearanceCell, Hiding } from '../fit/cells';
import type { BodyAsk } from '../form/body';
import { offsetMatrix } from '../math';
import { bodyAskOf, type Part, type Piece, type Wearer, wornBy } from '../piece';
import { worldShapes } from './geometry';
import type { Assets } from './show';
import { stageStill } from './stage';
import type { StagePart } from './state';
import { type Held, wearerCapture } from './wearer';

/** A cell, and who wears it. */
export interface WornCell extends ClearanceCell {
  wearer: BodyAsk;
}

export interface PlacedCell {
  cell: WornCell;
  /** A way in the head's frame, as the part's offset has it. */
  inOffset: (way: Vector3) => Vector3;
}

export const cellOf = (...asked: Parameters<typeof placedCell>): WornCell | null => placedCell(...asked)?.cell ?? null;

/** null: it is not there in that moment, or draws nothing. */
export function placedCell(piece: Piece, assets: Assets, part: Part, wearer: Wearer, held: Held, timeS = 0): PlacedCell | null {
  const of = wornBy(piece, wearer);
  const state = stageStill(of, assets, wearerCapture(of, held, timeS));
  const staged = state.parts.find((p) => p.id === part.id);
  if (!staged?.found || !state.form) return null;
  const toHead = new Matrix4().fromArray(state.form.head).invert();
  const v = new Vector3();
  const inHead = (p: StagePart) =>
    worldShapes(p, assets).map(({ positions, triangles }) => {
      const own = new Float32Array(positions.length);
      for (let i = 0; i < own.length; i += 3) v.fromArray(positions, i).applyMatrix4(toHead).toArray(own, i);
      return { positions: own, triangles };
    });
  const shapes = inHead(staged);
  const { head, neck, bust, body, face } = state.form;
  // what lies behind the wearer is hidden by a matte, not by an occluder
  const sight = isBehind(of, part)
    ? null
    : {
        eyeM: cameraOf(state.camera, 1).position.clone().applyMatrix4(toHead).toArray(),
        hides: state.parts.flatMap((p): Hiding[] => {
          if (!p.shown || !p.occludes || p.layer !== part.layer) return [];
          return p.shape?.type === 'form' ? [{ ...p.shape, part: p.id }] : [{ part: p.id, shapes: inHead(p) }];
        }),
      };
  if (shapes.length === 0) return null;
  // the frame that the offset is told in, seen from the head
  const back = new Matrix4().fromArray(staged.matrix).multiply(offsetMatrix(part.offset).invert()).premultiply(toHead).invert();
  const origin = new Vector3().applyMatrix4(back);
  return {
    cell: { wearer: bodyAskOf(wearer), shapes, frames: { head, neck, bust, body, face }, sight },
    inOffset: (way) => way.clone().applyMatrix4(back).sub(origin),
  };
}
