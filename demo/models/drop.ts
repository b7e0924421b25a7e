/** Pearl drop: one earring, to be hung twice. A wire over the lobe, a shell plate that faces fore, three pearls. Millimetres. */
import { type Matrix4, SphereGeometry, TorusGeometry } from 'three';
import { type Finish, type Lump, lumpsToGlb, put, tube, V } from '../kit';

const WIRE: Finish = { name: 'Gold wire', color: 0xc9a24a, metal: 1, rough: 0.25 };
const PEARL: Finish = { name: 'Pearl', color: 0xefe6d6, metal: 0, rough: 0.22 };
const SHELL: Finish = { name: 'Shell plate', color: 0x9fc7c0, metal: 0.1, rough: 0.3, wear: 0.4 };

export function dropLumps(): Lump[] {
  return [
    // the wire comes up in front of the lobe and goes down behind it
    { geometry: tube([V(0, -6, 0), V(0, 0, 1), V(0, 5, -2), V(0, 4, -7), V(0, -5, -9)], 0.6, 28, 8), finish: WIRE },
    { geometry: put(new TorusGeometry(1.6, 0.5, 8, 18), [0, -7.6, 0]), finish: WIRE },
    { geometry: put(new SphereGeometry(7, 24, 16), [0, -15, 0], [0, 0, 0], [1.1, 1, 0.22]), finish: SHELL },
    { geometry: new SphereGeometry(3, 16, 12).translate(-5, -24, 0), finish: PEARL },
    { geometry: new SphereGeometry(3, 16, 12).translate(5, -24, 0), finish: PEARL },
    { geometry: new SphereGeometry(5, 20, 14).translate(0, -28, 0), finish: PEARL },
  ];
}

export const dropGlb = (place?: Matrix4): Promise<Uint8Array> => lumpsToGlb('Pearl drop', dropLumps(), place);
