/**
 * The body as an implicit surface: lofted torso, leg and arm, muscles as soft ellipsoids and cones, small bumps; the head form's own neck.
 * Negative inside; floor y = 0, +Y up, +Z forward, +X the wearer's left, millimetres; even in x.
 */
import { cone, ell, smax, smin } from '../shapes';
import { add, clamp, D2R, dot, len, lerp, mul, smooth, sub, type Vec3 } from '../vec';
import { armSdf, toArm } from './arm';
import { ellR, endCap, sect } from './sections';
import { table } from './table';

/** Stature of the base form, and the height of the head form's origin in it. */
export const S0 = 1740;
export const HY = 1614.5;
// biome-ignore format: a table
const TORSO = table([
  [812, 84,32,-80,2.1],[840,112,42,-104,2.15],[868,138,52,-124,2.2],[900,152,59,-133,2.25],[935,156.5,64,-127,2.3],[970,154,67,-116,2.35],[1005,147,68,-106,2.35],[1040,138,67,-99,2.35],
  [1075,131.5,65.5,-96,2.35],[1105,129,65,-97,2.35],[1135,131,66,-101,2.35],[1170,137,68,-109,2.4],[1205,145,71.5,-118,2.4],[1240,152.5,75,-126,2.4],[1275,158,77.5,-131,2.4],[1310,160,75,-132,2.35],
  [1345,155,66,-128,2.3],[1380,145,53,-121,2.2],[1410,126,38,-111,2.1],[1440,94,22,-99,2.0],[1466,62,10,-90,2.0]]);
// leg: y | x inner, x outer, z front, z back, exponent
// biome-ignore format: a table
export const LEG = table([
  [40,76,126,0,-58,2],[70,74,127.5,3,-64,2],[95,73.5,127,3,-66,2],[120,75,125,1,-66,2],[150,75,126,3,-67,2],[190,71.5,130,7,-71,2.05],[235,65,137,12,-79,2.1],[280,57,144,16,-87,2.15],
  [320,51,149,19,-93,2.15],[355,47.5,151.5,21,-95,2.15],[395,47.5,150,23,-91,2.15],[430,50,146.5,26,-82,2.15],[460,50.5,144.5,30,-73,2.2],[490,49.5,145.5,34,-69,2.25],[520,47.5,146.5,36,-71,2.2],
  [555,44,148.5,40,-78,2.15],[600,38,152.5,46,-87,2.1],[650,30,158,52,-97,2.1],[700,22,163,57,-107,2.1],[745,15,166.5,59,-116,2.1],[785,9,168.5,58,-124,2.1],[825,6,168,54,-131,2.1],[865,10,162,46,-130,2.1],[900,22,150,36,-118,2.1],[940,40,140,20,-98,2.1]]);
const FOOT_DIR = 7 * D2R; // toe-out
export const FC = Math.cos(FOOT_DIR);
export const FS = Math.sin(FOOT_DIR);
/** Origin of the foot's frame, under the ankle: x, z. */
export const FO = [100, -32] as const;
// biome-ignore format: a table
function footSdf(x: number, y: number, z: number){ // foot frame: u outwards, w forwards from the ankle
  const a=x-FO[0],b=z-FO[1],u=a*FC-b*FS,w=a*FS+b*FC;
  let d=ell(u,y,w, 0,31,-26, 31,40,37);                              // heel
  d=smin(d,cone(u,y,w, -1,78,-4,31, -2,36,78,25),26);                // instep
  d=smin(d,ell(u,y,w, -3,22,74, 40,29,88),22);                       // body of the foot
  d=smin(d,ell(u,y,w, 0,16,116, 46,23,46),18);                       // ball
  d=smin(d,ell(u,y,w, -23,12.5,162, 20,14.5,45),14);                     // great toe
  d=smin(d,ell(u,y,w, 6,11,156, 33,12,40),14);                        // toes
  d=smin(d,ell(u,y,w, 26,10,132, 20,11.5,35),14);
  d=smin(d,ell(u,y,w, 16,24,16, 26,24,60),20);                       // outer edge
  d=smax(d,-ell(u,y,w, -46,2,36, 24,17,40),16);                        // arch
  d=smin(d,ell(u,y,w, -26,86,2, 9,13,14),14);                        // ankle bones
  d=smin(d,ell(u,y,w, 26,76,-8, 9,13,13),14);
  return smax(d,-y,9)}
