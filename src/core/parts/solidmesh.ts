/** Plain shapes as triangles, metres, origin in the middle of the box round them. Outward normals; front faces wind anticlockwise. */
import type { SolidShape } from './solid';
import { OPEN_FACES, type SolidFace } from './solidforms';

export interface SolidMesh {
  positions: Float32Array;
  normals: Float32Array;
  uvs: Float32Array;
  indices: Uint32Array;
}

/** Sides of what is round, and of a rounded edge's quarter. */
const ROUND_SIDES = 48;
const EDGE_SIDES = 5;

class Builder {
  private readonly p: number[] = [];
  private readonly n: number[] = [];
  private readonly t: number[] = [];
  private readonly i: number[] = [];

  vertex(p: readonly number[], n: readonly number[], u: number, v: number): number {
    this.p.push(p[0] / 1000, p[1] / 1000, p[2] / 1000);
    const l = Math.hypot(n[0], n[1], n[2]) || 1;
    this.n.push(n[0] / l, n[1] / l, n[2] / l);
    this.t.push(u, v);
    return this.p.length / 3 - 1;
  }

  /** Two triangles, or one where two corners are one place. */
  quad(a: number, b: number, c: number, d: number): void {
    this.triangle(a, b, c);
    this.triangle(a, c, d);
  }

  triangle(a: number, b: number, c: number): void {
    const same = (x: number, y: number) => [0, 1, 2].every((k) => Math.abs(this.p[x * 3 + k] - this.p[y * 3 + k]) < 1e-9);
    if (!same(a, b) && !same(b, c) && !same(a, c)) this.i.push(a, b, c);
  }

  mesh(): SolidMesh {
    return {
      positions: Float32Array.from(this.p),
      normals: Float32Array.from(this.n),
      uvs: Float32Array.from(this.t),
      indices: Uint32Array.from(this.i),
    };
  }
}

/** A smooth stretch of an outline: points (radius, height), mm, and which way their normals point. */
interface Stretch {
  face: SolidFace | null;
  points: { r: number; y: number; nr: number; ny: number }[];
}

/** Turns an outline about up. `across` is fore over side. */
function turned(b: Builder, outline: readonly Stretch[], across: number): void {
  for (const { points } of outline) {
    const rings = points.map((q, j) =>
      Array.from({ length: ROUND_SIDES + 1 }, (_, k) => {
        const a = (k / ROUND_SIDES) * 2 * Math.PI;
        const [s, c] = [Math.sin(a), Math.cos(a)];
        return b.vertex([q.r * s, q.y, q.r * c * across], [q.nr * s, q.ny, (q.nr * c) / across], k / ROUND_SIDES, j / (points.length - 1));
      }),
    );
    for (let j = 0; j + 1 < rings.length; j++)
      for (let k = 0; k < ROUND_SIDES; k++) b.quad(rings[j][k], rings[j][k + 1], rings[j + 1][k + 1], rings[j + 1][k]);
  }
}

const line = (face: SolidFace | null, r0: number, y0: number, r1: number, y1: number): Stretch => {
  // the outline runs with the outside on its right: upwards along a mantle
  const [nr, ny] = [y1 - y0, r0 - r1];
  return { face, points: [r0, r1].map((r, i) => ({ r, y: i ? y1 : y0, nr, ny })) };
};
const arc = (r: number, y: number, rr: number, ry: number, from: number, to: number, sides: number): Stretch => ({
  face: null,
  points: Array.from({ length: sides + 1 }, (_, k) => {
    const a = from + ((to - from) * k) / sides;
    return { r: Math.max(0, r + rr * Math.cos(a)), y: y + ry * Math.sin(a), nr: Math.cos(a) / rr, ny: Math.sin(a) / ry };
  }),
});

const H = Math.PI / 2;

function cylinder(r: number, h: number, round: number): Stretch[] {
  const e = Math.min(round, r, h);
  if (e <= 0) return [line('bottom', 0, -h, r, -h), line('side', r, -h, r, h), line('top', r, h, 0, h)];
  return [
    line('bottom', 0, -h, r - e, -h),
    arc(r - e, -h + e, e, e, -H, 0, EDGE_SIDES),
    line('side', r, -h + e, r, h - e),
    arc(r - e, h - e, e, e, 0, H, EDGE_SIDES),
    line('top', r - e, h, 0, h),
  ];
}

