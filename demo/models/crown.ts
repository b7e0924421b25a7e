/** Kelp crown: a braided band, fronds that stand taller in front, pearls, a shell over the brow. Millimetres, head frame. */
import { type Matrix4, SphereGeometry, TorusGeometry } from 'three';
import { seededRandom } from '@/core/math';
import { type Finish, type Lump, lumpsToGlb, put, tube, V } from '../kit';

const KELP: Finish = { name: 'Kelp', color: 0x4b5a23, metal: 0, rough: 0.6, wear: 0.5 };
const BAND: Finish = { name: 'Braided band', color: 0x6d4a25, metal: 0, rough: 0.8 };
const PEARL: Finish = { name: 'Pearl', color: 0xefe6d6, metal: 0, rough: 0.25 };
const SHELL: Finish = { name: 'Shell', color: 0xd9a58c, metal: 0, rough: 0.45 };

const FRONDS = 14;

export function crownLumps(): Lump[] {
  const random = seededRandom(41);
  const out: Lump[] = [];
  for (const [lift, r] of [
    [0, 6],
    [9, 5],
  ])
    out.push({ geometry: put(new TorusGeometry(88, r, 10, 56), [0, lift, 0], [Math.PI / 2, 0, 0], [1, 1, 1.15]), finish: BAND });
  for (let i = 0; i < FRONDS; i++) {
    const a = ((i + 0.5) / FRONDS) * Math.PI * 2;
    const [x, z] = [Math.sin(a) * 88, Math.cos(a) * 101];
    // taller in front, as crowns are
    const high = 46 + 34 * Math.max(0, Math.cos(a)) + 8 * random();
    const out1 = 1 + 0.12 + 0.05 * random();
    out.push({
      geometry: tube([V(x, 8, z), V(x * 1.05, high * 0.5, z * 1.05), V(x * out1, high, z * out1)], 4.5, 14, 7),
      finish: KELP,
    });
    out.push({ geometry: new SphereGeometry(4, 10, 8).translate(x * out1, high + 3, z * out1), finish: PEARL });
  }
  out.push({ geometry: put(new SphereGeometry(17, 18, 12), [0, 14, 107], [0, 0, 0], [1.1, 1, 0.4]), finish: SHELL });
  return out;
}

export const crownGlb = (place?: Matrix4): Promise<Uint8Array> => lumpsToGlb('Kelp crown', crownLumps(), place);
