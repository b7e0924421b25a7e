/** For tests: a clean thing (a textured cube of 100 mm, or a bending bar with a clip), and ways to spoil it. */
import { Document, type Material, type Mesh, type Node, type Primitive } from '@gltf-transform/core';
import sharp from 'sharp';

export interface Thing {
  document: Document;
  node: Node;
  mesh: Mesh;
  primitive: Primitive;
  material: Material;
}

export const accessor = (document: Document, type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4' | 'MAT4', array: Float32Array | Uint16Array) =>
  document
    .createAccessor()
    .setType(type)
    .setArray(array as Float32Array<ArrayBuffer>)
    .setBuffer(document.getRoot().listBuffers()[0] ?? document.createBuffer());

/** A picture of noise around a colour, so that it is no plain grey; RGB or RGBA. */
export async function picture(width: number, height: number, color: readonly number[], noise = 40): Promise<Uint8Array> {
  const channels = color.length as 3 | 4;
  const data = Buffer.alloc(width * height * channels);
  let seed = 12345;
  for (let i = 0; i < data.length; i++) {
    seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff;
    const k = i % channels;
    data[i] = Math.max(0, Math.min(255, color[k] + (k < 3 ? ((seed >> 16) % (noise + 1)) - noise / 2 : 0)));
  }
  return new Uint8Array(await sharp(data, { raw: { width, height, channels } }).png().toBuffer());
}
export const BRASS = [190, 140, 50] as const;
export const BLUE = [128, 128, 250] as const;

export const addTexture = (document: Document, name: string, bytes: Uint8Array) =>
  document
    .createTexture(name)
    .setImage(bytes as Uint8Array<ArrayBuffer>)
    .setMimeType('image/png');

/** Positions, normals, UVs and triangles of a cube from −h to h, each face in a cell of its own of a 3 × 2 atlas. */
export function cube(h: number, at: readonly [number, number, number] = [0, 0, 0]) {
  const position: number[] = [];
  const normal: number[] = [];
  const uv: number[] = [];
  const index: number[] = [];
  let face = 0;
  for (const axis of [0, 1, 2])
    for (const s of [1, -1]) {
      const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
      const first = position.length / 3;
      for (const [a, b] of [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ]) {
        const p = [0, 0, 0];
        p[axis] = s * h;
        p[u] = a * h * s;
        p[v] = b * h;
        position.push(p[0] + at[0], p[1] + at[1], p[2] + at[2]);
        normal.push(...[0, 1, 2].map((k) => (k === axis ? s : 0)));
        uv.push(((face % 3) + 0.05 + (a + 1) * 0.45) / 3, (Math.floor(face / 3) + 0.05 + (b + 1) * 0.45) / 2);
      }
      index.push(first, first + 1, first + 2, first, first + 2, first + 3);
      face++;
    }
  return { position, normal, uv, index };
}

export async function createThing(): Promise<Thing> {
  const document = new Document();
  document.createBuffer();
  document.getRoot().getAsset().copyright = 'own work';
  const material = document
    .createMaterial('Brass')
    .setBaseColorTexture(addTexture(document, 'brass_BaseColor.png', await picture(64, 64, BRASS)));
  const c = cube(0.05);
  const primitive = document
    .createPrimitive()
    .setMaterial(material)
    .setAttribute('POSITION', accessor(document, 'VEC3', new Float32Array(c.position)))
    .setAttribute('NORMAL', accessor(document, 'VEC3', new Float32Array(c.normal)))
    .setAttribute('TEXCOORD_0', accessor(document, 'VEC2', new Float32Array(c.uv)))
    .setIndices(accessor(document, 'SCALAR', new Uint16Array(c.index)));
  const mesh = document.createMesh('Box').addPrimitive(primitive);
  const node = document.createNode('Box').setMesh(mesh);
  document.getRoot().setDefaultScene(document.createScene('scene').addChild(node));
  return { document, node, mesh, primitive, material };
}

/** Puts further triangles into the thing's shape. */
export function addShape(t: Thing, more: ReturnType<typeof cube>): void {
  const join = (name: 'POSITION' | 'NORMAL' | 'TEXCOORD_0', extra: number[]) => {
    const a = t.primitive.getAttribute(name);
    if (a) a.setArray(new Float32Array([...(a.getArray() as Float32Array), ...extra]));
  };
  const first = t.primitive.getAttribute('POSITION')?.getCount() ?? 0;
  join('POSITION', more.position);
  join('NORMAL', more.normal);
  join('TEXCOORD_0', more.uv);
  const index = t.primitive.getIndices();
  index?.setArray(new Uint16Array([...(index.getArray() as Uint16Array), ...more.index.map((i) => i + first)]));
}

/** Changes the triangle list. */
export function setIndex(t: Thing, change: (list: number[]) => number[]): void {
  const index = t.primitive.getIndices();
  index?.setArray(new Uint16Array(change([...(index.getArray() as Uint16Array)])));
}

export interface Rigged extends Thing {
  bones: Node[];
}

/** The cube on two bones, the upper half on the upper one, and a clip that swings it and comes back. */
export async function createRigged(): Promise<Rigged> {
  const t = await createThing();
  const { document, node, primitive } = t;
  const upper = document.createNode('upper').setTranslation([0, 0.05, 0]);
  const lower = document.createNode('lower').setTranslation([0, -0.05, 0]).addChild(upper);
  const bind = (y: number) => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, y, 0, 1];
  const skin = document
    .createSkin('skin')
    .addJoint(lower)
    .addJoint(upper)
    .setInverseBindMatrices(accessor(document, 'MAT4', new Float32Array([...bind(0.05), ...bind(0)])));
  const n = 24;
  const p = primitive.getAttribute('POSITION')?.getArray() as Float32Array;
  const joints = new Uint16Array(n * 4);
  const weights = new Float32Array(n * 4);
  for (let i = 0; i < n; i++) {
    joints[i * 4] = p[i * 3 + 1] > 0 ? 1 : 0;
    weights[i * 4] = 1;
  }
  primitive.setAttribute('JOINTS_0', accessor(document, 'VEC4', joints)).setAttribute('WEIGHTS_0', accessor(document, 'VEC4', weights));
  node.setSkin(skin);
  document.getRoot().getDefaultScene()?.addChild(lower);
  addClip(t.document, 'sway', upper, [0, 0.5, 1], [0, 0, 0, 1, 0, 0, Math.sin(0.2), Math.cos(0.2), 0, 0, 0, 1]);
  return { ...t, bones: [lower, upper] };
}

