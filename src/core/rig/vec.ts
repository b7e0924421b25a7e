/** Small vector helpers of the rig: metres of the model. */
export type Vec = [number, number, number];

export const sub = (a: Vec, b: Vec): Vec => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const dot = (a: Vec, b: Vec) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const add = (a: Vec, b: Vec, k = 1): Vec => [a[0] + b[0] * k, a[1] + b[1] * k, a[2] + b[2] * k];
export const size = (a: Vec) => Math.hypot(...a);
export const unit = (a: Vec): Vec => {
  const l = size(a) || 1;
  return [a[0] / l, a[1] / l, a[2] / l];
};
export const cross = (a: Vec, b: Vec): Vec => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
export const mix = (a: Vec, b: Vec, t: number): Vec => add(a, sub(b, a), t);
