/**
 * Motion of the body by formulas: walk, turn, idle. Feet follow planned paths; hip and knee angles come from two-bone geometry, so that a
 * foot that stands does not slip. Metres, seconds, degrees.
 */
import { Quaternion, Vector3 } from 'three';
import type { MotionName } from '../../words/humanoid';
import { clamp, D2R, lerp, sat, smooth, type Vec3 } from '../vec';
import type { ShapedBody } from './body';
import { about, type BodyPose, curl, mirrored, turned } from './pose';

type Side = 'left' | 'right';
const SIDES: readonly Side[] = ['left', 'right'];
type Turns = Record<string, Quaternion>;

const cap = (s: Side, name: string) => `${s}${name}`;

/** What motion asks of a body: where its joints and heels are at rest. Metres, floor y = 0, hips at x = z = 0, +Z forward, +X its left. */
export interface Stander {
  joint(bone: string): Vector3;
  heel(side: Side): Vec3;
}
export const standerOf = (b: ShapedBody): Stander => ({
  joint: (bone) => b.skeleton.rest[bone].place,
  heel: (side) => b.landmarks[side === 'left' ? 'pternionL' : 'pternionR'].position,
});
const at = (b: Stander, joint: string) => b.joint(joint);
/** What the left does, for the side asked. */
const onSide = (s: Side, q: Quaternion) => (s === 'left' ? q : mirrored(q));
/** A slow swing; of a loop of `period` seconds it makes whole turns, one at least. */
const swing = (hz: number, t: number, period: number, phase = 0) =>
  Math.sin((2 * Math.PI * Math.max(1, Math.round(hz * period)) * t) / period + phase);
const after = (...q: Quaternion[]) => q.reduce((a, b) => a.multiply(b), new Quaternion());

/** Bends a leg so that its ankle reaches `ankle`, with the foot pitched in the world (+ toes down). */
function reach(
  b: Stander,
  s: Side,
  hips: Vector3,
  hipsTurn: Quaternion,
  ankle: Vector3,
  pitchDeg: number,
  toesDeg: number,
  out: Turns,
): void {
  const [U, K, F] = ['UpperLeg', 'LowerLeg', 'Foot'].map((n) => at(b, cap(s, n)));
  const hip = U.clone().sub(at(b, 'hips')).applyQuaternion(hipsTurn).add(hips);
  const thigh = K.clone().sub(U);
  const shank = F.clone().sub(K);
  const [l1, l2] = [thigh.length(), shank.length()];
  const to = ankle.clone().sub(hip).applyQuaternion(hipsTurn.clone().invert());
  const long = Math.min(to.length(), (l1 + l2) * 0.9995);
  // the knee from the triangle, then closed exactly: at rest it is neither straight nor quite in one plane
  const inner = (l: number) => Math.acos(clamp((l1 * l1 + l2 * l2 - l * l) / (2 * l1 * l2), -1, 1));
  const bentBy = (rad: number) =>
    shank
      .clone()
      .applyQuaternion(about('x', rad / D2R))
      .add(thigh);
  let flex = inner(F.distanceTo(U)) - inner(long);
  for (let k = 0; k < 6; k++) {
    const e = bentBy(flex).length() - long;
    const slope = (bentBy(flex + 1e-4).length() - bentBy(flex - 1e-4).length()) / 2e-4;
    if (Math.abs(e) < 1e-9 || Math.abs(slope) < 1e-4) break;
    flex -= clamp(e / slope, -0.15, 0.15);
  }
  const knee = about('x', flex / D2R);
  const bent = bentBy(flex);
  // the thigh turns forwards, then the little that is left sideways
  const forward = about('x', -(Math.atan2(to.z, -to.y) - Math.atan2(bent.z, -bent.y)) / D2R);
  const aside = new Quaternion().setFromUnitVectors(bent.applyQuaternion(forward).normalize(), to.clone().normalize());
  const hipTurn = aside.multiply(forward);
  out[cap(s, 'UpperLeg')] = hipTurn;
  out[cap(s, 'LowerLeg')] = knee;
  out[cap(s, 'Foot')] = after(hipsTurn, hipTurn, knee).invert().multiply(about('x', pitchDeg));
  out[cap(s, 'Toes')] = about('x', toesDeg);
}

