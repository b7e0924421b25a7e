/** Depths on a chart: from paper to deep water, one hue, darker the deeper. */
export const TINTS = ['#f6f1e2', '#c4dde0', '#86b6c4', '#3f7f9b', '#0d3a57'] as const;

const linear = (c: number) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
const LINEAR = TINTS.map((t) => [1, 3, 5].map((i) => linear(Number.parseInt(t.slice(i, i + 2), 16) / 255)));

/** Linear RGB of the depth that a value has reached, three a value. @param from where each tint begins, rising */
export function depthColors(values: ArrayLike<number>, from: readonly number[]): Float32Array {
  const colors = new Float32Array(values.length * 3);
  for (let v = 0; v < values.length; v++) {
    let tint = from.length - 1;
    while (tint > 0 && !(values[v] >= from[tint])) tint--;
    const [r, g, b] = LINEAR[tint];
    colors[v * 3] = r;
    colors[v * 3 + 1] = g;
    colors[v * 3 + 2] = b;
  }
  return colors;
}
