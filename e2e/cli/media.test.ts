/** Stock files that are no models, on the command line. */
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import Ajv from 'ajv/dist/2020';
import { afterAll, describe, expect, test } from 'vitest';
import { buildFormBase, formDocument, makeForm } from '@/core/form';
import { bellWav, flameZip, pennantPng, skyHdr, walkBvh } from '../../demo/media';
import { scaphos } from '../support/cli';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-media-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const bytes = (s: string) => new TextEncoder().encode(s);

describe('./scaphos inspect', () => {
  test('knows every kind, and every line is as the published schema says (checked by ajv)', async () => {
    const files: [string, Uint8Array][] = [
      ['flame.zip', await flameZip(5, 24)],
      ['pennant.png', await pennantPng(96)],
      ['bell.wav', bellWav()],
      ['dawn.hdr', skyHdr('night-market', 64)],
      ['walk.bvh', bytes(walkBvh())],
      ['form.glb', await new WebIO().writeBinary(formDocument(makeForm(buildFormBase(), 'S'), 'S'))],
      ['broken.png', bytes('no')],
    ];
    for (const [name, b] of files) writeFileSync(join(dir, name), b);
    const run = await scaphos(['inspect', ...files.map(([n]) => join(dir, n)), '--json']);
    expect(run.rows.map((r: { kind?: string }) => r.kind ?? 'unreadable')).toEqual([
      'sequence',
      'picture',
      'sound',
      'environment',
      'motion',
      'model',
      'unreadable',
    ]);
    expect(run.code).toBe(2);
    const schema = JSON.parse((await scaphos(['schema', 'inspect'])).stdout);
    const check = new Ajv({ strict: false }).compile(schema);
    for (const row of run.rows) expect(check(row) ? [] : check.errors).toEqual([]);
    // and the schema can refuse
    expect(check({ ...run.rows[2], loudnessLufs: 'loud' })).toBe(false);
    expect(check({ ...run.rows[0], frames: 0 })).toBe(false);
    const words = await scaphos(['inspect', join(dir, 'bell.wav')]);
    expect(words.stdout).toContain('22050 Hz');
    expect((await scaphos(['schema', 'something'])).code).toBe(64);
  });
  test('--fix all writes the mended picture and sound', async () => {
    writeFileSync(join(dir, 'bell.wav'), bellWav());
    writeFileSync(join(dir, 'pennant.png'), await pennantPng());
    const out = join(dir, 'out');
    mkdirSync(out, { recursive: true });
    const run = await scaphos(['inspect', join(dir, 'bell.wav'), join(dir, 'pennant.png'), '--json', '--fix', 'all', '--out', out]);
    expect(run.code).toBe(0);
    const [bell, pennant] = run.rows.map((r: { written: string }) => r.written);
    expect(bell.endsWith('bell.wav')).toBe(true);
    expect(readFileSync(bell).length).toBeLessThan(bellWav().length * 0.8);
    expect(pennant.endsWith('pennant.webp')).toBe(true);
    expect((await scaphos(['inspect', bell, pennant, '--json'])).rows.map((r: { findings: unknown[] }) => r.findings)).toEqual([[], []]);
  });
});
