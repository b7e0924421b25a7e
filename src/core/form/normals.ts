import { clamp } from './vec';

/** Angle-weighted vertex normals; `weld` maps a vertex to the one it shares its normal with. Flat arrays, three numbers a vertex. */
export function computeNormals(pos: ArrayLike<number>, idx: ArrayLike<number>, weld: ArrayLike<number>): Float32Array {
  const N = new Float64Array(pos.length);
  for (let t = 0; t < idx.length; t += 3) {
    const a = idx[t] * 3,
      b = idx[t + 1] * 3,
      c = idx[t + 2] * 3;
    const ux = pos[b] - pos[a],
      uy = pos[b + 1] - pos[a + 1],
      uz = pos[b + 2] - pos[a + 2],
      vx = pos[c] - pos[a],
      vy = pos[c + 1] - pos[a + 1],
      vz = pos[c + 2] - pos[a + 2];
    let nx = uy * vz - uz * vy,
      ny = uz * vx - ux * vz,
      nz = ux * vy - uy * vx;
    const l = Math.hypot(nx, ny, nz);
    if (l < 1e-12) continue;
    nx /= l;
    ny /= l;
    nz /= l;
    // angle weighted
    const lu = Math.hypot(ux, uy, uz),
      lv = Math.hypot(vx, vy, vz),
      wx = vx - ux,
      wy = vy - uy,
      wz = vz - uz,
      lw = Math.hypot(wx, wy, wz);
    const A = Math.acos(clamp((ux * vx + uy * vy + uz * vz) / (lu * lv), -1, 1)),
      Bn = Math.acos(clamp(-(ux * wx + uy * wy + uz * wz) / (lu * lw), -1, 1)),
      Cn = Math.PI - A - Bn;
    for (const [v, w] of [
      [a, A],
      [b, Bn],
      [c, Cn],
    ]) {
      const q = weld[v / 3] * 3;
      N[q] += nx * w;
      N[q + 1] += ny * w;
      N[q + 2] += nz * w;
    }
  }
  const out = new Float32Array(pos.length);
  for (let v = 0; v < pos.length / 3; v++) {
    const q = weld[v] * 3;
    const l = Math.hypot(N[q], N[q + 1], N[q + 2]) || 1;
    for (let k = 0; k < 3; k++) out[v * 3 + k] = N[q + k] / l;
  }
  return out;
}
