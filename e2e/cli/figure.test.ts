/** `./scaphos rig --figure`: the demo's lamplighter, bodies nobody here made, joints from a file, motions; and what is no figure. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import Ajv from 'ajv/dist/2020';
import { Vector3 } from 'three';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { nodeMatrices, posedPrimitives, readModel, restPose } from '@/core/model';
import { toldSkeleton } from '@/core/rig';
import { HUMANOID_SETS } from '@/core/words/humanoid';
import { lamplighterGlb } from '../../demo/models/lamplighter';
import { scaphos as run } from '../support/cli';
import { errorsOf } from '../support/preparing';
import { inTurn } from '../support/sweep';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-figure-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const at = (name: string) => join(dir, name);
const scaphos = (...args: string[]) => run(args, { SCAPHOS_DATA: at('data') });
const io = new WebIO().registerExtensions(ALL_EXTENSIONS);
const figure = (file: string, ...more: string[]) => scaphos('rig', file, '--figure', ...more, '--out', at('out.glb'), '--json');
interface BoneRow {
  name: string;
  parent: string | null;
  humanoid?: string;
  headM: [number, number, number];
  sure: number;
}

beforeAll(async () => {
  writeFileSync(at('lamplighter.glb'), await lamplighterGlb());
});

test('the lamplighter: 22 bones of the standard, two motions, and everything else is as it was', async () => {
  const before = await io.readBinary(new Uint8Array(readFileSync(at('lamplighter.glb'))));
  const { code, rows, stderr } = await figure(at('lamplighter.glb'), '--motion', 'walk:1.1', '--motion', 'bow');
  expect(code, stderr).toBe(0);
  const [row] = rows;
  const ajv = new Ajv({ strict: false });
  expect(ajv.validate(JSON.parse((await scaphos('schema', 'rig')).stdout), row), ajv.errorsText()).toBe(true);
  const bones: BoneRow[] = row.bones;
  expect(bones.map((b) => b.humanoid)).toEqual(HUMANOID_SETS[22]);
  expect(row.retarget.map((r: { clip: string }) => r.clip)).toEqual(['walk', 'bow']);
  for (const r of row.retarget) {
    expect(r.footSlipMm).toBeLessThan(3);
    expect(r.loopGapDeg).toBeLessThan(0.01);
  }
  // the lantern at the belt is no limb
  expect(row.others.length).toBeGreaterThan(0);
  const bytes = new Uint8Array(readFileSync(at('out.glb')));
  expect(await errorsOf(bytes)).toEqual([]);
  const after = await io.readBinary(bytes);
  const kept = (d: Document) =>
    [d.getRoot().listMaterials(), d.getRoot().listTextures(), d.getRoot().listMeshes()].map((l) => l.map((x) => x.getName()));
  expect(kept(after)).toEqual(kept(before));
  expect(
    after
      .getRoot()
      .listAnimations()
      .map((a) => a.getName()),
  ).toEqual(['walk', 'bow']);
});

test('joints from a file stand where they are said to; a name that is no bone, and a file that is no JSON, are told', async () => {
  writeFileSync(at('joints.json'), JSON.stringify({ leftLowerArm: [0.36, 1.16, 0.02] }));
  const { rows } = await figure(at('lamplighter.glb'), '--detail', '17', '--joints', at('joints.json'));
  const bones: BoneRow[] = rows[0].bones;
  expect(bones).toHaveLength(17);
  expect(bones.find((b) => b.name === 'leftLowerArm')).toMatchObject({ headM: [0.36, 1.16, 0.02], sure: 1 });
  writeFileSync(at('joints.json'), JSON.stringify({ leftElbow: [0, 1, 0] }));
  expect(await figure(at('lamplighter.glb'), '--joints', at('joints.json'))).toMatchObject({
    code: 65,
    stderr: expect.stringContaining('leftElbow, which is no bone'),
  });
  writeFileSync(at('joints.json'), 'leftHand: 1');
  expect(await figure(at('lamplighter.glb'), '--joints', at('joints.json'))).toMatchObject({
    code: 65,
    stderr: expect.stringContaining('is no JSON'),
  });
});

// two bodies of Debian's assimp-testmodels, read by assimp: nobody here made either
test.each([
  ['Collada/human.zae', 0.25],
  ['BLEND/HUMAN.blend', 0.25],
])('%s: head above neck above hips above knees, sides that mirror, and arms that end at hands', async (file, least) => {
  execFileSync('assimp', ['export', `/usr/share/assimp/models/${file}`, at('human.glb'), '-fglb2'], { stdio: 'ignore' });
  const { code, rows } = await figure(at('human.glb'));
  expect(code).toBeLessThan(2);
  const bones: BoneRow[] = rows[0].bones;
  const place = (n: string) => (bones.find((b) => b.name === n) as BoneRow).headM;
  const minus = (a: number[], b: number[]) => a.map((x, k) => x - b[k]);
  const size = (a: number[]) => Math.hypot(...a);
  const dot = (a: number[], b: number[]) => a.reduce((s, x, k) => s + x * b[k], 0);
  const trunk = minus(place('neck'), place('hips'));
  const along = (n: string) => dot(minus(place(n), place('hips')), trunk) / dot(trunk, trunk);
  const order = ['leftFoot', 'leftLowerLeg', 'leftUpperLeg', 'spine', 'upperChest', 'neck', 'head'].map(along);
  expect(order).toEqual([...order].sort((a, b) => a - b));
  // legs are about as long as the trunk and the head: hips half way up
  const leg = size(minus(place('leftUpperLeg'), place('leftLowerLeg'))) + size(minus(place('leftLowerLeg'), place('leftFoot')));
  expect(leg / (leg + size(minus(place('head'), place('hips'))))).toBeGreaterThan(0.4);
  expect(leg / (leg + size(minus(place('head'), place('hips'))))).toBeLessThan(0.65);
  for (const [a, b] of [
    ['UpperArm', 'LowerArm'],
    ['LowerArm', 'Hand'],
    ['UpperLeg', 'LowerLeg'],
    ['LowerLeg', 'Foot'],
  ]) {
    const [l, r] = ['left', 'right'].map((s) => size(minus(place(s + a), place(s + b))));
    expect(Math.abs(l - r) / (l + r)).toBeLessThan(least / 2);
  }
});

/** A skinned model of Debian's assimp-testmodels as it stands at rest, its skeleton taken away; and where that had its bones. */
async function withoutSkeleton(file: string): Promise<Map<string, Vector3>> {
  execFileSync('assimp', ['export', `/usr/share/assimp/models/${file}`, at('skinned.glb'), '-fglb2'], { stdio: 'ignore' });
  const model = readModel(await io.readBinary(new Uint8Array(readFileSync(at('skinned.glb')))));
  const world = nodeMatrices(model, restPose(model));
  const document = new Document();
  const scene = document.createScene();
  const buffer = document.createBuffer();
  for (const { mesh, primitive, positions } of posedPrimitives(model, restPose(model))) {
    const p = document
      .createPrimitive()
      .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(Float32Array.from(positions)).setBuffer(buffer))
      .setIndices(
        document
          .createAccessor()
          .setType('SCALAR')
          .setArray(Uint32Array.from(model.meshes[mesh].primitives[primitive].triangles))
          .setBuffer(buffer),
      );
    scene.addChild(document.createNode(`m${mesh}`).setMesh(document.createMesh().addPrimitive(p)));
  }
  document.getRoot().setDefaultScene(scene);
  writeFileSync(at('bare.glb'), await io.writeBinary(document));
  return new Map(model.nodes.map((n, i) => [n.name, new Vector3().setFromMatrixPosition(world[i])]));
}

