/**
 * The implicit surface of the head and bust: smooth unions (polynomial minimum) of ellipsoids and round
 * cones, and a few gaussian bumps. Negative inside. Millimetres, head frame; even in x.
 */
import { EYE } from './eyeball';
import { cone, ell, length, smax, smin } from './shapes';
import { add, clamp, dot, mul, sub, type Vec3 } from './vec';

/** Ellipsoid turned by a about Y then b about Z (radians) */
function ellR(x: number, y: number, z: number, cx: number, cy: number, cz: number, rx: number, ry: number, rz: number, a: number, b = 0) {
  x -= cx;
  y -= cy;
  z -= cz;
  let c = Math.cos(a),
    s = Math.sin(a);
  const X = c * x - s * z,
    Z = s * x + c * z;
  c = Math.cos(b);
  s = Math.sin(b);
  return ell(c * X + s * y, -s * X + c * y, Z, 0, 0, 0, rx, ry, rz);
}
const sph = (x: number, y: number, z: number, cx: number, cy: number, cz: number, r: number) => length(x - cx, y - cy, z - cz) - r;
// gaussian bumps: [x,y,z, sx,sy,sz, height]  (height > 0 = outward); mirrored by |x|
// biome-ignore format: a table, one bump a line
const BUMPS=[
  [0,-36,100, 2.6,6,9, -1.3],[5,-36,99, 2.4,6,8, .7],          // philtrum and its ridges
  [0,-67,94, 16,5,14, -1.6],                                   // mentolabial fold
  [27,-30,84, 6,12,12, -1.2],[33,-46,78, 8,10,12, -.8],        // nasolabial hint, corner hollow
  [46,-30,60, 12,14,16, -.9],                                 // under the cheekbone
  [19.5,-20,88, 2.6,7,6, -1.4],[13.5,-12.5,98, 4.5,2.6,6, -1.0],[9,-27,106, 3,4,4, -.5],          // alar crease
  [0,22,95, 8,7,12, -.9],                                      // glabella
  [0,-186,20, 10,8,16, -2.2],                                  // jugular notch
  [20,-4,80, 6,7,10, -1.2],                                    // tear trough, inner cheek
];
/** Signed distance (soft, not exact) of a point to the sculpted surface, in mm. */
// biome-ignore format: one shape a line reads as the list it is
export function sdf(X: number,y: number,z: number){const x=Math.abs(X);let d: number;
  // cranium
  d=ell(x,y,z, 0,50,-14, 75,78,83);
  d=smin(d,ell(x,y,z, 0,54,20, 66,60,76),22);
  d=smin(d,ell(x,y,z, 0,32,-42, 66,52,54),22);
  // mid face, muzzle, chin
  d=smin(d,ell(x,y,z, 0,-20,32, 54.5,70,59),22);
  d=smin(d,ell(x,y,z, 0,-47,59, 35,28,37),18);
  d=smin(d,ell(x,y,z, 0,-83,76, 18.5,14.5,19),18);
  // jaw: body and ramus, cheek fill, floor of the mouth
  d=smin(d,cone(x,y,z, 13,-81,68,13, 36,-56,18,11.5),18);
  d=smin(d,cone(x,y,z, 35.5,-56,18,10.5, 46,-4,5,11.5),20);
  d=smin(d,ell(x,y,z, 30,-30,42, 26,40,33),22);
  d=smin(d,ell(x,y,z, 0,-59,36, 40,31,45),20);
  d=smin(d,ell(x,y,z, 0,4,-6, 60,54,50),18);                    // side of the head round the ear
  d=smin(d,ell(x,y,z, 0,29,21, 62.5,46,60),20);                   // temple
  d=smin(d,ell(x,y,z, 32.5,-24,31, 21.5,30,31),20);                 // masseter
  // neck
  d=smin(d,cone(x,y,z, 0,-40,-17,47, 0,-175,-38,51),34);
  d=smin(d,cone(x,y,z, 50,-34,-22,8, 11,-188,10,7),18);        // sternomastoid
  d=smin(d,cone(x,y,z, 0,-72,17,23, 0,-186,-9,24),26);         // throat
  // shoulders, chest
  d=smin(d,cone(x,y,z, 16,-128,-50,32, 128,-192,-32,24),34);
  d=smin(d,sph(x,y,z, 131,-204,-29,35),24);
  d=smin(d,ell(x,y,z, 0,-270,-24, 146,92,80),30);
  d=smin(d,cone(x,y,z, 14,-190,13,4, 74,-186,12,4),22);        // clavicle
  d=smin(d,cone(x,y,z, 74,-186,12,4, 128,-180,-12,5),26);
  d=smin(d,ell(x,y,z, 0,-232,2, 122,50,50),30);                // chest fill
  d=smin(d,ell(x,y,z, 58,-205,-66, 64,62,36),30);              // shoulder blade
  // cheekbone and arch
  d=smin(d,ellR(x,y,z, 42,-9,55, 17,14.5,16, .5,0),20);
  d=smin(d,cone(x,y,z, 48,-6,46,9, 56,0,8,8),20);
  // eye socket, brow, eyelid shell
  d=smax(d,-ellR(x,y,z, 33,17.5,96, 18.2,17,17.8, .38,0),17);
  d=smin(d,cone(x,y,z, 3,43,84.2,4.3, 32,45.2,78.2,4.2),22);
  d=smin(d,cone(x,y,z, 32,45.2,78.2,4.2, 49,36.5,59,4),18);
  d=smin(d,cone(x,y,z, 47.5,33,59,4.5, 46,2,59,5),12);           // outer orbital rim
  d=smin(d,sph(x,y,z, EYE.c[0],EYE.c[1],EYE.c[2],EYE.lid),8);
  // nose
  d=smin(d,cone(x,y,z, 0,24,85.5,6.6, 0,-14,103,6.2),12);
  d=smin(d,cone(x,y,z, 6,14,77,7, 9.5,-18,89,7.5),12);
  let n=sph(x,y,z, 0,-18,106.6,8.6);
  n=smin(n,ellR(x,y,z, 12.6,-21.8,95.2, 4.9,6.7,8.6, -.34,0),3.6);
  n=smin(n,cone(x,y,z, 0,-26,97,4, 0,-24,106.5,3.6),5);
  d=smin(d,n,4);
  for(const b of BUMPS){const a=(x-b[0])/b[3],e=(y-b[1])/b[4],f=(z-b[2])/b[5],q=a*a+e*e+f*f;if(q<9)d-=b[6]*Math.exp(-q)}
  return d}