/** Where the ankle is when the foot is pitched about its heel (toes up) or its ball (heel up) and rests on the floor. */
function planted(
  b: Stander,
  s: Side,
  z: number,
  lift: number,
  pitchDeg: number,
  x: number,
  toeBend: number,
): { ankle: Vector3; toes: number } {
  const foot = at(b, cap(s, 'Foot'));
  const heel = b.heel(s);
  const pivot = pitchDeg > 0 ? at(b, cap(s, 'Toes')) : new Vector3(heel[0], 0.024, heel[2] + 0.026);
  const arm = foot.clone().sub(pivot).applyQuaternion(about('x', pitchDeg));
  return {
    ankle: new Vector3(x, pivot.y + arm.y + lift, z + pivot.z - foot.z + arm.z),
    toes: pitchDeg > 0 ? -pitchDeg * toeBend : 0,
  };
}
const standing = (b: Stander, s: Side) => planted(b, s, at(b, cap(s, 'Foot')).z, 0, 0, at(b, cap(s, 'Foot')).x, 1).ankle;

/** Seconds of one stride and metres of it at a speed, for a leg of this length. */
export function stride(b: Stander, speed = 1.3): { seconds: number; metres: number } {
  const leg = at(b, 'leftUpperLeg').y;
  const v = Math.max(0.2, speed);
  const step = clamp(0.385 * leg * (v / 0.9 / leg) ** 0.55 + 0.19 * leg, 0.2, 0.85 * leg);
  return { seconds: (2 * step) / v, metres: 2 * step };
}

/** Walking on the spot at `t` seconds; moving the body forwards by speed × t plants the feet. */
export function walk(b: Stander, t: number, speed = 1.3): BodyPose {
  const v = Math.max(0.2, speed);
  const { seconds } = stride(b, speed);
  const phase = (((t / seconds) % 1) + 1) % 1;
  const duty = clamp(0.66 - 0.045 * v, 0.54, 0.7);
  // the planted foot runs back at exactly the walking speed, and leaves further behind the hip than it lands before it
  const half = (v * seconds * duty) / 2;
  const back = 0.16 * half;
  const amp = clamp(v / 1.3, 0.3, 1.35);
  const w = 2 * Math.PI * phase;
  const yaw = 4.5 * amp * Math.cos(w);
  const list = 3.2 * amp * Math.sin(w);
  const pelvis = after(about('y', -yaw), about('z', list * 0.8), about('x', 1.5 * amp));
  const hipsAt = at(b, 'hips');
  const footOf = (s: Side) => {
    const p = (phase + (s === 'left' ? 0 : 0.5)) % 1;
    let z: number;
    let lift = 0;
    let pitch: number;
    let bend = 1;
    if (p < duty) {
      const u = p / duty;
      z = half * (1 - 2 * u) - back;
      pitch = -18 * amp * (1 - sat(u / 0.2)) ** 1.5 + 44 * Math.min(1, amp) * sat((u - 0.58) / 0.42) ** 1.6;
    } else {
      const u = (p - duty) / (1 - duty);
      // starts and ends moving with the ground
      const e = u - Math.sin(2 * Math.PI * u) / (2 * Math.PI);
      z = -half - back + 2 * half * (e + (-(1 - duty) / duty) * (u - e) * 0.55);
      lift = (0.03 + 0.02 * amp) * Math.sin(Math.PI * u) ** 2;
      bend = 1 - smooth(0, 0.4, u);
      pitch = lerp(44 * Math.min(1, amp), -18 * amp, smooth(0, 0.82, u)) + 6 * Math.sin(Math.PI * u);
    }
    const x = (s === 'left' ? 1 : -1) * lerp(Math.abs(at(b, 'leftFoot').x), 0.055, 0.62);
    return { ...planted(b, s, z, lift, pitch, x, bend), pitch };
  };
  const feet = { left: footOf('left'), right: footOf('right') };
  const x = 0.017 * Math.sin(w);
  // as high as both legs allow, with a soft knee
  let y = hipsAt.y + 0.004;
  for (const s of SIDES) {
    const U = at(b, cap(s, 'UpperLeg'));
    const K = at(b, cap(s, 'LowerLeg'));
    const F = at(b, cap(s, 'Foot'));
    const off = U.clone().sub(hipsAt).applyQuaternion(pelvis);
    const full = (U.distanceTo(K) + K.distanceTo(F)) * 0.9965;
    const dx = feet[s].ankle.x - x - off.x;
    const dz = feet[s].ankle.z - hipsAt.z - off.z;
    y = Math.min(y, feet[s].ankle.y + Math.sqrt(full * full - dx * dx - dz * dz) - off.y);
  }
  y = Math.min(y, hipsAt.y - 0.006) - 0.003;
  const hips = new Vector3(x, y, hipsAt.z);
  const q: Turns = { hips: pelvis };
  for (const s of SIDES) reach(b, s, hips, pelvis, feet[s].ankle, feet[s].pitch, feet[s].toes, q);
  // the trunk turns against the pelvis, arms swing against the legs
  const twist = yaw * 1.7;
  q.spine = after(about('y', twist * 0.4), about('z', -list * 0.5), about('x', 1.2));
  q.chest = after(about('y', twist * 0.4), about('z', -list * 0.35));
  q.upperChest = about('y', twist * 0.3);
  q.neck = about('y', -twist * 0.1 - (twist - yaw) * 0.4);
  q.head = about('y', -(twist - yaw) * 0.5);
  for (const s of SIDES) {
    const o = s === 'left' ? 0 : Math.PI;
    const swing = -24 * amp * Math.cos(w + o + 0.15) - 3;
    const elbow = 16 + 13 * amp * (0.5 - 0.5 * Math.cos(w + o - 0.1));
    q[cap(s, 'Shoulder')] = onSide(s, after(about('y', -0.1 * swing), about('z', -4)));
    q[cap(s, 'UpperArm')] = after(
      about('x', -swing),
      onSide(
        s,
        turned([
          ['x', -6],
          ['z', -75],
        ]),
      ),
    );
    q[cap(s, 'LowerArm')] = onSide(s, about('y', -elbow));
    q[cap(s, 'Hand')] = onSide(s, about('z', -3));
    relaxFingers(q, s, curl(14, 20, 12, [6, 8, 8]));
  }
  return { joints: q, root: { position: [hips.x, hips.y - hipsAt.y, 0], yawDeg: 0 } };
}

