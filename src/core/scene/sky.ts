/** Four environments of our own, made from numbers: gradients, lamps and a sea that mirrors them. Linear radiance. */

import { seededRandom } from '../math/quantity';
import type { Radiance } from '../math/radiance';
import { direction } from '../math/radiance';
import type { SkyName } from '../words/skies';

type Rgb = readonly [number, number, number];
interface Lamp {
  bearingDeg: number;
  heightDeg: number;
  /** Angle at which it has fallen to a tenth. */
  widthDeg: number;
  light: Rgb;
}
interface Sky {
  zenith: Rgb;
  horizon: Rgb;
  ground: Rgb;
  /** How fast the sky falls off above the horizon. */
  fall: number;
  /** Share of the sky the ground mirrors. */
  wet: number;
  lamps: Lamp[];
}

function lanterns(count: number, seed: number): Lamp[] {
  const random = seededRandom(seed);
  return Array.from({ length: count }, (_, i) => ({
    bearingDeg: -180 + (360 * (i + random() * 0.7)) / count,
    heightDeg: 6 + random() * 26,
    widthDeg: 2.4 + random() * 2,
    light: [
      [52, 26, 8],
      [44, 34, 16],
      [40, 10, 5],
      [16, 34, 30],
    ][Math.floor(random() * 4)] as unknown as Rgb,
  }));
}

const RECIPES: Readonly<Record<SkyName, () => Sky>> = {
  'quay-at-dawn': () => ({
    zenith: [0.16, 0.27, 0.46],
    horizon: [1.15, 0.72, 0.42],
    ground: [0.07, 0.08, 0.09],
    fall: 4.2,
    wet: 0.4,
    lamps: [
      { bearingDeg: -52, heightDeg: 7, widthDeg: 3, light: [340, 190, 84] },
      { bearingDeg: -52, heightDeg: 9, widthDeg: 26, light: [1.9, 0.85, 0.3] },
    ],
  }),
  'overcast-harbour': () => ({
    zenith: [1.15, 1.2, 1.26],
    horizon: [0.56, 0.6, 0.63],
    ground: [0.13, 0.14, 0.14],
    fall: 1.6,
    wet: 0.25,
    lamps: [{ bearingDeg: 24, heightDeg: 58, widthDeg: 44, light: [0.7, 0.7, 0.68] }],
  }),
  'boathouse-lamp': () => ({
    zenith: [0.05, 0.035, 0.022],
    horizon: [0.08, 0.055, 0.035],
    ground: [0.05, 0.034, 0.02],
    fall: 1,
    wet: 0.05,
    lamps: [
      { bearingDeg: 38, heightDeg: 46, widthDeg: 5, light: [120, 74, 32] },
      { bearingDeg: 38, heightDeg: 46, widthDeg: 34, light: [0.7, 0.4, 0.16] },
      { bearingDeg: -150, heightDeg: 14, widthDeg: 16, light: [0.3, 0.42, 0.55] },
    ],
  }),
  'night-market': () => ({
    zenith: [0.008, 0.012, 0.03],
    horizon: [0.05, 0.045, 0.06],
    ground: [0.03, 0.026, 0.026],
    fall: 2.6,
    wet: 0.3,
    lamps: lanterns(26, 20261),
  }),
};

/**
 * An environment by name. Deterministic; its two ends meet.
 * @param width pixels, twice the height
 */
export function makeSky(name: SkyName, width = 512): Radiance {
  const sky = RECIPES[name]();
  const height = width / 2;
  const data = new Float32Array(width * height * 3);
  const lamps = sky.lamps.map((l) => ({ ...l, towards: toward(l), sharp: Math.log(10) / (1 - Math.cos((l.widthDeg * Math.PI) / 180)) }));
  const above = (d: readonly number[], k: number, lit: boolean) => {
    const t = Math.exp(-Math.max(0, d[1]) * sky.fall);
    let v = sky.zenith[k] * (1 - t) + sky.horizon[k] * t;
    for (const l of lamps) {
      const cos = d[0] * l.towards[0] + d[1] * l.towards[1] + d[2] * l.towards[2];
      // a lamp falls off like a von Mises lobe; water spreads it
      v += l.light[k] * (lit ? 1 : 0.12) * Math.exp((cos - 1) * (lit ? l.sharp : l.sharp / 6));
    }
    return v;
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const d = direction(x + 0.5, y + 0.5, width, height);
      const edge = Math.min(1, Math.max(0, 0.5 + d[1] * 60));
      const mirror = [d[0], -d[1], d[2]];
      for (let k = 0; k < 3; k++) {
        const below = sky.ground[k] + (d[1] < 0.02 ? sky.wet * above(mirror, k, false) : 0);
        data[(y * width + x) * 3 + k] = edge * above(d, k, true) + (1 - edge) * below;
      }
    }
  return { width, height, data };
}

function toward({ bearingDeg, heightDeg }: Lamp): [number, number, number] {
  const [a, h] = [(bearingDeg * Math.PI) / 180, (heightDeg * Math.PI) / 180];
  return [Math.cos(h) * Math.sin(a), Math.sin(h), Math.cos(h) * Math.cos(a)];
}
