/** Small fixed vector and curve helpers of the form. All lengths in millimetres, head frame. */
export type Vec3 = [number, number, number];
export type Curve = (x: number) => number;

export const sub = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]],
  add = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const mul = (a: Vec3, s: number): Vec3 => [a[0] * s, a[1] * s, a[2] * s],
  dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const len = (a: Vec3) => Math.hypot(a[0], a[1], a[2]),
  dist = (a: Vec3, b: Vec3) => len(sub(a, b)),
  norm = (a: Vec3): Vec3 => mul(a, 1 / (len(a) || 1));
export const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
export const lerp = (a: number, b: number, t: number) => a + (b - a) * t,
  mix = (a: Vec3, b: Vec3, t: number): Vec3 => [lerp(a[0], b[0], t), lerp(a[1], b[1], t), lerp(a[2], b[2], t)];
export const clamp = (x: number, a: number, b: number) => Math.min(b, Math.max(a, x)),
  sat = (x: number) => clamp(x, 0, 1);
/** Smoothstep; `a` may be greater than `b`. */
export const smooth = (a: number, b: number, x: number) => {
  const t = sat((x - a) / (b - a));
  return t * t * (3 - 2 * t);
};
export const gauss = (d: number, s: number) => Math.exp(-(d * d) / (s * s));
export const D2R = Math.PI / 180;
/** monotone-ish cubic (Catmull-Rom, non-uniform) through [[x,y],...] */
export function spline(pts: readonly (readonly number[])[]): Curve {
  const n = pts.length,
    m = pts.map((_, i) => {
      const a = pts[Math.max(0, i - 1)],
        b = pts[Math.min(n - 1, i + 1)];
      return (b[1] - a[1]) / (b[0] - a[0]);
    });
  return (x: number) => {
    if (x <= pts[0][0]) return pts[0][1];
    if (x >= pts[n - 1][0]) return pts[n - 1][1];
    let i = 0;
    while (x > pts[i + 1][0]) i++;
    const h = pts[i + 1][0] - pts[i][0],
      t = (x - pts[i][0]) / h,
      t2 = t * t,
      t3 = t2 * t;
    return (2 * t3 - 3 * t2 + 1) * pts[i][1] + (t3 - 2 * t2 + t) * h * m[i] + (-2 * t3 + 3 * t2) * pts[i + 1][1] + (t3 - t2) * h * m[i + 1];
  };
}
/** periodic cubic over degrees */
export function periodic(pts: readonly (readonly number[])[]): Curve {
  const e = [...pts.slice(-2).map((p) => [p[0] - 360, p[1]]), ...pts, ...pts.slice(0, 2).map((p) => [p[0] + 360, p[1]])];
  const f = spline(e);
  return (d: number) => f(((d % 360) + 360) % 360);
}