test.runIf(inTurn('a body nobody here made, a hand'))(
  'a body nobody here made, a hand at its hip and its hair in a tail: joints within a twentieth of stature of its own skeleton’s',
  async () => {
    const own = await withoutSkeleton('X/BCN_Epileptic.X');
    const { code, rows, stderr } = await figure(at('bare.glb'));
    expect(code, stderr).toBeLessThan(2);
    const bones: BoneRow[] = rows[0].bones;
    // crown to sole
    const stature = 0.79 + 1.02;
    const pairs = {
      UpperArm: 'UpperArm',
      LowerArm: 'ForeArm',
      Hand: 'Hand',
      UpperLeg: 'Hip',
      LowerLeg: 'Knee',
      Foot: 'Ankle',
      Toes: 'Toe',
    };
    for (const side of ['left', 'right'])
      for (const [bone, its] of Object.entries(pairs)) {
        const there = own.get(`B_${its}_${side === 'left' ? 'Left' : 'Right'}`) as Vector3;
        const { headM } = bones.find((b) => b.name === side + bone) as BoneRow;
        expect(there.distanceTo(new Vector3(...headM)) / stature, side + bone).toBeLessThan(0.05);
      }
    const { headM } = bones.find((b) => b.name === 'neck') as BoneRow;
    expect((own.get('B_Neck') as Vector3).distanceTo(new Vector3(...headM)) / stature).toBeLessThan(0.05);
    // the tail of hair is no head
    expect(rows[0].others).toHaveLength(1);

    // its own skeleton: a root with one bone up and one down, a neck that is the head, and no name that says hips
    const told = toldSkeleton(readModel(await io.readBinary(new Uint8Array(readFileSync(at('skinned.glb'))))));
    expect(told.missing).toEqual([]);
    const walks = await moved(at('skinned.glb'), '--motion', BVH);
    expect(walks.code, walks.stderr).toBeLessThan(2);
    const named = new Map((walks.rows[0].bones as BoneRow[]).flatMap((b) => (b.humanoid ? [[b.humanoid, b.name] as const] : [])));
    for (const [bone, its] of [
      ['hips', 'B_Root_Pelvis_L'],
      ['head', 'B_Neck'],
      ['spine', 'B_Root_Pelvis_T'],
      ['upperChest', 'B_Spine4'],
      ['leftUpperLeg', 'B_Hip_Left'],
      ['rightFoot', 'B_Ankle_Right'],
      ['leftShoulder', 'B_Clavicle_Left'],
      ['rightHand', 'B_Hand_Right'],
    ])
      expect(named.get(bone), bone).toBe(its);
    expect(walks.rows[0].retarget[0].footSlipMm).toBeLessThan(3);
  },
);

