/** Shells that lie wholly inside another closed shell. */

interface Shelled {
  shell: Uint32Array;
  shells: number;
}
interface Triangles {
  positions: ArrayLike<number>;
  triangles: ArrayLike<number>;
}

/** Work is bounded: pairs beyond it are left unexamined, which only leaves hidden shapes unfound. */
const MAX_TESTS = 60e6;
const MOST_PROBES = 60;
const DIRECTION = [0.5773, 0.5413, 0.6111] as const;

/** Whether a ray from `o` hits the triangle (Möller and Trumbore 1997). */
function hits(p: ArrayLike<number>, a: number, b: number, c: number, ox: number, oy: number, oz: number): boolean {
  const [dx, dy, dz] = DIRECTION;
  const [e1x, e1y, e1z] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [e2x, e2y, e2z] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [hx, hy, hz] = [dy * e2z - dz * e2y, dz * e2x - dx * e2z, dx * e2y - dy * e2x];
  const det = e1x * hx + e1y * hy + e1z * hz;
  if (det === 0) return false;
  const [sx, sy, sz] = [ox - p[a], oy - p[a + 1], oz - p[a + 2]];
  const u = (sx * hx + sy * hy + sz * hz) / det;
  if (u < 0 || u > 1) return false;
  const [qx, qy, qz] = [sy * e1z - sz * e1y, sz * e1x - sx * e1z, sx * e1y - sy * e1x];
  const v = (dx * qx + dy * qy + dz * qz) / det;
  if (v < 0 || u + v > 1) return false;
  return (e2x * qx + e2y * qy + e2z * qz) / det > 0;
}

/** Corners and middle of a triangle: a pane whose rim sits in its frame is not inside it. */
function probesOf({ positions: p, triangles }: Triangles, t: number): [number, number, number][] {
  const corners = [0, 1, 2].map((k) => {
    const v = triangles[t * 3 + k] * 3;
    return [p[v], p[v + 1], p[v + 2]] as [number, number, number];
  });
  const middle = [0, 1, 2].map((k) => (corners[0][k] + corners[1][k] + corners[2][k]) / 3) as [number, number, number];
  return [middle, ...corners];
}

function isInside(soup: Triangles, shell: readonly number[], x: number, y: number, z: number): boolean {
  let n = 0;
  for (const q of shell)
    if (hits(soup.positions, soup.triangles[q * 3] * 3, soup.triangles[q * 3 + 1] * 3, soup.triangles[q * 3 + 2] * 3, x, y, z)) n++;
  return n % 2 === 1;
}

/**
 * Shells every probed point of which is inside one outer shell (odd number of ray hits).
 * @param hides whether a shell is closed and opaque
 */
export function findInnerShells(soup: Triangles, topo: Shelled, boxes: Float64Array, hides: (shell: number) => boolean): number[] {
  if (topo.shells < 2 || topo.shells > 5000) return [];
  const members: number[][] = Array.from({ length: topo.shells }, () => []);
  topo.shell.forEach((s, t) => {
    members[s].push(t);
  });
  let tests = 0;
  const within = (s: number, o: number) =>
    [0, 1, 2].every((k) => boxes[s * 6 + k] > boxes[o * 6 + k] && boxes[s * 6 + 3 + k] < boxes[o * 6 + 3 + k]);
  const out: number[] = [];
  for (let s = 0; s < topo.shells; s++)
    for (let o = 0; o < topo.shells; o++) {
      if (o === s || !within(s, o) || !hides(o)) continue;
      const probes = members[s].filter((_, i) => i % Math.max(1, Math.floor(members[s].length / MOST_PROBES)) === 0);
      tests += probes.length * 4 * members[o].length;
      if (tests > MAX_TESTS) return out;
      const inside = probes.every((t) => probesOf(soup, t).every(([x, y, z]) => isInside(soup, members[o], x, y, z)));
      if (inside) {
        out.push(s);
        break;
      }
    }
  return out;
}