function relaxFingers(q: Turns, s: Side, fingers: ReturnType<typeof curl>): void {
  for (const [n, turns] of Object.entries(fingers)) q[n.replace('left', s)] = onSide(s, turned(turns));
}

/** Breath and hanging arms; `k` says how much of the rest. */
function stand(t: number, period: number, k = 1): Turns {
  const wave = (hz: number, at: number, phase = 0) => swing(hz, at, period, phase);
  const breath = wave(0.24, t);
  const q: Turns = {
    spine: after(about('x', 0.5 * breath), about('z', -0.9 * k * wave(0.09, t))),
    chest: after(about('x', -0.9 * breath), about('y', 0.8 * k * wave(0.07, t, 1))),
    upperChest: about('x', -0.6 * breath),
    neck: after(about('x', 0.5 * breath), about('y', 1.6 * k * wave(0.06, t, 2))),
    head: after(about('x', 0.8 * wave(0.11, t, 0.6)), about('z', -0.4 * k * wave(0.09, t))),
  };
  for (const s of SIDES) {
    const o = s === 'left' ? 0 : 0.7;
    q[cap(s, 'Shoulder')] = onSide(s, about('z', -4 + 0.8 * breath));
    q[cap(s, 'UpperArm')] = after(
      about('x', -1.2 * wave(0.12, t, o)),
      onSide(
        s,
        turned([
          ['x', -8],
          ['z', -73 + 0.5 * breath],
          ['x', 3],
        ]),
      ),
    );
    q[cap(s, 'LowerArm')] = onSide(s, about('y', -14 - 1.5 * wave(0.12, t, o + 0.4)));
    relaxFingers(q, s, curl(10, 14, 8, [6, 8, 6]));
  }
  return q;
}

/** Seconds after which idling begins again. */
const IDLE_S = 16;