test('a beast with a skeleton of its own is no figure', async () => {
  const own = await withoutSkeleton('X/Testwuson.X');
  expect(own.has('HindLeg_L_01')).toBe(true);
  expect(await figure(at('bare.glb'))).toMatchObject({ code: 2, rows: [{ error: { code: 'rig/no-figure' } }] });
});

test.runIf(inTurn('a spider nobody here made'))(
  'a spider nobody here made is none, and so are a ball of one triangle and a figure without a step',
  async () => {
    expect(await figure('/usr/share/assimp/models/FBX/spider.fbx')).toMatchObject({
      code: 2,
      rows: [{ error: { code: 'rig/no-figure', message: expect.stringContaining('limbs') } }],
    });
    for (const args of [['--detail', '19'], ['--motion', 'moonwalk'], ['--motion', 'walk:9'], ['--motion', 'idle:1'], ['--chains']])
      expect((await figure(at('lamplighter.glb'), ...args)).code, args.join(' ')).toBe(64);
    expect((await scaphos('rig', at('lamplighter.glb'), '--chains', '--motion', 'walk', '--out', at('o.glb'))).code).toBe(64);
  },
);

let ours: Promise<Uint8Array> | undefined;
/** The lamplighter with bones as another program calls them: nothing of ours is left in it but where they are. */
async function foreign(call: (bone: string, i: number) => string): Promise<string> {
  ours ??= figure(at('lamplighter.glb')).then(() => new Uint8Array(readFileSync(at('out.glb'))));
  const document = await io.readBinary(await ours);
  for (const [i, joint] of document.getRoot().listSkins()[0].listJoints().entries()) joint.setName(call(joint.getName(), i)).setExtras({});
  writeFileSync(at('foreign.glb'), await io.writeBinary(document));
  return at('foreign.glb');
}
const moved = (file: string, ...more: string[]) => scaphos('rig', file, ...more, '--out', at('moved.glb'), '--json');
const BVH = '/usr/share/assimp/models/BVH/01_03.bvh';

