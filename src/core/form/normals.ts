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
    const l = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (l < 1e-12) continue;
    nx /= l;
    ny /= l;
    nz /= l;
    // angle weighted; square roots and no lists in between, because a slider asks for all of it with every move
    const lu = Math.sqrt(ux * ux + uy * uy + uz * uz),
      lv = Math.sqrt(vx * vx + vy * vy + vz * vz),
      wx = vx - ux,
      wy = vy - uy,
      wz = vz - uz,
      lw = Math.sqrt(wx * wx + wy * wy + wz * wz);
    const A = Math.acos(clamp((ux * vx + uy * vy + uz * vz) / (lu * lv), -1, 1)),
      B = Math.acos(clamp(-(ux * wx + uy * wy + uz * wz) / (lu * lw), -1, 1));
    addTo(N, weld[idx[t]] * 3, nx, ny, nz, A);
    addTo(N, weld[idx[t + 1]] * 3, nx, ny, nz, B);
    addTo(N, weld[idx[t + 2]] * 3, nx, ny, nz, Math.PI - A - B);
  }
  const out = new Float32Array(pos.length);
  for (let v = 0; v < pos.length / 3; v++) {
    const q = weld[v] * 3;
    const l = Math.sqrt(N[q] ** 2 + N[q + 1] ** 2 + N[q + 2] ** 2) || 1;
    for (let k = 0; k < 3; k++) out[v * 3 + k] = N[q + k] / l;
  }
  return out;
}

function addTo(N: Float64Array, q: number, nx: number, ny: number, nz: number, w: number): void {
  N[q] += nx * w;
  N[q + 1] += ny * w;
  N[q + 2] += nz * w;
}
