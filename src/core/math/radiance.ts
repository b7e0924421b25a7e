/** Light from all round as numbers: an equirectangular picture and the directions of its pixels. */

/** Linear RGB, rows from the zenith down, three numbers a pixel. The picture's middle is bearing 0. */
export interface Radiance {
  width: number;
  height: number;
  data: Float32Array;
}

/** Pixel to direction: the picture's middle is (0, 0, 1), its right side is +x. */
export function direction(x: number, y: number, width: number, height: number): [number, number, number] {
  const lon = (x / width - 0.5) * 2 * Math.PI;
  const lat = (0.5 - y / height) * Math.PI;
  return [Math.cos(lat) * Math.sin(lon), Math.sin(lat), Math.cos(lat) * Math.cos(lon)];
}

/** Smaller by whole boxes, so that light is neither lost nor gained; 2:1. */
export function shrinkRadiance(from: Radiance, width: number): Radiance {
  const height = Math.round(width / 2);
  const data = new Float32Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const span = (i: number, n: number, of: number) => [
        Math.floor((i * of) / n),
        Math.max(Math.floor((i * of) / n) + 1, Math.floor(((i + 1) * of) / n)),
      ];
      const [x0, x1] = span(x, width, from.width);
      const [y0, y1] = span(y, height, from.height);
      let n = 0;
      const sum = [0, 0, 0];
      for (let v = y0; v < y1; v++)
        for (let u = x0; u < x1; u++, n++) for (let k = 0; k < 3; k++) sum[k] += from.data[(v * from.width + u) * 3 + k];
      for (let k = 0; k < 3; k++) data[(y * width + x) * 3 + k] = sum[k] / n;
    }
  return { width, height, data };
}
