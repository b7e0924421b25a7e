/** The takes there are: each a plain list of keys, or a motion of the whole body. */
import type { Expression } from '../words/face';
import { MOTION_NAMES, type MotionName } from '../words/humanoid';
import { motionSeconds } from './body/hold';
import { restOfSize } from './body/rests';
import { key, LOOK_ABOUT, type Three } from './lookabout';
import type { Take, TakeKey } from './take';

/** Shoulders turn and tip, the head stays with what it looks at, the neck leans. */
export const SHOULDER_SWAY: Take = {
  id: 'shoulder-sway',
  label: 'Shoulders and neck',
  seconds: 7.2,
  keys: [
    key(0, [0, 0]),
    key(1.2, [-25, 0], [0, 0], [25, 0]),
    key(2.4, [25, 0], [0, 0], [-25, 0]),
    key(3.6, [0, 0, -8], [0, 0], [0, 0, 8]),
    key(4.8, [0, -15], [0, 15], [0, 0]),
    key(6, [0, 12], [0, -8], [0, 4]),
    key(7.2, [0, 0]),
  ],
};
/** A moment of a face, and of the head where it turns too. */
const look = (atS: number, face: Expression, head: Three = [0, 0]): TakeKey => ({ ...key(atS, head), face });
const away = (atS: number, awayM: [number, number, number], head: Three = [0, 0]): TakeKey => ({ ...key(atS, head), awayM });
const FACE_TAKES: readonly Take[] = [
  {
    id: 'nod',
    label: 'Nod',
    seconds: 3.2,
    keys: [key(0, [0, 0]), key(0.5, [0, 16]), key(1, [0, -6]), key(1.5, [0, 16]), key(2, [0, -4]), key(2.6, [0, 0]), key(3.2, [0, 0])],
  },
  {
    id: 'tilt',
    label: 'Tilt',
    seconds: 4,
    keys: [key(0, [0, 0]), key(1, [0, 0, -18]), key(1.5, [0, 0, -18]), key(2.6, [0, 0, 18]), key(3.1, [0, 0, 18]), key(4, [0, 0])],
  },
  {
    id: 'speak',
    label: 'Speak',
    seconds: 4.4,
    keys: [
      look(0, {}),
      look(0.3, { AU26: 0.55 }),
      look(0.55, { AU26: 0.1, AU18: 0.2 }),
      look(0.85, { AU26: 0.35, AU18: 0.7 }, [4, 2]),
      look(1.15, { AU26: 0.05 }, [4, 2]),
      look(1.45, { AU26: 0.7, AU1_2: 0.4 }, [0, -3]),
      look(1.75, { AU26: 0.2, AU12: 0.3 }),
      look(2.05, { AU26: 0.45, AU12: 0.2 }),
      look(2.3, { AU26: 0 }),
      look(2.7, { AU26: 0 }, [-4, 0]),
      look(3, { AU26: 0.5, AU18: 0.4 }, [-4, 3]),
      look(3.3, { AU26: 0.1 }, [-2, 2]),
      look(3.6, { AU26: 0.6, AU1_2: 0.2 }),
      look(4, {}),
      look(4.4, {}),
    ],
  },
  {
    id: 'smile',
    label: 'Smile',
    seconds: 3.6,
    keys: [look(0, {}), look(0.4, {}), look(1.2, { AU6: 0.6, AU12: 1 }), look(2.2, { AU6: 0.6, AU12: 1 }), look(3, {}), look(3.6, {})],
  },
  {
    id: 'surprise',
    label: 'Surprise',
    seconds: 3,
    keys: [
      look(0, {}),
      look(0.4, {}),
      look(0.7, { AU1_2: 1, AU5: 1, AU26: 0.7 }, [0, -6]),
      look(1.6, { AU1_2: 1, AU5: 1, AU26: 0.6 }, [0, -6]),
      look(2.4, {}),
      look(3, {}),
    ],
  },
  {
    id: 'blink',
    label: 'Blink and look round',
    seconds: 4,
    keys: [
      look(0, {}),
      look(0.12, { AU45: 1 }),
      look(0.3, {}),
      look(0.9, { AU61: 1 }),
      look(1.5, { AU62: 1 }),
      look(2.1, { AU63: 1 }),
      look(2.7, { AU64: 1 }),
      look(3, {}),
      look(3.15, { AU45_L: 1 }),
      look(3.4, {}),
      look(3.55, { AU45_R: 1 }),
      look(3.8, {}),
      look(4, {}),
    ],
  },
  {
    id: 'brows',
    label: 'Brows',
    seconds: 3.6,
    keys: [
      look(0, {}),
      look(0.6, { AU1_2: 1 }),
      look(1.2, { AU1_2: 1 }),
      look(1.8, { AU4: 1 }),
      look(2.4, { AU4: 1 }),
      look(3, {}),
      look(3.6, {}),
    ],
  },
  {
    id: 'come-near',
    label: 'Come near',
    seconds: 5,
    keys: [
      away(0, [0, 0, 0]),
      away(0.5, [0, 0, 0]),
      away(2.2, [0.02, -0.01, 0.55]),
      away(2.8, [0.02, -0.01, 0.55], [12, 4]),
      away(4.5, [0, 0, 0]),
      away(5, [0, 0, 0]),
    ],
  },
  {
    id: 'walk-past',
    label: 'Walk past',
    seconds: 4.8,
    keys: [
      away(0, [-0.9, 0, -0.4], [60, 0]),
      away(1.2, [-0.4, 0.015, -0.4], [60, 0]),
      away(2.4, [0, 0, -0.4], [0, 0]),
      away(3.6, [0.4, 0.015, -0.4], [-60, 0]),
      away(4.79, [0.9, 0, -0.4], [-60, 0]),
      away(4.8, [-0.9, 0, -0.4], [60, 0]),
    ],
  },
];
/** Nothing moves: what is recorded on it is the sliders' alone. */
const HOLD_STILL: Take = { id: 'still', label: 'Hold still', seconds: 6, keys: [key(0, [0, 0]), key(6, [0, 0])] };
const MOTION_LABELS: Readonly<Record<MotionName, string>> = {
  idle: 'Body: stands',
  walk: 'Body: walks',
  turn: 'Body: turns round',
  wave: 'Body: waves',
  bow: 'Body: bows',
  'sway-dance': 'Body: sways to a tune',
};
/** The motions of the body at their usual speed, of a wearer in size M. */
const BODY_TAKES: readonly Take[] = MOTION_NAMES.map((motion) => ({
  id: `body-${motion}`,
  label: MOTION_LABELS[motion],
  seconds: motionSeconds(motion, restOfSize('M').stander),
  keys: [],
  motion,
}));
export const TAKES: readonly Take[] = [LOOK_ABOUT, ...FACE_TAKES, SHOULDER_SWAY, HOLD_STILL, ...BODY_TAKES];
