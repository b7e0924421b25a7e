/** The base body: the head form's own vertices from the neck up, both halves of the body below, as one closed surface. */
import type { FormBase } from '../basemesh';
import { REGIONS as HEAD_REGIONS } from '../half';
import { dist, type Vec3 } from '../vec';
import { buildHalfBody, type HalfBody } from './half';
import type { BodyPart } from './mesh';
import { CUTROW } from './sculpt';

export const BODY_REGIONS = [...HEAD_REGIONS, 'torso', 'arm', 'hand', 'leg', 'foot'] as const;
const RG = Object.fromEntries(BODY_REGIONS.map((r, i) => [r, i])) as Record<(typeof BODY_REGIONS)[number], number>;

/** Where a welded vertex is from: one of the head form; one of the half body, on a side; the middle of a loop that closes the head. */
export type Core = { head: number; eye: boolean } | { body: number; side: 1 | 0 | -1 } | { loop: number[] };

/** A vertex of the buffers: its welded one, its texture coordinates, its region, the head form's vertex it is. */
interface OutVertex {
  core: number;
  u: number;
  v: number;
  region: number;
  head?: number;
}

export interface BodyMesh {
  headBase: FormBase;
  half: HalfBody;
  core: Core[];
  out: OutVertex[];
  indices: Uint32Array;
  headTriangles: number;
  /** Without the eyeballs. */
  formTriangles: number;
  /** Vertex of the buffers → the first with the same welded one. */
  weld: Int32Array;
  /** Vertex of the half → welded one of the left and of the right. */
  coreL: number[];
  coreR: number[];
  /** Welded vertex of the head form → welded one here. */
  headCore: Map<number, number>;
  /** Welded vertex → its mirror image; a midline one is its own. */
  mirror: Int32Array;
}

