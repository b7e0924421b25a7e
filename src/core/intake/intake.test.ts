import { Document, WebIO } from '@gltf-transform/core';
import { describe, expect, test } from 'vitest';
import {
  cleanPath,
  countDrawn,
  findImporter,
  IMPORTERS,
  INTAKE_LIMITS,
  IntakeError,
  inspectModel,
  judgeFindings,
  openGltf,
  ownCredit,
  readGltf,
  readModel,
  sceneSize,
} from './index';
import { boxGlb, rawGlb } from './samples';

const asset = { version: '2.0' };
const code = async (work: () => unknown) => {
  try {
    await work();
  } catch (e) {
    expect(e).toBeInstanceOf(IntakeError);
    return (e as IntakeError).code;
  }
  return 'no error';
};
const read = (b: Uint8Array, files = new Map<string, Uint8Array>()) => readGltf(b, {}, files);
const text = (json: unknown) => new TextEncoder().encode(JSON.stringify(json));

describe('inspectModel', () => {
  test('a box of 100 × 200 × 300 mm, moved, has that size, 12 triangles and 24 vertices', async () => {
    const glb = await boxGlb([0.05, 0.1, 0.15], [3, 2, 1]);
    const facts = inspectModel(await read(glb), glb.length);
    expect(facts).toMatchObject({
      format: 'glb',
      bytes: glb.length,
      readable: true,
      triangles: 12,
      vertices: 24,
      meshes: 1,
      materials: 1,
      bones: 0,
      textures: [],
      clips: [],
      missing: [],
    });
    expect(facts.findings.map((f) => f.code)).toEqual(['placing/far']);
    expect(facts.sizeMm).toEqual([100, 200, 300]);
  });

  /** Positions 0..4 in a row; a strip of five makes three triangles (glTF 2.0, 3.7.2.1), a fan as well. */
  test.each([
    [4, 1],
    [5, 3],
    [6, 3],
    [0, 0],
    [1, 0],
    [3, 0],
  ])('mode %i over five vertices draws %i triangles', async (mode, triangles) => {
    const positions = new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0, 0, 2, 0]);
    const glb = rawGlb(
      {
        asset,
        scene: 0,
        scenes: [{ nodes: [0] }],
        nodes: [{ mesh: 0 }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 }, mode }] }],
        accessors: [{ bufferView: 0, componentType: 5126, count: 5, type: 'VEC3', min: [0, 0, 0], max: [1, 2, 0] }],
        bufferViews: [{ buffer: 0, byteLength: 60 }],
        buffers: [{ byteLength: 60 }],
      },
      new Uint8Array(positions.buffer),
    );
    const model = readModel((await read(glb)).document);
    expect(countDrawn(model)).toEqual({ triangles, vertices: 5 });
    expect(sceneSize(model)).toEqual([1, 2, 0]);
  });

  test('instances multiply what is drawn and widen the scene (EXT_mesh_gpu_instancing)', async () => {
    const bin = new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, /* instances */ 0, 0, 0, 10, 0, 0]);
    const glb = rawGlb(
      {
        asset,
        extensionsUsed: ['EXT_mesh_gpu_instancing'],
        extensionsRequired: ['EXT_mesh_gpu_instancing'],
        scene: 0,
        scenes: [{ nodes: [0] }],
        nodes: [{ mesh: 0, extensions: { EXT_mesh_gpu_instancing: { attributes: { TRANSLATION: 1 } } } }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
        accessors: [
          { bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 0] },
          { bufferView: 0, byteOffset: 36, componentType: 5126, count: 2, type: 'VEC3' },
        ],
        bufferViews: [{ buffer: 0, byteLength: 60 }],
        buffers: [{ byteLength: 60 }],
      },
      new Uint8Array(bin.buffer),
    );
    const model = readModel((await read(glb)).document);
    expect(countDrawn(model)).toEqual({ triangles: 2, vertices: 6 });
    expect(sceneSize(model)).toEqual([11, 1, 0]);
  });

  test('an empty scene is 0 × 0 × 0 with nothing drawn', async () => {
    const facts = inspectModel(await read(text({ asset, scene: 0, scenes: [{}] })), 10);
    expect(facts.sizeMm).toEqual([0, 0, 0]);
    expect(facts.triangles + facts.vertices).toBe(0);
  });

  test('a validator error is one blocker a code, with its place; a missing picture a warning', async () => {
    const source = await read(text({ asset, images: [{ uri: 'brass.png' }], textures: [{ source: 0 }] }));
    const facts = inspectModel(source, 1, {
      issues: [
        { code: 'A', message: 'first', severity: 0, pointer: '/a' },
        { code: 'A', message: 'second', severity: 0, pointer: '/b' },
        { code: 'B', message: 'only a warning', severity: 1 },
        { code: 'IO_ERROR', message: 'said in our words', severity: 0 },
      ],
    });
    expect(facts.findings).toEqual([
      { code: 'gltf/invalid', level: 'blocker', message: 'first (2 places) [A]', where: '/a' },
      { code: 'gltf/doubtful', level: 'warning', message: 'only a warning [B]' },
      { code: 'scene/empty', level: 'warning', message: expect.stringContaining('Nothing in it is drawn') },
    ]);
    expect(judgeFindings(facts, { kind: null, credit: ownCredit(facts), changed: false, pictures: [] })).toContainEqual(
      expect.objectContaining({ code: 'texture/missing', level: 'warning', where: 'brass.png' }),
    );
    expect(facts.missing).toEqual(['brass.png']);
  });
});

