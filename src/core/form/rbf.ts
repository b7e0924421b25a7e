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
  return (p: Vec3): Vec3 => {
    let x = W[n][0],
      y = W[n][1],
      z = W[n][2];
    for (let c = 0; c < 3; c++) {
      x += W[n + 1 + c][0] * p[c];
      y += W[n + 1 + c][1] * p[c];
      z += W[n + 1 + c][2] * p[c];
    }
    for (let i = 0; i < n; i++) {
      const s = src[i],
        a = p[0] - s[0],
        b = p[1] - s[1],
        c = p[2] - s[2],
        f = Math.sqrt(a * a + b * b + c * c + RBF_C2),
        w = W[i];
      x += f * w[0];
      y += f * w[1];
      z += f * w[2];
    }
    return [x, y, z];
  };
}
