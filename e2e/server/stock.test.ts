/** Stock over the routes and on the command line: foreign formats, recipes, pictures, replacing, kinds and fixes. */
import { execFile, execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { zipSync } from 'fflate';
import { validateBytes } from 'gltf-validator';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { add, createModelPart, type Edit, PIECE_SCHEMA, type Piece, settings } from '@/core/piece';
import { spectaclesGlb } from '../../demo/models/spectacles';
import { BRASS, createThing, picture } from '../support/faulty';
import { closeTestDatabase, signedIn, testDatabase, type Visitor } from '../support/http';

const MODELS = '/usr/share/assimp/models';
const dir = mkdtempSync(join(tmpdir(), 'scaphos-stock-'));
let v: Visitor;
let piece: string;
beforeAll(async () => {
  v = await signedIn();
  piece = await v.newPiece('Stock');
});
afterAll(async () => {
  rmSync(dir, { recursive: true, force: true });
  await closeTestDatabase();
});

const CUBE_OBJ = `mtllib cube.mtl
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
const MTL = 'newmtl brass\nKd 1 1 1\nmap_Kd C:\\work\\brass_BaseColor.png\n';
const text = (s: string) => new TextEncoder().encode(s);

describe('what comes in', () => {
  test('an OBJ with its MTL and a picture in another folder is one textured model; what it cannot carry is said', async () => {
    const zip = zipSync({
      'model/cube.obj': text(CUBE_OBJ),
      'model/cube.mtl': text(MTL),
      'textures/brass_BaseColor.png': await picture(32, 32, BRASS),
    });
    const [{ item, asset }] = (await v.upload(piece, [['cube.zip', zip]])).body.items;
    expect(asset.facts).toMatchObject({ format: 'obj', triangles: 12, materials: 1, missing: [], sizeMm: [2000, 2000, 2000] });
    expect(asset.facts.textures).toMatchObject([{ width: 32, height: 32, type: 'image/png' }]);
    expect(asset.facts.cannotCarry).toContain('no bones');
    const original = (await v.get(`/api/pieces/${piece}/assets/${item.original}`)).body;
    expect(Buffer.compare(original, zip)).toBe(0);
    const glb = (await v.get(`/api/pieces/${piece}/assets/${item.model}`)).body;
    expect((await validateBytes(glb)).issues.messages.filter((m) => m.severity === 0)).toEqual([]);
  });

  test('a zip of pictures brings in each picture; a picture is served as one', async () => {
    const zip = zipSync({ 'a/one.png': await picture(8, 8, BRASS), 'b/two.png': await picture(9, 9, BRASS), 'notes.txt': text('x') });
    const { items } = (await v.upload(piece, [['maps.zip', zip]])).body;
    expect(items.map((i: { item: { kind: string; name: string } }) => [i.item.kind, i.item.name])).toEqual([
      ['picture', 'one.png'],
      ['picture', 'two.png'],
    ]);
    const got = await v.get(`/api/pieces/${piece}/assets/${items[0].item.original}`);
    expect(got.headers.get('content-type')).toBe('image/png');
  });

  test('the same model in two formats in one zip is read from the one that carries more', async () => {
    const thing = await createThing();
    const glb = await new WebIO().writeBinary(thing.document);
    const { items } = (await v.upload(piece, [['both.zip', zipSync({ 'cube.obj': text(CUBE_OBJ), 'cube.glb': glb })]])).body;
    expect(items[0].asset.facts.format).toBe('glb');
  });

  test('facts kept in an older shape are read anew, once', async () => {
    const { item } = (await v.upload(piece, [['s.glb', await spectaclesGlb()]])).body.items[0];
    await v.post(`/api/pieces/${piece}/edits`, {
      saveId: 'old',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [add('stock', { id: 'old', ...item })],
    });
    await testDatabase()('assets')
      .where({ yard_id: v.yard, original: item.original })
      .update({ facts: JSON.stringify({ format: 'glb', bytes: 7, readable: true, findings: [] }) });
    const { assets } = (await v.get(`/api/pieces/${piece}`)).body;
    expect(assets[0].facts).toMatchObject({ format: 'glb', bytes: 7, triangles: 7904 });
    const row = await testDatabase()('assets').where({ yard_id: v.yard, original: item.original }).first('facts');
    expect(JSON.parse(row.facts).placing.eyewear.units.factor).toBe(0.01);
  });

  test('whoever is told that the piece moved on, while files are read for the answer, holds nobody else up', async () => {
    const id = await v.newPiece('Held up');
    const { item } = (await v.upload(id, [['s.glb', await spectaclesGlb()]])).body.items[0];
    const save = (saveId: string, baseRevision: number, edit: Edit) =>
      v.post(`/api/pieces/${id}/edits`, { saveId, baseRevision, schema: PIECE_SCHEMA, edits: [edit] });
    expect((await save('first', 0, add('stock', { id: 's', ...item }))).status).toBe(200);
    await testDatabase()('assets')
      .where({ yard_id: v.yard, original: item.original })
      .update({ facts: JSON.stringify({ format: 'glb', bytes: 7, readable: true, findings: [] }) });
    const order: number[] = [];
    await Promise.all([
      save('late', 0, settings({ name: 'Late' })).then((a) => order.push(a.status)),
      save('next', 1, settings({ name: 'Next' })).then((a) => order.push(a.status)),
    ]);
    expect(order).toEqual([200, 409]);
  });
});

describe('recipes', () => {
  test('a recipe gives a model of its own; the original stays; the piece draws and delivers the mended one', async () => {
    const id = await v.newPiece('Mended');
    const { item } = (await v.upload(id, [['s.glb', await spectaclesGlb()]])).body.items[0];
    const steps = [
      {
        id: 'a',
        on: true,
        step: 'transform',
        settings: { factor: 0.01, turnDeg: { yaw: 180, pitch: 0, roll: 0 }, shiftM: [0, 0, 0], apply: false },
      },
    ];
    const done = (await v.post(`/api/pieces/${id}/prepare`, { original: item.original, model: item.model, name: item.name, steps })).body;
    expect(done.asset.facts.sizeMm[0]).toBeCloseTo(146.3, 0);
    expect(done.asset.facts.placing.eyewear).toMatchObject({ units: { factor: 1 }, orientation: { yawDeg: 0 } });
    const again = (await v.post(`/api/pieces/${id}/prepare`, { original: item.original, model: item.model, name: item.name, steps })).body;
    expect(again.asset.model).toBe(done.asset.model);
    const saved = await v.post(`/api/pieces/${id}/edits`, {
      saveId: 'r',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [
        add('stock', { id: 's', ...item }),
        add('recipes', { id: 's', steps: steps as never, result: done.asset.model }),
        add('parts', createModelPart('p', 's', 'Spectacles')),
      ],
    });
    expect(saved.status).toBe(200);
    const glb = (await v.get(`/api/pieces/${id}/packages/glb`)).body;
    const bounds = (await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb)).getRoot().listMeshes()[0].listPrimitives()[0];
    expect(Math.abs(bounds.getAttribute('POSITION')?.getMax([])[0] ?? 9)).toBeLessThan(0.2);
    // it travels: the bundle carries original, recipe and result
    const bundle = (await v.get(`/api/pieces/${id}/packages/bundle`)).body;
    const other = await signedIn();
    const moved = (await other.call('POST', `/api/yards/${other.yard}/bundles`, bundle)).body.id;
    const there = (await other.get(`/api/pieces/${moved}`)).body;
    expect((there.document as Piece).recipes.s).toEqual({ id: 's', steps, result: done.asset.model });
    expect(there.assets.some((a: { model: string; facts: unknown }) => a.model === done.asset.model && a.facts)).toBe(true);
  });

  test('a result that nobody made here is refused; a recipe that leaves nothing is refused', async () => {
    const id = await v.newPiece('Forged');
    const { item } = (await v.upload(id, [['s.glb', await spectaclesGlb()]])).body.items[0];
    const forged = await v.post(`/api/pieces/${id}/edits`, {
      saveId: 'f',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [
        add('stock', { id: 's', ...item }),
        add('recipes', {
          id: 's',
          ...{ steps: [{ id: 'a', on: true, step: 'mend', settings: { ops: ['weld'] } }], result: 'f'.repeat(64) },
        }),
      ],
    });
    expect([forged.status, forged.body.error.code]).toEqual([422, 'stock/unknown']);
    const missing = await v.post(`/api/pieces/${id}/prepare`, {
      original: item.original,
      model: item.model,
      name: item.name,
      steps: [{ id: 'a', on: true, step: 'relink', settings: { links: [{ wanted: 'x', picture: 'e'.repeat(64), name: 'x' }] } }],
    });
    expect(missing.status).toBe(404);
  });
});

const SCAPHOS = join(process.cwd(), 'scaphos');
const inspect = (...args: string[]) =>
  new Promise<{ code: number; rows: Record<string, never>[]; stderr: string }>((resolve) =>
    execFile(SCAPHOS, ['inspect', ...args], { maxBuffer: 50e6 }, (error, stdout, stderr) =>
      resolve({
        code: typeof error?.code === 'number' ? error.code : 0,
        rows: stdout
          .split('\n')
          .filter((l) => l.startsWith('{'))
          .map((l) => JSON.parse(l)),
        stderr,
      }),
    ),
  );

describe('./scaphos inspect', () => {
  test('--as states the kind: unit and turn are read, each with a fix; a blocker makes exit 1', async () => {
    const file = join(dir, 'spectacles.glb');
    writeFileSync(file, await spectaclesGlb({ unitPerMm: 0.1, quarterPitch: 1, quarterYaw: 2, shiftMm: [0, 0, 0] }));
    const { code, rows } = await inspect(file, '--json', '--as', 'eyewear');
    expect(code).toBe(1);
    expect(rows[0]).toMatchObject({
      units: { factor: 0.01, confidence: expect.any(Number), reason: expect.stringContaining('×0.01') },
      orientation: { confidence: expect.any(Number), reason: expect.stringContaining('lies') },
    });
    expect(rows[0].findings).toEqual(
      expect.arrayContaining([
        expect.objectContaining({
          code: 'placing/scale',
          level: 'blocker',
          fix: expect.objectContaining({ step: 'transform', changes: [expect.any(String)] }),
        }),
        expect.objectContaining({ code: 'placing/turn', fix: expect.objectContaining({ step: 'transform' }) }),
      ]),
    );
  });

  test('--fix all --out writes a mended GLB: right size, right way round, valid; mended again it stays as it is', async () => {
    const [file, once, twice] = ['spectacles.glb', 'once.glb', 'twice.glb'].map((f) => join(dir, f));
    await inspect(file, '--json', '--as', 'eyewear', '--fix', 'all', '--out', once);
    const [row] = (await inspect(once, '--json', '--as', 'eyewear', '--fix', 'all', '--out', twice)).rows as never as {
      units: { factor: number };
      orientation: { yawDeg: number; pitchDeg: number; rollDeg: number };
      sizeMm: number[];
      findings: { fix?: unknown }[];
    }[];
    expect(row.units.factor).toBe(1);
    expect([row.orientation.yawDeg, row.orientation.pitchDeg, row.orientation.rollDeg]).toEqual([0, 0, 0]);
    expect(row.sizeMm[0]).toBeCloseTo(146.3, 0);
    expect(row.findings.filter((f) => f.fix)).toEqual([]);
    expect(Buffer.compare(readFileSync(once), readFileSync(twice))).toBe(0);
    expect((await validateBytes(new Uint8Array(readFileSync(once)))).issues.messages.filter((m) => m.severity === 0)).toEqual([]);
  });

  test('several files go into a folder; wrong words are refused with 64', async () => {
    const out = join(dir, 'out');
    mkdirSync(out);
    writeFileSync(join(dir, 'cube.obj'), CUBE_OBJ);
    await inspect(join(dir, 'cube.obj'), join(dir, 'spectacles.glb'), '--fix', 'all', '--out', out);
    expect(readdirSync(out).sort()).toEqual(['cube.glb', 'spectacles.glb']);
    for (const wrong of [
      ['--as', 'boat'],
      ['--fix', 'some', '--out', out],
      ['--fix', 'all'],
      ['--out', out],
    ])
      expect((await inspect(join(dir, 'cube.obj'), ...wrong)).code).toBe(64);
    expect((await inspect(join(dir, 'cube.obj'), join(dir, 'spectacles.glb'), '--fix', 'all', '--out', join(dir, 'nowhere'))).code).toBe(
      64,
    );
  });
});

/** glTF files that are wrong on purpose, and what they must be called. */
const WRONG: [file: string, code: string, words: RegExp][] = [
  ['glTF2/wrongTypes/badArray.gltf', 'gltf/unreadable', /not an array|array/],
  ['glTF2/wrongTypes/badExtension.gltf', 'gltf/invalid', /wrong type/],
  ['glTF2/wrongTypes/badNumber.gltf', 'gltf/unreadable', /index/],
  ['glTF2/wrongTypes/badObject.gltf', 'gltf/invalid', /wrong type/],
  ['glTF2/wrongTypes/badString.gltf', 'gltf/invalid', /wrong type/],
  ['glTF2/wrongTypes/badUint.gltf', 'gltf/unreadable', /non-negative integer/],
  ['glTF2/issue_3269/texcoord_crash.gltf', 'gltf/invalid', /UVs that its shape does not have|numbered with gaps/],
  ['glTF2/TestNoRootNode/NoScene.gltf', 'gltf/invalid', /not in the file/],
  ['glTF2/TestNoRootNode/SceneWithoutNodes.gltf', 'scene/empty', /Nothing in it is drawn/],
  ['glTF2/BoxBadNormals-glTF-Binary/BoxBadNormals.glb', 'gltf/invalid', /not of length 1/],
  ['glTF2/BoxWithInfinites-glTF-Binary/BoxWithInfinites.glb', 'geometry/not-finite', /infinite/],
  ['glTF2/RecursiveNodes/RecursiveNodes.gltf', 'gltf/loop', /own ancestor/],
  ['glTF2/MissingBin/BoxTextured.gltf', 'file/missing-buffer', /did not come along/],
  ['glTF2/IndexOutOfRange/IndexOutOfRange.gltf', 'gltf/invalid', /vertices that are not there/],
  ['glTF2/IndexOutOfRange/AllIndicesOutOfRange.gltf', 'gltf/invalid', /vertices that are not there/],
  ['glTF2/IncorrectVertexArrays/Cube.gltf', 'gltf/unreadable', /./],
];

/** Files nobody here made, with every code that may be said of them. */
const FOREIGN: [file: string, codes: string[]][] = [
  ['glTF2/BoxTextured-glTF-Binary/BoxTextured.glb', ['licence/unknown', 'placing/unapplied', 'geometry/uv-outside']],
  ['glTF2/simple_skin/simple_skin.gltf', ['licence/unknown', 'geometry/normals-missing', 'material/double-sided']],
  ['glTF2/cameras/Cameras.gltf', ['licence/unknown', 'geometry/normals-missing', 'placing/unapplied']],
  ['glTF2/glTF-Sample-Models/AnimatedMorphCube-glTF/AnimatedMorphCube.gltf', ['licence/unknown', 'texture/large', 'geometry/tangents']],
  [
    'Collada/duck.dae',
    ['licence/read', 'placing/unapplied', 'placing/pivot', 'texture/alpha-unused', 'geometry/uv-overlap', 'geometry/unwelded'],
  ],
  ['Collada/sphere.dae', ['licence/unknown', 'licence/read', 'placing/unapplied', 'geometry/unwelded', 'geometry/degenerate']],
  ['OBJ/box.obj', ['licence/unknown', 'geometry/unwelded', 'geometry/normals-missing', 'geometry/non-manifold']],
  ['STL/sphereWithHole.stl', ['licence/unknown', 'geometry/open-edges', 'geometry/unwelded', 'placing/scale', 'placing/pivot']],
  ['PLY/cube.ply', ['licence/unknown', 'geometry/normals-missing', 'geometry/unwelded', 'material/double-sided']],
  ['FBX/phong_cube.fbx', ['licence/unknown', 'placing/unapplied', 'placing/scale', 'geometry/unwelded']],
];

describe.runIf(existsSync(MODELS))('files of others', () => {
  test('those that are wrong on purpose are called wrong, for a matching reason', async () => {
    const { rows } = await inspect('--json', ...WRONG.map(([f]) => join(MODELS, f)));
    const told = rows.map((r) => {
      const row = r as never as { error?: { code: string; message: string }; findings?: { code: string; message: string }[] };
      return row.error ? [row.error] : (row.findings ?? []);
    });
    WRONG.forEach(([file, code, words], i) => {
      expect([file, told[i].filter((f) => f.code === code && words.test(f.message)).length > 0]).toEqual([file, true]);
    });
  });

  test('the others get at most the codes listed for them', async () => {
    const { rows } = await inspect('--json', ...FOREIGN.map(([f]) => join(MODELS, f)));
    const said = rows.map((r) => [...new Set((r as never as { findings: { code: string }[] }).findings.map((f) => f.code))]);
    expect(FOREIGN.map(([file, codes], i) => [file, said[i].filter((c) => !codes.includes(c))])).toEqual(
      FOREIGN.map(([file]) => [file, []]),
    );
  });

  test('every file is read without a crash or a hang, and every difference from assimp has a reason', { timeout: 600_000 }, () => {
    const out = execFileSync(SCAPHOS, ['bench', 'intake'], { encoding: 'utf8', maxBuffer: 50e6 });
    expect(out).toMatch(/1[0-9]{2} files, .* 0 unexplained; reader ended by 0/);
  });
});
