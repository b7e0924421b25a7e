/** Colours between what people give (sRGB hex) and what light is worked out in (linear): IEC 61966-2-1. */

const toLinear = (c: number) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
const fromLinear = (c: number) => (c <= 0.0031308 ? c * 12.92 : 1.055 * c ** (1 / 2.4) - 0.055);

export type Rgb = [number, number, number];
export const linearOf = (hex: string): Rgb => [1, 3, 5].map((i) => toLinear(Number.parseInt(hex.slice(i, i + 2), 16) / 255)) as Rgb;
/** The nearest that a byte a channel can say. @param linear beyond 0 … 1 is clipped */
export const hexOf = (linear: ArrayLike<number>): string =>
  `#${[0, 1, 2]
    .map((i) =>
      Math.round(fromLinear(Math.min(1, Math.max(0, linear[i]))) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
