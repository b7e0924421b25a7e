/** The browser's computing thread: models, pictures, environments, files of the form. Nothing here touches the page. */
import { expose, transfer } from 'comlink';
import { MeshoptDecoder } from 'meshoptimizer';
import { DataUtils, Matrix4 } from 'three';
import { type HiddenCause, type Sight, whyHidden } from '@/core/fit';
import { type FormSize, formDocument, formObj, makeForm } from '@/core/form';
import { coarseTriangles } from '@/core/form/coarse';
import {
  createGltfIo,
  drawBall,
  drawUnrolled,
  histogram,
  type Model,
  type Pixels,
  readModel,
  readRgbe,
  type TextureUse,
  textureUses,
  writeRgbe,
} from '@/core/intake';
import { uvLayoutSvg } from '@/core/math';
import type { Radiance } from '@/core/math/radiance';
import { type Heat, heatOf, moveShape, readShape } from '@/core/prepare';
import type { WeightPatch } from '@/core/rig';
import { patchDocument } from '@/core/rig/weights/patch';
import { domePicture, mainLight, makeSky, reflectionsOf } from '@/core/scene';
import type { SkyName } from '@/core/words/skies';
import { formBase } from './formbase';

/** As the stage takes it: halves of linear RGBA. */
function halvesOf({ width, height, data }: Radiance) {
  const out = new Uint16Array(width * height * 4).fill(DataUtils.toHalfFloat(1));
  for (let i = 0; i < width * height; i++)
    for (let k = 0; k < 3; k++) out[i * 4 + k] = DataUtils.toHalfFloat(Math.min(65_504, data[i * 3 + k]));
  return { width, height, data: out };
}
const DOME_PX = 320;

const computing = {
  /** The form as a file to model upon, or its UV layout to paint upon. */
  async formFile(size: FormSize, kind: 'glb' | 'obj' | 'svg', edge: number): Promise<Uint8Array> {
    const form = makeForm(await formBase(), size);
    const text = (s: string) => new TextEncoder().encode(s);
    if (kind === 'obj') return text(formObj(form, size));
    if (kind === 'svg')
      return text(
        uvLayoutSvg(
          form.groups.map((g) => ({ name: g.name, uvs: form.uvs, triangles: form.indices.subarray(g.start, g.start + g.count) })),
          edge,
        ),
      );
    return createGltfIo({}).writeBinary(formDocument(form, size));
  },
  coarseTriangles,
  /** What was painted of a shape's weights, as a file. */
  weightsFile: (patch: WeightPatch): Promise<Uint8Array> => createGltfIo({}).writeBinary(patchDocument(patch)),
  makeEnvironment: async (name: SkyName): Promise<Uint8Array> => writeRgbe(makeSky(name, 1024)),
  /** An environment for the stage: halves of linear RGBA, rows from the zenith down. */
  async readSky(hdr: Uint8Array): Promise<{ width: number; height: number; data: Uint16Array }> {
    const sky = halvesOf(readRgbe(hdr));
    return transfer(sky, [sky.data.buffer]);
  },
  /**
   * An environment as what surfaces mirror, and as what stands behind the wearer; its dome as seen from below.
   * @param of one of ours, or the bytes of one
   */
  async lightOf(of: SkyName | Uint8Array) {
    const sky = typeof of === 'string' ? makeSky(of, 1024) : readRgbe(of);
    const reflections = reflectionsOf(sky);
    const halves = halvesOf(sky);
    const dome = domePicture(sky, DOME_PX, 1, 0);
    return transfer({ sky: halves, reflections, dome, main: mainLight(sky) }, [
      halves.data.buffer,
      dome.buffer as ArrayBuffer,
      ...reflections.levels.map((l) => l.buffer as ArrayBuffer),
    ]);
  },
  /** Two balls and the whole, of an environment. */
  async drawEnvironment(
    hdr: Uint8Array,
    size: number,
    exposureEv: number,
    bearingDeg: number,
  ): Promise<Record<'mirror' | 'matte' | 'whole', Pixels>> {
    const env = readRgbe(hdr);
    return {
      mirror: drawBall(env, size, 'mirror', exposureEv, bearingDeg),
      matte: drawBall(env, size, 'matte', exposureEv, bearingDeg),
      whole: drawUnrolled(env, size * 2, exposureEv),
    };
  },
  async readTextures(glb: Uint8Array): Promise<TextureUse[]> {
    await MeshoptDecoder.ready;
    return textureUses(await createGltfIo({ meshopt: MeshoptDecoder }).readBinary(glb as Uint8Array<ArrayBuffer>));
  },
  histogram: async (pixels: Pixels) => histogram(pixels),
  whyHidden: async (sight: Sight): Promise<HiddenCause> => whyHidden(sight),
  async readModel(glb: Uint8Array): Promise<Model> {
    await MeshoptDecoder.ready;
    return readModel(await createGltfIo({ meshopt: MeshoptDecoder }).readBinary(glb as Uint8Array<ArrayBuffer>));
  },
  /** Where a prepared model lies how far from its original, which is moved by a column-major matrix. */
  async errorHeat(before: Uint8Array, after: Uint8Array, moved: readonly number[]): Promise<Heat> {
    await MeshoptDecoder.ready;
    const io = createGltfIo({ meshopt: MeshoptDecoder });
    const shape = async (glb: Uint8Array) => readShape(await io.readBinary(glb as Uint8Array<ArrayBuffer>));
    return heatOf(moveShape(await shape(before), new Matrix4().fromArray(moved)), await shape(after));
  },
};
export type Computing = typeof computing;
expose(computing);
