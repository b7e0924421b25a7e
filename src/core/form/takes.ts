/** Poses and takes of a form: how the whole bust is turned, by name or over time. Angles in degrees. */

export interface HeadTurn {
  /** + towards the wearer's left. */
  yawDeg: number;
  /** + looks down. */
  pitchDeg: number;
  rollDeg: number;
}

export interface Pose extends HeadTurn {
  readonly id: string;
  readonly label: string;
}

const pose = (id: string, label: string, yawDeg: number, pitchDeg: number): Pose => ({ id, label, yawDeg, pitchDeg, rollDeg: 0 });

/** Key poses of the pose strip. */
export const POSES: readonly Pose[] = [
  pose('yaw-60', 'yaw −60°', -60, 0),
  pose('yaw-30', 'yaw −30°', -30, 0),
  pose('front', 'front', 0, 0),
  pose('yaw+30', 'yaw +30°', 30, 0),
  pose('yaw+60', 'yaw +60°', 60, 0),
  pose('pitch-20', 'pitch −20°', 0, -20),
  pose('pitch+20', 'pitch +20°', 0, 20),
];

/** A generated motion of a form; times in seconds. */
export interface Take {
  readonly id: string;
  readonly label: string;
  readonly seconds: number;
  /** Keys in order, the first at 0 and the last, equal to it, at `seconds`. */
  readonly keys: readonly (HeadTurn & { atS: number })[];
}

const key = (atS: number, yawDeg: number, pitchDeg: number, rollDeg = 0) => ({ atS, yawDeg, pitchDeg, rollDeg });

export const LOOK_ABOUT: Take = {
  id: 'look-about',
  label: 'Look about',
  seconds: 8.4,
  keys: [
    key(0, 0, 0),
    key(0.6, 0, 0),
    key(1.8, -60, 0, -4),
    key(2.4, -60, 0, -4),
    key(4.2, 60, 0, 4),
    key(4.8, 60, 0, 4),
    key(5.8, 0, -20),
    key(7, 0, 20),
    key(7.8, 0, 0),
    key(8.4, 0, 0),
  ],
};
export const TAKES: readonly Take[] = [LOOK_ABOUT];

/** The head's turn at a time of the take, eased between keys; the take repeats. */
export function turnAt(take: Take, timeS: number): HeadTurn {
  const t = timeS - Math.floor(timeS / take.seconds) * take.seconds;
  const next = take.keys.findIndex((k) => k.atS > t);
  if (next <= 0) return take.keys[next < 0 ? take.keys.length - 1 : 0];
  const a = take.keys[next - 1];
  const b = take.keys[next];
  const u = (t - a.atS) / (b.atS - a.atS);
  const e = u * u * (3 - 2 * u);
  const mix = (x: number, y: number) => x + (y - x) * e;
  return { yawDeg: mix(a.yawDeg, b.yawDeg), pitchDeg: mix(a.pitchDeg, b.pitchDeg), rollDeg: mix(a.rollDeg, b.rollDeg) };
}
