/** The take that Fit begins with, apart from the others: it is there before they are asked for. */
import type { Turn } from '../math/offset';
import type { Take, TakeKey } from './take';

export type Three = readonly [yawDeg: number, pitchDeg: number, rollDeg?: number];
const turn = ([yawDeg, pitchDeg, rollDeg = 0]: Three): Turn => ({ yawDeg, pitchDeg, rollDeg });
/** A key by yaw, pitch and roll of head, neck and shoulders. */
export const key = (atS: number, head: Three, neck: Three = [0, 0], shoulders: Three = [0, 0]): TakeKey => ({
  atS,
  head: turn(head),
  neck: turn(neck),
  shoulders: turn(shoulders),
});

/** The head alone. */
export const LOOK_ABOUT: Take = {
  id: 'look-about',
  label: 'Look about',
  seconds: 8.4,
  keys: [
    key(0, [0, 0]),
    key(0.6, [0, 0]),
    key(1.8, [-60, 0, -4]),
    key(2.4, [-60, 0, -4]),
    key(4.2, [60, 0, 4]),
    key(4.8, [60, 0, 4]),
    key(5.8, [0, -20]),
    key(7, [0, 20]),
    key(7.8, [0, 0]),
    key(8.4, [0, 0]),
  ],
};
