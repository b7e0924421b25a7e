/** Models that lie, ask for much, or name what is not theirs. */
import { deflateSync } from 'fflate';
import { rawGlb } from '@/core/intake/samples';
import { bytes, join, many, text, u16, u32 } from './bytes';
import type { Kinds, Lures } from './index';

const asset = { version: '2.0' };
const view = { buffer: 0, byteOffset: 0, byteLength: 64 };
const vec3 = { componentType: 5126, type: 'VEC3' };
const corner = { ...vec3, bufferView: 0, count: 3, min: [0, 0, 0], max: [0, 0, 0] };
const base = {
  scene: 0,
  scenes: [{ nodes: [0] }],
  nodes: [{ mesh: 0 }],
  meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
  bufferViews: [view],
  accessors: [corner],
};
const glb = (more: object, bin = new Uint8Array(64)) => rawGlb({ asset, buffers: [{ byteLength: bin.length }], ...base, ...more }, bin);
const gltf = (more: object) => text(JSON.stringify({ asset, buffers: [{ byteLength: 64 }], ...base, ...more }));
/** A GLB whose first bytes after the magic are others (glTF 2.0, section 4.4). */
const spoiled = (set: Record<number, Uint8Array>) => {
  const out = glb({});
  for (const [at, b] of Object.entries(set)) out.set(b, Number(at));
  return out;
};
const worn = (image: object) => ({
  images: [image],
  textures: [{ source: 0 }],
  materials: [{ pbrMetallicRoughness: { baseColorTexture: { index: 0 } } }],
  meshes: [{ primitives: [{ attributes: { POSITION: 0 }, material: 0 }] }],
});
/** A glTF with a file of another place as its buffer or its picture. */
const reaching = (uri: string) => [
  gltf({ buffers: [{ byteLength: 64, uri }] }),
  gltf({ ...worn({ uri }), buffers: [{ byteLength: 64, uri: `data:;base64,${'A'.repeat(88)}` }] }),
];

const CONTAINER: Kinds = {
  'length-of-4e9.glb': () => spoiled({ 8: u32(0xffffffff) }),
  'chunk-of-4e9.glb': () => spoiled({ 12: u32(0xfffffffc) }),
  'chunk-of-nothing.glb': () => spoiled({ 12: u32(0) }),
  'version-99.glb': () => spoiled({ 4: u32(99) }),
  'mark-alone.glb': () => text('glTF'),
  'chunks.glb': () => {
    const head = glb({});
    return join(head, ...many(100_000, () => join(u32(0), 'ABCD')));
  },
};

const LINKS = ({ path, url }: Lures): Kinds =>
  Object.fromEntries(
    [
      ['file', `file://${path}`],
      ['absolute', path],
      ['climbing', `../../../../../../../..${path}`],
      ['escaped', `%2e%2e%2f%2e%2e%2f%2e%2e%2f%2e%2e%2f%2e%2e${path.replaceAll('/', '%2f')}`],
      ['environment', '/proc/self/environ'],
      ['network', `${url}/model.bin`],
      ['data-of-1e8', `data:application/octet-stream;base64,${'QUJD'.repeat(1_000_000)}`],
    ].flatMap(([name, uri]) => reaching(uri).map((b, i) => [`${name}-${['buffer', 'picture'][i]}.gltf`, () => b])),
  );

