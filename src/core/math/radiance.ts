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
