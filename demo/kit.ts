/** Turns three.js geometry into a glTF: one primitive a finish, textures made from numbers. Millimetres in, metres out. */
import { Document, type Material, WebIO } from '@gltf-transform/core';
import sharp from 'sharp';
import { BufferAttribute, type BufferGeometry, CatmullRomCurve3, Matrix4, TubeGeometry, Vector3 } from 'three';
import { mergeGeometries } from 'three/addons/utils/BufferGeometryUtils.js';
import { seededRandom } from '@/core/math';

export interface Finish {
  name: string;
  /** sRGB hex. */
  color: number;
  metal: number;
  rough: number;
  /** Below 1: blended. */
  alpha?: number;
  doubleSided?: boolean;
  /** Strength of the worn pattern in colour and roughness, 0..1. */
  wear?: number;
}

export interface Lump {
  geometry: BufferGeometry;
  finish: Finish;
}

export const V = (x: number, y: number, z: number) => new Vector3(x, y, z);

export function tube(points: Vector3[], radius: number, segments: number, around: number): BufferGeometry {
  return new TubeGeometry(new CatmullRomCurve3(points, false, 'centripetal'), segments, radius, around, false);
}

/** Moves a geometry: scale, then turn (radians, XYZ), then place. */
export function put(
  g: BufferGeometry,
  place: [number, number, number],
  turn: [number, number, number] = [0, 0, 0],
  scale: [number, number, number] = [1, 1, 1],
): BufferGeometry {
  return g
    .scale(...scale)
    .rotateX(turn[0])
    .rotateY(turn[1])
    .rotateZ(turn[2])
    .translate(...place);
}

const SIDE = 256;
/** Smooth seeded noise that tiles, 0..1. */
function noise(seed: number, cells: number): Float32Array {
  const random = seededRandom(seed);
  const grid = Float32Array.from({ length: cells * cells }, random);
  const out = new Float32Array(SIDE * SIDE);
  const smooth = (t: number) => t * t * (3 - 2 * t);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const [u, v] = [(x / SIDE) * cells, (y / SIDE) * cells];
      const [i, j] = [Math.floor(u), Math.floor(v)];
      const [a, b] = [smooth(u - i), smooth(v - j)];
      const at = (p: number, q: number) => grid[(q % cells) * cells + (p % cells)];
      out[y * SIDE + x] = (at(i, j) * (1 - a) + at(i + 1, j) * a) * (1 - b) + (at(i, j + 1) * (1 - a) + at(i + 1, j + 1) * a) * b;
    }
  return out;
}

const png = (rgb: Uint8Array) =>
  sharp(rgb, { raw: { width: SIDE, height: SIDE, channels: 3 } })
    .png({ compressionLevel: 9 })
    .toBuffer();

/** A worn surface: base colour and packed roughness/metal, as PNG. */
async function wornMaps(finish: Finish, seed: number): Promise<{ color: Uint8Array; packed: Uint8Array }> {
  const layers = [noise(seed, 6), noise(seed + 1, 17), noise(seed + 2, 48)];
  const color = new Uint8Array(SIDE * SIDE * 3);
  const packed = new Uint8Array(SIDE * SIDE * 3);
  const wear = finish.wear ?? 0;
  for (let i = 0; i < SIDE * SIDE; i++) {
    const n = layers[0][i] * 0.5 + layers[1][i] * 0.33 + layers[2][i] * 0.17 - 0.5;
    const stain = Math.max(0, n * 2) * wear;
    for (let c = 0; c < 3; c++) {
      const base = (finish.color >> (16 - 8 * c)) & 255;
      const green = [0.62, 0.78, 0.7][c]; // verdigris darkens red most
      color[i * 3 + c] = Math.round(Math.min(255, base * (1 - n * 0.25 * wear) * (1 - stain * (1 - green))));
    }
    packed[i * 3 + 1] = Math.round(255 * Math.min(1, Math.max(0.05, finish.rough + n * 0.5 * wear)));
    packed[i * 3 + 2] = Math.round(255 * finish.metal * (1 - stain * 0.5));
  }
  return { color: await png(color), packed: await png(packed) };
}

const linear = (hex: number) => [16, 8, 0].map((s) => (((hex >> s) & 255) / 255) ** 2.2) as [number, number, number];

