/** Steps that place the model: pivot, ground. Each says by how much it moved everything. */
import type { Document } from '@gltf-transform/core';
import { Quaternion } from 'three';
import { applyTransform } from '../model/transform';
import type { PivotSettings } from '../piece/recipe';
import { readShape, shapeBox } from './measure/shape';

const shift = (document: Document, by: [number, number, number]): [number, number, number] => {
  applyTransform(document, { factor: 1, turn: new Quaternion(), shiftM: by });
  return by;
};

/** Moves the model so that the chosen point is its origin. @returns the shift, metres */
export function runPivot(document: Document, { to, pointM }: PivotSettings): [number, number, number] {
  const { min, max } = shapeBox(readShape(document));
  const middle = min.clone().add(max).multiplyScalar(0.5);
  const at = to === 'point' ? pointM : [middle.x, to === 'base' ? min.y : middle.y, middle.z];
  return shift(document, [0 - at[0], 0 - at[1], 0 - at[2]]);
}

/** Moves the model up or down so that its lowest point lies at nought. @returns the shift, metres */
export const runGround = (document: Document): [number, number, number] => shift(document, [0, 0 - shapeBox(readShape(document)).min.y, 0]);
