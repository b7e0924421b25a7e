/** `./scaphos form`: what programs outside rely on; files are read by other readers than ours. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import { afterAll, expect, test } from 'vitest';
import { scaphos } from '../support/cli';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-form-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const at = (name: string) => join(dir, name);
const put = (name: string, data: unknown) => {
  writeFileSync(at(name), JSON.stringify(data));
  return at(name);
};
const ok = async (...args: string[]) => {
  const run = await scaphos(['form', ...args]);
  expect(run.code, run.stderr).toBe(0);
};

test('numbers: asked measures come out, landmarks lie by them; a pose and an expression move what they move', async () => {
  const asked = { headBreadth: 158, neckGirth: 405, earLength: 65, noseBridgeAngle: 18 };
  await ok('--measures', put('ines.json', asked), '--out', at('ines.json.out.json'));
  const told = JSON.parse(readFileSync(at('ines.json.out.json'), 'utf8'));
  expect(told.measuresMm.headBreadth).toBeCloseTo(158, 2);
  expect(told.finer).toMatchObject({
    neckGirth: expect.closeTo(405, 1),
    earLength: expect.closeTo(65, 1),
    noseBridgeAngle: expect.closeTo(18, 1),
  });
  const apart = (a: number[], b: number[]) => Math.hypot(...a.map((x, k) => x - b[k])) * 1000;
  expect(apart(told.landmarksM.superauraleL, told.landmarksM.subauraleL)).toBeCloseTo(65, 1);
  await ok('--size', 'M', '--pose', '{"yawDeg":90}', '--expression', '{"AU26":1}', '--out', at('turned.json'));
  await ok('--size', 'M', '--out', at('rest.json'));
  const [turned, rest] = ['turned.json', 'rest.json'].map((n) => JSON.parse(readFileSync(at(n), 'utf8')).landmarksM);
  // yaw + is towards the wearer's left, which is +X
  expect(turned.pronasale[0]).toBeCloseTo(rest.pronasale[2], 4);
  expect(turned.menton[1]).toBeLessThan(rest.menton[1] - 0.01);
  expect(turned.acromionL[0]).toBeCloseTo(rest.acromionL[0], 5);
});

test('a GLB and an OBJ that other readers take, of the same shape', async () => {
  await ok('--size', 'L', '--out', at('l.glb'));
  await ok('--size', 'L', '--out', at('l.obj'));
  const mesh = (await new WebIO().readBinary(new Uint8Array(readFileSync(at('l.glb'))))).getRoot().listMeshes()[0];
  const position = mesh.listPrimitives()[0].getAttribute('POSITION');
  const lines = readFileSync(at('l.obj'), 'utf8')
    .split('\n')
    .filter((l) => l.startsWith('v '));
  expect(lines).toHaveLength(position?.getCount() ?? 0);
  const there = position?.getElement(7, []) ?? [];
  const first = lines[7].slice(2).split(' ').map(Number);
  expect(Math.hypot(...first.map((x, k) => x - there[k]))).toBeLessThan(1e-5);
});

test('measures that nobody has together, and what is no measure, are named', async () => {
  const bad = await scaphos([
    'form',
    '--measures',
    put('bad.json', { interpupillaryDistance: 84, bizygomaticBreadth: 104 }),
    '--out',
    at('x.glb'),
  ]);
  expect([bad.code, bad.stderr]).toEqual([65, expect.stringMatching(/Pupils apart 84 mm and cheekbones 104 mm/)]);
  const taped = await scaphos(['form', '--measures', put('tape.json', { headCircumference: 690 }), '--out', at('x.glb')]);
  expect([taped.code, taped.stderr]).toEqual([65, expect.stringMatching(/no more than 5\d\d/)]);
  expect((await scaphos(['form', '--measures', put('odd.json', { nose: 3 }), '--out', at('x.glb')])).code).toBe(65);
  expect((await scaphos(['form', '--expression', '{"AU99":1}', '--out', at('x.glb')])).stderr).toMatch(/expression is broken at AU99/);
  expect((await scaphos(['form', '--out', at('x.stl')])).code).toBe(64);
  expect(() => readFileSync(at('x.glb'))).toThrow();
});
