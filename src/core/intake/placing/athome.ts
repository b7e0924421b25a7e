import type { FormReturn } from '../facts';

/** Whether the form lies where it was, as far as it shows: a hundredth of a millimetre at a head's size. */
export const isAtHome = (f: Pick<FormReturn, 'factor' | 'turnDeg' | 'shiftM'>): boolean =>
  Math.abs(f.factor - 1) < 5e-5 &&
  [f.turnDeg.yaw, f.turnDeg.pitch, f.turnDeg.roll].every((d) => Math.abs(d) < 0.003) &&
  f.shiftM.every((x) => Math.abs(x) < 1e-5);
