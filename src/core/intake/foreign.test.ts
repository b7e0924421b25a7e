import { Document, WebIO } from '@gltf-transform/core';
import { describe, expect, test } from 'vitest';
import { plainText } from './foreign';
import { findImporter, IMPORTERS, type Importer, IntakeError, readForeign, readModel, sceneSize } from './index';
import { boxGlb } from './samples';

const text = (s: string) => new TextEncoder().encode(s);
const of = (id: Importer['id']) => IMPORTERS.find((i) => i.id === id) as Importer;
const toPng = async () => {
  throw new Error('no pictures here');
};
const box = async () => boxGlb([0.05, 0.1, 0.15]);
const read = (id: Importer['id'], bytes: Uint8Array, convert: () => Promise<Uint8Array> = box) =>
  readForeign(of(id), { name: `m.${id}`, bytes }, new Map(), convert, toPng);
const code = async (work: Promise<unknown>) => {
  const error = await work.catch((e: unknown) => e);
  expect(error).toBeInstanceOf(IntakeError);
  return (error as IntakeError).code;
};

/** Header and one property of a binary FBX, as its readers expect them (*from memory*). */
function binaryFbx(unit: number | null, { version = 7400, end = 40 } = {}): Uint8Array {
  const out: number[] = [...text('Kaydara FBX Binary  '), 0, 0x1a, 0];
  const view = new DataView(new ArrayBuffer(8));
  const u32 = (n: number) => {
    view.setUint32(0, n, true);
    for (let i = 0; i < 4; i++) out.push(view.getUint8(i));
  };
  u32(version);
  u32(end);
  out.push(...new Array(9).fill(0));
  if (unit !== null) {
    for (const s of ['UnitScaleFactor', 'double', 'Number', '']) {
      out.push(0x53);
      u32(s.length);
      out.push(...text(s));
    }
    out.push(0x44);
    view.setFloat64(0, unit, true);
    for (let i = 0; i < 8; i++) out.push(view.getUint8(i));
  }
  return Uint8Array.from(out);
}

describe('what a file is, by its content', () => {
  test.each([
    ['; FBX 7.3.0 project file', 'x.dat', 'fbx'],
    ['<?xml version="1.0"?>\n<COLLADA xmlns="x">', 'x.xml', 'collada'],
    ['ply\nformat ascii 1.0', 'x', 'ply'],
    ['solid cube\n facet normal 0 0 1', 'x.txt', 'stl'],
    ['# a comment\nmtllib a.mtl\nv 1 2 3', 'x', 'obj'],
    ['OFF\n8 6 0', 'x', 'off'],
    ['xof 0303txt 0032', 'x', 'x'],
  ])('%s', (head, name, id) => expect(findImporter(text(head), name)?.id).toBe(id));
  test('a binary STL has no mark: its name decides; a picture named .stl is a picture', () => {
    expect(findImporter(new Uint8Array(90), 'a.stl')?.id).toBe('stl');
    expect(findImporter(new Uint8Array(90), 'a.bin')).toBeNull();
    expect(findImporter(new Uint8Array([0x89, 0x50, 0x4e, 0x47, 13, 10]), 'a.stl')?.road).toBe('picture');
  });
  test('what a format cannot carry is said for all that lack something', () => {
    expect(of('obj').cannotCarry).toMatch(/no bones, weights or clips/);
    expect(of('stl').cannotCarry).toMatch(/no unit/);
    expect(of('fbx').cannotCarry).toBeNull();
  });
});

describe('the file’s own unit', () => {
  const height = async (id: Importer['id'], bytes: Uint8Array) => sceneSize(readModel((await read(id, bytes)).document))[1];
  test.each([
    [1, 0.01],
    [100, 1],
    [2.54, 0.0254],
    [0.1, 0.001],
  ])('a binary FBX of %f cm a unit: ×%f', async (cm, factor) => expect(await height('fbx', binaryFbx(cm))).toBeCloseTo(0.2 * factor, 7));
  test('an ASCII FBX as well', async () =>
    expect(await height('fbx', text('; FBX 7.3\nP: "UnitScaleFactor", "double", "Number", "",2.54\n'))).toBeCloseTo(0.2 * 0.0254, 9));
  test('without a record nothing is sized', async () => expect(await height('fbx', binaryFbx(null))).toBeCloseTo(0.2, 7));
  test('COLLADA was sized by the converter; its record is told, its author and licence read', async () => {
    const dae = `<COLLADA><asset><contributor><author>Ada Reed</author><copyright>CC BY 4.0</copyright></contributor><unit meter="0.01" name="cm"/></asset><geometry/></COLLADA>`;
    const { record } = await read('collada', text(dae));
    expect(record).toEqual({
      unitM: null,
      says: 'COLLADA records 0.01 m a unit',
      credit: { author: 'Ada Reed', source: '', licence: 'CC-BY-4.0', says: 'CC BY 4.0' },
    });
  });
});

const PLY_SQUARE =
  'ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement face 2\nproperty list uchar int vertex_indices\nend_header\n';

