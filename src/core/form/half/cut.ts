import { CUT, NC } from '../template';
import { lerp } from '../vec';
import { addVertex, fan, type HalfMesh, RG } from './mesh';

/** The cut under the bust: a bevel and a flat cap with vertices of its own, for a crisp edge. */
export function buildCut(h: HalfMesh): void {
  const { P, quads, mid } = h;
  const rim = h.G[h.rowCount];
  const shrink = (v: number, f: number) => addVertex(h, [P[v][0] * f, CUT - 2.2, lerp(-25, P[v][2], f)], RG.cut, true);
  const bevel = rim.map((v) => shrink(v, 0.988));
  for (let j = 0; j < NC; j++) quads.push([rim[j], bevel[j], bevel[j + 1], rim[j + 1]]);
  const edge = bevel.map((v) => addVertex(h, [...P[v]], RG.cut, true));
  let last = edge;
  for (const f of [0.6, 0.25]) {
    const outer = last;
    const r = edge.map((v) => shrink(v, f));
    for (let j = 0; j < NC; j++) quads.push([outer[j], r[j], r[j + 1], outer[j + 1]]);
    last = r;
  }
  h.cutCenter = addVertex(h, [0, CUT - 2.2, -25], RG.cut, true);
  fan(h, [...last].reverse(), h.cutCenter, false);
  for (const r of [bevel, edge, last]) {
    mid.add(r[0]);
    mid.add(r[NC]);
  }
  h.cutRings = [bevel, edge];
}
