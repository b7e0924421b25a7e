/** A photograph's four corners made a rectangle, and cutting. */
import { IntakeError } from '../intake/errors';
import { type Corners, homographyOf, isConvex } from '../math/homography';
import type { Pixels } from '../math/pixels';

/** Width and height to straighten to: the means of opposite sides, so that no detail is thrown away. */
export function straightSize(corners: Corners): { width: number; height: number } {
  const side = (a: number, b: number) => Math.hypot(corners[b][0] - corners[a][0], corners[b][1] - corners[a][1]);
  const whole = (x: number) => Math.min(16384, Math.max(1, Math.round(x)));
  return { width: whole((side(0, 1) + side(3, 2)) / 2), height: whole((side(0, 3) + side(1, 2)) / 2) };
}

/**
 * The part of a photograph between four corners (upper left, upper right, lower right, lower left; pixel edges, so that the whole
 * picture is 0..width × 0..height) as an upright picture. Bilinear; alpha-weighted, so that clear pixels lend no colour.
 * @throws {IntakeError} corners that do not go round a convex shape.
 */
export function straighten(p: Pixels, corners: Corners, width: number, height: number): Pixels {
  const target: Corners = [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ];
  const h = isConvex(corners) ? homographyOf(target, corners) : null;
  if (!h)
    throw new IntakeError(
      'picture/corners',
      'The four corners do not go round a shape without dents. Set them on the corners of the picture.',
    );
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [cx, cy] = [x + 0.5, y + 0.5];
      const w = h[6] * cx + h[7] * cy + h[8];
      const u = Math.min(p.width - 1, Math.max(0, (h[0] * cx + h[1] * cy + h[2]) / w - 0.5));
      const v = Math.min(p.height - 1, Math.max(0, (h[3] * cx + h[4] * cy + h[5]) / w - 0.5));
      sample(p, u, v, data, (y * width + x) * 4);
    }
  return { width, height, data };
}

function sample(p: Pixels, u: number, v: number, out: Uint8Array, at: number): void {
  const x0 = Math.floor(u);
  const y0 = Math.floor(v);
  const x1 = Math.min(p.width - 1, x0 + 1);
  const y1 = Math.min(p.height - 1, y0 + 1);
  const [fx, fy] = [u - x0, v - y0];
  const corners = [
    [(y0 * p.width + x0) * 4, (1 - fx) * (1 - fy)],
    [(y0 * p.width + x1) * 4, fx * (1 - fy)],
    [(y1 * p.width + x0) * 4, (1 - fx) * fy],
    [(y1 * p.width + x1) * 4, fx * fy],
  ];
  let a = 0;
  const c = [0, 0, 0];
  for (const [i, w] of corners) {
    const alpha = p.data[i + 3] * w;
    a += alpha;
    for (let k = 0; k < 3; k++) c[k] += p.data[i + k] * alpha;
  }
  for (let k = 0; k < 3; k++) out[at + k] = a > 0 ? Math.round(c[k] / a) : 0;
  out[at + 3] = Math.round(a);
}

/** @throws {IntakeError} a cut outside the picture. */
export function crop(p: Pixels, x: number, y: number, width: number, height: number): Pixels {
  if (x + width > p.width || y + height > p.height)
    throw new IntakeError('picture/crop', `The cut reaches to ${x + width} × ${y + height} px; the picture has ${p.width} × ${p.height}.`);
  const data = new Uint8Array(width * height * 4);
  for (let row = 0; row < height; row++)
    data.set(p.data.subarray(((y + row) * p.width + x) * 4, ((y + row) * p.width + x + width) * 4), row * width * 4);
  return { width, height, data };
}
