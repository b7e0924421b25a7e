/** The contract of `./scaphos prepare`: rows, exit codes, recipes, and clear answers to what cannot be prepared. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Document, WebIO } from '@gltf-transform/core';
import Ajv from 'ajv/dist/2020';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { rawGlb } from '@/core/intake/samples';
import { blob, surfaceDocument } from '@/core/prepare/samples';
import { measure } from '@/worker/node';
import { scaphos as run } from '../support/cli';
import { lone } from '../support/preparing';
import { EFFORT } from '../support/sweep';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-prepare-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const at = (name: string) => join(dir, name);

const scaphos = (...args: string[]) => run(args, { SCAPHOS_DATA: at('data'), SCAPHOS_EFFORT: EFFORT });

beforeAll(async () => {
  writeFileSync(at('blob.glb'), await new WebIO().writeBinary(surfaceDocument('blob', blob(0.02), 32, 16)));
  writeFileSync(at('one.glb'), await lone(4, [0, 0, 0, 0.1, 0, 0, 0, 0.1, 0], [0, 1, 2]));
  writeFileSync(at('lines.glb'), await lone(1, [0, 0, 0, 0.1, 0, 0]));
  writeFileSync(at('points.glb'), await lone(0, [0, 0, 0, 0.1, 0, 0]));
  const empty = new Document();
  empty.createScene().addChild(empty.createNode('nothing'));
  writeFileSync(at('empty.glb'), await new WebIO().writeBinary(empty));
  writeFileSync(
    at('lying.glb'),
    rawGlb(
      {
        asset: { version: '2.0' },
        nodes: [{ mesh: 0 }],
        scenes: [{ nodes: [0] }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }],
        buffers: [{ byteLength: 120_000_036 }],
        bufferViews: [
          { buffer: 0, byteLength: 36 },
          { buffer: 0, byteOffset: 36, byteLength: 120_000_000 },
        ],
        accessors: [
          { bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 1] },
          { bufferView: 1, componentType: 5125, count: 30_000_000, type: 'SCALAR' },
        ],
      },
      new Uint8Array(36),
    ),
  );
});

describe('./scaphos prepare', () => {
  test('meets a limit: exit 0, a row that fits its schema, the file under the limit; the second run answers from what was kept', async () => {
    const schema = JSON.parse((await scaphos('schema', 'prepare')).stdout);
    const first = await scaphos('prepare', at('blob.glb'), '--max-bytes', '3kB', '--out', at('out.glb'), '--json');
    expect(first.code).toBe(0);
    const [row] = first.rows;
    expect(new Ajv({ strict: false }).validate(schema, row)).toBe(true);
    expect(row.met).toBe(true);
    expect(readFileSync(at('out.glb')).byteLength).toBe(row.after.bytes);
    expect(row.after.bytes).toBeLessThanOrEqual(3_000);
    expect(row.before.bytes).toBe(readFileSync(at('blob.glb')).byteLength);
    expect(row.before.triangles).toBe(2 * 32 * 16 - 2 * 32);
    expect(row.steps.reduce((s: number, x: { savedBytes: number }) => s + x.savedBytes, 0)).toBe(row.before.bytes - row.after.bytes);
    expect(row.front.length).toBeGreaterThan(3);
    const again = await scaphos('prepare', at('blob.glb'), '--max-bytes', '3kB', '--out', at('out2.glb'), '--json');
    expect(again.rows[0].front).toEqual(row.front);
    expect(again.rows[0].seconds).toBeLessThan(row.seconds);
    expect(readFileSync(at('out2.glb'))).toEqual(readFileSync(at('out.glb')));
  });
  test('what cannot be met: exit 1, the nearest written, and why; what cannot be read: exit 2 and why, one line each', async () => {
    const tight = await scaphos('prepare', at('one.glb'), '--max-bytes', '10', '--out', at('tight.glb'), '--json');
    expect(tight.code).toBe(1);
    expect(tight.rows[0]).toMatchObject({ met: false, after: { triangles: 1 } });
    expect(tight.rows[0].unmet[0]).toMatch(/would have to give/);
    expect(readFileSync(at('tight.glb')).byteLength).toBe(tight.rows[0].after.bytes);
    const bad = await scaphos(
      'prepare',
      at('empty.glb'),
      at('lying.glb'),
      at('not-there.glb'),
      at('lines.glb'),
      at('points.glb'),
      '--profile',
      'light',
      '--out',
      dir,
      '--json',
    );
    expect(bad.code).toBe(2);
    expect(bad.rows.map((r) => r.error?.code ?? 'met')).toEqual(['prepare/empty', 'gltf/buffer', 'file/not-found', 'met', 'met']);
    expect(bad.rows[3].after.triangles).toBe(0);
  });
  test('a recipe file is run as it stands; one that is wrong says where', async () => {
    writeFileSync(
      at('recipe.json'),
      JSON.stringify({
        name: 'Half and packed',
        steps: [
          { step: 'simplify', settings: { ratio: 0.5, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] } },
          { step: 'compress', settings: { method: 'meshopt' } },
          { step: 'ground', settings: {}, on: false },
        ],
      }),
    );
    const schema = JSON.parse((await scaphos('schema', 'recipe')).stdout);
    expect(new Ajv({ strict: false }).validate(schema, JSON.parse(readFileSync(at('recipe.json'), 'utf8')))).toBe(true);
    const got = await scaphos('prepare', at('blob.glb'), '--recipe', at('recipe.json'), '--out', at('recipe.glb'), '--json');
    expect(got.code).toBe(0);
    expect(got.rows[0].steps.map((s: { step: string }) => s.step)).toEqual(['simplify', 'compress']);
    expect(Math.abs(got.rows[0].after.triangles / got.rows[0].before.triangles - 0.5)).toBeLessThan(0.02);
    expect(got.rows[0].error.meanMm).toBeGreaterThan(0);
    writeFileSync(at('wrong.json'), JSON.stringify({ steps: [{ step: 'simplify', settings: { ratio: 7 } }] }));
    const wrong = await scaphos('prepare', at('blob.glb'), '--recipe', at('wrong.json'), '--out', at('x.glb'));
    expect(wrong.code).toBe(64);
    expect(wrong.stderr).toMatch(/steps\.0\.settings/);
  });
  test('what is asked for wrongly is told', async () => {
    for (const [args, said] of [
      [['--out', at('x.glb')], /needs --profile, a limit, or --recipe/],
      [['--max-bytes', '1MB'], /needs --out/],
      [['--max-bytes', 'much', '--out', at('x.glb')], /takes a size like 1MB/],
      [['--profile', 'huge', '--out', at('x.glb')], /takes one of light, pocket, wide/],
      [['--profile', 'light', '--max-bones', '4', '--out', at('x.glb')], /not both/],
      [['--max-triangles', '0', '--out', at('x.glb')], /whole number from 1 up/],
    ] as const) {
      const got = await scaphos('prepare', at('blob.glb'), ...args);
      expect([got.code, got.stderr]).toEqual([64, expect.stringMatching(said)]);
    }
  });
  test('a job says how far it is, and can be stopped', async () => {
    const job = {
      path: at('blob.glb'),
      bytes: 1,
      steps: [{ id: 'a', on: true, step: 'prune', settings: {} } as const],
      files: {},
      kind: null,
    };
    const told: string[] = [];
    const done = await measure({ ...job, measure: 'steps' }, { progress: (p) => told.push(p.what) });
    expect(told).toContain('done');
    expect(done.steps[0].error?.maxMm).toBeLessThan(0.001);
    const stop = new AbortController();
    const stopped = measure({ ...job, measure: 'steps' }, { signal: stop.signal });
    stop.abort();
    await expect(stopped).rejects.toMatchObject({ code: 'job/stopped' });
  });
});
