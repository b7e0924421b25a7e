/** Files of others and kinds, on the command line: units and turns with the kind stated, fixes written, what is said of outside files. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { validateBytes } from 'gltf-validator';
import { afterAll, describe, expect, test } from 'vitest';
import { judgeFindings, ownCredit } from '@/core/intake';
import { runIntake } from '@/worker/node/intake';
import { spectaclesGlb } from '../../demo/models/spectacles';
import { scaphos } from '../support/cli';
import { CUBE_OBJ } from '../support/faulty';
import { inTurn, WHOLE } from '../support/sweep';

const MODELS = '/usr/share/assimp/models';
const dir = mkdtempSync(join(tmpdir(), 'scaphos-others-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));

const inspect = (...args: string[]) => scaphos(['inspect', ...args]);

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
    const [row] = (await inspect(once, '--json', '--as', 'eyewear', '--fix', 'all', '--out', twice)).rows as {
      units: { factor: number };
      orientation: { yawDeg: number; pitchDeg: number; rollDeg: number };
      sizeMm: number[];
      findings: { code: string; fix?: { shows?: unknown } }[];
    }[];
    expect(row.units.factor).toBe(1);
    expect([row.orientation.yawDeg, row.orientation.pitchDeg, row.orientation.rollDeg]).toEqual([0, 0, 0]);
    expect(row.sizeMm[0]).toBeCloseTo(146.3, 0);
    // the tubes of its temples end in the rims: covers over them would be seen, and are not put there unasked
    expect(row.findings.filter((f) => f.fix).map((f) => [f.code, f.fix?.shows !== undefined])).toEqual([['geometry/open-edges', true]]);
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
  ['Collada/duck.dae', ['licence/read', 'placing/unapplied', 'placing/pivot', 'geometry/uv-overlap']],
  ['Collada/sphere.dae', ['licence/unknown', 'licence/read', 'placing/unapplied', 'geometry/degenerate']],
  ['OBJ/box.obj', ['licence/unknown', 'geometry/normals-missing', 'geometry/non-manifold']],
  ['STL/sphereWithHole.stl', ['licence/unknown', 'geometry/open-edges', 'placing/scale', 'placing/pivot']],
  ['PLY/cube.ply', ['licence/unknown', 'geometry/normals-missing']],
  ['FBX/phong_cube.fbx', ['licence/unknown', 'placing/unapplied', 'placing/scale']],
];

const UNSTATED = { kind: null, changed: false, pictures: [] };
/** What is said of a file, or why it cannot be read: without a process of its own for each. */
async function said(file: string): Promise<{ code: string; message: string }[]> {
  try {
    const { items } = await runIntake({
      files: [{ name: file.slice(file.lastIndexOf('/') + 1), path: join(MODELS, file) }],
      fromDisk: true,
    });
    return items.flatMap(({ facts }) =>
      facts.kind === 'model' ? judgeFindings(facts, { ...UNSTATED, credit: ownCredit(facts) }) : facts.findings,
    );
  } catch (error) {
    return [error as { code: string; message: string }];
  }
}

describe.runIf(existsSync(MODELS))('files of others', () => {
  test('those that are wrong on purpose are called wrong, for a matching reason', async () => {
    for (const [file, code, words] of WRONG)
      expect([file, (await said(file)).filter((f) => f.code === code && words.test(f.message)).length > 0]).toEqual([file, true]);
  });

  test('the others get at most the codes listed for them', async () => {
    for (const [file, codes] of FOREIGN)
      expect([file, (await said(file)).map((f) => f.code).filter((c) => !codes.includes(c))]).toEqual([file, []]);
  });

  test.runIf(inTurn('files are read without a crash'))(
    'files are read without a crash or a hang, and every difference from assimp has a reason',
    { timeout: 600_000 },
    () => {
      const out = execFileSync('./scaphos', ['bench', 'intake'], {
        encoding: 'utf8',
        maxBuffer: 50e6,
        env: { ...process.env, SCAPHOS_TENTH: WHOLE ? '' : '1' },
      });
      expect(out).toMatch(
        WHOLE ? /1[0-9]{2} files, .* 0 unexplained; reader ended by 0/ : /1[0-9] files, .* 0 unexplained; reader ended by 0/,
      );
    },
  );
});