export function grad(p: Vec3): Vec3 {
  const e = 0.35,
    [x, y, z] = p;
  return [
    (sdf(x + e, y, z) - sdf(x - e, y, z)) / (2 * e),
    (sdf(x, y + e, z) - sdf(x, y - e, z)) / (2 * e),
    (sdf(x, y, z + e) - sdf(x, y, z - e)) / (2 * e),
  ];
}
/** Moves a point onto the surface along the gradient, in at most `it` Newton steps. */
export function toSurface(p: Vec3, it = 3): Vec3 {
  for (let k = 0; k < it; k++) {
    const d = sdf(...p);
    if (Math.abs(d) < 1e-3) break;
    const g = grad(p),
      m = dot(g, g) || 1;
    p = sub(p, mul(g, clamp(d / m, -4, 4)));
  }
  return p;
}
/** Outermost surface point on the ray c -> t */
export function trace(c: Vec3, t: Vec3, hi = 1.6, lo = 0.25): Vec3 {
  const u = sub(t, c),
    f = (s: number) => sdf(c[0] + u[0] * s, c[1] + u[1] * s, c[2] + u[2] * s);
  while (f(hi) < 0 && hi < 3) hi += 0.1;
  const step = 0.04;
  let a = hi,
    b = hi;
  while (b > lo && f(b) > 0) {
    a = b;
    b -= step;
  }
  if (b <= lo) return t;
  for (let k = 0; k < 22; k++) {
    const m = (a + b) / 2;
    if (f(m) > 0) a = m;
    else b = m;
  }
  return add(c, mul(u, (a + b) / 2));
}
