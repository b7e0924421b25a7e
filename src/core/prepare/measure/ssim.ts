/**
 * Structural similarity of two pictures. (Wang, Bovik, Sheikh and Simoncelli, Image quality assessment: from error visibility
 * to structural similarity, 2004: 11 × 11 Gaussian window with σ 1.5, K₁ = 0.01, K₂ = 0.03.)
 */
const RADIUS = 5;
const KERNEL = (() => {
  const k = Float32Array.from({ length: RADIUS * 2 + 1 }, (_, i) => Math.exp(-((i - RADIUS) ** 2) / (2 * 1.5 ** 2)));
  const sum = k.reduce((a, b) => a + b, 0);
  return k.map((x) => x / sum);
})();

const [K0, K1, K2, K3, K4, K5] = KERNEL.subarray(RADIUS);

/** Windows stand at every second pixel of every second row: half overlapping, as densely as their σ asks for. */
const STRIDE = 2;
const half = (n: number) => Math.ceil(n / STRIDE);

/** Gaussian means at the windows' places; beyond its edge the picture goes on as its outermost pixels. */
function blur(src: Float32Array, width: number, height: number): Float32Array {
  const columns = half(width);
  const rows = half(height);
  const across = new Float32Array(columns * height);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let i = 0; i < columns; i++) {
      const x = i * STRIDE;
      const at = row + x;
      let s = 0;
      if (x >= RADIUS && x < width - RADIUS)
        s =
          K0 * src[at] +
          K1 * (src[at - 1] + src[at + 1]) +
          K2 * (src[at - 2] + src[at + 2]) +
          K3 * (src[at - 3] + src[at + 3]) +
          K4 * (src[at - 4] + src[at + 4]) +
          K5 * (src[at - 5] + src[at + 5]);
      else for (let k = -RADIUS; k <= RADIUS; k++) s += KERNEL[k + RADIUS] * src[row + Math.min(width - 1, Math.max(0, x + k))];
      across[y * columns + i] = s;
    }
  }
  const out = new Float32Array(columns * rows);
  for (let j = 0; j < rows; j++) {
    const y = j * STRIDE;
    const inside = y >= RADIUS && y < height - RADIUS;
    for (let i = 0; i < columns; i++) {
      const at = y * columns + i;
      let s = 0;
      if (inside)
        s =
          K0 * across[at] +
          K1 * (across[at - columns] + across[at + columns]) +
          K2 * (across[at - 2 * columns] + across[at + 2 * columns]) +
          K3 * (across[at - 3 * columns] + across[at + 3 * columns]) +
          K4 * (across[at - 4 * columns] + across[at + 4 * columns]) +
          K5 * (across[at - 5 * columns] + across[at + 5 * columns]);
      else for (let k = -RADIUS; k <= RADIUS; k++) s += KERNEL[k + RADIUS] * across[Math.min(height - 1, Math.max(0, y + k)) * columns + i];
      out[j * columns + i] = s;
    }
  }
  return out;
}

/** What a picture brings to a comparison, kept for many: its grey, local means, and local means of squares. */
export interface GreyStats {
  grey: Float32Array;
  mean: Float32Array;
  square: Float32Array;
}

/** @param grey row-major, 0 to 1 */
export function greyStats(grey: Float32Array, width: number, height: number): GreyStats {
  const squares = new Float32Array(grey.length);
  for (let i = 0; i < grey.length; i++) squares[i] = grey[i] * grey[i];
  return { grey, mean: blur(grey, width, height), square: blur(squares, width, height) };
}

/**
 * Mean structural similarity of two grey pictures of the same size.
 * @param mask where to look: windows whose middle is over 0 count; all without one
 * @returns −1 to 1; 1 for the same picture, and where the mask is empty
 */
export function ssim(a: GreyStats, b: GreyStats, width: number, height: number, mask?: Uint8Array): number {
  const c1 = 0.01 ** 2;
  const c2 = 0.03 ** 2;
  const product = new Float32Array(a.grey.length);
  for (let i = 0; i < product.length; i++) product[i] = a.grey[i] * b.grey[i];
  const both = blur(product, width, height);
  const columns = half(width);
  let sum = 0;
  let count = 0;
  for (let i = 0; i < both.length; i++) {
    const column = i % columns;
    if (mask && mask[((i - column) / columns) * STRIDE * width + column * STRIDE] === 0) continue;
    const x = a.mean[i];
    const y = b.mean[i];
    const va = Math.max(0, a.square[i] - x * x);
    const vb = Math.max(0, b.square[i] - y * y);
    sum += ((2 * x * y + c1) * (2 * (both[i] - x * y) + c2)) / ((x * x + y * y + c1) * (va + vb + c2));
    count++;
  }
  return count > 0 ? sum / count : 1;
}
