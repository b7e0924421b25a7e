import { LIP, MB } from '../template';
import { add, gauss, lerp, type Vec3 } from '../vec';
import { addVertex, fan, type HalfMesh, RG, stitch, type Tag, tagOf } from './mesh';
import { zTrace } from './zTrace';

/** Mouth block: an open half chain from the lower midline round the corner to the upper midline; three skin rings, five lip rings with an explicit forward profile, four lining rings. */
export function buildMouth(h: HalfMesh): void {
  const { P, G, mouthRings } = h;
  const chain: number[] = [];
  for (let j = 0; j < MB.j1; j++) chain.push(G[MB.i1][j]);
  for (let i = MB.i1; i > MB.i0; i--) chain.push(G[i][MB.j1]);
  for (let j = MB.j1; j >= 0; j--) chain.push(G[MB.i0][j]);
  mouthRings.push(chain);
  for (const v of chain) h.pin[v] = true;
  const n = chain.length,
    half = (n - 1) / 2;
  const curve = (k: number, which: number) => {
    const q = Math.abs(k - half) / half,
      up = k > half,
      u = Math.cos(((q * Math.PI) / 2) * 0.999 + 0.0016) * 0.45 + (1 - q) * 0.55;
    const uu = k === 0 || k === n - 1 ? 0 : u;
    const x = (LIP.w + 1.3 - 2 * which) * uu,
      l = LIP.line(uu),
      b = up ? LIP.up(uu) : LIP.lo(uu);
    return { u: uu, x, y: lerp(b, l, which), up, l };
  };
  const put = (r: number[], k: number, p: Vec3, reg: number, t: Tag) => {
    if (k === 0 || k === n - 1) p[0] = 0;
    r.push(addVertex(h, p, reg, true, t));
  };
  for (const s of [0.3, 0.58, 0.8]) {
    const r: number[] = [];
    for (let k = 0; k < n; k++) {
      const o = P[chain[k]],
        c = curve(k, 0);
      const x = lerp(o[0], c.x + 1.4 * (1 - s) + 0.5 * Math.pow(c.u, 6), s),
        y = lerp(o[1], c.y, s);
      const p = zTrace(x, y);
      if (k === 0 || k === n - 1) p[0] = 0;
      r.push(addVertex(h, p, RG.skin, s > 0.5, tagOf('mouth', { s: s - 1, k })));
    }
    stitch(h, mouthRings[mouthRings.length - 1], r, false);
    mouthRings.push(r);
  }
  // lip profile: [blend border->line, forward displacement upper, lower]
  const prof = [
    [0, 0.5, 0.2],
    [0.3, 2.3, 2.6],
    [0.62, 4.0, 4.0],
    [0.86, 3.2, 3.2],
    [1, 0.6, 0.6],
  ];
  for (const [w, du, dl] of prof) {
    const r: number[] = [];
    for (let k = 0; k < n; k++) {
      const c = curve(k, w);
      const t = Math.pow(1 - Math.pow(c.u, 2.2), 0.8),
        tub = c.up ? 0.6 * gauss(c.u, 0.25) : -0.3 * gauss(c.u, 0.3);
      let p = zTrace(c.x, c.y);
      p = add(p, [
        0,
        w === 1 ? (c.up ? 0.05 : -0.05) : 0,
        (c.up ? du : dl) * t + tub * (w > 0.2 && w < 1 ? 1 : 0) - (w === 1 ? 0.9 * Math.pow(c.u, 4) : 0),
      ]);
      put(r, k, p, RG.lips, tagOf('mouth', { s: w, k }));
    }
    stitch(h, mouthRings[mouthRings.length - 1], r, false);
    mouthRings.push(r);
  }
  const line = mouthRings[mouthRings.length - 1];
  for (const [dz, op, sc] of [
    [3, 0.1, 0.985],
    [8, 2.5, 0.93],
    [17, 6, 0.86],
    [27, 8, 0.7],
  ]) {
    const r: number[] = [];
    for (let k = 0; k < n; k++) {
      const p = P[line[k]],
        c = curve(k, 1);
      const t = Math.sqrt(Math.max(0, 1 - c.u * c.u));
      put(r, k, [p[0] * sc, c.l + (c.up ? 1 : -1) * (0.05 + op * t), p[2] - dz], RG.mouth, tagOf('mouth', { s: 2, k, dz }));
    }
    stitch(h, mouthRings[mouthRings.length - 1], r, false);
    mouthRings.push(r);
  }
  const L = mouthRings[mouthRings.length - 1];
  const cz = P[L[0]][2] - 4;
  const cc = addVertex(h, [0, -51, cz], RG.mouth, true, tagOf('mouth', { s: 3, k: half, dz: 31 }));
  fan(h, L, cc, false);
  h.mouthCenter = cc;
}