describe('broken files say precisely how', () => {
  test.each<[string, Importer['id'], Uint8Array, string]>([
    ['an FBX cut in its header', 'fbx', binaryFbx(null).slice(0, 28), 'fbx/truncated'],
    ['an FBX whose first block is past its end', 'fbx', binaryFbx(1, { end: 9999 }), 'fbx/truncated'],
    ['an FBX of version 6', 'fbx', binaryFbx(1, { version: 6100 }), 'fbx/version'],
    ['a COLLADA cut short', 'collada', text('<COLLADA><asset>'), 'collada/truncated'],
    ['a binary STL that lies about its triangles', 'stl', Uint8Array.from({ length: 134 }, (_, i) => (i === 80 ? 9 : 0)), 'stl/truncated'],
    ['a binary STL cut in its header', 'stl', new Uint8Array(50), 'stl/truncated'],
    ['an ASCII STL without its end', 'stl', text('solid a\nfacet normal 0 0 1\nouter loop'), 'stl/truncated'],
    ['a PLY without the end of its header', 'ply', text('ply\nformat ascii 1.0\nelement vertex 3\n'), 'ply/header'],
    ['a PLY with words for numbers', 'ply', text('ply\nelement vertex many\nend_header\n'), 'ply/header'],
    ['a PLY that promises a thousand million vertices', 'ply', text('ply\nelement vertex 1000000000\nend_header\n'), 'ply/truncated'],
    [
      'a PLY with a line of its header broken',
      'ply',
      text('ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty list!uchar int v\nend_header\n0\n'),
      'ply/header',
    ],
    ['a PLY whose header ends within a line', 'ply', text('ply\nelement vertex 1\nproperty float x*end_header\n0\n'), 'ply/header'],
    ['a PLY in words that is cut within its vertices', 'ply', text(`${PLY_SQUARE}0 0 0\n1 0 0\n1 1 0\n0 1 `), 'ply/truncated'],
    ['an OFF of which a triangle is lost', 'off', text(`OFF\n3 13 0\n0 0 0\n1 0 0\n0 1 0\n${'3 0 1 2\n'.repeat(13)}`), 'off/lost'],
    ['a PLY without vertices', 'ply', text(PLY_SQUARE.replace('vertex 4', 'vertex 0').replace('face 2', 'face 0')), 'ply/empty'],
    ['an OFF without vertices', 'off', text('OFF\n0 0 0\n'), 'off/empty'],
    ['an ASCII STL without facets', 'stl', text('solid a\nendsolid a\n'), 'stl/empty'],
    ['a binary STL without triangles', 'stl', new Uint8Array(84), 'stl/empty'],
    ['a COLLADA file of nodes alone, whatever its converter makes of them', 'collada', text('<COLLADA><node/></COLLADA>'), 'collada/empty'],
    ['a 3DS shorter than it says', '3ds', Uint8Array.from([0x4d, 0x4d, 0xff, 0xff, 0, 0, 0]), '3ds/truncated'],
    ['an OBJ without vertices', 'obj', text('# nothing\no empty\n'), 'obj/empty'],
  ])('%s', async (_what, id, bytes, wanted) => expect(await code(read(id, bytes))).toBe(wanted));
  test('what the converter refuses is told with the format, and what to do', async () => {
    const failing = async () => {
      throw new Error('its reader stopped');
    };
    expect(await code(read('off', text('OFF\n'), failing))).toBe('off/unreadable');
  });
  test('a whole one in words is read, on however few lines it stands', async () => {
    const rows = '0 0 0\n1 0 0\n1 1 0\n0 1 0\n3 0 1 2\n3 0 2 3\n';
    for (const body of [rows, rows.replaceAll('\n', ' ')]) expect((await read('ply', text(PLY_SQUARE + body))).format).toBe('ply');
  });
  test('indices of nothing, as a converter may leave them, are no shape', async () => {
    const nothing = new Document();
    const indices = nothing
      .createAccessor()
      .setArray(new Uint16Array([0, 1, 2]))
      .setBuffer(nothing.createBuffer());
    nothing
      .createScene()
      .addChild(nothing.createNode().setMesh(nothing.createMesh().addPrimitive(nothing.createPrimitive().setIndices(indices))));
    expect(await code(read('off', text('OFF\n'), async () => new WebIO().writeBinary(nothing)))).toBe('off/empty');
  });
  test('a file that holds no shape and no clip is told so', async () => {
    const empty = new Document();
    empty.createScene();
    expect(await code(read('off', text('OFF\n'), async () => new WebIO().writeBinary(empty)))).toBe('off/empty');
  });
});

describe('plainText', () => {
  test('UTF-16 of either order and a UTF-8 mark become plain UTF-8', () => {
    const words = 'v 1 2 3';
    const le = Uint8Array.from([0xff, 0xfe, ...[...words].flatMap((c) => [c.charCodeAt(0), 0])]);
    const be = Uint8Array.from([0xfe, 0xff, ...[...words].flatMap((c) => [0, c.charCodeAt(0)])]);
    for (const b of [le, be, text(`\ufeff${words}`), text(words)]) expect(new TextDecoder().decode(plainText(b))).toBe(words);
  });
});
