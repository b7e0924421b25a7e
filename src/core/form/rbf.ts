/** Multiquadric radial basis interpolation with an affine term (Hardy 1971, from memory): exact at its centres. */
import { dot, sub, type Vec3 } from './vec';

/** Dense elimination with row pivoting, several right-hand sides; A and Y are overwritten. */
export function solve(A: number[][], Y: number[][]): number[][] {
  const n = A.length,
    m = Y[0].length;
  for (let i = 0; i < n; i++) {
    let p = i;
    for (let r = i + 1; r < n; r++) if (Math.abs(A[r][i]) > Math.abs(A[p][i])) p = r;
    [A[i], A[p]] = [A[p], A[i]];
    [Y[i], Y[p]] = [Y[p], Y[i]];
    for (let r = i + 1; r < n; r++) {
      const f = A[r][i] / A[i][i];
      if (!f) continue;
      for (let c = i; c < n; c++) A[r][c] -= f * A[i][c];
      for (let c = 0; c < m; c++) Y[r][c] -= f * Y[i][c];
    }
  }
  for (let i = n - 1; i >= 0; i--)
    for (let c = 0; c < m; c++) {
      let s = Y[i][c];
      for (let k = i + 1; k < n; k++) s -= A[i][k] * Y[k][c];
      Y[i][c] = s / A[i][i];
    }
  return Y;
}
const RBF_C2 = 30 * 30; // multiquadric softness, mm^2
/** The displacement field that carries every `src` point to its `dst` (mm). */
export function rbf(src: readonly Vec3[], dst: readonly Vec3[]): (p: Vec3) => Vec3 {
  const n = src.length;
  const A: number[][] = [],
    Y: number[][] = [];
  for (let i = 0; i < n; i++) {
    const r: number[] = [];
    for (let j = 0; j < n; j++) {
      const d = sub(src[i], src[j]);
      r.push(Math.sqrt(dot(d, d) + RBF_C2));
    }
    r.push(1, ...src[i]);
    A.push(r);
    Y.push(sub(dst[i], src[i]));
  }
  for (let c = 0; c < 4; c++) {
    const r: number[] = [];
    for (let j = 0; j < n; j++) r.push(c ? src[j][c - 1] : 1);
    r.push(0, 0, 0, 0);
    A.push(r);
    Y.push([0, 0, 0]);
  }
  const W = solve(A, Y);
  const [rest, ...slope] = W.slice(n).map((w) => [w[0], w[1], w[2]]);
  // flat, for it is asked at every vertex with every move of a slider
  const at = Float64Array.from(src.flat());
  const weights = Float64Array.from(W.slice(0, n).flatMap((w) => [w[0], w[1], w[2]]));
  return ([px, py, pz]: Vec3): Vec3 => {
    let x = rest[0] + slope[0][0] * px + slope[1][0] * py + slope[2][0] * pz,
      y = rest[1] + slope[0][1] * px + slope[1][1] * py + slope[2][1] * pz,
      z = rest[2] + slope[0][2] * px + slope[1][2] * py + slope[2][2] * pz;
    for (let i = 0; i < at.length; i += 3) {
      const a = px - at[i],
        b = py - at[i + 1],
        c = pz - at[i + 2],
        f = Math.sqrt(a * a + b * b + c * c + RBF_C2);
      x += f * weights[i];
      y += f * weights[i + 1];
      z += f * weights[i + 2];
    }
    return [x, y, z];
  };
}