// biome-ignore format: a table
const BUMPS=[ // x,y,z, sx,sy,sz, height
  [0,1290,78, 12,70,30, -5],[0,1215,74, 14,60,30,-2.5],            // breastbone
  [0,1120,66, 11,90,26, -2.6],[0,1078,66, 11,13,22,-4.2],          // midline of the belly, navel
  [34,1206,74, 20,18,34, 2.4],[62,1176,70, 24,20,40, 3.4],[94,1148,56, 24,20,40, 2.8], // rib edge
  [0,1184,72, 24,26,30,-2.6],[70,1108,58, 18,66,32,-3.2],          // below it, side of the belly wall
  [44,1430,26, 24,9,26, 3.6],[90,1436,16, 26,9,28, 3.8],[136,1440,-6, 26,9,30, 3.2],   // collar bone
  [62,1456,10, 28,12,26,-4],[84,1408,40, 36,14,30,-2],[0,1424,34, 10,13,22,-3.4],    // above it, below it, between
  [142,1376,26, 12,34,30,-3.6],                                    // between shoulder and breast
  [84,1270,66, 48,11,34,-3.2],                                     // lower edge of the breast muscle
  [98,1398,-104, 44,11,34, 3],[48,1322,-130, 11,66,34,-3],[80,1248,-128, 26,20,34, 2.6], // shoulder blade: spine, inner edge, angle
  [0,1240,-134, 20,140,40, -5.5],[0,1075,-98, 19,75,40,-4.5],        // furrow of the spine
  [34,1080,-98, 22,90,30, 3.2],                                    // muscles beside it
  [0,872,-148, 11,44,46, -16],[0,948,-128, 16,36,40,-3],           // cleft
  [36,968,-118, 10,12,20,-1.4],                                    // dimples
  [116,966,44, 26,18,34, 3.2],[140,1000,6, 20,16,40, 1.8],                                     // front of the hip bone
  [62,868,52, 40,22,30,-1.8],                                      // groin
  [98,497,38, 22,24,18, 4],[98,462,33, 10,16,14, 1.8],             // knee cap
  [74,515,30, 11,24,16,-1.4],[124,515,30, 10,24,16,-1.4],
  [98,488,-74, 20,34,20,-4],                                       // back of the knee
  [152,885,-92, 26,40,34,-4],                                      // hollow behind the great trochanter
  [84,800,-118, 44,12,34,-3.4],                                    // fold below the seat
  [86,330,26, 10,110,22, 2.4],[108,300,16, 12,120,24,-1.8],        // edge of the shin, beside it
];
/** Row of the head template that becomes the neck ring. */
export const CUTROW = 44;
// biome-ignore format: a table
function torsoSdf(x: number, y: number, z: number){
  const Y=clamp(y,TORSO.lo,TORSO.hi),zf=TORSO(Y,1),zb=TORSO(Y,2),cz=(zf+zb)/2,w=TORSO(Y,0);
  let d=sect(x,z-cz,w,w,zf-cz,cz-zb,TORSO(Y,3));
  d=endCap(d,y-TORSO.hi);d=endCap(d,(TORSO.lo-y));
  if(y>1060){
    d=smin(d,ellR(x,y,z, 80,1318,36, 78,56,36, .12,.16),44);           // breast muscle
    d=smin(d,ellR(x,y,z, 92,1338,-90, 64,88,38, -.12,-.14),48);          // shoulder blade
    d=smin(d,ellR(x,y,z, 120,1272,-70, 33,112,44, 0,-.13),60);           // broad muscle of the back
  }
  if(y<1040){
    d=smin(d,ellR(x,y,z, 76,886,-82, 78,86,66, 0,.1),56);              // seat
    d=smin(d,ell(x,y,z, 0,862,26, 44,34,24),26);
  }
  return d}
// biome-ignore format: a table
function neckSdf(x: number, y0: number, z: number){const y=y0-HY; // the head form's own neck and jaw terms, and longer shoulders
  let d=ell(x,y,z, 0,-20,32, 54.5,70,59);
  d=smin(d,ell(x,y,z, 0,-83,76, 18.5,14.5,19),18);
  d=smin(d,cone(x,y,z, 13,-81,68,13, 36,-56,18,11.5),18);
  d=smin(d,ell(x,y,z, 0,-59,36, 40,31,45),20);
  d=smin(d,cone(x,y,z, 0,-40,-17,47, 0,-175,-38,51),34);
  d=smin(d,cone(x,y,z, 50,-34,-22,8, 11,-188,10,7),18);
  d=smin(d,cone(x,y,z, 0,-72,17,23, 0,-186,-9,24),26);
  return d}
