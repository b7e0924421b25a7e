import { grad, toSurface } from '../sculpt';
import { NC } from '../template';
import { add, dot, mix, mul, norm, sub, type Vec3 } from '../vec';
import type { HalfMesh } from './mesh';

function neighbours(h: HalfMesh): Set<number>[] {
  const nb = h.P.map(() => new Set<number>());
  for (const f of [...h.quads, ...h.tris])
    for (let k = 0; k < f.length; k++) {
      const a = f[k];
      const b = f[(k + 1) % f.length];
      nb[a].add(b);
      nb[b].add(a);
    }
  return nb;
}

/** Fills `h.mid` with the vertices that lie on the midline so far. */
export function markMidline(h: HalfMesh): void {
  for (let i = 1; i <= h.rowCount; i++) {
    if (h.G[i][0] >= 0) h.mid.add(h.G[i][0]);
    h.mid.add(h.G[i][NC]);
  }
  for (const r of h.mouthRings) {
    h.mid.add(r[0]);
    h.mid.add(r[r.length - 1]);
  }
}

/** Eight passes of tangential relaxation on the surface; pinned vertices and the pole stay. */
export function relax(h: HalfMesh): void {
  const { P, mid } = h;
  const nb = neighbours(h);
  const blockEdge = new Set([...h.eyeRings[0], ...h.earRings[0]]);
  const nose = new Set<number>();
  for (let i = 21; i <= 27; i++) for (let j = 0; j <= 5; j++) if (h.G[i][j] >= 0) nose.add(h.G[i][j]);
  for (let pass = 0; pass < 8; pass++) {
    const next = [...P];
    for (let v = 0; v < P.length; v++) {
      if (h.pin[v] || v === h.pole) continue;
      const w = nose.has(v) ? 0.07 : blockEdge.has(v) ? 0.12 : 0.35;
      let sum: Vec3 = [0, 0, 0];
      let count = nb[v].size;
      for (const u of nb[v]) sum = add(sum, P[u]);
      if (mid.has(v))
        for (const u of nb[v])
          if (!mid.has(u)) {
            sum = add(sum, [-P[u][0], P[u][1], P[u][2]]); // the neighbour on the other side
            count++;
          }
      const d = sub(mix(P[v], mul(sum, 1 / count), w), P[v]);
      const g = norm(grad(P[v]));
      const p = toSurface(add(P[v], sub(d, mul(g, dot(d, g)))));
      if (mid.has(v)) p[0] = 0;
      next[v] = p;
    }
    for (let v = 0; v < P.length; v++) P[v] = next[v];
  }
}