function tube(r: number, h: number, wall: number, round: number): Stretch[] {
  const w = Math.min(wall, r * 0.999);
  const e = Math.min(round, w / 2, h);
  const i = r - w;
  if (e <= 0) return [line('side', r, -h, r, h), line('top', r, h, i, h), line(null, i, h, i, -h), line('bottom', i, -h, r, -h)];
  return [
    line('side', r, -h + e, r, h - e),
    arc(r - e, h - e, e, e, 0, H, EDGE_SIDES),
    line('top', r - e, h, i + e, h),
    arc(i + e, h - e, e, e, H, 2 * H, EDGE_SIDES),
    line(null, i, h - e, i, -h + e),
    arc(i + e, -h + e, e, e, 2 * H, 3 * H, EDGE_SIDES),
    line('bottom', i + e, -h, r - e, -h),
    arc(r - e, -h + e, e, e, 3 * H, 4 * H, EDGE_SIDES),
  ];
}

/** A box with edges and corners rounded: every point of a grid on its faces is drawn to the rounded surface. */
function box(b: Builder, h: readonly [number, number, number], round: number, open: ReadonlySet<SolidFace>): void {
  const e = Math.min(round, ...h);
  // evenly spaced on the rounding when seen from its own middle
  const steps = e > 0 ? Array.from({ length: EDGE_SIDES }, (_, k) => Math.tan(((k + 1) / EDGE_SIDES) * (Math.PI / 4))) : [];
  const along = (half: number) => {
    const inner = half - e;
    const up = steps.map((t) => inner + t * e);
    return e > 0 ? [...up.map((x) => -x).reverse(), -inner, inner, ...up] : [-half, half];
  };
  const faces: [SolidFace, number, 1 | -1][] = [
    ['side', 0, 1],
    ['side', 0, -1],
    ['top', 1, 1],
    ['bottom', 1, -1],
    ['front', 2, 1],
    ['back', 2, -1],
  ];
  for (const [face, axis, way] of faces) {
    if (open.has(face)) continue;
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    const [us, vs] = [along(h[u]), along(h[v])];
    const at = us.map((x) =>
      vs.map((y) => {
        const p = [0, 0, 0];
        p[axis] = h[axis] * way;
        p[u] = x;
        p[v] = y;
        const inner = p.map((c, k) => Math.max(-(h[k] - e), Math.min(h[k] - e, c)));
        const d = p.map((c, k) => c - inner[k]);
        const l = Math.hypot(...d);
        const n = e > 0 && l > 0 ? d.map((c) => c / l) : [0, 1, 2].map((k) => (k === axis ? way : 0));
        return b.vertex(e > 0 ? inner.map((c, k) => c + n[k] * e) : p, n, (x / h[u] + 1) / 2, (y / h[v] + 1) / 2);
      }),
    );
    for (let i = 0; i + 1 < us.length; i++)
      for (let j = 0; j + 1 < vs.length; j++)
        if (way > 0) b.quad(at[i][j], at[i + 1][j], at[i + 1][j + 1], at[i][j + 1]);
        else b.quad(at[i][j], at[i][j + 1], at[i + 1][j + 1], at[i + 1][j]);
  }
}

