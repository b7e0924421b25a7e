/** A part in tints of how near its wearer it lies, the wearer seen through behind it. */
import type { HeatSurface } from '@/stage';
import type { SeenCell, SizedCell } from '@/worker/browser';

/** From so far above the skin on, mm, a tint holds; the first of all that is further. */
export const TINTS = [
  { underMm: Infinity, color: '#f6f1e2', words: 'over 5 mm' },
  { underMm: 5, color: '#c4dde0', words: 'under 5' },
  { underMm: 2, color: '#86b6c4', words: 'touches, under 2' },
  { underMm: 0, color: '#e0907c', words: 'cuts in' },
  { underMm: -2, color: '#b23a2b', words: 'over 2 deep' },
] as const;
const linear = (c: number) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
const RGB = TINTS.map(({ color }) => [1, 3, 5].map((i) => linear(Number.parseInt(color.slice(i, i + 2), 16) / 255)));

/** The part in its tints, the wearer seen through behind it. */
export function heatOf({ shapes }: SizedCell, { distances, form }: SeenCell): HeatSurface {
  const count = shapes.reduce((s, c) => s + c.positions.length, 0);
  const positions = new Float32Array(count);
  const colors = new Float32Array(count);
  const triangles: number[] = [];
  let at = 0;
  shapes.forEach((shape, s) => {
    positions.set(shape.positions, at * 3);
    for (let v = 0; v < distances[s].length; v++) {
      const mm = distances[s][v] * 1000;
      let tint = 0;
      while (tint + 1 < TINTS.length && mm < TINTS[tint + 1].underMm) tint++;
      colors.set(RGB[tint], (at + v) * 3);
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