export function joinBody(hb: FormBase): BodyMesh {
  const half = buildHalfBody(hb);
  const { G } = hb.half;
  const mirrorOf = (v: number) => hb.mirror[v] ?? v;
  const drop = new Set<number>();
  for (const row of [...G.slice(CUTROW + 1), ...hb.half.cutRings]) for (const v of row) drop.add(v).add(mirrorOf(v));
  hb.region.forEach((r, v) => {
    if (r === RG.cut) drop.add(v);
  });
  const core: Core[] = [];
  const out: OutVertex[] = [];
  const tris: number[] = [];
  const headCore = new Map<number, number>();
  const outHead = new Map<number, number>();
  hb.pos.forEach((_, v) => {
    if (drop.has(v)) return;
    const w = hb.weld[v];
    let c = headCore.get(w);
    if (c === undefined) {
      c = core.push({ head: w, eye: hb.region[w] === RG.eye }) - 1;
      headCore.set(w, c);
    }
    outHead.set(v, out.push({ core: c, u: hb.uvs[v * 2], v: hb.uvs[v * 2 + 1], region: hb.region[v], head: v }) - 1);
  });
  const here = (v: number) => outHead.get(v) as number;
  // edges by their welded ends, with the vertices that stand there
  const edges = new Map<string, [number, number]>();
  for (let t = 0; t < hb.formTriangles * 3; t += 3) {
    const v = [...hb.indices.subarray(t, t + 3)];
    if (v.some((q) => drop.has(q))) continue;
    tris.push(...v.map(here));
    for (let k = 0; k < 3; k++) edges.set(`${hb.weld[v[k]]}_${hb.weld[v[(k + 1) % 3]]}`, [v[k], v[(k + 1) % 3]]);
  }
  // the head form is open behind the lids: every loop but the neck gets a fan
  const neck = new Set(G[CUTROW].flatMap((v) => [hb.weld[v], hb.weld[mirrorOf(v)]]));
  const next = new Map<number, [number, [number, number]]>();
  for (const [k, e] of edges) {
    const [a, b] = k.split('_').map(Number);
    if (!edges.has(`${b}_${a}`) && !(neck.has(a) && neck.has(b))) next.set(b, [a, e]);
  }
  while (next.size) {
    const loop: [number, number][] = [];
    let q = next.keys().next().value as number;
    for (let to = next.get(q); to; to = next.get(q)) {
      next.delete(q);
      loop.push(to[1]);
      q = to[0];
    }
    const c = core.push({ loop: loop.map((e) => headCore.get(hb.weld[e[0]]) as number) }) - 1;
    const mean = (k: number) => loop.reduce((s, e) => s + hb.uvs[e[0] * 2 + k] / loop.length, 0);
    const o = out.push({ core: c, u: mean(0), v: mean(1), region: hb.region[loop[0][0]] }) - 1;
    for (const e of loop) tris.push(here(e[1]), here(e[0]), o);
  }
  const headTriangles = tris.length / 3;

  const coreL: number[] = [];
  const coreR: number[] = [];
  half.info.forEach((o, v) => {
    if (o.head !== undefined) {
      coreL[v] = headCore.get(hb.weld[o.head]) as number;
      coreR[v] = headCore.get(hb.weld[mirrorOf(o.head)]) as number;
    } else {
      coreL[v] = core.push({ body: v, side: o.mid ? 0 : 1 }) - 1;
      coreR[v] = o.mid ? coreL[v] : core.push({ body: v, side: -1 }) - 1;
    }
  });
  const kept = new Map<string, number>();
  const vertex = (c: number, u: number, v: number, part: BodyPart) => {
    const key = `${c}_${Math.round(u * 1e5)}_${Math.round(v * 1e5)}`;
    let o = kept.get(key);
    if (o === undefined) {
      o = out.push({ core: c, u, v, region: RG[part] }) - 1;
      kept.set(key, o);
    }
    return o;
  };
  for (const side of [1, -1])
    for (const q of half.faces) {
      const of = side > 0 ? coreL : coreR;
      const o = q.v.map((v, k) => vertex(of[v], 1 + (side > 0 ? q.uv[k][0] : 1 - q.uv[k][0]), q.uv[k][1], q.part));
      const p = q.v.map((v): Vec3 => half.P[v]);
      let T = [[0, 1, 2]];
      if (o.length === 4)
        T =
          dist(p[0], p[2]) <= dist(p[1], p[3])
            ? [
                [0, 1, 2],
                [0, 2, 3],
              ]
            : [
                [0, 1, 3],
                [1, 2, 3],
              ];
      for (const [a, b, c] of T) tris.push(o[a], o[side > 0 ? b : c], o[side > 0 ? c : b]);
    }
  const formTriangles = tris.length / 3;
  for (let t = hb.formTriangles * 3; t < hb.indices.length; t++) tris.push(here(hb.indices[t]));

  const weld = new Int32Array(out.length);
  const first = new Map<number, number>();
  out.forEach((o, i) => {
    if (!first.has(o.core)) first.set(o.core, i);
    weld[i] = first.get(o.core) as number;
  });
  const mirror = Int32Array.from(core, (_, i) => i);
  coreL.forEach((l, v) => {
    mirror[l] = coreR[v];
    mirror[coreR[v]] = l;
  });
  for (const [v, c] of headCore) {
    const d = headCore.get(hb.weld[mirrorOf(v)]);
    // only vertices of the left half know their mirror
    if (d === undefined || hb.mirror[v] === undefined) continue;
    mirror[c] = d;
    mirror[d] = c;
  }
  const loops = core.flatMap((c, i) => ('loop' in c ? [i] : []));
  for (const i of loops) {
    const of = (core[i] as { loop: number[] }).loop;
    const image = new Set(of.map((c) => mirror[c]));
    mirror[i] = loops.find((k) => (core[k] as { loop: number[] }).loop.every((c) => image.has(c))) ?? i;
  }
  return {
    headBase: hb,
    half,
    core,
    out,
    indices: Uint32Array.from(tris),
    headTriangles,
    formTriangles,
    weld,
    coreL,
    coreR,
    headCore,
    mirror,
  };
}
