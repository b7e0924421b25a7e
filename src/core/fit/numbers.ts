/** Numbers of a part that may be tried: its size, place and turn, and how far what hides it grows. */
import { turnAbout } from '../math/offset';
import type { Dimension } from '../math/quantity';
import type { Part } from '../parts';
import { changePart, type Edit } from '../piece/edits';
import type { Piece } from '../piece/schema';
import { rackOf } from '../piece/selectors';

export interface PartNumber {
  id: string;
  label: string;
  dimension: Extract<Dimension, 'length' | 'angle' | 'factor'>;
  unit: 'mm' | '°' | '%';
  decimals: number;
  /** As it is now, metres, radians or a factor; of a turn and a size 0 and 1: they are told from how it stands. */
  now: number;
  /** From one of the values to the next, to begin with. */
  step: number;
  range: readonly [number, number];
  edit: (value: number) => Edit;
}

const AXES = ['side', 'up', 'fore'] as const;
const DEGREE = Math.PI / 180;
const MM = 0.001;

/** Of a part, and of the occluders of its layer; what is locked is left out. */
export function numbersOf(piece: Piece, part: Part): PartNumber[] {
  const { offset, id } = part;
  const own: PartNumber[] = [
    {
      id: 'size',
      label: 'Size',
      dimension: 'factor',
      unit: '%',
      decimals: 1,
      now: 1,
      step: 0.02,
      range: [0.05, 20],
      edit: (f) => changePart(id, { offset: { ...offset, size: offset.size.map((s) => s * f) as typeof offset.size } }),
    },
    ...AXES.map(
      (axis, k): PartNumber => ({
        id: axis,
        label: `Place ${axis}`,
        dimension: 'length',
        unit: 'mm',
        decimals: 1,
        now: offset.positionM[k],
        step: 2 * MM,
        range: [-10, 10],
        edit: (m) =>
          changePart(id, {
            offset: { ...offset, positionM: offset.positionM.map((x, i) => (i === k ? m : x)) as typeof offset.positionM },
          }),
      }),
    ),
    ...AXES.map(
      (axis, k): PartNumber => ({
        id: `turn ${axis}`,
        label: `Turned about ${axis}`,
        dimension: 'angle',
        unit: '°',
        decimals: 1,
        now: 0,
        step: 2 * DEGREE,
        range: [-Math.PI, Math.PI],
        edit: (rad) => changePart(id, { offset: { ...offset, turnRad: turnAbout(offset.turnRad, k as 0 | 1 | 2, rad) } }),
      }),
    ),
  ];
  const growths = rackOf(piece).flatMap((p): PartNumber[] =>
    'growMm' in p && p.layer === part.layer && !p.locked
      ? [
          {
            id: `grow ${p.id}`,
            label: `Growth of ${p.name}`,
            dimension: 'length',
            unit: 'mm',
            decimals: 1,
            now: p.growMm * MM,
            step: MM,
            range: [-50 * MM, 50 * MM],
            edit: (m) => changePart(p.id, { growMm: Math.round(m * 1e6) / 1e3 }),
          },
        ]
      : [],
  );
  return [...(part.locked ? [] : own), ...growths];
}

/** Five values round one, a step apart, within their range. */
export function fiveRound(middle: number, step: number, [low, high]: readonly [number, number]): number[] {
  return [-2, -1, 0, 1, 2].map((k) => Math.min(high, Math.max(low, middle + k * step)));
}