describe('bad files are refused by code', () => {
  test.each<[string, () => unknown, string]>([
    ['an empty file', () => openGltf(new Uint8Array()), 'file/empty'],
    ['a header cut short', () => openGltf(new Uint8Array([0x67, 0x6c, 0x54, 0x46, 2, 0])), 'glb/truncated'],
    ['a length beyond the file', () => openGltf(rawGlb({ asset }).slice(0, 30)), 'glb/truncated'],
    ['version 1', () => openGltf(text({ asset: { version: '1.0' } })), 'gltf/version'],
    ['JSON that is not glTF', () => openGltf(text([1, 2])), 'gltf/json'],
    ['what is no JSON at all', () => openGltf(new TextEncoder().encode('{ nope')), 'gltf/json'],
    ['nodes that are no list', () => read(text({ asset, nodes: { a: 1 } })), 'gltf/json'],
    ['a node in two places', () => read(text({ asset, nodes: [{ children: [2] }, { children: [2] }, {}] })), 'gltf/loop'],
    ['a node that is its own ancestor', () => read(text({ asset, nodes: [{ children: [1] }, { children: [0] }] })), 'gltf/loop'],
    ['a child that is not there', () => read(text({ asset, nodes: [{ children: [7] }] })), 'gltf/node'],
    [
      'nodes 20 000 deep',
      () => read(text({ asset, nodes: Array.from({ length: 20_000 }, (_, i) => (i < 19_999 ? { children: [i + 1] } : {})) })),
      'gltf/too-deep',
    ],
    [
      'an accessor past its buffer view',
      () =>
        read(
          text({
            asset,
            accessors: [{ bufferView: 0, componentType: 5126, count: 9, type: 'VEC3' }],
            bufferViews: [{ buffer: 0, byteLength: 12 }],
          }),
        ),
      'gltf/accessor',
    ],
    [
      'accessors that ask for 1 GB from nothing',
      () => read(text({ asset, accessors: [{ componentType: 5126, count: 250e6, type: 'SCALAR' }] })),
      'gltf/too-many',
    ],
    ['a missing buffer', () => read(text({ asset, buffers: [{ uri: 'lost.bin', byteLength: 4 }] })), 'file/missing-buffer'],
    [
      'a buffer that is too short',
      () => read(text({ asset, buffers: [{ uri: 'a.bin', byteLength: 4 }] }), new Map([['a.bin', new Uint8Array(2)]])),
      'gltf/buffer',
    ],
  ])('%s', async (_, work, want) => {
    expect(await code(work)).toBe(want);
  });

  test('one mesh drawn so often that it comes to more vertices than are read is refused before it is looked at', async () => {
    const document = new Document();
    const count = 400_000;
    const position = document
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array(count * 3))
      .setBuffer(document.createBuffer());
    const mesh = document.createMesh().addPrimitive(document.createPrimitive().setAttribute('POSITION', position).setMode(0));
    const scene = document.createScene();
    for (let i = 0; i * count <= INTAKE_LIMITS.elements / 2; i++) scene.addChild(document.createNode().setMesh(mesh));
    const read = await readGltf(await new WebIO().writeBinary(document), {});
    const look = () => inspectModel(read, 0, { issues: [], pictures: [] });
    expect(await code(look)).toBe('gltf/too-many');
  });
  test('a chain of exactly the allowed depth is read', async () => {
    const n = INTAKE_LIMITS.nodeDepth;
    const { document } = await read(text({ asset, nodes: Array.from({ length: n }, (_, i) => (i < n - 1 ? { children: [i + 1] } : {})) }));
    expect(document.getRoot().listNodes()).toHaveLength(n);
  });
});

describe('companions', () => {
  test('are found by clean path, by percent-encoding, and by name alone in another folder', async () => {
    const uri = (u: string) => text({ asset, buffers: [{ uri: u, byteLength: 4 }] });
    const b = new Uint8Array(4);
    for (const [asked, held] of [
      ['a.bin', 'a.bin'],
      ['./sub/a.bin', 'sub/a.bin'],
      ['my%20file.bin', 'my file.bin'],
      ['textures/A.BIN', 'other/a.bin'],
    ])
      expect((await read(uri(asked), new Map([[held, b]]))).resources.size).toBe(1);
  });
  test('a path that leads outside is not followed', () => {
    expect(cleanPath('../secret')).toBeNull();
    expect(cleanPath('a/../../b')).toBeNull();
    expect(cleanPath('a\\b/./c')).toBe('a/b/c');
  });
});

describe('findImporter', () => {
  test('goes by content, not by name', async () => {
    expect(findImporter(await boxGlb())?.id).toBe('glb');
    expect(findImporter(new TextEncoder().encode('\ufeff  {"asset":{}}'))?.id).toBe('gltf');
    expect(findImporter(new Uint8Array([0x50, 0x4b, 3, 4]))?.id).toBe('zip');
    expect(findImporter(new TextEncoder().encode('dear diary'))).toBeNull();
    expect(IMPORTERS.flatMap((i) => i.extensions)).toEqual(
      expect.arrayContaining(['.glb', '.gltf', '.zip', '.fbx', '.obj', '.dae', '.ply', '.stl', '.3ds']),
    );
  });
});