// biome-ignore format: a table
/** Distance to the surface, nearly; negative inside. */
export function sdf(X: number, y: number, z: number){const x=Math.abs(X),a=toArm(x,y,z);let d=1e9;
  if(a[0]>230&&x>270){const arm=armSdf(a[0],a[1],a[2]);if(arm<30)return arm} // nothing else is near enough to blend with
  if(y>760)d=torsoSdf(x,y,z);
  if(y>1320){
    const yy=y-HY;
    let n=neckSdf(x,y,z);
    n=smin(n,cone(x,yy,z, 16,-128,-50,32, 170,-193,-38,25),34);         // slope of the shoulder
    n=smin(n,cone(x,yy,z, 14,-192,13,4, 76,-184,12,4.5),22);           // collar bone
    n=smin(n,cone(x,yy,z, 76,-184,12,4.5, 180,-176,-24,7),26);
    d=smin(d,n,36);
  }
  if(y<980){
    const Y=clamp(y,LEG.lo,LEG.hi),xi=LEG(Y,0),xo=LEG(Y,1),zf=LEG(Y,2),zb=LEG(Y,3),cx=(xi+xo)/2,cz=(zf+zb)/2,w=(xo-xi)/2,h=(zf-zb)/2;
    let l=sect(x-cx,z-cz,w,w,h,h,LEG(Y,4));
    l=endCap(l,LEG.lo-y);l=endCap(l,y-LEG.hi);
    if(y<640&&y>160){l=smin(l,ellR(x,y,z, 116,368,-58, 27,84,30, .06,-.03),26);l=smin(l,ellR(x,y,z, 76,352,-58, 25,76,31, .06,.06),26)}  // calf
    if(y>470)l=smin(l,ellR(x,y,z, 70,568,12, 22,62,26, 0,.1),30);       // inner thigh above the knee
    if(y>480)l=smin(l,ellR(x,y,z, 118,690,6, 46,150,50, 0,-.04),30);    // front of the thigh
    if(y<190)l=smin(l,footSdf(x,y,z),24);
    d=smin(d,l,y>700?lerp(24,40,smooth(800,880,y)):24);
  }
  if(a[0]>-90&&x>60)d=smin(d,armSdf(a[0],a[1],a[2]),lerp(44,8,smooth(110,220,a[0])));
  for(const b of BUMPS){const p=(x-b[0])/b[3],e=(y-b[1])/b[4],f=(z-b[2])/b[5],q=p*p+e*e+f*f;if(q<9)d-=b[6]*Math.exp(-q)}
  return d}
export function grad(p: Vec3): Vec3 {
  const e = 0.4,
    [x, y, z] = p;
  return [
    (sdf(x + e, y, z) - sdf(x - e, y, z)) / (2 * e),
    (sdf(x, y + e, z) - sdf(x, y - e, z)) / (2 * e),
    (sdf(x, y, z + e) - sdf(x, y, z - e)) / (2 * e),
  ];
}
/** Steps towards the surface along the gradient; `flat` keeps the height. */
export function toSurface(p: Vec3, it = 3, flat = false, lim = 5): Vec3 {
  for (let k = 0; k < it; k++) {
    const d = sdf(p[0], p[1], p[2]);
    if (Math.abs(d) < 1e-3) break;
    const g = grad(p);
    if (flat) g[1] = 0;
    if (p[0] === 0) g[0] = 0;
    p = sub(p, mul(g, clamp(d / (dot(g, g) || 1), -lim, lim)));
  }
  return p;
}
/** First way out of the body from c (inside) towards t. */
export function trace(c: Vec3, t: Vec3, max = 3): Vec3 {
  const u = sub(t, c),
    l = len(u),
    f = (s: number) => sdf(c[0] + u[0] * s, c[1] + u[1] * s, c[2] + u[2] * s),
    step = Math.min(0.08, 2.5 / l);
  let a = 0.15;
  while (a < max && f(a) < 0) a += step;
  if (a >= max) return t;
  let lo = a - step,
    hi = a;
  for (let k = 0; k < 18; k++) {
    const m = (lo + hi) / 2;
    if (f(m) > 0) hi = m;
    else lo = m;
  }
  return add(c, mul(u, (lo + hi) / 2));
}
