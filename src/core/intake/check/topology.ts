/** How triangles hang together: places shared by position, edges and what lies on them, connected shells. */

export interface Topology {
  /** Vertex → place: vertices at the same position share one. */
  place: Uint32Array;
  places: number;
  /** Triangle → shell. Triangles that share an edge are of one shell. */
  shell: Uint32Array;
  shells: number;
  /** Edges of one triangle only. */
  openEdges: number;
  /** Edges of more than two triangles. */
  crowdedEdges: number;
  /** Edges that both their triangles run along in the same direction. */
  twistedEdges: number;
  edges: number;
  /** Per shell: edges of one triangle only, and edges of two that agree not. */
  openOf: Uint32Array;
  twistedOf: Uint32Array;
  crowdedOf: Uint32Array;
}

/** Edge neighbours: for triangle t, side s (from corner s to the next): the triangle beyond, −1 none, −2 several. */
export interface Neighbours {
  beyond: Int32Array;
  /** 1 where the neighbour runs along the edge in the same direction. */
  same: Uint8Array;
}

/**
 * Numbers the distinct positions. Two are one place when they fall into the same cell of `epsilon`.
 * @param positions xyz
 */
export function findPlaces(positions: ArrayLike<number>, epsilon: number): { place: Uint32Array; places: number } {
  const n = Math.floor(positions.length / 3);
  let size = 1;
  while (size < n * 2) size *= 2;
  const table = new Int32Array(size).fill(-1);
  const place = new Uint32Array(n);
  const cell = (v: number, k: number) => Math.round(positions[v * 3 + k] / epsilon);
  let places = 0;
  for (let v = 0; v < n; v++) {
    const [x, y, z] = [cell(v, 0), cell(v, 1), cell(v, 2)];
    let h = (Math.imul(x | 0, 73856093) ^ Math.imul(y | 0, 19349663) ^ Math.imul(z | 0, 83492791)) & (size - 1);
    for (;;) {
      const at = table[h];
      if (at < 0) {
        table[h] = v;
        place[v] = places++;
        break;
      }
      if (cell(at, 0) === x && cell(at, 1) === y && cell(at, 2) === z) {
        place[v] = place[at];
        break;
      }
      h = (h + 1) & (size - 1);
    }
  }
  return { place, places };
}

/** Neighbours over edges of exactly two triangles. */
export function findNeighbours(triangles: ArrayLike<number>, place: Uint32Array): Neighbours & { open: Uint8Array } {
  const sides = Math.floor(triangles.length / 3) * 3;
  let size = 1;
  while (size < sides * 2) size *= 2;
  const mask = size - 1;
  const firstSide = new Int32Array(size).fill(-1);
  const lo = new Uint32Array(size);
  const hi = new Uint32Array(size);
  const count = new Uint32Array(size);
  const slotOf = new Int32Array(sides);
  const beyond = new Int32Array(sides).fill(-1);
  const same = new Uint8Array(sides);
  const open = new Uint8Array(sides);
  const end = (s: number) => place[triangles[s - (s % 3) + ((s + 1) % 3)]];
  const secondSide = new Int32Array(size).fill(-1);
  for (let s = 0; s < sides; s++) {
    const [a, b] = [place[triangles[s]], end(s)];
    const [p, q] = a < b ? [a, b] : [b, a];
    let h = (Math.imul(p, 2654435761) ^ Math.imul(q, 40503)) & mask;
    while (count[h] > 0 && (lo[h] !== p || hi[h] !== q)) h = (h + 1) & mask;
    lo[h] = p;
    hi[h] = q;
    count[h]++;
    if (count[h] === 1) firstSide[h] = s;
    if (count[h] === 2) secondSide[h] = s;
    slotOf[s] = h;
  }
  for (let s = 0; s < sides; s++) {
    const h = slotOf[s];
    if (count[h] === 1) open[s] = 1;
    if (count[h] > 2) beyond[s] = -2;
    if (count[h] !== 2) continue;
    const other = firstSide[h] === s ? secondSide[h] : firstSide[h];
    beyond[s] = Math.floor(other / 3);
    same[s] = place[triangles[s]] === place[triangles[other]] ? 1 : 0;
  }
  return { beyond, same, open };
}

/** The whole picture of a triangle list. Triangles with two corners at one place are skipped: they are told apart elsewhere. */
export function findTopology(positions: ArrayLike<number>, triangles: ArrayLike<number>, epsilon: number): Topology & Neighbours {
  const { place, places } = findPlaces(positions, epsilon);
  const count = Math.floor(triangles.length / 3);
  const { beyond, same, open } = findNeighbours(triangles, place);
  const parent = Uint32Array.from({ length: count }, (_, i) => i);
  const root = (i: number) => {
    while (parent[i] !== i) {
      parent[i] = parent[parent[i]];
      i = parent[i];
    }
    return i;
  };
  for (let s = 0; s < beyond.length; s++)
    if (beyond[s] >= 0) {
      const [a, b] = [root(Math.floor(s / 3)), root(beyond[s])];
      if (a !== b) parent[a] = b;
    }
  const number = new Map<number, number>();
  const shell = new Uint32Array(count);
  for (let t = 0; t < count; t++) {
    const r = root(t);
    let at = number.get(r);
    if (at === undefined) {
      at = number.size;
      number.set(r, at);
    }
    shell[t] = at;
  }
  const shells = number.size;
  const openOf = new Uint32Array(shells);
  const twistedOf = new Uint32Array(shells);
  const crowdedOf = new Uint32Array(shells);
  let [openEdges, crowded, twisted, whole] = [0, 0, 0, 0];
  for (let s = 0; s < beyond.length; s++) {
    const at = shell[Math.floor(s / 3)];
    if (open[s]) {
      openEdges++;
      openOf[at]++;
    } else if (beyond[s] === -2) {
      crowded++;
      crowdedOf[at]++;
    } else {
      whole++;
      if (same[s]) {
        twisted++;
        twistedOf[at]++;
      }
    }
  }
  return {
    place,
    places,
    shell,
    shells,
    openEdges,
    crowdedEdges: Math.round(crowded / 3),
    twistedEdges: twisted / 2,
    edges: openEdges + whole / 2 + Math.round(crowded / 3),
    openOf,
    twistedOf,
    crowdedOf,
    beyond,
    same,
  };
}

/** Six times the signed volume under each shell: positive where triangles face outwards (divergence theorem). */
export function shellVolumes(positions: ArrayLike<number>, triangles: ArrayLike<number>, shell: Uint32Array, shells: number): Float64Array {
  const out = new Float64Array(shells);
  const p = positions;
  for (let t = 0; t < shell.length; t++) {
    const [a, b, c] = [triangles[t * 3] * 3, triangles[t * 3 + 1] * 3, triangles[t * 3 + 2] * 3];
    out[shell[t]] +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
      p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return out;
}

/** xyz minimum and maximum of each shell. */
export function shellBoxes(positions: ArrayLike<number>, triangles: ArrayLike<number>, shell: Uint32Array, shells: number): Float64Array {
  const out = new Float64Array(shells * 6);
  for (let i = 0; i < shells; i++) out.set([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity], i * 6);
  for (let s = 0; s < shell.length * 3; s++) {
    const o = shell[Math.floor(s / 3)] * 6;
    for (let k = 0; k < 3; k++) {
      const x = positions[triangles[s] * 3 + k];
      if (x < out[o + k]) out[o + k] = x;
      if (x > out[o + 3 + k]) out[o + 3 + k] = x;
    }
  }
  return out;
}
