/** Environments in Node. */
import { FloatType } from 'three';
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js';
import {
  cleanRadiance,
  type EnvironmentFacts,
  environmentFindings,
  IntakeError,
  measureRadiance,
  pictureLeaf,
  type Radiance,
  readRgbe,
  writeRgbe,
} from '@/core/intake';
import { shrinkRadiance } from '@/core/math/radiance';

/** Widest environment that is used: wider ones show no difference in what they light (*common practice*: 1024 to 2048). */
const USED_WIDTH = 2048;
const MOST_PIXELS = 8192 * 4096;

/** Size in an EXR's header, before anything is made for it. (OpenEXR file layout: attributes end with an empty name.) */
function exrSize(bytes: Uint8Array): { width: number; height: number } | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 8;
  const text = () => {
    const from = at;
    while (at < bytes.length && bytes[at] !== 0 && at - from < 256) at++;
    return String.fromCharCode(...bytes.subarray(from, at++));
  };
  let found: { width: number; height: number } | null = null;
  while (at + 8 < bytes.length) {
    const name = text();
    if (name === '') return found;
    const type = text();
    if (at + 4 > bytes.length) return null;
    const size = view.getUint32(at, true);
    at += 4;
    if (name === 'dataWindow' && type === 'box2i' && at + 16 <= bytes.length) {
      // each may stand once; a reader that takes the other would make more than was checked
      if (found) return null;
      found = {
        width: view.getInt32(at + 8, true) - view.getInt32(at, true) + 1,
        height: view.getInt32(at + 12, true) - view.getInt32(at + 4, true) + 1,
      };
    }
    at += size;
  }
  return null;
}

function readExr(bytes: Uint8Array, name: string): Radiance {
  const fail = (why: string) =>
    new IntakeError('environment/unreadable', `${pictureLeaf(name)} cannot be read as an EXR: ${why.slice(0, 120)}. Save it again.`);
  const size = exrSize(bytes);
  if (!size || size.width < 1 || size.height < 1) throw fail('it does not say how large it is');
  if (size.width * size.height > MOST_PIXELS)
    throw new IntakeError(
      'environment/too-large',
      `The EXR says it has ${size.width} × ${size.height} px; up to ${MOST_PIXELS} pixels are read.`,
    );
  try {
    const { data, width, height, format } = new EXRLoader().setDataType(FloatType).parse(bytes.slice().buffer) as unknown as {
      data: Float32Array;
      width: number;
      height: number;
      format: number;
    };
    const channels = data.length / (width * height);
    if (![1, 3, 4].includes(channels)) throw new Error(`${channels} channels of format ${format}`);
    const out = new Float32Array(width * height * 3);
    // its rows run from the bottom
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        for (let k = 0; k < 3; k++)
          out[(y * width + x) * 3 + k] = data[((height - 1 - y) * width + x) * channels + (channels === 1 ? 0 : k)];
    return { width, height, data: out };
  } catch (error) {
    throw fail((error as Error).message ?? String(error));
  }
}

/** The facts of an environment, and the RGBE it is used as. */
export function readEnvironment(name: string, bytes: Uint8Array, format: 'hdr' | 'exr'): { facts: EnvironmentFacts; used: Uint8Array } {
  const light = format === 'hdr' ? readRgbe(bytes) : readExr(bytes, name);
  const { width, height } = light;
  const notFinite = cleanRadiance(light);
  const wide = Math.min(USED_WIDTH, width);
  const plain = width === wide && height * 2 === width;
  const used = plain ? light : shrinkRadiance(light, wide - (wide % 2));
  const facts = { width, height, notFinite, ...measureRadiance(used) };
  return {
    facts: { kind: 'environment', readable: true, bytes: bytes.byteLength, format, ...facts, findings: environmentFindings(facts) },
    used: format === 'hdr' && plain && notFinite === 0 ? bytes : writeRgbe(used),
  };
}
