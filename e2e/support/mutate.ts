/** Seeded mutations of small files of every kind. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { seededRandom } from '@/core/math';
import { bellWav, flameFrame, flameZip, skyHdr, walkBvh } from '../../demo/media';
import { BRASS, createRigged, createThing, picture } from './faulty';
import { SEED } from './sweep';

const MODELS = '/usr/share/assimp/models';
const random = seededRandom(SEED);
const below = (n: number) => Math.floor(random() * n);
const text = (s: string) => new TextEncoder().encode(s);

interface Seed {
  name: string;
  bytes: Uint8Array;
  /** Bytes that are its header. */
  header: number;
}
const seeds: Seed[] = [];
/** Files to be mutated: ours, and Debian's where they are. */
export async function makeSeeds(): Promise<void> {
  const io = new WebIO();
  const glb = await io.writeBinary((await createThing()).document);
  const rigged = await io.writeBinary((await createRigged()).document);
  const jsonEnd = (b: Uint8Array) => 20 + new DataView(b.buffer, b.byteOffset).getUint32(12, true);
  seeds.push({ name: 'thing.glb', bytes: glb, header: jsonEnd(glb) }, { name: 'rigged.glb', bytes: rigged, header: jsonEnd(rigged) });
  const obj = text(`v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nvt 0 0\nvn 0 0 1\n${'f 1/1/1 2/1/1 3/1/1\nf 1 3 4\nf 1 4 2\nf 2 4 3\n'.repeat(8)}`);
  seeds.push({ name: 'tetra.obj', bytes: obj, header: 32 });
  const stl = new Uint8Array(84 + 50 * 12);
  new DataView(stl.buffer).setUint32(80, 12, true);
  for (let i = 84; i < stl.length; i++) stl[i] = (i * 37) % 120;
  seeds.push({ name: 'noise.stl', bytes: stl, header: 84 });
  seeds.push({
    name: 'square.ply',
    bytes: text(
      'ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement face 2\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n1 1 0\n0 1 0\n3 0 1 2\n3 0 2 3\n',
    ),
    header: 160,
  });
  seeds.push({ name: 'thing.zip', bytes: zipSync({ 'a/thing.glb': glb, 'b/map.png': await picture(16, 16, BRASS) }), header: 40 });
  seeds.push({ name: 'map.png', bytes: await picture(16, 16, BRASS), header: 33 });
  const still = sharp({ create: { width: 12, height: 12, channels: 4, background: '#a43' } });
  seeds.push(
    { name: 'flame.zip', bytes: await flameZip(4, 12), header: 60 },
    { name: 'bell.wav', bytes: bellWav(4000), header: 44 },
    { name: 'walk.bvh', bytes: text(walkBvh(8)), header: 900 },
    { name: 'dawn.hdr', bytes: skyHdr('quay-at-dawn', 16), header: 60 },
    { name: 'turn.gif', bytes: await gifOf(), header: 800 },
    { name: 'a.tif', bytes: new Uint8Array(await still.clone().tiff().toBuffer()), header: 40 },
    { name: 'a.webp', bytes: new Uint8Array(await still.clone().webp().toBuffer()), header: 30 },
    {
      name: 'a.svg',
      bytes: text(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><g fill="#123"><circle cx="4" cy="4" r="3"/><path d="M0 0L9 9"/></g></svg>',
      ),
      header: 60,
    },
  );
  for (const [file, header] of [
    ['FBX/phong_cube.fbx', 200],
    ['FBX/box.fbx', 2000],
    ['Collada/cube_triangulate.dae', 800],
    ['3DS/cube_with_diffuse_texture.3DS', 30],
    ['glTF2/BoxTextured-glTF-Embedded/BoxTextured.gltf', 600],
  ] as const) {
    const path = join(MODELS, file);
    if (existsSync(path)) seeds.push({ name: file.slice(file.lastIndexOf('/') + 1), bytes: new Uint8Array(readFileSync(path)), header });
  }
}

async function gifOf(): Promise<Uint8Array> {
  const roll = new Uint8Array(12 * 12 * 4 * 3);
  for (let i = 0; i < 3; i++) roll.set(flameFrame(i / 3, 12), i * 12 * 12 * 4);
  return new Uint8Array(
    await sharp(roll, { raw: { width: 12, height: 36, channels: 4, pageHeight: 12 } })
      .gif({ delay: [80, 80, 80] })
      .toBuffer(),
  );
}

export interface Mutant {
  name: string;
  bytes: Uint8Array;
  pastHeader: boolean;
}

/** Flips, cuts or splices; two in three past the header. */
export function mutate(): Mutant {
  const seed = seeds[below(seeds.length)];
  const past = random() < 0.66;
  const at = () =>
    past ? seed.header + below(Math.max(1, seed.bytes.length - seed.header)) : below(Math.min(seed.header, seed.bytes.length));
  let bytes = seed.bytes.slice();
  const kind = below(3);
  if (kind === 0) for (let i = 1 + below(8); i > 0; i--) bytes[Math.min(at(), bytes.length - 1)] ^= 1 << below(8);
  else if (kind === 1) bytes = bytes.slice(0, at());
  else {
    const other = seeds[below(seeds.length)].bytes;
    const [to, from, n] = [at(), below(other.length), 1 + below(200)];
    bytes = new Uint8Array([...bytes.subarray(0, to), ...other.subarray(from, from + n), ...bytes.subarray(to + (random() < 0.5 ? n : 0))]);
  }
  return { name: seed.name, bytes, pastHeader: past };
}

/** What came of them, most frequent first. */
export const report = (title: string, outcomes: Map<string, number>) =>
  console.log(
    `${title}\n${[...outcomes]
      .sort((a, b) => b[1] - a[1])
      .map(([k, n]) => `  ${String(n).padStart(5)} ${k}`)
      .join('\n')}`,
  );
