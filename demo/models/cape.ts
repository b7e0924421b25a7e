/** Oilskin cape: from a collar over the shoulders and down the back, open in front, closed by a clasp. Millimetres. */
import { BufferGeometry, Float32BufferAttribute, type Matrix4, TorusGeometry } from 'three';
import { type Finish, type Lump, lumpsToGlb, put } from '../kit';

const OILSKIN: Finish = { name: 'Oilskin', color: 0xb98a1e, metal: 0, rough: 0.5, wear: 0.6, doubleSided: true };
const BRASS: Finish = { name: 'Clasp', color: 0xc3913a, metal: 0.95, rough: 0.3 };

const AROUND = 64;
const DOWN = 36;

/** Radius, height and opening (radians from fore) at a share of the length. */
function section(t: number): { r: number; y: number; open: number } {
  const shoulder = Math.min(1, t / 0.25);
  const r = 68 + 130 * Math.sin((shoulder * Math.PI) / 2) + 150 * Math.max(0, t - 0.25);
  const y = t < 0.25 ? 1460 - 130 * (1 - Math.cos((shoulder * Math.PI) / 2)) : 1330 - 780 * ((t - 0.25) / 0.75);
  return { r, y, open: 0.2 + 0.65 * t };
}

function cloth(): BufferGeometry {
  const position: number[] = [];
  const uv: number[] = [];
  const index: number[] = [];
  for (let j = 0; j <= DOWN; j++) {
    const { r, y, open } = section(j / DOWN);
    for (let i = 0; i <= AROUND; i++) {
      const a = open + (i / AROUND) * (2 * Math.PI - 2 * open);
      const fold = 1 + 0.05 * (j / DOWN) * Math.cos(a * 13);
      position.push(Math.sin(a) * r * fold, y, Math.cos(a) * r * 0.72 * fold - 40 * (j / DOWN));
      uv.push(i / AROUND, j / DOWN);
    }
  }
  for (let j = 0; j < DOWN; j++)
    for (let i = 0; i < AROUND; i++) {
      const a = j * (AROUND + 1) + i;
      const b = a + AROUND + 1;
      index.push(a, b, a + 1, a + 1, b, b + 1);
    }
  const g = new BufferGeometry();
  g.setAttribute('position', new Float32BufferAttribute(position, 3));
  g.setAttribute('uv', new Float32BufferAttribute(uv, 2));
  g.setIndex(index);
  g.computeVertexNormals();
  return g;
}

export function capeLumps(): Lump[] {
  return [
    { geometry: cloth(), finish: OILSKIN },
    { geometry: put(new TorusGeometry(16, 4, 8, 24), [0, 1440, 62]), finish: BRASS },
  ];
}

export const capeGlb = (place?: Matrix4): Promise<Uint8Array> => lumpsToGlb('Oilskin cape', capeLumps(), place);
