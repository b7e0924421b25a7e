/**
 * The base form: both halves, the eyeballs, landmarks, weights of the warp, colours and action unit fields.
 * About 1 s to compute; plain data, so it can be cached (see FORM_VERSION) and moved between threads.
 */
import type { BaseMesh, FormBase } from './basemesh';
import { bakeColors, bakeOcclusion } from './colors';
import { expressionFields } from './expressionfields';
import { EYE } from './eyeball';
import { buildHalf, type HalfMesh, RG, tagOf } from './half';
import { findLandmarks } from './landmarks';
import { MEASURE_ENDS, MEASURES, type MeasureName } from './measures';
import { NC } from './template';
import { D2R, dist, norm, smooth } from './vec';

/** Changes whenever the base changes: caches are kept under it. */
export const FORM_VERSION = 4;

const EYEBALL_RINGS_DEG = [0, 4.5, 9, 12.5, 16.5, 21, 25, 28.6, 31, 38, 48, 62, 80, 105, 135, 160];
const EYEBALL_COLUMNS = 20;

function addEyeball(b: BaseMesh, idx: number[], sx: 1 | -1): number {
  const c = [EYE.c[0] * sx, EYE.c[1], EYE.c[2]];
  const put = (th: number, ph: number) => {
    const st = Math.sin(th);
    b.pos.push([c[0] + EYE.R * st * Math.cos(ph), c[1] + EYE.R * st * Math.sin(ph), c[2] + EYE.R * Math.cos(th)]);
    const k = 0.032 * Math.min(1, (th / Math.PI) * 1.6);
    b.uv.push([(sx > 0 ? 0.93 : 0.07) + k * Math.cos(ph), 0.038 + k * Math.sin(ph)]);
    b.region.push(RG.eye);
    b.tag.push(tagOf('ball', { th: th / D2R }));
    b.side.push(sx);
    b.weld.push(b.pos.length - 1);
    return b.pos.length - 1;
  };
  const pupil = put(0, 0);
  let prev: number[] | null = null;
  for (const deg of EYEBALL_RINGS_DEG.slice(1)) {
    const cur: number[] = [];
    for (let k = 0; k < EYEBALL_COLUMNS; k++) cur.push(put(deg * D2R, (k * 2 * Math.PI) / EYEBALL_COLUMNS));
    for (let k = 0; k < EYEBALL_COLUMNS; k++) {
      const l = (k + 1) % EYEBALL_COLUMNS;
      if (prev) idx.push(prev[k], cur[k], cur[l], prev[k], cur[l], prev[l]);
      else idx.push(pupil, cur[k], cur[l]);
    }
    prev = cur;
  }
  const rear = put(Math.PI, 0);
  if (prev) for (let k = 0; k < EYEBALL_COLUMNS; k++) idx.push(prev[k], rear, prev[(k + 1) % EYEBALL_COLUMNS]);
  return pupil;
}