/** Standing: breath, and the weight going from foot to foot; both feet stay planted. */
export function idle(b: Stander, t: number, period = IDLE_S): BodyPose {
  const wave = (hz: number, x: number) => swing(hz, x, period);
  const hipsAt = at(b, 'hips');
  const q = stand(t, period);
  const sway = wave(0.09, t);
  const hips = new Vector3(0.016 * sway, hipsAt.y - 0.006 - 0.003 * sway * sway, hipsAt.z + 0.004 * wave(0.13, t));
  q.hips = about('z', 1.4 * sway);
  for (const s of SIDES) reach(b, s, hips, q.hips, standing(b, s), 0, 0, q);
  return { joints: q, root: { position: [hips.x, hips.y - hipsAt.y, hips.z - hipsAt.z], yawDeg: 0 } };
}

/** Turning on the spot, degrees a second; feet lift in turn and come down under the hips. */
export function turnAbout(b: Stander, t: number, speedDeg = 60): BodyPose {
  const hipsAt = at(b, 'hips');
  const rate = Math.max(0.5, Math.abs(speedDeg) / 45); // beats of both feet a second
  const phase = t * rate;
  const per = speedDeg / rate;
  const q = stand(t, 360 / Math.abs(speedDeg || 1), 0.3);
  const yaw = speedDeg * t;
  const hips = new Vector3(-0.014 * Math.sin(2 * Math.PI * phase), hipsAt.y - 0.02 + 0.004 * Math.cos(4 * Math.PI * phase), hipsAt.z);
  q.hips = about('z', -1.5 * Math.sin(2 * Math.PI * phase));
  const centre = new Vector3(0, 0, hipsAt.z);
  for (const [s, o] of [
    ['left', 0],
    ['right', 0.5],
  ] as const) {
    const u = phase + o;
    const beat = Math.floor(u);
    const p = u - beat;
    // the first 40 % of its own beat the foot travels, then it stands
    const goal = (n: number) => (n + 0.4 - o) * per;
    const heading = p < 0.4 ? lerp(goal(beat - 1), goal(beat), smooth(0, 0.4, p)) : goal(beat);
    const rel = heading - yaw + per * 0.35;
    const turn = about('y', rel);
    const ankle = standing(b, s).sub(centre).applyQuaternion(turn).add(centre);
    if (p < 0.4) ankle.y += 0.035 * Math.sin((Math.PI * p) / 0.4) ** 2;
    reach(b, s, hips, q.hips, ankle, 0, 0, q);
    q[cap(s, 'Foot')] = after(q.hips, q[cap(s, 'UpperLeg')], q[cap(s, 'LowerLeg')]).invert().multiply(turn);
  }
  const lead = 6 * Math.sign(speedDeg);
  q.upperChest = after(q.upperChest, about('y', lead * 0.5));
  q.head = after(q.head, about('y', lead));
  const moved = new Vector3(hips.x, 0, 0).applyQuaternion(about('y', yaw));
  return { joints: q, root: { position: [moved.x, hips.y - hipsAt.y, moved.z], yawDeg: yaw } };
}

/** One hand is raised and waves; `side` is the one that does. A loop of 4 s. */
export function greet(b: Stander, t: number, side: Side = 'right'): BodyPose {
  const q = idle(b, t, GREET_S);
  const w = Math.sin((2 * Math.PI * 6 * t) / GREET_S);
  const turns: Turns = { ...(q.joints as Turns) };
  turns[cap(side, 'Shoulder')] = onSide(side, about('z', 10));
  turns[cap(side, 'UpperArm')] = onSide(
    side,
    turned([
      ['x', -20],
      ['z', 14],
      ['y', -18],
    ]),
  );
  turns[cap(side, 'LowerArm')] = onSide(side, after(about('z', 62 + 20 * w), about('x', -70)));
  turns[cap(side, 'Hand')] = onSide(side, about('z', 10 * Math.sin((2 * Math.PI * 6 * t) / GREET_S - 0.6)));
  relaxFingers(turns, side, curl(4, 4, 4));
  turns.head = after(about('z', side === 'right' ? -4 : 4), about('y', side === 'right' ? -6 : 6));
  return { ...q, joints: turns };
}
const GREET_S = 4;

