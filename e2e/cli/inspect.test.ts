/** The contract of `./scaphos inspect`, and its counts against an independent reader. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import { PNG } from 'pngjs';
import { afterAll, describe, expect, test } from 'vitest';
import type { ModelFacts } from '@/core/intake';
import { boxGlb } from '@/core/intake/samples';
import { runIntake } from '@/worker/node/intake';
import { program, scaphos } from '../support/cli';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-inspect-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));

const inspect = (...args: string[]) => scaphos(['inspect', ...args]);

const MODELS = '/usr/share/assimp/models/glTF2';
const good = join(dir, 'good.glb');
const deep = join(dir, 'deep.gltf');

describe('./scaphos inspect --json', () => {
  test('one object a line in argument order, nothing else on standard output, the highest exit code', async () => {
    writeFileSync(good, await boxGlb([0.05, 0.1, 0.15]));
    writeFileSync(
      deep,
      JSON.stringify({
        asset: { version: '2.0' },
        nodes: Array.from({ length: 20_000 }, (_, i) => (i < 19_999 ? { children: [i + 1] } : {})),
      }),
    );
    const args = ['inspect', good, '/not/there.glb', deep, good, '--json'];
    const run = await program(args);
    expect(run.rows.map((r) => r.file)).toEqual([good, '/not/there.glb', deep, good]);
    expect(run.rows[0]).toMatchObject({
      format: 'glb',
      readable: true,
      sizeMm: [100, 200, 300],
      triangles: 12,
      vertices: 24,
      meshes: 1,
      materials: 1,
      bones: 0,
      textures: [],
      clips: [],
      missing: [],
      units: null,
      orientation: null,
    });
    expect((run.rows[0].findings as { code: string }[]).map((f) => f.code)).toEqual(['licence/unknown']);
    expect(run.rows[1]).toEqual({
      file: '/not/there.glb',
      readable: false,
      error: { code: 'file/not-found', message: expect.any(String) },
    });
    expect(run.rows[2]).toMatchObject({ readable: false, error: { code: 'gltf/too-deep' } });
    expect(run.code).toBe(2);
    expect(run.stderr).not.toMatch(/at .*\(.*:\d+:\d+\)/);
    // called within a process, as the other tests do, it says the same
    expect(await scaphos(args)).toEqual(run);
  });

  test('a picture whose first chunk has another name: the validator throws past its own answer, and the file is told all the same', async () => {
    const png = PNG.sync.write(new PNG({ width: 4, height: 4 }));
    png.write('NOPE', 12, 'latin1');
    const document = await new WebIO().readBinary(await boxGlb());
    const texture = document.createTexture('broken').setImage(new Uint8Array(png)).setMimeType('image/png');
    document.getRoot().listMaterials()[0].setBaseColorTexture(texture);
    const path = join(dir, 'nope.glb');
    writeFileSync(path, await new WebIO().writeBinary(document));
    const { rows } = await program(['inspect', path, '--json']);
    expect(rows[0]).toMatchObject({ readable: true, triangles: 12 });
    const told = (rows[0].findings as { code: string; message: string }[]).filter((f) => f.code === 'gltf/invalid');
    expect(told.map((f) => f.message).join()).toMatch(/IMAGE_DATA_INVALID/);
  });

  test('exit 0 without a blocker, 1 with one, 64 for wrong usage', async () => {
    writeFileSync(good, await boxGlb());
    expect((await inspect(good, '--json')).code).toBe(0);
    expect(await inspect(good, '--nonsense')).toEqual(await program(['inspect', good, '--nonsense']));
    expect((await inspect(good, '--nonsense')).code).toBe(64);
    expect((await inspect('--json')).code).toBe(64);
    const bad = join(MODELS, 'BoxBadNormals-glTF-Binary/BoxBadNormals.glb');
    if (!existsSync(bad)) return;
    const run = await inspect(bad, '--json');
    expect(run.code).toBe(1);
    expect(run.rows[0].findings).toEqual(expect.arrayContaining([expect.objectContaining({ code: 'gltf/invalid', level: 'blocker' })]));
  });

  test('in words, for people: the same facts', async () => {
    writeFileSync(good, await boxGlb([0.05, 0.1, 0.15]));
    const run = await inspect(good);
    expect(run.stdout).toContain('100.0 × 200.0 × 300.0 mm (side × up × fore)');
    expect(run.stdout).toContain('12 triangles');
  });

  /** Files nobody here made; faces as `assimp info` counts them after its own reading. */
  test
    .runIf(existsSync(MODELS))
    .each([
      'BoxTextured-glTF-Binary/BoxTextured.glb',
      '2CylinderEngine-glTF-Binary/2CylinderEngine.glb',
      'simple_skin/simple_skin.gltf',
      'ClearCoat-glTF/ClearCoatTest.gltf',
      'textureTransform/TextureTransformTest.gltf',
      'cameras/Cameras.gltf',
    ])('%s: triangles and animations as an independent reader has them', async (file) => {
    const path = join(MODELS, file);
    const row = (await runIntake({ files: [{ name: file.slice(file.lastIndexOf('/') + 1), path }], fromDisk: true })).items[0]
      .facts as ModelFacts;
    const info = execFileSync('assimp', ['info', path], { encoding: 'utf8' });
    const count = (key: string) => Number(new RegExp(`^${key}:\\s+(\\d+)`, 'm').exec(info)?.[1]);
    expect(row.clips).toHaveLength(count('Animations'));
    // assimp counts a mesh once however many nodes draw it; three of these draw some of theirs more than once
    expect(row.triangles).toBeGreaterThanOrEqual(count('Faces'));
    if (!/^(2Cylinder|ClearCoat|textureTransform)/.test(file)) expect(row.triangles).toBe(count('Faces'));
  });
});