/** Mirrors the half, triangulates by the shorter diagonal, adds the eyeballs. */
function assemble(half: HalfMesh): BaseMesh {
  const { P, mid } = half;
  const n = P.length;
  const seam = new Set<number>(); // the nape: doubled for texture coordinates, welded for normals
  for (let i = 1; i <= half.rowCount; i++) seam.add(half.G[i][NC]);
  for (const r of half.cutRings) seam.add(r[NC]);
  const shared = (v: number) => v === half.pole || v === half.cutCenter || v === half.mouthCenter || (mid.has(v) && !seam.has(v));
  const b: BaseMesh = {
    half,
    pos: [...P],
    uv: [...half.uv],
    region: [...half.region],
    tag: [...half.tag],
    side: P.map(() => 1),
    mirror: [],
    weld: [],
    indices: new Uint32Array(),
    formTriangles: 0,
    pupils: [0, 0],
    halfCount: n,
  };
  for (let v = 0; v < n; v++) {
    b.weld[v] = v;
    if (shared(v)) {
      b.mirror[v] = v;
      b.side[v] = 0;
      if (v === half.mouthCenter || mid.has(v) || v === half.cutCenter) b.pos[v][0] = 0;
      continue;
    }
    const m = b.pos.length;
    b.mirror[v] = m;
    b.pos.push([-P[v][0], P[v][1], P[v][2]]);
    b.uv.push([1 - half.uv[v][0], half.uv[v][1]]);
    b.region.push(half.region[v]);
    b.tag.push(half.tag[v]);
    b.side.push(-1);
    b.weld[m] = seam.has(v) ? v : m;
  }
  const idx: number[] = [];
  const both = (a: number, c: number, d: number) => idx.push(a, c, d, b.mirror[a], b.mirror[d], b.mirror[c]);
  for (const [a, c, d, e] of half.quads) {
    if (dist(P[a], P[d]) <= dist(P[c], P[e])) {
      both(a, c, d);
      both(a, d, e);
    } else {
      both(a, c, e);
      both(c, d, e);
    }
  }
  for (const [a, c, d] of half.tris) both(a, c, d);
  b.formTriangles = idx.length / 3;
  b.pupils = [addEyeball(b, idx, 1), addEyeball(b, idx, -1)];
  b.indices = new Uint32Array(idx);
  return b;
}

/** Computes the base form from the numbers in this folder alone. Deterministic; about 1 s. */
export function buildFormBase(): FormBase {
  const b = assemble(buildHalf());
  const occlusion = bakeOcclusion(b);
  const colors = bakeColors(b, occlusion); // names the brow region, which landmarks look at
  const landmarks = findLandmarks(b);
  const measures = Object.fromEntries(
    MEASURES.map((k) => [k, dist(b.pos[landmarks[MEASURE_ENDS[k][0]]], b.pos[landmarks[MEASURE_ENDS[k][1]]])]),
  ) as Record<MeasureName, number>;
  const n = b.pos.length;
  const eyeWeight = new Float64Array(n);
  const fullnessWeight = new Float64Array(n);
  const fullnessDirection = new Float64Array(n * 2);
  const widest = b.pos[landmarks.euryonL];
  for (let v = 0; v < n; v++) {
    const p = b.pos[v];
    const x = Math.abs(p[0]);
    const tag = b.tag[v];
    const d = Math.hypot(x - EYE.c[0], (p[1] - EYE.c[1]) * 1.15, p[2] - EYE.c[2]);
    eyeWeight[v] = b.region[v] === RG.eye || (tag?.feature === 'eye' && tag.s >= 0.9) ? 1 : 1 - smooth(14.6, 20, d);
    // cranial fullness: radial, zero at glabella, opisthocranion and euryon
    const cz = widest[2];
    const rz = p[2] > cz ? b.pos[landmarks.glabella][2] - cz : cz - b.pos[landmarks.opisthocranion][2];
    const s2 = Math.sin(2 * Math.atan2(x / widest[0], (p[2] - cz) / rz));
    fullnessWeight[v] = b.region[v] === RG.eye ? 0 : s2 * s2 * smooth(2, 48, p[1]) * (1 - eyeWeight[v]);
    const q = norm([p[0] / widest[0], 0, (p[2] - cz) / rz]);
    fullnessDirection[v * 2] = q[0];
    fullnessDirection[v * 2 + 1] = q[2];
  }
  const tapeTriangles: number[] = [];
  for (let t = 0; t < b.formTriangles * 3; t += 3) {
    const v = [b.indices[t], b.indices[t + 1], b.indices[t + 2]];
    if (v.some((q) => b.region[q] === RG.ear)) continue;
    const ys = v.map((q) => b.pos[q][1]);
    if (Math.max(...ys) > 2 && Math.min(...ys) < 70) tapeTriangles.push(t);
  }
  const fields = expressionFields(b);
  return {
    ...b,
    landmarks,
    measures,
    eyeWeight,
    fullnessWeight,
    fullnessDirection,
    tapeTriangles,
    colors,
    occlusion,
    uvs: new Float32Array(b.uv.flat()),
    fields,
  };
}