/** A bow from the hips, down and up again. A loop of 6 s; feet stay. */
export function bow(b: Stander, t: number, deep = 1): BodyPose {
  const u = (((t / BOW_S) % 1) + 1) % 1;
  const e = deep * smooth(0, 0.35, u) * (1 - smooth(0.55, 0.95, u));
  const q = stand(t, BOW_S, 0.3);
  const hipsAt = at(b, 'hips');
  const hips = new Vector3(0, hipsAt.y - 0.008 - 0.012 * e, hipsAt.z - 0.13 * e);
  q.hips = about('x', 34 * e);
  for (const [bone, deg] of [
    ['spine', 12],
    ['chest', 10],
    ['upperChest', 8],
    ['neck', 6],
    ['head', 8],
  ] as const)
    q[bone] = about('x', deg * e);
  // arms hang, whatever the trunk does
  for (const s of SIDES) q[cap(s, 'UpperArm')] = after(about('x', -50 * e), q[cap(s, 'UpperArm')]);
  for (const s of SIDES) reach(b, s, hips, q.hips, standing(b, s), 0, 0, q);
  return { joints: q, root: { position: [hips.x - hipsAt.x, hips.y - hipsAt.y, hips.z - hipsAt.z], yawDeg: 0 } };
}
const BOW_S = 6;

/** Swaying to a slow tune, feet where they stand; `tempo` beats a minute, a loop of four beats. */
export function swayDance(b: Stander, t: number, tempo = 72): BodyPose {
  const period = danceSeconds(tempo);
  const w = (2 * Math.PI * t) / period;
  const q = stand(t, period, 0.4);
  const hipsAt = at(b, 'hips');
  const hips = new Vector3(0.05 * Math.sin(w), hipsAt.y - 0.03 - 0.012 * Math.cos(2 * w), hipsAt.z + 0.015 * Math.sin(2 * w));
  q.hips = after(about('y', 9 * Math.sin(w)), about('z', -4 * Math.sin(w)));
  q.spine = after(about('y', -6 * Math.sin(w)), about('z', 5 * Math.sin(w + 0.4)));
  q.chest = after(about('y', -7 * Math.sin(w)), about('z', 4 * Math.sin(w + 0.7)));
  q.neck = about('z', -3 * Math.sin(w + 0.7));
  q.head = after(about('x', 4 * Math.sin(2 * w + 0.5)), about('z', -3 * Math.sin(w + 1)));
  for (const s of SIDES) {
    const k = s === 'left' ? 1 : -1;
    q[cap(s, 'UpperArm')] = after(
      about('x', -14 * k * Math.sin(w) - 18),
      onSide(
        s,
        turned([
          ['x', -6],
          ['z', -66 + 8 * Math.sin(2 * w)],
        ]),
      ),
    );
    q[cap(s, 'LowerArm')] = onSide(s, about('y', -68 - 12 * k * Math.sin(w + 0.6)));
    relaxFingers(q, s, curl(18, 22, 14, [6, 8, 8]));
  }
  for (const s of SIDES) reach(b, s, hips, q.hips, standing(b, s), 0, 0, q);
  return { joints: q, root: { position: [hips.x - hipsAt.x, hips.y - hipsAt.y, hips.z - hipsAt.z], yawDeg: 0 } };
}
const danceSeconds = (tempo: number) => 240 / tempo;

export interface MotionDef {
  /** Seconds after which it begins again. */
  seconds: (b: Stander, speed: number) => number;
  at: (b: Stander, t: number, speed: number) => BodyPose;
  /** Metres a second that the ground runs back under it. */
  travels: (speed: number) => number;
}
const still = () => 0;
/** Motions of our own, each a loop without a seam. */
export const MOTIONS: Readonly<Record<MotionName, MotionDef>> = {
  idle: { seconds: () => IDLE_S, at: (b, t) => idle(b, t), travels: still },
  walk: { seconds: (b, speed) => stride(b, speed).seconds, at: walk, travels: (speed) => speed },
  turn: { seconds: (_, speed) => 360 / speed, at: turnAbout, travels: still },
  wave: { seconds: () => GREET_S, at: (b, t) => greet(b, t), travels: still },
  bow: { seconds: () => BOW_S, at: (b, t) => bow(b, t), travels: still },
  'sway-dance': { seconds: (_, tempo) => danceSeconds(tempo), at: swayDance, travels: still },
};
