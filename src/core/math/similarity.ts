/** The similarity that takes one set of points onto another with the least squares. */
import { Matrix3, Quaternion, Vector3 } from 'three';

export interface Similarity {
  factor: number;
  turn: Quaternion;
  shift: [number, number, number];
  /** Root mean square of what is left, in the target's unit. */
  rms: number;
  /** The sets fit better mirrored: no turn takes one onto the other. */
  mirrored: boolean;
}

/** Eigenvectors of a symmetric 3 × 3 matrix (rows), by Jacobi's rotations. Columns of `vectors`, values falling. */
export function eigenSymmetric(m: readonly (readonly number[])[]): { values: number[]; vectors: number[][] } {
  const a = m.map((r) => [...r]);
  const v = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  for (let sweep = 0; sweep < 60; sweep++) {
    const off = a[0][1] ** 2 + a[0][2] ** 2 + a[1][2] ** 2;
    if (off < 1e-300) break;
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ]) {
      if (Math.abs(a[p][q]) < 1e-300) continue;
      const theta = (a[q][q] - a[p][p]) / (2 * a[p][q]);
      const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
      const c = 1 / Math.sqrt(t * t + 1);
      const s = t * c;
      for (let k = 0; k < 3; k++) {
        const [x, y] = [a[k][p], a[k][q]];
        a[k][p] = c * x - s * y;
        a[k][q] = s * x + c * y;
      }
      for (let k = 0; k < 3; k++) {
        const [x, y] = [a[p][k], a[q][k]];
        a[p][k] = c * x - s * y;
        a[q][k] = s * x + c * y;
      }
      for (let k = 0; k < 3; k++) {
        const [x, y] = [v[k][p], v[k][q]];
        v[k][p] = c * x - s * y;
        v[k][q] = s * x + c * y;
      }
    }
  }
  const order = [0, 1, 2].sort((i, j) => a[j][j] - a[i][i]);
  return { values: order.map((i) => a[i][i]), vectors: v.map((row) => order.map((i) => row[i])) };
}

/** Singular values come as roots of what is rounded: so much of the first is nought. */
const NOTHING = 1e-6;

/**
 * Least-squares similarity y ≈ factor · turn · x + shift over paired points, three numbers each; null for fewer than three points
 * or points on a line. (Umeyama, Least-squares estimation of transformation parameters between two point patterns, IEEE TPAMI 13(4), 1991.)
 */
export function fitSimilarity(from: ArrayLike<number>, to: ArrayLike<number>, weight?: ArrayLike<number>): Similarity | null {
  const n = from.length / 3;
  if (n < 3 || to.length !== from.length) return null;
  const w = (i: number) => (weight ? weight[i] : 1);
  let total = 0;
  const mx = [0, 0, 0];
  const my = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    total += w(i);
    for (let k = 0; k < 3; k++) {
      mx[k] += w(i) * from[i * 3 + k];
      my[k] += w(i) * to[i * 3 + k];
    }
  }
  if (!(total > 0)) return null;
  for (let k = 0; k < 3; k++) {
    mx[k] /= total;
    my[k] /= total;
  }
  let spread = 0;
  const cov = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  for (let i = 0; i < n; i++) {
    const x = [0, 1, 2].map((k) => from[i * 3 + k] - mx[k]);
    const y = [0, 1, 2].map((k) => to[i * 3 + k] - my[k]);
    for (let r = 0; r < 3; r++) {
      spread += (w(i) * x[r] * x[r]) / total;
      for (let c = 0; c < 3; c++) cov[r][c] += (w(i) * y[r] * x[c]) / total;
    }
  }
  // Σ = U D Vᵀ, by the eigenvectors of ΣᵀΣ
  const square = [0, 1, 2].map((r) => [0, 1, 2].map((c) => [0, 1, 2].reduce((s, k) => s + cov[k][r] * cov[k][c], 0)));
  const { values, vectors: v } = eigenSymmetric(square);
  const d = values.map((x) => Math.sqrt(Math.max(0, x)));
  if (!(spread > 0) || d[1] < NOTHING * d[0]) return null;
  const column = (m: number[][], c: number) => new Vector3(m[0][c], m[1][c], m[2][c]);
  const times = (x: Vector3) =>
    new Vector3(...([0, 1, 2].map((r) => cov[r][0] * x.x + cov[r][1] * x.y + cov[r][2] * x.z) as [number, number, number]));
  const [v0, v1, v2] = [0, 1, 2].map((c) => column(v, c));
  const u0 = times(v0).normalize();
  const u1 = times(v1).addScaledVector(u0, -times(v1).dot(u0)).normalize();
  const third = new Vector3().crossVectors(u0, u1);
  // in a plane the third singular value is nothing, and any sign of it fits
  const flat = d[2] < NOTHING * d[0];
  const u2 = flat ? third.clone() : times(v2).normalize();
  const handed = new Vector3().crossVectors(v0, v1).dot(v2);
  const sign = flat ? Math.sign(handed) : Math.sign(third.dot(u2)) * Math.sign(handed);
  const mirrored = !flat && sign < 0;
  const s = mirrored || (flat && sign < 0) ? -1 : 1;
  const r = new Matrix3();
  const rot = [0, 1, 2].map((i) =>
    [0, 1, 2].map(
      (j) =>
        u0.getComponent(i) * v0.getComponent(j) + u1.getComponent(i) * v1.getComponent(j) + s * u2.getComponent(i) * v2.getComponent(j),
    ),
  );
  r.set(rot[0][0], rot[0][1], rot[0][2], rot[1][0], rot[1][1], rot[1][2], rot[2][0], rot[2][1], rot[2][2]);
  const factor = (d[0] + d[1] + s * (flat ? 0 : d[2])) / spread;
  const turn = quaternionOf(rot);
  const moved = new Vector3(mx[0], mx[1], mx[2]).applyMatrix3(r).multiplyScalar(factor);
  const shift: [number, number, number] = [my[0] - moved.x, my[1] - moved.y, my[2] - moved.z];
  let left = 0;
  const p = new Vector3();
  for (let i = 0; i < n; i++) {
    p.set(from[i * 3], from[i * 3 + 1], from[i * 3 + 2])
      .applyMatrix3(r)
      .multiplyScalar(factor);
    left += w(i) * ((p.x + shift[0] - to[i * 3]) ** 2 + (p.y + shift[1] - to[i * 3 + 1]) ** 2 + (p.z + shift[2] - to[i * 3 + 2]) ** 2);
  }
  return { factor, turn, shift, rms: Math.sqrt(left / total), mirrored };
}

/** A proper rotation matrix as a quaternion (Shepperd, 1978). */
function quaternionOf(m: number[][]): Quaternion {
  const t = m[0][0] + m[1][1] + m[2][2];
  const q = [t, m[0][0], m[1][1], m[2][2]];
  const k = q.indexOf(Math.max(...q));
  if (k === 0) {
    const s = 2 * Math.sqrt(1 + t);
    return new Quaternion((m[2][1] - m[1][2]) / s, (m[0][2] - m[2][0]) / s, (m[1][0] - m[0][1]) / s, s / 4).normalize();
  }
  const [i, j, l] = [k - 1, k % 3, (k + 1) % 3];
  const s = 2 * Math.sqrt(1 + m[i][i] - m[j][j] - m[l][l]);
  const v = [0, 0, 0];
  v[i] = s / 4;
  v[j] = (m[j][i] + m[i][j]) / s;
  v[l] = (m[l][i] + m[i][l]) / s;
  return new Quaternion(v[0], v[1], v[2], (m[l][j] - m[j][l]) / s).normalize();
}
