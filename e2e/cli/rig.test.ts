/** The contract of `./scaphos rig`: rows, exit codes, files that are still whole, and clear answers to what cannot be rigged. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import Ajv from 'ajv/dist/2020';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { darkSuit } from '@/core/fit/samples';
import { tube } from '@/core/rig/shapes';
import { crownGlb } from '../../demo/models/crown';
import { scaphos as run } from '../support/cli';
import { bentTube, errorsOf, lone } from '../support/preparing';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-rig-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const at = (name: string) => join(dir, name);
const scaphos = (...args: string[]) => run(args, { SCAPHOS_DATA: at('data') });
const io = new WebIO().registerExtensions(ALL_EXTENSIONS);

beforeAll(async () => {
  const strand = tube(
    (t) => [0.02 * Math.sin(t * 4), t * 0.3, 0],
    () => 0.01,
    60,
    12,
  );
  writeFileSync(at('strand.glb'), await lone(4, strand.positions, strand.triangles));
  writeFileSync(at('points.glb'), await lone(0, strand.positions));
  writeFileSync(at('one.glb'), await lone(4, [0, 0, 0, 0.1, 0, 0, 0, 0.1, 0], [0, 1, 2]));
  writeFileSync(at('card.glb'), await lone(4, [0, 0, 0, 0.1, 0, 0, 0.1, 0.1, 0, 0, 0.1, 0], [0, 1, 2, 0, 2, 3]));
});

test('the demo crown: a chain in each of its fronds, twins as pairs, and the file is whole', async () => {
  writeFileSync(at('crown.glb'), await crownGlb());
  const before = await io.readBinary(new Uint8Array(readFileSync(at('crown.glb'))));
  const { code, rows, stderr } = await scaphos('rig', at('crown.glb'), '--chains', '--out', at('out.glb'), '--json');
  expect(code, stderr).toBe(0);
  const row = rows[0];
  expect(new Ajv({ strict: false }).validate(JSON.parse((await scaphos('schema', 'rig')).stdout), row)).toBe(true);
  expect(row.chains).toHaveLength(14);
  expect(row.bones.filter((b: { parent: string | null }) => b.parent === null).map((b: { name: string }) => b.name)).toEqual(['root']);
  expect(row.chains.filter((c: { name: string }) => /\.[LR]$/.test(c.name)).length).toBeGreaterThanOrEqual(8);
  expect(row.weights).toMatchObject({ method: 'voxel', maxInfluences: expect.any(Number) });
  expect(row.weights.maxInfluences).toBeLessThanOrEqual(4);

  const bytes = new Uint8Array(readFileSync(at('out.glb')));
  expect(await errorsOf(bytes)).toEqual([]);
  const after = await io.readBinary(bytes);
  const names = (d: Document) => [d.getRoot().listMaterials(), d.getRoot().listMeshes()].map((l) => l.map((x) => x.getName()));
  expect(names(after)).toEqual(names(before));
  const triangles = (d: Document) =>
    d
      .getRoot()
      .listMeshes()
      .flatMap((m) => m.listPrimitives())
      .reduce((n, p) => n + (p.getIndices()?.getCount() ?? 0) / 3, 0);
  expect(triangles(after)).toBe(triangles(before));
  expect(after.getRoot().listSkins()[0].listJoints().length).toBe(row.bones.length);
});

test('a garment gets the bones and weights of the body it lies on, and another rest pose', async () => {
  const document = await io.readBinary(await darkSuit(12));
  for (const n of document.getRoot().listNodes()) n.setSkin(null);
  for (const s of document.getRoot().listSkins()) s.dispose();
  for (const n of document.getRoot().listNodes()) if (!n.getMesh()) n.dispose();
  for (const p of document.getRoot().listMeshes()[0].listPrimitives()) p.setAttribute('JOINTS_0', null).setAttribute('WEIGHTS_0', null);
  writeFileSync(at('suit.glb'), await io.writeBinary(document));
  const { code, rows, stderr } = await scaphos('rig', at('suit.glb'), '--garment', '--rest', 'A', '--out', at('worn.glb'), '--json');
  expect(code, stderr).toBe(0);
  expect(new Ajv({ strict: false }).validate(JSON.parse((await scaphos('schema', 'rig')).stdout), rows[0])).toBe(true);
  expect(rows[0].found).toMatch(/arms level, origin on the floor/);
  expect(rows[0].weights).toMatchObject({ method: 'form', unweighted: 0 });
  const bytes = new Uint8Array(readFileSync(at('worn.glb')));
  expect(await errorsOf(bytes)).toEqual([]);
  const nodes = (await io.readBinary(bytes)).getRoot().listNodes();
  const place = (name: string) => nodes.find((n) => n.getName() === name)?.getWorldTranslation() ?? [0, 0, 0];
  const [shoulder, elbow] = [place('leftUpperArm'), place('leftLowerArm')];
  expect((Math.atan2(shoulder[1] - elbow[1], elbow[0] - shoulder[0]) * 180) / Math.PI).toBeCloseTo(44, 0);
  // what lies on no body, and options that do not go together
  const mast = tube(
    (t) => [2, t * 3, 0],
    () => 0.05,
    20,
    8,
  );
  writeFileSync(at('mast.glb'), await lone(4, mast.positions, mast.triangles));
  const far = await scaphos('rig', at('mast.glb'), '--garment', '--out', at('x.glb'), '--json');
  expect([far.code, far.rows[0].error.code]).toEqual([2, 'rig/far']);
  for (const args of [
    ['--garment', '--figure'],
    ['--garment', '--form', 'XL'],
    ['--chains', '--rest', 'T'],
    ['--figure', '--rest', 'Z'],
    ['--figure', '--form', 'S'],
  ])
    expect((await scaphos('rig', at('suit.glb'), ...args, '--out', at('x.glb'))).code, args.join(' ')).toBe(64);
});

test('between two presses, with as many bones as asked', async () => {
  const { code, rows } = await scaphos(
    'rig',
    at('strand.glb'),
    '--chain',
    '0.01,0.005,0:0.02,0.3,0',
    '--bones',
    '4',
    '--out',
    at('strand-out.glb'),
    '--json',
  );
  expect(code).toBe(0);
  expect(rows[0].chains).toEqual([expect.objectContaining({ name: 'limb 1', bones: ['limb 1.1', 'limb 1.2', 'limb 1.3', 'limb 1.4'] })]);
  expect(rows[0].weights.method).toBe('heat');
  expect(rows[0].test.flips).toBe(0);
});

test.each([
  ['points.glb', '0,0,0:0,0.3,0', 2, 'rig/no-surface'],
  ['one.glb', '0,0,0:0,0,0', 2, 'rig/too-near'],
  ['missing.glb', '0,0,0:0,1,0', 2, 'file/not-found'],
])('%s cannot be rigged, and why is said', async (file, presses, exit, code) => {
  const done = await scaphos('rig', at(file), '--chain', presses, '--out', at('x.glb'), '--json');
  expect([done.code, done.rows[0].error.code]).toEqual([exit, code]);
  expect(done.rows[0].error.message.length).toBeGreaterThan(20);
});

test('a flat card has no limbs: exit 1; rigged twice it says that it has bones', async () => {
  const card = await scaphos('rig', at('card.glb'), '--chains', '--out', at('x.glb'), '--json');
  expect([card.code, card.rows[0].error.code]).toEqual([1, 'rig/no-limbs']);
  await scaphos('rig', at('strand.glb'), '--chains', '--out', at('once.glb'));
  const again = await scaphos('rig', at('once.glb'), '--chains', '--out', at('x.glb'), '--json');
  expect([again.code, again.rows[0].error.code]).toEqual([2, 'rig/bones']);
});

test.each([
  [['rig', 'a.glb', '--chains'], '--out'],
  [['rig', 'a.glb', '--out', 'b.glb'], '--chains'],
  [['rig', 'a.glb', '--chain', '1,2:3', '--out', 'b.glb'], '--chain takes'],
  [['rig', 'a.glb', '--chains', '--weights', 'guess', '--out', 'b.glb'], '--weights takes'],
])('%j is refused in words', async (words, said) => {
  const { code, stderr } = await scaphos(...words);
  expect(code).toBe(64);
  expect(stderr).toContain(said);
});

test('a chain on a file that has bones hangs from the bone there, and the file is whole', async () => {
  writeFileSync(at('mast.glb'), await io.writeBinary(bentTube(12, 24)));
  const press = ['--chain', '0.02,0.1,0:0.02,0.2,0', '--bones', '2'];
  const { code, rows, stderr } = await scaphos('rig', at('mast.glb'), ...press, '--out', at('hung.glb'), '--json');
  expect(code, stderr).toBe(0);
  const [row] = rows;
  expect(new Ajv({ strict: false }).validate(JSON.parse((await scaphos('schema', 'rig')).stdout), row)).toBe(true);
  expect(row.bones.map((b: { name: string; parent: string | null }) => [b.name, b.parent]).slice(-2)).toEqual([
    ['limb 1.1', expect.stringMatching(/^bone [12]$/)],
    ['limb 1.2', 'limb 1.1'],
  ]);
  expect(row.bones).toHaveLength(6);
  expect(row.chains).toMatchObject([{ name: 'limb 1', bones: ['limb 1.1', 'limb 1.2'] }]);
  expect(row.weights.maxInfluences).toBeLessThanOrEqual(4);
  const bytes = new Uint8Array(readFileSync(at('hung.glb')));
  expect(await errorsOf(bytes)).toEqual([]);
  const names = (await io.readBinary(bytes)).getRoot().listAnimations();
  expect(names).toHaveLength(1);
  const all = await scaphos('rig', at('mast.glb'), '--chains', '--out', at('none.glb'), '--json');
  expect([all.code, all.rows[0].error.code]).toEqual([2, 'rig/bones']);
});
