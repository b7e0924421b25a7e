import { NB } from '../template';
import { add, dist, lerp, mix, mul, norm, sub, type Vec3 } from '../vec';
import { addVertex, fan, type HalfMesh, RG, stitch, tagOf } from './mesh';

/** Remembers the 12-vertex perimeter of the nostril block; its inside is built after relaxation. */
export function openNostril(h: HalfMesh): void {
  const { G } = h;
  const o: number[] = [];
  for (let j = NB.j1; j > NB.j0; j--) o.push(G[NB.i0][j]);
  for (let i = NB.i0; i < NB.i1; i++) o.push(G[i][NB.j0]);
  for (let j = NB.j0; j < NB.j1; j++) o.push(G[NB.i1][j]);
  for (let i = NB.i1; i > NB.i0; i--) o.push(G[i][NB.j1]);
  h.nostrilRings.push(o);
}

/** Rim and inside of the nostril, from the relaxed perimeter. */
export function buildNostril(h: HalfMesh): void {
  const { P } = h;
  const o = h.nostrilRings[0];
  const n = o.length;
  const c = mul(
    o.reduce<Vec3>((s, v) => add(s, P[v]), [0, 0, 0]),
    1 / n,
  );
  const up = norm([0.12, 0.93, -0.25]);
  const steps: readonly [number, number][] = [
    [0.62, 0.1],
    [0.5, 1.0],
    [0.42, 5.0],
  ];
  let prev = o;
  steps.forEach(([f, d], ri) => {
    const mean = o.reduce((s, v) => s + dist(P[v], c), 0) / n;
    const ring = o.map((v) => {
      const round = add(c, mul(norm(sub(P[v], c)), lerp(dist(P[v], c), mean, 0.55)));
      return addVertex(h, add(mix(c, round, f), mul(up, d)), ri ? RG.nostril : RG.skin, true, tagOf('nostril'));
    });
    stitch(h, prev, ring);
    prev = ring;
    h.nostrilRings.push(ring);
  });
  h.nostrilCenter = addVertex(h, add(c, mul(up, 6.5)), RG.nostril, true, tagOf('nostril'));
  fan(h, prev, h.nostrilCenter);
}
