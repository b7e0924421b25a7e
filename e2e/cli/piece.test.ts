/** A piece by program: made, edited, shown, checked and run as a bundle, and every published schema held to what is printed. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import Ajv from 'ajv/dist/2020';
import { Matrix4, Vector3 } from 'three';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { simulateCapture } from '@/core/capture';
import { poseAtTime, SHOULDER_SWAY, SKELETONS } from '@/core/form';
import { boxGlb } from '@/core/intake/samples';
import { add, applyEdit, createPiece, type Piece, readPiece } from '@/core/piece';
import { compile, Runner, sourceOf } from '@/core/run';
import { type Run, scaphos } from '../support/cli';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-by-program-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const at = (name: string) => join(dir, name);
const put = (name: string, data: unknown) => {
  writeFileSync(at(name), typeof data === 'string' ? data : JSON.stringify(data));
  return at(name);
};
const ok = async (...args: string[]): Promise<Run> => {
  const run = await scaphos(args);
  expect(run.code, run.stderr).toBe(0);
  return run;
};
const ajv = new Ajv({ strict: false });
const schemaOf = async (name: string) => ajv.compile(JSON.parse((await ok('schema', name)).stdout));
const pieceOf = async (bundle: string): Promise<Piece> => readPiece(JSON.parse((await ok('piece', 'show', at(bundle), '--json')).stdout));

/** A row as it stands in the published forms: what has a default may be left out. */
const ball = {
  kind: 'solid',
  id: 'ball',
  name: 'Ball',
  hang: { on: 'anchor', anchor: { kind: 'head' } },
  shape: { form: 'box', sizeMm: [20, 20, 20] },
};

beforeAll(async () => {
  await ok('piece', 'new', 'By program', '--out', at('new.zip'));
  writeFileSync(at('box.glb'), await boxGlb());
});

test('every schema that the help names is there; who reads may stop early', async () => {
  const names = /^ +schema NAME .*NAME: (.*)$/m.exec((await ok('--help')).stdout)?.[1].split(', ') ?? [];
  expect(names).toContain('edits');
  for (const name of names) expect(JSON.parse((await ok('schema', name)).stdout)).toHaveProperty('$schema');
  // throws where the program itself came to a bad end
  execFileSync('bash', ['-c', `./scaphos schema piece | head -n 1 > /dev/null; exit "\${PIPESTATUS[0]}"`]);
});

