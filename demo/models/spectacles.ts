/**
 * Tide-glass spectacles: round brass frames, sea-green glass, copper hoods, temples that hook behind the ears.
 * Drawn in millimetres in the head frame of form M, with the bridge's middle as origin of the file.
 */
import { BoxGeometry, CircleGeometry, CylinderGeometry, Matrix4, SphereGeometry, TorusGeometry } from 'three';
import { type Finish, type Lump, lumpsToGlb, put, tube, V } from '../kit';

const BRASS: Finish = { name: 'Worn brass', color: 0xc3913a, metal: 0.95, rough: 0.3, wear: 0.7 };
const DARK: Finish = { name: 'Dark brass', color: 0x8a5f22, metal: 0.95, rough: 0.42 };
const COPPER: Finish = { name: 'Red copper', color: 0xb8683a, metal: 0.95, rough: 0.33, doubleSided: true };
const GLASS: Finish = { name: 'Tide glass', color: 0x3f9c8c, metal: 0, rough: 0.06, alpha: 0.5, doubleSided: true };
const PEARL: Finish = { name: 'Pearl', color: 0xf2ede0, metal: 0, rough: 0.5 };

const R = 24;
const TURN = 0.1;

function eye(s: 1 | -1): Lump[] {
  const lumps: Lump[] = [];
  const add = (geometry: Lump['geometry'], finish: Finish) =>
    lumps.push({ geometry: put(geometry, [s * 34, -13, -3], [0, s * TURN, 0]), finish });
  add(put(new TorusGeometry(R, 2.3, 10, 48), [0, 0, 0], [0, 0, 0], [1.06, 1, 1]), BRASS);
  add(put(new TorusGeometry(R - 1.2, 1.1, 6, 48), [0, 0, 1.6], [0, 0, 0], [1.06, 1, 1]), DARK);
  add(put(new CircleGeometry(R, 48), [0, 0, 0.4], [0, 0, 0], [1.05, 1, 1]), GLASS);
  add(put(new CylinderGeometry(R + 0.4, R + 3.2, 11, 48, 1, true), [0, 0, -6.5], [Math.PI / 2, 0, 0], [1, 1, 1]), COPPER);
  add(new TorusGeometry(R + 3, 1.1, 6, 48).translate(0, 0, -12), DARK);
  for (let i = 0; i < 8; i++) {
    const a = (i / 8) * Math.PI * 2;
    add(new SphereGeometry(1.5, 8, 6).translate(Math.cos(a) * R * 1.06, Math.sin(a) * R, 2.2), DARK);
  }
  return lumps;
}

function temple(s: 1 | -1): Lump[] {
  const run = [
    V(60, -7, -6),
    V(66, -6, -11),
    V(68.5, -6, -25),
    V(70, -5, -67),
    V(71, -5, -104),
    V(71, -12, -118),
    V(70.5, -30, -127),
    V(69, -44, -128),
  ];
  return [
    {
      geometry: tube(
        run.map((p) => V(p.x * s, p.y, p.z)),
        2.1,
        44,
        8,
      ),
      finish: BRASS,
    },
    { geometry: put(new BoxGeometry(7, 8, 7), [s * 65.5, -6.5, -11], [0, s * 0.6, 0]), finish: DARK },
    { geometry: new CylinderGeometry(2, 2, 10, 10).translate(s * 67, -6, -15), finish: BRASS },
    { geometry: put(new SphereGeometry(3.2, 10, 8), [s * 9.5, -23, -9], [0, 0, 0], [0.7, 1.6, 0.9]), finish: PEARL },
  ];
}

export const spectacleLumps = (): Lump[] => [
  ...eye(1),
  ...eye(-1),
  ...temple(1),
  ...temple(-1),
  { geometry: tube([V(-11.5, -8, -3), V(-7, -2, -1), V(0, 0, 0), V(7, -2, -1), V(11.5, -8, -3)], 2.3, 20, 8), finish: BRASS },
];

/** Where the file's origin sits on form M once it is fitted, metres. */
export const SPECTACLES_SEAT_M: [number, number, number] = [0, 0.03, 0.1085];

export interface SpectaclesDelivery {
  /** What one millimetre is in the file. */
  unitPerMm: number;
  /** Quarter turns baked into the vertices: about side, then about up. */
  quarterPitch: number;
  quarterYaw: number;
  /** Where the bridge lies from the file's origin. */
  shiftMm: [number, number, number];
}
/** Delivered in centimetres and turned round: fitting them is the first thing to do. */
export const AS_DELIVERED: SpectaclesDelivery = { unitPerMm: 0.1, quarterPitch: 0, quarterYaw: 2, shiftMm: [0, 0, 0] };

const QUARTER = Math.PI / 2;

/** How the delivered file is turned from the way it is worn. */
export const deliveredTurn = (d: SpectaclesDelivery) =>
  new Matrix4().makeRotationY(d.quarterYaw * QUARTER).multiply(new Matrix4().makeRotationX(d.quarterPitch * QUARTER));

export function spectaclesGlb(d: SpectaclesDelivery = AS_DELIVERED): Promise<Uint8Array> {
  const place = new Matrix4()
    .makeScale(d.unitPerMm, d.unitPerMm, d.unitPerMm)
    .multiply(new Matrix4().makeTranslation(...d.shiftMm))
    .multiply(deliveredTurn(d));
  return lumpsToGlb('Tide-glass spectacles', spectacleLumps(), place);
}
