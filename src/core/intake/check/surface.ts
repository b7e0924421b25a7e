/** Normals, tangents, UVs and how the vertices are stored. */
import type { Accessor, Primitive } from '@gltf-transform/core';
import type { ModelPrimitive } from '../../model/model';
import type { Finding } from '../findings';
import { type CheckContext, count, finding, mend, placedPrimitives, some } from './context';

const GRID = 512;

/** Whether anything about the primitive's material needs a texture coordinate, and which set its base colour uses. */
export function texturedBy(p: Primitive): number | null {
  const m = p.getMaterial();
  if (!m) return null;
  if (m.getBaseColorTexture()) return m.getBaseColorTextureInfo()?.getTexCoord() ?? 0;
  if (m.getNormalTexture()) return m.getNormalTextureInfo()?.getTexCoord() ?? 0;
  if (m.getMetallicRoughnessTexture()) return m.getMetallicRoughnessTextureInfo()?.getTexCoord() ?? 0;
  if (m.getEmissiveTexture()) return m.getEmissiveTextureInfo()?.getTexCoord() ?? 0;
  if (m.getOcclusionTexture()) return m.getOcclusionTextureInfo()?.getTexCoord() ?? 0;
  return null;
}

/** Vertices that are bit for bit another vertex of the same primitive. */
export function countRepeats(p: Primitive): number {
  const attributes = p.listAttributes();
  const targets = p.listTargets().flatMap((t) => t.listAttributes());
  const arrays = [...attributes, ...targets].map((a) => ({ array: a.getArray() as ArrayLike<number>, size: a.getElementSize() }));
  const n = attributes[0]?.getCount() ?? 0;
  if (n < 2 || n > 2_000_000) return 0;
  let size = 1;
  while (size < n * 2) size *= 2;
  const table = new Int32Array(size).fill(-1);
  const bits = new DataView(new ArrayBuffer(4));
  let repeats = 0;
  for (let v = 0; v < n; v++) {
    let h = 0;
    for (const { array, size: w } of arrays)
      for (let k = 0; k < w; k++) {
        bits.setFloat32(0, array[v * w + k]);
        h = Math.imul(h ^ bits.getInt32(0), 0x5bd1e995);
        h ^= h >>> 15;
      }
    let at = h & (size - 1);
    for (;;) {
      const other = table[at];
      if (other < 0) {
        table[at] = v;
        break;
      }
      if (
        arrays.every(({ array, size: w }) => Array.from({ length: w }, (_, k) => array[v * w + k] === array[other * w + k]).every(Boolean))
      ) {
        repeats++;
        break;
      }
      at = (at + 1) & (size - 1);
    }
  }
  return repeats;
}

/** Rows of an accessor whose length is not 1, within `slack`. */
function badLengths(a: Accessor, slack: number): number {
  const row: number[] = [];
  let n = 0;
  for (let i = 0; i < a.getCount(); i++) {
    a.getElement(i, row);
    if (!(Math.abs(Math.hypot(row[0], row[1], row[2]) - 1) <= slack)) n++;
  }
  return n;
}

/** Share of a primitive's triangles whose vertex normals point to the far side of the triangle. */
export function opposedNormals(p: ModelPrimitive, normals: Accessor): number {
  const row: number[] = [];
  let [opposed, looked] = [0, 0];
  const q = p.positions;
  for (let t = 0; t + 2 < p.triangles.length; t += 3) {
    const [a, b, c] = [p.triangles[t], p.triangles[t + 1], p.triangles[t + 2]];
    const u = [0, 1, 2].map((k) => q[b * 3 + k] - q[a * 3 + k]);
    const v = [0, 1, 2].map((k) => q[c * 3 + k] - q[a * 3 + k]);
    const face = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    const length = Math.hypot(...face);
    if (!(length > 0)) continue;
    let dot = 0;
    for (const i of [a, b, c]) {
      normals.getElement(i, row);
      dot += (row[0] * face[0] + row[1] * face[1] + row[2] * face[2]) / length;
    }
    looked++;
    if (dot < -0.6) opposed++;
  }
  return looked > 0 ? opposed / looked : 0;
}