describe('piece', () => {
  test('new: a bundle that unzip opens and that holds a whole piece', async () => {
    expect(readPiece(await pieceOf('new.zip'))).toEqual(createPiece('By program'));
    execFileSync('unzip', ['-t', at('new.zip')]);
    execFileSync('unzip', ['-q', at('new.zip'), '-d', at('unzipped')]);
    expect(JSON.parse(readFileSync(at('unzipped/piece.json'), 'utf8'))).toEqual(await pieceOf('new.zip'));
  });

  test('edit: every kind of edit, defaults left out, all or nothing', async () => {
    const edits = [
      { kind: 'add', table: 'parts', row: ball, at: 0 },
      { kind: 'change', table: 'parts', id: 'ball', set: { offset: { positionM: [0, 0.1, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } } },
      { kind: 'add', table: 'layers', row: { id: 'wearer', kind: 'matte', matte: { name: 'person' } } },
      { kind: 'order', table: 'layers', id: 'wearer', at: 1 },
      { kind: 'settings', set: { form: 'L' } },
      { kind: 'batch', edits: [{ kind: 'remove', table: 'parts', id: 'head-block' }] },
    ];
    expect((await schemaOf('edits'))(edits)).toBe(true);
    await ok('piece', 'edit', at('new.zip'), '--edits', put('e.json', edits), '--out', at('edited.zip'));
    const piece = await pieceOf('edited.zip');
    expect(piece.settings.form).toBe('L');
    expect(piece.orders).toEqual({ parts: ['ball'], layers: ['camera', 'wearer', 'main'] });
    expect(piece.parts.ball).toMatchObject({
      visible: true,
      layer: 'main',
      offset: { positionM: [0, 0.1, 0] },
      follow: { place: true, trail: null },
    });
    expect((await schemaOf('piece'))(piece)).toBe(true);
    const bad = await scaphos([
      'piece',
      'edit',
      at('edited.zip'),
      '--edits',
      put('bad.json', [...edits.slice(4, 5), { kind: 'remove', table: 'parts', id: 'nobody' }]),
      '--out',
      at('never.zip'),
    ]);
    expect([bad.code, bad.stderr]).toEqual([1, expect.stringContaining('Edit 2 does not fit: Part nobody is not in this piece.')]);
    expect(() => readFileSync(at('never.zip'))).toThrow();
    const junk = await scaphos([
      'piece',
      'edit',
      at('edited.zip'),
      '--edits',
      put('junk.json', [{ kind: 'fly' }]),
      '--out',
      at('never.zip'),
    ]);
    expect([junk.code, junk.stderr]).toEqual([1, expect.stringContaining('Edit 1 is broken')]);
  });

  test('edit --add: files come in as in Stock, their ids are printed, edits may name them', async () => {
    const run = await ok(
      'piece',
      'edit',
      at('new.zip'),
      '--add',
      at('box.glb'),
      '--as',
      'headwear',
      '--edits',
      put('m.json', [
        {
          kind: 'add',
          table: 'parts',
          row: { kind: 'model', id: 'm', name: 'Box', stock: 'box', hang: { on: 'anchor', anchor: { kind: 'shoulders' } } },
        },
      ]),
      '--out',
      at('boxed.zip'),
    );
    expect(JSON.parse(run.stdout)).toEqual({ added: [{ file: at('box.glb'), stock: 'box' }] });
    const piece = await pieceOf('boxed.zip');
    expect(piece.stock.box).toMatchObject({ kind: 'model', stated: 'headwear' });
    expect(piece.parts.m).toMatchObject({ stock: 'box', opacity: 1, motion: null });
    const shown = await ok('piece', 'show', at('boxed.zip'));
    expect(shown.stdout).toContain('part m: Box (model), on shoulders, in layer main');
    const lost = await scaphos(['piece', 'edit', at('new.zip'), '--add', at('nothing.glb'), '--out', at('never.zip')]);
    expect(lost.code).toBe(2);
  });

  test('check: findings by their schema; a licence bars delivery, and nothing does once it is said', async () => {
    const check = async (bundle: string) => {
      const run = await scaphos(['piece', 'check', at(bundle), '--json']);
      expect((await schemaOf('check'))(run.rows[0]), JSON.stringify(run.rows)).toBe(true);
      return { code: run.code, codes: run.rows[0].findings.map((f: { code: string }) => f.code) };
    };
    const before = await check('boxed.zip');
    expect(before.code).toBe(1);
    expect(before.codes).toContain('deliver/licence');
    const words = (await scaphos(['piece', 'check', at('boxed.zip')])).stdout;
    expect(words).toMatch(/^ {2}warning: box\.glb: Its licence .*\[licence\/unknown\]$/m);
    expect(words).toMatch(/^ {2}blocker: The licence of box\.glb is not known\. \[deliver\/licence\]$/m);
    await ok(
      'piece',
      'edit',
      at('boxed.zip'),
      '--edits',
      put('own.json', { kind: 'change', table: 'stock', id: 'box', set: { credit: { author: '', source: '', licence: 'own-work' } } }),
      '--out',
      at('own.zip'),
    );
    expect((await check('own.zip')).codes).not.toContain('deliver/licence');
    expect((await check('new.zip')).codes).toContain('deliver/empty');
    writeFileSync(at('broken.zip'), readFileSync(at('own.zip')).subarray(0, 900));
    expect((await scaphos(['piece', 'check', at('broken.zip'), '--json'])).code).toBe(2);
  });
});

describe('run', () => {
  const parts = [
    { ...ball, id: 'yawOnly', follow: { pitch: false, roll: false } },
    { ...ball, id: 'still', hang: { on: 'anchor', anchor: { kind: 'shoulders' } } },
    { ...ball, id: 'lags', follow: { trail: { placeHalfLifeMs: 200 } } },
    { ...ball, id: 'child', hang: { on: 'part', part: 'lags' }, offset: { positionM: [0, 0.1, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } },
  ];
  beforeAll(async () => {
    await ok(
      'piece',
      'edit',
      at('new.zip'),
      '--edits',
      put(
        'run.json',
        parts.map((row) => ({ kind: 'add', table: 'parts', row })),
      ),
      '--out',
      at('run.zip'),
    );
  });
  const m = (x: number) => new Matrix4().setPosition(x, 0, 0).toArray();

  test('over a capture log: a trail half way after its half-life; lines by their schema', async () => {
    const log = [
      { timeS: 0, head: m(0), signals: { mouthOpen: 0.4 } },
      { timeS: 0.999, head: m(0) },
      { timeS: 1, head: m(0.4) },
    ];
    const line = await schemaOf('capture');
    for (const l of log) expect(line(l)).toBe(true);
    const run = await ok(
      'run',
      at('run.zip'),
      '--take',
      put('log.jsonl', log.map((l) => JSON.stringify(l)).join('\n')),
      '--until',
      '1.5',
      '--rate',
      '120',
      '--every',
      '0.1',
      '--json',
    );
    const valid = await schemaOf('run');
    expect(run.rows).toHaveLength(16);
    for (const r of run.rows) expect(valid(r), JSON.stringify(valid.errors)).toBe(true);
    const [half, later] = [1.2, 1.4].map((t) => run.rows.find((r) => Math.abs(r.timeS - t) < 1e-9));
    // the step at 1 s has gone one step's share already
    expect(half.parts.lags.matrix[12]).toBeCloseTo(0.4 * (1 - 2 ** (-(0.2 + 1 / 120) / 0.2)), 9);
    expect(later.parts.child.matrix[12]).toBeCloseTo(later.parts.lags.matrix[12], 12);
    expect(later.parts.child.matrix[13]).toBeCloseTo(0.1, 12);
    expect(half).toMatchObject({ signals: { mouthOpen: 0.4 }, states: {}, fired: [] });
  });

  test('over a take it equals what the Mirror’s runner is given, at whatever rate it is drawn', async () => {
    const piece = await pieceOf('run.zip');
    const runner = new Runner(
      compile(piece, { models: {} }),
      sourceOf((t) => simulateCapture(poseAtTime(SHOULDER_SWAY, t), SKELETONS.M, t)),
    );
    const [slow, fast] = [
      await ok('run', at('run.zip'), '--take', 'shoulder-sway', '--until', '3', '--rate', '24', '--every', '0.5', '--json'),
      await ok('run', at('run.zip'), '--take', 'shoulder-sway', '--until', '3', '--rate', '144', '--every', '0.5', '--json'),
    ];
    expect(slow.rows).toEqual(fast.rows);
    expect(slow.rows).toHaveLength(7);
    for (const row of slow.rows) {
      const state = runner.frame(row.timeS);
      for (const p of state?.parts ?? []) expect(row.parts[p.id]).toMatchObject({ shown: p.shown, matrix: p.matrix });
    }
    // the shoulders turn, the head does not
    const at12 = new Matrix4().fromArray(slow.rows[2].parts.still.matrix);
    expect(new Vector3(0, 0, 1).transformDirection(at12).x).toBeGreaterThan(0.3);
  });

  test('bones of a model are told in the world; a take that is none is refused', async () => {
    const document = await new WebIO().readBinary((await boxGlb()) as Uint8Array<ArrayBuffer>);
    const node = document.getRoot().listNodes()[0].setName('tip');
    const times = document
      .createAccessor()
      .setType('SCALAR')
      .setArray(new Float32Array([0, 1]));
    const places = document
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array([0, 0, 0, 0, 0.2, 0]));
    const buffer = document.getRoot().listBuffers()[0];
    for (const a of [times, places]) a.setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(times).setOutput(places).setInterpolation('LINEAR');
    document
      .createAnimation('rise')
      .addSampler(sampler)
      .addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath('translation').setSampler(sampler));
    writeFileSync(at('rise.glb'), await new WebIO().writeBinary(document));
    const row = {
      kind: 'model',
      id: 'm',
      name: 'Rise',
      stock: 'rise',
      hang: { on: 'anchor', anchor: { kind: 'head' } },
      offset: { positionM: [0.1, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] },
    };
    await ok(
      'piece',
      'edit',
      at('new.zip'),
      '--add',
      at('rise.glb'),
      '--edits',
      put('rise.json', [{ kind: 'add', table: 'parts', row }]),
      '--out',
      at('rise.zip'),
    );
    const run = await ok(
      'run',
      at('rise.zip'),
      '--take',
      put('still.jsonl', JSON.stringify({ timeS: 0, head: m(0) })),
      '--until',
      '0.5',
      '--rate',
      '2',
      '--json',
    );
    const pose = run.rows[1].parts.m.pose.tip;
    expect([pose[12], pose[13]].map((x: number) => Math.round(x * 1e6) / 1e6)).toEqual([0.1, 0.1]);
    const none = await scaphos(['run', at('rise.zip'), '--take', 'no-such', '--until', '1']);
    expect([none.code, none.stderr]).toEqual([64, expect.stringContaining('no take and no capture log')]);
  });

  test('a capture log comes in as a take of the piece, is run by its name and written again; what it cannot be is told', async () => {
    const log = put('Looks aside.jsonl', [0, 0.5, 1].map((t) => JSON.stringify({ timeS: t, head: m(t), markers: { p: m(0) } })).join('\n'));
    const brought = await ok('piece', 'edit', at('new.zip'), '--add', log, '--out', at('take.zip'));
    expect(JSON.parse(brought.stdout).added).toEqual([{ file: log, take: 'Looks-aside', told: expect.stringContaining('markers') }]);
    const run = await ok(
      'run',
      at('take.zip'),
      '--take',
      'Looks aside',
      '--until',
      '0.9',
      '--rate',
      '10',
      '--log',
      at('out.jsonl'),
      '--json',
    );
    expect(run.rows).toHaveLength(10);
    const lines = readFileSync(at('out.jsonl'), 'utf8')
      .trim()
      .split('\n')
      .map((l) => JSON.parse(l));
    expect(lines).toHaveLength(10);
    for (const [i, l] of lines.entries()) expect((l.head as number[])[12]).toBeCloseTo(i / 10, 3);
    const bad = await scaphos([
      'piece',
      'edit',
      at('new.zip'),
      '--add',
      put('none.jsonl', JSON.stringify({ timeS: 0, head: null })),
      '--out',
      at('no.zip'),
    ]);
    expect([bad.code, bad.stderr]).toEqual([2, expect.stringContaining('finds no head')]);
  });

  test('edits by program and by the interface are the same edits', () => {
    const one = applyEdit(createPiece('By program'), add('parts', ball as never));
    expect(one.parts.ball).toMatchObject({ locked: false, wears: {}, shape: { roundMm: 0, wallMm: 8, open: [] } });
  });
});
