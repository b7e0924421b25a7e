/** Small files that ask for much: each is read or refused in words, within what a small file may take. */
import { rawGlb } from '@/core/intake/samples';
import { bytes, flatPng, many, text } from './bytes';

export interface Hostile {
  name: string;
  make: () => Uint8Array;
  /** Code it is refused with; null: it is read. */
  code: string | null;
}

const asset = { version: '2.0' };
const glb = (json: object, bin = new Uint8Array(64)) => rawGlb({ asset, buffers: [{ byteLength: bin.length }], ...json }, bin);
const view = { buffer: 0, byteOffset: 0, byteLength: 64 };
const vec3 = { componentType: 5126, type: 'VEC3' };
const drawn = { scene: 0, scenes: [{ nodes: [0] }], nodes: [{ mesh: 0 }] };
const triangle = {
  ...drawn,
  meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
  bufferViews: [view],
};
/** STREAMINFO alone, of 2³⁶ − 1 samples (RFC 9639, section 8.2). */
const endlessFlac = () =>
  bytes(42, {
    0: [...text('fLaC'), 0x80, 0, 0, 34, 16, 0, 16, 0],
    18: [0x0a, 0xc4, 0x42, 0xff, 0xff, 0xff, 0xff, 0xff],
  });

/** One attribute of an EXR header (OpenEXR file layout). */
const exrAttribute = (name: string, type: string, data: number[]) => [
  ...text(`${name}\0${type}\0`),
  data.length & 255,
  (data.length >> 8) & 255,
  0,
  0,
  ...data,
];
const box2i = (w: number, h: number) => [...new Uint8Array(new Int32Array([0, 0, w - 1, h - 1]).buffer)];
const twoWindows = () =>
  new Uint8Array([
    0x76,
    0x2f,
    0x31,
    0x01,
    2,
    0,
    0,
    0,
    ...exrAttribute('dataWindow', 'box2i', box2i(4, 4)),
    ...exrAttribute('dataWindow', 'box2i', box2i(60_000, 60_000)),
    ...exrAttribute('compression', 'compression', [0]),
    0,
    ...new Array(64).fill(0),
  ]);

export const HOSTILE: readonly Hostile[] = [
  {
    name: 'sparse-of-4e9.glb',
    make: () =>
      glb({
        ...triangle,
        accessors: [
          {
            ...vec3,
            count: 3,
            sparse: { count: 4e9, indices: { bufferView: 0, componentType: 5125 }, values: { bufferView: 0 } },
          },
        ],
      }),
    code: 'gltf/accessor',
  },
  {
    name: 'sparse-past-its-view.glb',
    make: () =>
      glb({
        ...triangle,
        accessors: [
          { ...vec3, count: 3e6, sparse: { count: 3e6, indices: { bufferView: 0, componentType: 5125 }, values: { bufferView: 0 } } },
        ],
      }),
    code: 'gltf/accessor',
  },
  {
    name: 'sparse-without-views.glb',
    make: () => glb({ ...triangle, accessors: [{ ...vec3, count: 3, sparse: { count: 1 } }] }),
    code: 'gltf/accessor',
  },
  {
    name: 'accessors-of-nothing.glb',
    make: () => glb({ ...triangle, accessors: many(4, () => ({ ...vec3, count: 8e6 })) }),
    code: 'gltf/too-many',
  },
  {
    name: 'primitives.glb',
    make: () =>
      glb({
        ...triangle,
        meshes: [{ primitives: many(20_000, () => ({ attributes: { POSITION: 0 } })) }],
        accessors: [{ ...vec3, bufferView: 0, count: 3, min: [0, 0, 0], max: [0, 0, 0] }],
      }),
    code: 'gltf/too-many',
  },
  {
    name: 'channels.glb',
    make: () =>
      glb({
        ...triangle,
        accessors: [{ ...vec3, bufferView: 0, count: 3, min: [0, 0, 0], max: [0, 0, 0] }],
        animations: many(11, () => ({ samplers: [], channels: many(2_000, () => ({ sampler: 0, target: { node: 0, path: 'scale' } })) })),
      }),
    code: 'gltf/too-many',
  },
  {
    name: 'json-of-entries.gltf',
    make: () => text(`{"asset":{"version":"2.0"},"extras":[${'{},'.repeat(1_500_000)}{}]}`),
    code: 'gltf/json',
  },
  {
    name: 'instances.glb',
    make: () =>
      glb({
        ...triangle,
        scenes: [{ nodes: many(60, (i) => i) }],
        nodes: many(60, () => ({ mesh: 0 })),
        accessors: [{ ...vec3, count: 1_000_000 }],
      }),
    code: 'gltf/too-many',
  },
  { name: 'deep.gltf', make: () => text('['.repeat(4_000_001)), code: 'gltf/json' },
  { name: 'thirty-bytes.tga', make: () => bytes(30, { 2: [10], 12: [0x80, 0x3e, 0x80, 0x3e, 32, 8] }), code: 'picture/too-large' },
  { name: 'flat.png', make: () => flatPng(16_384, 16_384), code: 'picture/too-large' },
  { name: 'endless.flac', make: endlessFlac, code: 'sound/too-long' },
  { name: 'two-windows.exr', make: twoWindows, code: 'environment/unreadable' },
  {
    name: 'sets.svg',
    make: () => text(`<svg xmlns="http://www.w3.org/2000/svg" width="8" height="8"><rect width="8" height="8"/>${'<set '.repeat(200_000)}`),
    code: 'picture/unreadable',
  },
  { name: 'assets.dae', make: () => text(`<COLLADA>${'<asset '.repeat(250_000)}</COLLADA>`), code: 'collada/unreadable' },
];
