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

/** Gaussian means; beyond its edge the picture goes on as its outermost pixels. */
function blur(src: Float32Array, width: number, height: number, scratch: Float32Array): Float32Array {
  const out = new Float32Array(src.length);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      let s = 0;
      if (x >= RADIUS && x < width - RADIUS) {
        // symmetric: half the multiplications
        const at = row + x;
        s = KERNEL[5] * src[at];
        s += KERNEL[4] * (src[at - 1] + src[at + 1]);
        s += KERNEL[3] * (src[at - 2] + src[at + 2]);
        s += KERNEL[2] * (src[at - 3] + src[at + 3]);
        s += KERNEL[1] * (src[at - 4] + src[at + 4]);
        s += KERNEL[0] * (src[at - 5] + src[at + 5]);
      } else for (let k = -RADIUS; k <= RADIUS; k++) s += KERNEL[k + RADIUS] * src[row + Math.min(width - 1, Math.max(0, x + k))];
      scratch[row + x] = s;
    }
  }
  for (let y = 0; y < height; y++) {
    const to = y * width;
    for (let x = 0; x < width; x++) out[to + x] = KERNEL[RADIUS] * scratch[to + x];
    for (let k = 1; k <= RADIUS; k++) {
      const above = Math.max(0, y - k) * width;
      const below = Math.min(height - 1, y + k) * width;
      const weight = KERNEL[RADIUS + k];
      for (let x = 0; x < width; x++) out[to + x] += weight * (scratch[above + x] + scratch[below + x]);
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
  const scratch = new Float32Array(grey.length);
  return {
    grey,
    mean: blur(grey, width, height, scratch),
    square: blur(
      grey.map((v) => v * v),
      width,
      height,
      scratch,
    ),
  };
}

/**
 * Mean structural similarity of two grey pictures of the same size.
 * @param mask where to look: pixels over 0 count; all without one
 * @returns −1 to 1; 1 for the same picture, and where the mask is empty
 */
export function ssim(a: GreyStats, b: GreyStats, width: number, height: number, mask?: Uint8Array): number {
  const c1 = 0.01 ** 2;
  const c2 = 0.03 ** 2;
  const product = new Float32Array(a.grey.length);
  for (let i = 0; i < product.length; i++) product[i] = a.grey[i] * b.grey[i];
  const both = blur(product, width, height, new Float32Array(product.length));
  let sum = 0;
  let count = 0;
  for (let i = 0; i < product.length; i++) {
    if (mask && mask[i] === 0) continue;
    const x = a.mean[i];
    const y = b.mean[i];
    const va = Math.max(0, a.square[i] - x * x);
    const vb = Math.max(0, b.square[i] - y * y);
    sum += ((2 * x * y + c1) * (2 * (both[i] - x * y) + c2)) / ((x * x + y * y + c1) * (va + vb + c2));
    count++;
  }
  return count > 0 ? sum / count : 1;
}