const GRAPH: Kinds = {
  'node-in-itself.glb': () => glb({ nodes: [{ mesh: 0, children: [0] }] }),
  'ring-of-nodes.glb': () => glb({ nodes: many(3, (i) => ({ mesh: 0, children: [(i + 1) % 3] })) }),
  'two-parents.glb': () => glb({ nodes: [{ children: [1, 2] }, { children: [2] }, { mesh: 0 }] }),
  'chain-of-30000.glb': () => glb({ nodes: many(30_000, (i) => (i < 29_999 ? { children: [i + 1] } : { mesh: 0 })) }),
  'doubling-nodes.glb': () => glb({ nodes: many(40, (i) => (i < 39 ? { children: [i + 1, i + 1] } : { mesh: 0 })) }),
  'children-nowhere.glb': () => glb({ nodes: [{ mesh: 0, children: [-1, 7, 4e9] }] }),
  'singular.glb': () => glb({ nodes: [{ mesh: 0, matrix: new Array(16).fill(0) }] }),
  'infinite.gltf': () => text(JSON.stringify({ asset, ...base, nodes: [{ mesh: 0, translation: [0, 0, 7] }] }).replace('7]', '1e999]')),
  'name-of-8-mb.glb': () => glb({ nodes: [{ mesh: 0, name: 'n'.repeat(8_000_000) }] }),
  'prototype.gltf': () => text(JSON.stringify({ asset, ...base }).replace('"nodes"', '"__proto__":{"x":1},"constructor":1,"nodes"')),
  'nodes.glb': () => glb({ scenes: [{ nodes: many(60_000, (i) => i) }], nodes: many(60_000, () => ({ mesh: 0 })) }),
  'skin-of-30000.glb': () =>
    glb({ nodes: [{ mesh: 0, skin: 0 }, ...many(30_000, () => ({}))], skins: [{ joints: many(30_000, (i) => i + 1) }] }),
};

const DATA: Kinds = {
  'count-of-4e9.glb': () => glb({ accessors: [{ ...corner, count: 4_294_967_295 }] }),
  'count-below-nothing.glb': () => glb({ accessors: [{ ...corner, count: -3 }] }),
  'count-of-a-half.glb': () => glb({ accessors: [{ ...corner, count: 1.5 }] }),
  'offset-of-9e15.glb': () => glb({ accessors: [{ ...corner, byteOffset: 2 ** 53 - 4 }] }),
  'offset-below-nothing.glb': () => glb({ accessors: [{ ...corner, byteOffset: -64 }] }),
  'stride-of-1e9.glb': () => glb({ bufferViews: [{ ...view, byteStride: 1e9 }] }),
  'view-past-its-buffer.glb': () => glb({ bufferViews: [{ ...view, byteLength: 4e9 }] }),
  'type-unheard-of.glb': () => glb({ accessors: [{ ...corner, componentType: 5124, type: 'VEC9' }] }),
  'corners-nowhere.glb': () =>
    glb(
      {
        accessors: [corner, { bufferView: 0, componentType: 5125, type: 'SCALAR', count: 3 }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }],
      },
      new Uint8Array(64).fill(0xf0),
    ),
  'targets.glb': () => glb({ meshes: [{ primitives: [{ attributes: { POSITION: 0 }, targets: many(20_000, () => ({ POSITION: 0 })) }] }] }),
  'materials.glb': () => glb({ materials: many(60_000, () => ({})) }),
  'textures.glb': () => glb({ ...worn({ bufferView: 0, mimeType: 'image/png' }), textures: many(60_000, () => ({ source: 0 })) }),
  'clips.glb': () => glb({ animations: many(20_000, () => ({ samplers: [], channels: [] })) }),
  'clip-of-8e6-keys.glb': () =>
    glb({
      accessors: [corner, { componentType: 5126, type: 'SCALAR', count: 8e6 }, { ...vec3, count: 8e6 }],
      animations: [{ samplers: [{ input: 1, output: 2 }], channels: [{ sampler: 0, target: { node: 0, path: 'translation' } }] }],
    }),
  'clip-in-itself.glb': () =>
    glb({ animations: [{ samplers: [{ input: 0, output: 0 }], channels: [{ sampler: 9, target: { node: 9, path: 'weights' } }] }] }),
  'instances-of-1e8.glb': () =>
    glb({
      extensionsUsed: ['EXT_mesh_gpu_instancing'],
      extensionsRequired: ['EXT_mesh_gpu_instancing'],
      accessors: [corner, { ...vec3, count: 1e8 }],
      nodes: [{ mesh: 0, extensions: { EXT_mesh_gpu_instancing: { attributes: { TRANSLATION: 1 } } } }],
    }),
  'meshopt-of-1e9.glb': () =>
    glb({
      extensionsUsed: ['EXT_meshopt_compression'],
      extensionsRequired: ['EXT_meshopt_compression'],
      bufferViews: [
        {
          ...view,
          byteLength: 12e8,
          byteStride: 12,
          extensions: {
            EXT_meshopt_compression: { buffer: 0, byteOffset: 0, byteLength: 64, byteStride: 12, count: 1e8, mode: 'ATTRIBUTES' },
          },
        },
      ],
    }),
  'draco-of-noise.glb': () =>
    glb(
      {
        extensionsUsed: ['KHR_draco_mesh_compression'],
        extensionsRequired: ['KHR_draco_mesh_compression'],
        meshes: [
          {
            primitives: [
              {
                attributes: { POSITION: 0 },
                extensions: { KHR_draco_mesh_compression: { bufferView: 0, attributes: { POSITION: 0 } } },
              },
            ],
          },
        ],
      },
      join('DRACO', [2, 2, 1, 1, 0, 0], new Uint8Array(53).fill(0xff)),
    ),
  'picture-of-noise.glb': () =>
    glb(worn({ bufferView: 0, mimeType: 'image/png' }), bytes(64, { 0: [137, 80, 78, 71, 13, 10, 26, 10], 16: [0, 0, 255, 255] })),
  'ktx2-of-65535.glb': () =>
    glb(
      {
        ...worn({ bufferView: 0, mimeType: 'image/ktx2' }),
        extensionsUsed: ['KHR_texture_basisu'],
        textures: [{ extensions: { KHR_texture_basisu: { source: 0 } } }],
      },
      bytes(64, { 0: [0xab, 0x4b, 0x54, 0x58, 0x20, 0x32, 0x30, 0xbb, 0x0d, 0x0a, 0x1a, 0x0a], 20: [255, 255, 0, 0, 255, 255] }),
    ),
  'required-unheard-of.glb': () => glb({ extensionsUsed: many(20_000, (i) => `X_${i}`), extensionsRequired: ['X_1'] }),
};

