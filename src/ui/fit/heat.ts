/** A part in tints of how near its wearer it lies, the wearer seen through behind it. */
import { TINT_RGB, tintOf } from '@/core/fit/tints';
import type { HeatSurface } from '@/stage';
import type { SeenCell, WornCell } from '@/worker/browser';

const linear = (c: number) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
const RGB = TINT_RGB.map((rgb) => rgb.map((c) => linear(c / 255)));

/** The part in its tints, the wearer seen through behind it. */
export function heatOf({ shapes }: WornCell, { distances, form }: SeenCell): HeatSurface {
  const count = shapes.reduce((s, c) => s + c.positions.length, 0);
  const positions = new Float32Array(count);
  const colors = new Float32Array(count);
  const triangles: number[] = [];
  let at = 0;
  shapes.forEach((shape, s) => {
    positions.set(shape.positions, at * 3);
    for (let v = 0; v < distances[s].length; v++) {
      colors.set(RGB[tintOf(distances[s][v] * 1000)], (at + v) * 3);
    }
    for (let t = 0; t < shape.triangles.length; t++) triangles.push(shape.triangles[t] + at);
    at += shape.positions.length / 3;
  });
  return {
    positions,
    normals: new Float32Array(count),
    triangles: Uint32Array.from(triangles),
    colors,
    ghost: { positions: form.positions, triangles: form.indices },
  };
}

const SKIN = [0.62, 0.52, 0.44] as const;
/** The other way about: the wearer to be pressed on, the part seen through before them. */
export function skinOf({ positions, triangles }: HeatSurface, { form }: SeenCell): HeatSurface {
  const colors = new Float32Array(form.positions.length);
  for (let i = 0; i < colors.length; i++) colors[i] = SKIN[i % 3];
  return {
    positions: form.positions,
    normals: new Float32Array(colors.length),
    triangles: form.indices,
    colors,
    ghost: { positions, triangles, before: true },
  };
}