export function addClip(
  document: Document,
  name: string,
  node: Node,
  times: number[],
  values: number[],
  path: 'rotation' | 'translation' = 'rotation',
): void {
  const sampler = document
    .createAnimationSampler()
    .setInput(accessor(document, 'SCALAR', new Float32Array(times)))
    .setOutput(accessor(document, path === 'rotation' ? 'VEC4' : 'VEC3', new Float32Array(values)));
  const animation =
    document
      .getRoot()
      .listAnimations()
      .find((a) => a.getName() === name) ?? document.createAnimation(name);
  animation.addSampler(sampler).addChannel(document.createAnimationChannel().setSampler(sampler).setTargetNode(node).setTargetPath(path));
}

/** A cube of quads with a material that wants a picture. */
export const CUBE_OBJ = `mtllib cube.mtl
o cube
${[-1, 1].flatMap((x) => [-1, 1].flatMap((y) => [-1, 1].map((z) => `v ${x} ${y} ${z}`))).join('\n')}
vt 0 0
vt 1 0
vt 1 1
vt 0 1
usemtl brass
f 1/1 2/2 4/3 3/4
f 5/1 7/2 8/3 6/4
f 1/1 5/2 6/3 2/4
f 3/1 4/2 8/3 7/4
f 1/1 3/2 7/3 5/4
f 2/1 6/2 8/3 4/4
`;
