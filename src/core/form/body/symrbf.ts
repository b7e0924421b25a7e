/** Radial basis interpolation (multiquadric with an affine term, Hardy 1971, from memory) that mirrors to the last bit. */
import { solve } from '../rbf';
import type { Vec3 } from '../vec';

const C2 = 45 * 45; // softness, mm²

/**
 * The map that carries every `src` (x ≥ 0, mm) to its `dst`, exactly symmetric about x = 0: a kernel odd in x for x, even for y and z.
 */
export function symmetricRbf(src: readonly Vec3[], dst: readonly Vec3[]): (p: Vec3) => Vec3 {
  const ph = (a: Vec3, b: Vec3, s: number) => Math.sqrt((a[0] - s * b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2 + C2),
    off = src.map((p, i): [number, Vec3] => [i, p]).filter(([, p]) => p[0] > 1e-6),
    no = off.length,
    n = src.length;
  const Ao = off.map(([, a]) => [...off.map(([, b]) => ph(a, b, 1) - ph(a, b, -1)), a[0]]);
  Ao.push([...off.map(([, b]) => b[0]), 0]);
  const Wo = solve(Ao, [...off.map(([i, p]) => [dst[i][0] - p[0]]), [0]]);
  const Ae = src.map((a) => [...src.map((b) => (b[0] > 1e-6 ? ph(a, b, 1) + ph(a, b, -1) : ph(a, b, 1))), 1, a[1], a[2]]);
  for (const c of [0, 1, 2] as const) Ae.push([...src.map((b) => (c === 0 ? 1 : b[c]) * (b[0] > 1e-6 ? 2 : 1)), 0, 0, 0]);
  const We = solve(Ae, [...src.map((p, i) => [dst[i][1] - p[1], dst[i][2] - p[2]]), [0, 0], [0, 0], [0, 0]]);
  return (p) => {
    let x = Wo[no][0] * p[0],
      y = We[n][0] + We[n + 1][0] * p[1] + We[n + 2][0] * p[2],
      z = We[n][1] + We[n + 1][1] * p[1] + We[n + 2][1] * p[2],
      o = 0;
    for (let i = 0; i < n; i++) {
      const s = src[i],
        a = ph(p, s, 1);
      if (s[0] > 1e-6) {
        const b = ph(p, s, -1);
        x += Wo[o++][0] * (a - b);
        y += We[i][0] * (a + b);
        z += We[i][1] * (a + b);
      } else {
        y += We[i][0] * a;
        z += We[i][1] * a;
      }
    }
    return [p[0] + x, p[1] + y, p[2] + z];
  };
}