async function createMaterial(doc: Document, finish: Finish, seed: number): Promise<Material> {
  const m = doc
    .createMaterial(finish.name)
    .setMetallicFactor(finish.metal)
    .setRoughnessFactor(finish.rough)
    .setDoubleSided(finish.doubleSided ?? false);
  m.setBaseColorFactor([...linear(finish.color), finish.alpha ?? 1]);
  if (finish.alpha !== undefined && finish.alpha < 1) m.setAlphaMode('BLEND');
  if (!finish.wear) return m;
  const maps = await wornMaps(finish, seed);
  const texture = (name: string, image: Uint8Array) =>
    doc.createTexture(`${finish.name} ${name}`).setMimeType('image/png').setImage(new Uint8Array(image));
  return m
    .setBaseColorFactor([1, 1, 1, 1])
    .setBaseColorTexture(texture('colour', maps.color))
    .setRoughnessFactor(1)
    .setMetallicFactor(1)
    .setMetallicRoughnessTexture(texture('roughness and metal', maps.packed));
}

/**
 * The lumps as one GLB with one mesh, a primitive a finish.
 * @param place baked into the vertices: from the lumps' millimetres to the file's units
 */
export async function lumpsToGlb(
  name: string,
  lumps: readonly Lump[],
  place = new Matrix4().makeScale(0.001, 0.001, 0.001),
): Promise<Uint8Array> {
  const doc = new Document();
  doc.getRoot().getAsset().generator = 'Scaphos demo';
  doc.getRoot().getAsset().copyright = 'Made for the Saltmarsh Lantern Regatta; own work';
  const buffer = doc.createBuffer();
  const mesh = doc.createMesh(name);
  const finishes = [...new Set(lumps.map((l) => l.finish))];
  for (const [i, finish] of finishes.entries()) {
    const parts = lumps.filter((l) => l.finish === finish).map((l) => tidy(l.geometry));
    const merged = mergeGeometries(parts);
    merged.applyMatrix4(place);
    const attribute = (key: string, type: 'VEC2' | 'VEC3') =>
      doc
        .createAccessor()
        .setType(type)
        .setArray(new Float32Array(merged.getAttribute(key).array))
        .setBuffer(buffer);
    const count = merged.getAttribute('position').count;
    const index = (merged.getIndex() as BufferAttribute).array;
    mesh.addPrimitive(
      doc
        .createPrimitive()
        .setMaterial(await createMaterial(doc, finish, 100 + i * 10))
        .setAttribute('POSITION', attribute('position', 'VEC3'))
        .setAttribute('NORMAL', attribute('normal', 'VEC3'))
        .setAttribute('TEXCOORD_0', attribute('uv', 'VEC2'))
        .setIndices(
          doc
            .createAccessor()
            .setType('SCALAR')
            .setArray(count > 65535 ? new Uint32Array(index) : new Uint16Array(index))
            .setBuffer(buffer),
        ),
    );
  }
  const scene = doc.createScene(name);
  scene.addChild(doc.createNode(name).setMesh(mesh));
  doc.getRoot().setDefaultScene(scene);
  return new WebIO().writeBinary(doc);
}

/** Indexed, with unit normals and nothing but position, normal, uv; triangles without area are dropped. */
function tidy(g: BufferGeometry): BufferGeometry {
  const out = g.clone();
  for (const key of Object.keys(out.attributes)) if (!['position', 'normal', 'uv'].includes(key)) out.deleteAttribute(key);
  const count = out.getAttribute('position').count;
  const index = out.getIndex()?.array ?? Uint32Array.from({ length: count }, (_, i) => i);
  const p = out.getAttribute('position');
  const at = (i: number) => new Vector3().fromBufferAttribute(p as BufferAttribute, i);
  const kept: number[] = [];
  for (let t = 0; t + 2 < index.length; t += 3) {
    const [a, b, c] = [at(index[t]), at(index[t + 1]), at(index[t + 2])];
    if (b.sub(a).cross(c.sub(a)).length() > 1e-9) kept.push(index[t], index[t + 1], index[t + 2]);
  }
  out.setIndex(new BufferAttribute(Uint32Array.from(kept), 1));
  const n = out.getAttribute('normal');
  for (let i = 0; i < n.count; i++) {
    const v = new Vector3().fromBufferAttribute(n as BufferAttribute, i);
    const length = v.length();
    if (length > 1e-6) n.setXYZ(i, v.x / length, v.y / length, v.z / length);
    else n.setXYZ(i, 0, 1, 0);
  }
  return out;
}