test.runIf(inTurn('bones of other names are known'))(
  'bones of other names are known, and a capture nobody here made moves them; feet stay, the end meets the beginning',
  async () => {
    const file = await foreign(
      (bone) => `def_${bone.replace(/^(left|right)(.+)$/, (_, side: string, part: string) => `${part}.${side[0].toUpperCase()}`)}`,
    );
    const { code, rows, stderr } = await moved(file, '--motion', BVH, '--motion', 'wave');
    expect(code, stderr).toBe(0);
    const [row] = rows;
    const ajv = new Ajv({ strict: false });
    expect(ajv.validate(JSON.parse((await scaphos('schema', 'rig')).stdout), row), ajv.errorsText()).toBe(true);
    const bones: BoneRow[] = row.bones;
    expect(bones.find((b) => b.humanoid === 'leftUpperArm')?.name).toBe('def_UpperArm.L');
    expect(bones.flatMap((b) => b.humanoid ?? []).sort()).toEqual([...HUMANOID_SETS[22]].sort());
    const [wave, capture] = row.retarget;
    expect([wave.clip, capture.clip]).toEqual(['wave', '01_03']);
    expect(capture.footSlipMm).toBeLessThan(3);
    expect(capture.loopGapDeg).toBeLessThan(0.01);
    expect(await errorsOf(new Uint8Array(readFileSync(at('moved.glb'))))).toEqual([]);
  },
);

test('bones whose names say nothing are known by how they branch; half as fast takes twice as long', async () => {
  const file = await foreign((_, i) => `bone ${String((i * 7) % 22).padStart(2, '0')}`);
  const [once] = (await moved(file, '--motion', `${BVH}:4`)).rows;
  const { code, rows } = await moved(file, '--motion', `${BVH}:2`);
  expect(code).toBe(0);
  expect(rows[0].found).toBe('how they branch');
  expect(rows[0].bones.flatMap((b: BoneRow) => b.humanoid ?? []).length).toBe(22);
  expect(rows[0].retarget[0].seconds / once.retarget[0].seconds).toBeCloseTo(2, 1);
});

test('what no motion can be had from, and what none can move, is told', async () => {
  const file = await foreign((bone) => bone);
  const picture = '/usr/share/assimp/models/OBJ/../glTF2/BoxTextured-glTF/CesiumLogoFlat.png';
  expect((await moved(file, '--motion', picture)).rows[0].error).toEqual({
    code: 'rig/no-clip',
    message: 'CesiumLogoFlat.png holds no motion.',
  });
  expect((await moved(file, '--motion', '/nowhere/walk.bvh')).rows[0].error.code).toBe('file/not-found');
  const still = await moved('/usr/share/assimp/models/OBJ/spider.obj', '--motion', BVH);
  expect(still.code).toBe(2);
  expect(still.rows[0].error.message).toMatch(/^Motion needs the bones of a figure/);
  expect((await moved(file, '--motion', `${BVH}:9`)).stderr).toContain('0.25 to 4 times its speed, not 9');
  expect((await moved(file, '--motion', 'jump')).stderr).toContain('or a file, not jump');
});