interface UvTally {
  outside: boolean;
  covered: number;
  twice: number;
}

/** Draws the triangles of a primitive into a grid over 0–1 and counts texels hit more than once. */
function coverUv(p: ModelPrimitive, uv: Accessor, grid: Uint8Array): UvTally {
  const out: UvTally = { outside: false, covered: 0, twice: 0 };
  const row: number[] = [];
  const flat = new Float32Array(uv.getCount() * 2);
  for (let i = 0; i < uv.getCount(); i++) {
    uv.getElement(i, row);
    flat[i * 2] = row[0];
    flat[i * 2 + 1] = row[1];
  }
  for (const v of p.drawn) {
    const [x, y] = [flat[v * 2], flat[v * 2 + 1]];
    if (!(x >= -0.001 && x <= 1.001 && y >= -0.001 && y <= 1.001)) out.outside = true;
  }
  if (out.outside) return out;
  for (let t = 0; t + 2 < p.triangles.length; t += 3) {
    const [a, b, c] = [p.triangles[t] * 2, p.triangles[t + 1] * 2, p.triangles[t + 2] * 2];
    const [ax, ay, bx, by, cx, cy] = [flat[a], flat[a + 1], flat[b], flat[b + 1], flat[c], flat[c + 1]].map((x) => x * GRID);
    const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
    if (!(Math.abs(area) > 1e-6)) continue;
    for (let y = Math.max(0, Math.floor(Math.min(ay, by, cy))); y <= Math.min(GRID - 1, Math.max(ay, by, cy)); y++)
      for (let x = Math.max(0, Math.floor(Math.min(ax, bx, cx))); x <= Math.min(GRID - 1, Math.max(ax, bx, cx)); x++) {
        const [px, py] = [x + 0.5, y + 0.5];
        const w0 = ((bx - px) * (cy - py) - (cx - px) * (by - py)) / area;
        const w1 = ((cx - px) * (ay - py) - (ax - px) * (cy - py)) / area;
        // well inside: texels on a shared edge belong to nobody
        if (w0 > 0.02 && w1 > 0.02 && 1 - w0 - w1 > 0.02) {
          const at = y * GRID + x;
          if (grid[at] === 0) out.covered++;
          if (grid[at] === 1) out.twice++;
          grid[at] = Math.min(2, grid[at] + 1);
        }
      }
  }
  return out;
}

const label = (mesh: string, i: number, of: number) => (of > 1 ? `${mesh}, part ${i + 1}` : mesh);

