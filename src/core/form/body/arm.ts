/** The arm, the palm and five fingers of the left, in a frame along the arm: X from the shoulder joint, Y up (back of the hand), Z forward. */
import type { FingerName } from '../../words/humanoid';
import { cone, ell, smin } from '../shapes';
import { add, clamp, D2R, mul, smooth, type Vec3 } from '../vec';
import { ellR, endCap, sect } from './sections';
import { table } from './table';

/** Where the arm begins: the shoulder joint of the base form. */
export const SH: Vec3 = [186, 1401, -38];
/** Rest pose: arms 44° below the horizontal; it halves what linear skinning distorts on both sides. */
export const ARM_A = 44 * D2R;
export const AX: Vec3 = [Math.cos(ARM_A), -Math.sin(ARM_A), 0];
export const AY: Vec3 = [Math.sin(ARM_A), Math.cos(ARM_A), 0];
/** Elbow and wrist along X. */
export const EL = 288;
export const WR = 536;
// biome-ignore format: a table
export const ARM = table([ // X | y top, y bottom, z front, z back, exponent
  [-30,34,-46,34,-36,2],[0,43,-54,44,-44,2],[30,49,-56,48,-46,2.05],[60,49,-51,47.5,-46,2.05],[95,45,-45,46.5,-46,2.05],[130,40.5,-41,46,-46.5,2.05],[165,37.5,-38.5,45,-45,2.05],[200,35.5,-37,42,-42.5,2.05],
  [235,35.5,-36.5,38,-39,2.1],[262,37,-37,35,-37,2.15],[288,38.5,-37.5,34.5,-37.5,2.2],[312,39.5,-37.5,37,-36,2.15],[338,39.5,-37,39,-34.5,2.1],[370,37,-35,37.5,-33,2.1],[410,33,-31,34,-30.5,2.1],
  [450,28.5,-27,30.5,-28,2.1],[490,24,-22.5,28.5,-26.5,2.15],[518,21,-19.5,28,-26.5,2.2],[536,19.5,-18.5,28.5,-27,2.25],[560,18,-18,30,-29,2.4]]);
// hand frame: origin at the wrist
// biome-ignore format: a table
export const PALM = table([
  [-24,20.5,-19.5,28,-26.5,2.2],[0,18.5,-18,28.5,-27.5,2.3],[20,16.5,-18,31,-31,2.5],[42,15,-17.5,34.5,-36,2.6],[66,14,-16,38,-39,2.6],[82,12.6,-14.5,39.5,-39,2.6],[92,11,-13,38.5,-37.5,2.6],[99,8.5,-11,36.5,-35,2.6]]);