const FOREIGN = ({ path }: Lures): Kinds => ({
  'face-of-1e6.obj': () => text(`v 0 0 0\nv 1 0 0\nv 0 1 0\nf ${'1 2 3 '.repeat(330_000)}\n`),
  'groups.obj': () => text(`v 0 0 0\nv 1 0 0\nv 0 1 0\n${many(100_000, (i) => `g ${i}\nf 1 2 3\n`).join('')}`),
  'materials.obj': () => text(`v 0 0 0\nv 1 0 0\nv 0 1 0\n${many(60_000, (i) => `usemtl m${i}\nf 1 2 3\n`).join('')}`),
  'corners-nowhere.obj': () => text('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 999999999\nf -9 -8 -7\nf 0 0 0\n'),
  'climbing.obj': () => text(`mtllib ../../../../../..${path}\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl a\nf 1 2 3\n`),
  'infinite.obj': () => text('v 1e999 nan 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'),
  'line-of-8-mb.obj': () => text(`v 0 0 0\nv 1 0 0\nv 0 1 0\n#${'x'.repeat(8_000_000)}\nf 1 2 3\n`),
  'continued.obj': () => text(`v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3 ${'\\\n'.repeat(500_000)}\n`),
  'vertices-of-4e9.ply': () => text('ply\nformat ascii 1.0\nelement vertex 4294967295\nproperty float x\nend_header\n0\n'),
  'list-of-4e9.ply': () =>
    join(
      'ply\nformat binary_little_endian 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uint uint vertex_indices\nend_header\n',
      new Uint8Array(36),
      u32(0xffffffff),
    ),
  'properties.ply': () =>
    text(
      `ply\nformat ascii 1.0\nelement vertex 1\n${many(100_000, (i) => `property float p${i}\n`).join('')}element face 0\nend_header\n0\n`,
    ),
  'triangles-of-4e9.stl': () => bytes(134, { 80: [255, 255, 255, 255] }),
  'unended.stl': () => text(`solid x\n${'facet normal 0 0 1\nouter loop\nvertex 0 0 0\n'.repeat(50_000)}`),
  'counts-of-4e9.off': () => text('OFF\n4294967295 4294967295 0\n0 0 0\n'),
  'face-of-4e9.off': () => text('OFF\n3 1 0\n0 0 0\n1 0 0\n0 1 0\n4294967295 0 1 2\n'),
  'chunk-of-nothing.3ds': () => join([0x4d, 0x4d], u32(64), ...many(8, () => join([0x3d, 0x3d], u32(0)))),
  'nested.3ds': () => join(...many(20_000, (i) => join(i ? [0x3d, 0x3d] : [0x4d, 0x4d], u32((20_000 - i) * 6)))),
  'faces-of-65535.3ds': () =>
    join([0x4d, 0x4d], u32(60), [0x3d, 0x3d], u32(54), [0, 0x40], u32(48), 'a\0', [0, 0x41], u32(40), [0x20, 0x41], u32(34), u16(65535)),
  'entities.dae': () =>
    text(
      `<?xml version="1.0"?><!DOCTYPE COLLADA [<!ENTITY a "aaaaaaaaaa">${many(12, (i) => `<!ENTITY a${i} "${(i ? `&a${i - 1};` : '&a;').repeat(10)}">`).join('')}]><COLLADA version="1.4.1"><asset><title>&a11;</title></asset></COLLADA>`,
    ),
  'entity-of-a-file.dae': () =>
    text(
      `<?xml version="1.0"?><!DOCTYPE COLLADA [<!ENTITY s SYSTEM "file://${path}">]><COLLADA version="1.4.1"><asset><contributor><author>&s;</author></contributor></asset><library_visual_scenes><visual_scene id="s" name="&s;"/></library_visual_scenes></COLLADA>`,
    ),
  'deep.dae': () =>
    text(
      `<COLLADA version="1.4.1"><library_visual_scenes><visual_scene id="s">${'<node>'.repeat(60_000)}${'</node>'.repeat(60_000)}</visual_scene></library_visual_scenes></COLLADA>`,
    ),
  'floats-of-1e9.dae': () =>
    text(
      '<COLLADA version="1.4.1"><library_geometries><geometry id="g"><mesh><source id="s"><float_array id="f" count="1000000000">0 0 0</float_array><technique_common><accessor source="#f" count="333333333" stride="3"/></technique_common></source></mesh></geometry></library_geometries></COLLADA>',
    ),
  'node-in-itself.dae': () =>
    text(
      '<COLLADA version="1.4.1"><library_nodes><node id="a"><instance_node url="#b"/></node><node id="b"><instance_node url="#a"/></node></library_nodes><library_visual_scenes><visual_scene id="s"><node id="n"><instance_node url="#a"/></node></visual_scene></library_visual_scenes><scene><instance_visual_scene url="#s"/></scene></COLLADA>',
    ),
  'array-of-4e9.fbx': () => fbx(join('d', u32(0xffffffff), u32(1), u32(20), deflateSync(new Uint8Array(64)))),
  'array-of-zeros.fbx': () => {
    const packed = deflateSync(new Uint8Array(64_000_000), { level: 9 });
    return fbx(join('d', u32(8_000_000), u32(1), u32(packed.length), packed));
  },
  'end-of-4e9.fbx': () => join('Kaydara FBX Binary  \0', [0x1a, 0], u32(7400), u32(0xffffffff), u32(1), u32(1), [1, 65]),
  'ended-before.fbx': () => join('Kaydara FBX Binary  \0', [0x1a, 0], u32(7400), u32(1), u32(0), u32(0), [1, 65]),
  'brackets.fbx': () => text(`; FBX 7.4.0 project file\nFBXHeaderExtension: {\n${'A: {\n'.repeat(100_000)}`),
  'templates.x': () => text(`xof 0303txt 0032\n${'Frame a {\n'.repeat(100_000)}`),
  'counts-of-4e9.x': () => text('xof 0303txt 0032\nMesh m {\n4294967295;\n0;0;0;;\n4294967295;\n3;0,0,0;;\n}\n'),
});

/** A binary FBX of one node with one property. */
const fbx = (property: Uint8Array) => {
  const head = join('Kaydara FBX Binary  \0', [0x1a, 0], u32(7400));
  const end = head.length + 13 + 1 + property.length;
  return join(head, u32(end), u32(1), u32(property.length), [1, 65], property, new Uint8Array(13));
};

export const models = (lures: Lures): Kinds => ({ ...CONTAINER, ...LINKS(lures), ...GRAPH, ...DATA, ...FOREIGN(lures) });
