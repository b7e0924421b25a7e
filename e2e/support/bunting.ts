/** A picture of bunting, drawn from numbers: a rope that sags, and flags in three colours on it. */
import { PNG } from 'pngjs';

/** The flags' colours; nothing else in a view has them. */
export const FLAGS = [
  [214, 30, 20],
  [250, 205, 30],
  [20, 120, 200],
] as const;

export function buntingPng(width = 1600, height = 420): Buffer {
  const png = new PNG({ width, height });
  const flag = width / 10;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const sag = 20 + 60 * Math.sin((x / width) * Math.PI);
      const aside = Math.abs((x % flag) - flag / 2);
      const on = y > sag && y < sag + 300 * (1 - aside / (flag / 2));
      const rope = Math.abs(y - sag) < 5;
      const colour = FLAGS[Math.floor(x / flag) % 3];
      png.data.set([...(rope ? [60, 40, 30] : colour), on || rope ? 255 : 0], (y * width + x) * 4);
    }
  return PNG.sync.write(png);
}

/** Whether a pixel is of a flag. */
export const isFlag = (data: Uint8Array | Buffer, i: number): boolean =>
  FLAGS.some((c) => Math.abs(data[i] - c[0]) + Math.abs(data[i + 1] - c[1]) + Math.abs(data[i + 2] - c[2]) < 60);