/** The back of the hand is arched. */
export const arch = (z: number) => -0.0035 * z * z;
const fdir = (yaw: number, pitch: number): Vec3 => [
  Math.cos(yaw * D2R) * Math.cos(pitch * D2R),
  Math.sin(pitch * D2R),
  Math.sin(yaw * D2R) * Math.cos(pitch * D2R),
];
/** Base joint, yaw and pitch of each phalanx (°), its length, radii at the joints and the tip. */
type FingerRow = { name: FingerName; base: Vec3; yaw: number[]; pitch: number[]; L: [number, number, number]; r: number[] };
/** A finger: `J` its joints and tip, `D` the directions of its phalanges. */
export type Finger = FingerRow & { J: Vec3[]; D: Vec3[] };
// biome-ignore format: a table
const ROWS: FingerRow[] = [
  {name:'Thumb', base:[20,-8,21], yaw:[47,38,30], pitch:[-17,-14,-16], L:[45,32,27], r:[14.5,11.4,9.9,7.9]},
  {name:'Index', base:[88,-1,29.5], yaw:[7,5.5,4.5], pitch:[-5,-11,-15], L:[43,26,22.5], r:[10.2,9.0,8.0,6.4]},
  {name:'Middle',base:[89,1.5,9.5], yaw:[2,1.5,1.5], pitch:[-6,-12,-16], L:[46,30,24], r:[10.4,9.1,8.1,6.5]},
  {name:'Ring',  base:[85,.5,-10.5], yaw:[-4.5,-4,-3.5], pitch:[-8,-14,-17], L:[43,28,23.5], r:[10,8.7,7.7,6.2]},
  {name:'Little',base:[78,-2.5,-28.5], yaw:[-12,-10.5,-9], pitch:[-9,-14,-17], L:[35,21,20], r:[9,7.7,6.8,5.6]},
];
export const FINGERS: readonly Finger[] = ROWS.map((row) => {
  const D = [0, 1, 2].map((k) => fdir(row.yaw[k], row.pitch[k]));
  const J = [row.base];
  for (let k = 0; k < 3; k++) J.push(add(J[k], mul(D[k], k < 2 ? row.L[k] : row.L[k] - row.r[3])));
  return { ...row, J, D };
});
function fingerSdf(f: Finger, x: number, y: number, z: number) {
  let d = 1e9;
  for (let k = 0; k < 3; k++) {
    const a = f.J[k],
      b = f.J[k + 1],
      q = cone(x, y, z, a[0], a[1], a[2], f.r[k], b[0], b[1], b[2], f.r[k + 1]);
    d = k ? smin(d, q, 4) : q;
  }
  return d;
}
// biome-ignore format: a table
function handSdf(x: number, y: number, z: number){
  const Y=y-arch(z);
  const X=clamp(x,PALM.lo,PALM.hi);
  let d=sect(Y,z,PALM(X,0),-PALM(X,1),PALM(X,2),-PALM(X,3),PALM(X,4));
  d=endCap(d,x-PALM.hi);d=endCap(d,PALM.lo-x);
  d=smin(d,ellR(x,y,z, 40,-13,19, 27,10.5,13.5, 0,0),12);      // ball of the thumb
  d=smin(d,ell(x,y,z, 42,-13,-23, 30,9,12),12);                // heel of the hand
  d=smin(d,ell(x,y,z, 88,-9,2, 12,7,28),10);                   // pads under the fingers
  let g=1e9;
  for(let i=1;i<5;i++)g=Math.min(g,fingerSdf(FINGERS[i],x,y,z));
  d=smin(d,g,7);
  for(let i=1;i<5;i++){const k=FINGERS[i].base;d-=1.3*Math.exp(-((x-k[0])**2/90+(z-k[2])**2/46))*smooth(0,6,y)} // knuckles
  const t=fingerSdf(FINGERS[0],x,y,z);
  d=smin(d,t,15);
  return d}
/** A place of the base form in the frame of the arm, and back; of the hand: its origin is the wrist. */
export const toArm = (x: number, y: number, z: number): Vec3 => {
  const a = x - SH[0],
    b = y - SH[1];
  return [a * AX[0] + b * AX[1], a * AY[0] + b * AY[1], z - SH[2]];
};
export const fromArm = (X: number, Y: number, Z: number): Vec3 => [SH[0] + X * AX[0] + Y * AY[0], SH[1] + X * AX[1] + Y * AY[1], SH[2] + Z];
export const fromHand = (p: Vec3) => fromArm(p[0] + WR, p[1], p[2]);
// biome-ignore format: a table
export function armSdf(X: number, Y: number, Z: number){
  const x=clamp(X,ARM.lo,ARM.hi);
  let d=sect(Y,Z,ARM(x,0),-ARM(x,1),ARM(x,2),-ARM(x,3),ARM(x,4));
  d=endCap(d,X-ARM.hi);d=endCap(d,ARM.lo-X);
  d=smin(d,ell(X,Y,Z, 46,10,1, 70,47,46),26);                      // deltoid
  d=smin(d,ell(X,Y,Z, 172,-2,16, 72,27,31),26);                   // biceps
  d=smin(d,ell(X,Y,Z, 140,-6,-22, 84,30,26),26);                  // triceps
  d=smin(d,ell(X,Y,Z, 288,-2,-29, 16,11,10),16);                  // point of the elbow
  d=smin(d,ell(X,Y,Z, 340,8,12, 62,30,27),26);                    // forearm
  d=smin(d,ell(X,Y,Z, 528,12,-17, 12,9,9),12);                    // ulna head
  if(X>WR-60)d=smin(d,handSdf(X-WR,Y,Z),14);
  return d}
// biome-ignore format: a table