/** Half a ring that stands on its two feet, over side and up. */
function arch(b: Builder, [x, y, z]: readonly [number, number, number], wall: number): void {
  const w = Math.min(wall, x / 2, y) / 2;
  const [rx, ry] = [x / 2 - w, y - w];
  const sides = ROUND_SIDES / 2;
  const rings = Array.from({ length: sides + 1 }, (_, i) => {
    const a = (i / sides) * Math.PI;
    const centre = [rx * Math.cos(a), ry * Math.sin(a) - y / 2];
    const out = [Math.cos(a) * ry, Math.sin(a) * rx];
    const l = Math.hypot(out[0], out[1]) || 1;
    return Array.from({ length: 17 }, (_, k) => {
      const t = (k / 16) * 2 * Math.PI;
      const [c, s] = [Math.cos(t), Math.sin(t)];
      const dir = [out[0] / l, out[1] / l];
      return b.vertex(
        [centre[0] + dir[0] * w * c, centre[1] + dir[1] * w * c, (z / 2) * s],
        [(dir[0] * c) / w, (dir[1] * c) / w, s / (z / 2)],
        i / sides,
        k / 16,
      );
    });
  });
  for (let i = 0; i < sides; i++) for (let k = 0; k < 16; k++) b.quad(rings[i][k], rings[i + 1][k], rings[i + 1][k + 1], rings[i][k + 1]);
  for (const sign of [1, -1] as const) {
    const cx = rx * sign;
    const foot = Array.from({ length: 17 }, (_, k) => {
      const t = (k / 16) * 2 * Math.PI;
      return b.vertex([cx + w * Math.cos(t), -y / 2, (z / 2) * Math.sin(t)], [0, -1, 0], (Math.cos(t) + 1) / 2, (Math.sin(t) + 1) / 2);
    });
    const middle = b.vertex([cx, -y / 2, 0], [0, -1, 0], 0.5, 0.5);
    for (let k = 0; k < 16; k++) b.triangle(middle, foot[k], foot[k + 1]);
  }
}

/** Faces +fore, over side and up. */
function flat(b: Builder, x: number, y: number, round: boolean): void {
  if (!round) {
    const at = [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].map(([u, v]) => b.vertex([(u * x) / 2, (v * y) / 2, 0], [0, 0, 1], (u + 1) / 2, (v + 1) / 2));
    b.quad(at[0], at[1], at[2], at[3]);
    return;
  }
  const middle = b.vertex([0, 0, 0], [0, 0, 1], 0.5, 0.5);
  const rim = Array.from({ length: ROUND_SIDES + 1 }, (_, k) => {
    const a = (k / ROUND_SIDES) * 2 * Math.PI;
    return b.vertex([(Math.cos(a) * x) / 2, (Math.sin(a) * y) / 2, 0], [0, 0, 1], (Math.cos(a) + 1) / 2, (Math.sin(a) + 1) / 2);
  });
  for (let k = 0; k < ROUND_SIDES; k++) b.triangle(middle, rim[k], rim[k + 1]);
}

/** The triangles of a solid. Sizes are those of its box; rounding and walls are held to what fits. */
export function solidMesh(shape: SolidShape): SolidMesh {
  const [x, y, z] = shape.sizeMm;
  // of a form that it was before, or by program: what cannot be left open stays
  const open = new Set(shape.open.filter((face) => OPEN_FACES[shape.form].includes(face)));
  const b = new Builder();
  const [r, h, across] = [x / 2, y / 2, z / x];
  const closed = (outline: Stretch[]) => outline.filter((s) => !s.face || !open.has(s.face));
  switch (shape.form) {
    case 'box':
      box(b, [r, h, z / 2], shape.roundMm, open);
      break;
    case 'plane':
      flat(b, x, y, false);
      break;
    case 'disc':
      flat(b, x, y, true);
      break;
    case 'arch':
      arch(b, shape.sizeMm, shape.wallMm);
      break;
    case 'cylinder':
      turned(b, closed(cylinder(r, h, shape.roundMm)), across);
      break;
    case 'cone':
      turned(b, closed([line('bottom', 0, -h, r, -h), line('side', r, -h, 0, h)]), across);
      break;
    case 'sphere':
      turned(b, [arc(0, 0, r, h, -H, H, ROUND_SIDES / 2)], across);
      break;
    case 'capsule': {
      const e = Math.min(r, h);
      turned(b, [arc(0, -h + e, r, e, -H, 0, 12), line('side', r, -h + e, r, h - e), arc(0, h - e, r, e, 0, H, 12)], across);
      break;
    }
    case 'ring': {
      const w = Math.min(shape.wallMm, r) / 2;
      turned(b, [arc(r - w, 0, w, h, -Math.PI, Math.PI, 24)], across);
      break;
    }
    case 'tube':
      turned(b, closed(tube(r, h, shape.wallMm, shape.roundMm)), across);
      break;
  }
  return b.mesh();
}