export function checkSurface({ document, model }: CheckContext): Finding[] {
  const raw = placedPrimitives(document);
  const no: string[] = [];
  const zero: string[] = [];
  const opposed: string[] = [];
  const tangents: string[] = [];
  const noTangents: string[] = [];
  const noUv: string[] = [];
  const outside: string[] = [];
  let [repeats, vertices, unused] = [0, 0, 0];
  let [covered, twice] = [0, 0];
  const grids = new Map<unknown, Uint8Array>();
  model.meshes.forEach((mesh, m) => {
    mesh.primitives.forEach((p, i) => {
      const prim = raw[m][i];
      const name = label(mesh.name || `mesh ${m}`, i, mesh.primitives.length);
      const total = p.positions.length / 3;
      vertices += total;
      unused += total - p.drawn.length;
      repeats += countRepeats(prim);
      if (p.triangles.length === 0) return;
      const lit = !prim.getMaterial()?.getExtension('KHR_materials_unlit');
      const normal = prim.getAttribute('NORMAL');
      if (!normal && lit) no.push(name);
      else if (normal && badLengths(normal, 0.1) > 0) zero.push(name);
      else if (normal && lit && opposedNormals(p, normal) > 0.02) opposed.push(name);
      const tangent = prim.getAttribute('TANGENT');
      if (tangent && badLengths(tangent, 0.1) > 0) tangents.push(name);
      if (!tangent && prim.getMaterial()?.getNormalTexture()) noTangents.push(name);
      const set = texturedBy(prim);
      if (set === null) return;
      const uv = prim.getAttribute(`TEXCOORD_${set}`);
      if (!uv) {
        noUv.push(name);
        return;
      }
      const key = prim.getMaterial();
      const grid = grids.get(key) ?? new Uint8Array(GRID * GRID);
      grids.set(key, grid);
      const tally = coverUv(p, uv, grid);
      if (tally.outside) outside.push(name);
      covered += tally.covered;
      twice += tally.twice;
    });
  });
  const out: Finding[] = [];
  if (no.length)
    out.push(
      finding(
        'geometry/normals-missing',
        'warning',
        `${count(no.length, 'shape has', 'shapes have')} no normals: viewers draw every triangle flat.`,
        some(no),
        mend('normals', 'Normals computed, smooth up to an angle of 45°.'),
      ),
    );
  if (zero.length)
    out.push(
      finding(
        'geometry/normals-zero',
        'warning',
        `${count(zero.length, 'shape has', 'shapes have')} normals that are zero or not of length 1: dark or glaring spots.`,
        some(zero),
        mend('normals', 'Normals computed anew, smooth up to an angle of 45°.'),
      ),
    );
  if (opposed.length)
    out.push(
      finding(
        'geometry/normals-opposed',
        'warning',
        `${count(opposed.length, 'shape has', 'shapes have')} normals that point away from the side that is drawn: light falls in from behind.`,
        some(opposed),
        mend('normals', 'Normals computed anew, smooth up to an angle of 45°.'),
      ),
    );
  if (tangents.length)
    out.push(
      finding(
        'geometry/tangents',
        'warning',
        `${count(tangents.length, 'shape has', 'shapes have')} tangents that are zero or not of length 1: a normal map shows wrong there.`,
        some(tangents),
        mend('tangents', 'The tangents are taken out; viewers compute them from the UVs.'),
      ),
    );
  if (noTangents.length)
    out.push(
      finding(
        'geometry/tangents-missing',
        'note',
        `${count(noTangents.length, 'shape wears', 'shapes wear')} a normal map without tangents: viewers compute them, each in its own way.`,
        some(noTangents),
      ),
    );
  if (noUv.length)
    out.push(
      finding(
        'geometry/uv-missing',
        'warning',
        `${count(noUv.length, 'shape wears', 'shapes wear')} a picture without UVs to place it by.`,
        some(noUv),
      ),
    );
  if (outside.length)
    out.push(
      finding(
        'geometry/uv-outside',
        'note',
        `${count(outside.length, 'shape has', 'shapes have')} UVs outside 0–1, where pictures repeat: they cannot be painted upon or joined with others.`,
        some(outside),
      ),
    );
  if (covered > 0 && twice / covered > 0.02)
    out.push(
      finding(
        'geometry/uv-overlap',
        'note',
        `${Math.round((twice / covered) * 100)} % of the UV layout is used more than once. Paint and baked light show in several places.`,
      ),
    );
  if (unused > 0)
    out.push(
      finding(
        'geometry/unused-vertices',
        'note',
        `${count(unused, 'vertex belongs', 'vertices belong')} to no triangle.`,
        undefined,
        mend('unused', `${count(unused, 'vertex', 'vertices')} taken out.`),
      ),
    );
  if (repeats > 0 && repeats >= vertices * 0.02)
    out.push(
      finding(
        'geometry/unwelded',
        'note',
        `${count(repeats, 'vertex repeats', 'vertices repeat')} another in everything: ${Math.round((repeats / vertices) * 100)} % of them.`,
        undefined,
        mend('weld', `${count(repeats, 'vertex', 'vertices')} shared instead of repeated; nothing looks different.`),
      ),
    );
  return out;
}
