import { trace } from '../sculpt';
import { smin } from '../shapes';
import { EAR, EARR, RB } from '../template';
import { add, cross, D2R, gauss, lerp, mix, mul, norm, smooth, type Vec3 } from '../vec';
import { addVertex, fan, type HalfMesh, perimeter, RG, stitch, tagOf } from './mesh';

/** Least offset from the head by ring, mm: keeps the back of the ear outside the skull near its top. */
const LEAST_OFFSET = [0, 0.3, 0.8, 1.7, 2.4, 2.0, 1.5, 1.0];

/** Ear block: a 26-gon, twelve rings from the root over the helix into the concha. */
export function buildEar(h: HalfMesh): void {
  const { P, earRings } = h;
  const per = perimeter(h, RB);
  const n = per.length;
  earRings.push(per);
  const { c, tilt, flare, rho } = EAR;
  const back: Vec3 = [Math.sin(flare), 0, -Math.cos(flare)];
  const upward = norm([0.1, Math.cos(tilt), -Math.sin(tilt)]);
  const outward = norm(cross(back, upward));
  EARR.forEach((ring, ri) => {
    const r: number[] = [];
    for (let k = 0; k < n; k++) {
      const a = (k * 360) / n;
      const q = rho(a) * ring.f(a);
      let p = add(c, add(mul(back, q * Math.cos(a * D2R)), mul(upward, q * Math.sin(a * D2R))));
      const head = trace([0, p[1], Math.min(p[2], 8)], [75, p[1], p[2]], 1.4, 0.3);
      if (ring.head) p = head;
      else {
        const far = (a + 180) % 360 > 180 ? Math.min(Math.abs(a - 182), 90) : Math.abs(a - 182);
        const onHead = ri >= 1 && ri <= 3 ? gauss(far, 46) : 0;
        p = add(p, mul(outward, ring.h?.(a) ?? 0));
        const near = add(head, [ri === 3 ? 0.5 : 0.2, 0, 0]);
        p = mix(p, near, Math.min(1, onHead * (ri === 1 ? 1.3 : 1)));
        const off = LEAST_OFFSET[ri];
        if (off !== undefined && (ri < 6 || (a > 30 && a < 128))) p[0] = -smin(-p[0], -(head[0] + off), 2.2);
      }
      r.push(addVertex(h, p, ring.head ? RG.skin : RG.ear, true, tagOf('ear', { k, ring: ri })));
    }
    if (ring.head) {
      const half = r.map((v, k) => {
        const q = mix(P[per[k]], P[v], lerp(0.6, 0.9, smooth(100, 125, (k * 360) / n)));
        return addVertex(h, trace([0, q[1], Math.min(q[2], 8)], [75, q[1], q[2]], 1.4, 0.3), RG.skin, true);
      });
      stitch(h, per, half);
      stitch(h, half, r);
      h.earHalf = half;
    } else stitch(h, earRings[earRings.length - 1], r);
    earRings.push(r);
  });
  const last = earRings[earRings.length - 1];
  const mean = mul(
    last.reduce<Vec3>((s, v) => add(s, P[v]), [0, 0, 0]),
    1 / n,
  );
  h.earCenter = addVertex(h, add(mean, mul(outward, -0.4)), RG.ear, true, tagOf('ear', { ring: 99 }));
  fan(h, last, h.earCenter);
}
