import { existsSync, readFileSync } from 'node:fs';
import { type Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import fc from 'fast-check';
import { Matrix4, Quaternion, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { createRigged } from '../../../e2e/support/faulty';
import { type Model, QUARTER_TURNS, quarterQuaternion, readGltf, readModel } from '../intake';
import { offsetMatrix } from '../math/offset';
import { applyNodes, applyTransform } from '../model';
import { poseAt, posedPrimitives } from '../model/pose';
import { combineTransforms, turnOf } from '../piece';
import { NO_TRANSFORM, type TransformSettings } from '../piece/recipe';
import { divideOffset, mergeDrafts } from './index';

const MODELS = '/usr/share/assimp/models/glTF2';
/** Files nobody here made; the rigged cube stands in where Debian's test models are not installed. */
const FILES = [
  'simple_skin/simple_skin.gltf',
  '2CylinderEngine-glTF-Binary/2CylinderEngine.glb',
  'glTF-Sample-Models/AnimatedMorphCube-glTF/AnimatedMorphCube.gltf',
  'cameras/Cameras.gltf',
].filter((f) => existsSync(`${MODELS}/${f}`));

async function open(file: string): Promise<Document> {
  const path = `${MODELS}/${file}`;
  const bytes = readFileSync(path);
  const companions = new Map<string, Uint8Array>();
  if (file.endsWith('.gltf'))
    for (const { uri } of [...(JSON.parse(bytes.toString()).buffers ?? []), ...(JSON.parse(bytes.toString()).images ?? [])])
      if (uri && !uri.startsWith('data:'))
        companions.set(decodeURIComponent(uri), readFileSync(`${path.slice(0, path.lastIndexOf('/'))}/${decodeURIComponent(uri)}`));
  return (await readGltf(bytes, {}, companions)).document;
}

const posed = (model: Model, t: number) => posedPrimitives(model, poseAt(model, 0, t));
const size = (list: { positions: Float32Array }[]) =>
  Math.max(1e-9, ...list.map((p) => p.positions.reduce((m, x) => Math.max(m, Math.abs(x)), 0)));

/** Every drawn vertex before, moved by hand, against every drawn vertex after. */
async function expectMoved(
  make: () => Promise<Document>,
  factor: number,
  turn: Quaternion,
  shift: [number, number, number],
): Promise<void> {
  const before = readModel(await make());
  const document = await make();
  applyTransform(document, { factor, turn, shiftM: shift });
  const after = readModel(document);
  const m = new Matrix4().compose(new Vector3(...shift), turn, new Vector3(factor, factor, factor));
  for (const t of [0, 0.31, 0.77]) {
    const [a, b] = [posed(before, t), posed(after, t)];
    expect(b.length).toBe(a.length);
    const slack = 2e-6 * (size(b) + Math.hypot(...shift));
    let worst = 0;
    a.forEach((p, i) => {
      for (let v = 0; v + 2 < p.positions.length; v += 3) {
        const at = new Vector3().fromArray(p.positions, v).applyMatrix4(m);
        worst = Math.max(worst, at.distanceTo(new Vector3().fromArray(b[i].positions, v)));
      }
    });
    expect(worst).toBeLessThan(slack);
  }
}

describe('applyTransform moves every drawn vertex as the similarity says, at rest and in motion', () => {
  const turns = [QUARTER_TURNS[0], QUARTER_TURNS[5], QUARTER_TURNS[13], QUARTER_TURNS[20]];
  test.each(turns)('a skinned, animated cube, turned $yawDeg/$pitchDeg/$rollDeg', async (t) => {
    await expectMoved(async () => (await createRigged()).document, 0.0254, quarterQuaternion(t), [0.3, -2, 0.01]);
  });
  test.each(FILES)('%s', async (file) => {
    for (const t of turns) await expectMoved(() => open(file), 0.01, quarterQuaternion(t), [0.1, 0.2, -0.3]);
  });
  test('a turn that is not by quarters goes on the root nodes', () =>
    expectMoved(
      async () => (await createRigged()).document,
      2,
      new Quaternion().setFromAxisAngle(new Vector3(1, 2, 3).normalize(), 0.7),
      [1, 0, 0],
    ));
  test('nothing to do changes no byte', async () => {
    const io = new WebIO().registerExtensions(ALL_EXTENSIONS);
    const { document } = await createRigged();
    const before = await io.writeBinary(document);
    applyTransform(document, { factor: 1, turn: new Quaternion(), shiftM: [0, 0, 0] });
    expect(Buffer.compare(await io.writeBinary(document), before)).toBe(0);
  });
  test('there and back is where it was', async () => {
    const { document } = await createRigged();
    const before = posed(readModel(document), 0.3);
    applyTransform(document, { factor: 100, turn: quarterQuaternion(QUARTER_TURNS[9]), shiftM: [0, 0, 0] });
    applyTransform(document, { factor: 0.01, turn: quarterQuaternion(QUARTER_TURNS[9]).invert(), shiftM: [0, 0, 0] });
    const after = posed(readModel(document), 0.3);
    for (const [i, p] of before.entries()) for (const [k, x] of p.positions.entries()) expect(after[i].positions[k]).toBeCloseTo(x, 6);
  });
});

describe('applyNodes', () => {
  test.each(FILES)('%s: every vertex stays where it was, still mesh nodes keep their place only', async (file) => {
    const document = await open(file);
    const before = posed(readModel(document), 0.2);
    applyNodes(document);
    const after = posed(readModel(document), 0.2);
    const whole = size(before);
    // every vertex along one slanting direction, in order: the order of the nodes may change, the shape must not
    const along = (list: { positions: Float32Array }[]) =>
      Float64Array.from(
        list.flatMap((p) =>
          Array.from({ length: p.positions.length / 3 }, (_, i) => {
            const [x, y, z] = p.positions.subarray(i * 3, i * 3 + 3);
            return (0.31 * x + 0.72 * y + 0.62 * z) / whole;
          }),
        ),
      ).sort();
    const [a, b] = [along(before), along(after)];
    expect(b.length).toBe(a.length);
    expect(a.reduce((worst, x, i) => Math.max(worst, Math.abs(x - b[i])), 0)).toBeLessThan(1e-5);
  });
  test('a mirrored node is worked in with its triangles turned round: the volume stays positive', async () => {
    const document = (await createRigged()).document;
    const still = document.createNode('mirror').setScale([-1, 1, 1]);
    const mesh = document.getRoot().listMeshes()[0];
    document.getRoot().listNodes()[0].setMesh(null).setSkin(null);
    for (const p of mesh.listPrimitives()) p.setAttribute('JOINTS_0', null).setAttribute('WEIGHTS_0', null);
    document.getRoot().getDefaultScene()?.addChild(still.setMesh(mesh));
    expect(applyNodes(document)).toBe(1);
    const { positions: p, triangles: t } = readModel(document).meshes[0].primitives[0];
    let volume = 0;
    for (let i = 0; i < t.length; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => new Vector3().fromArray(p, t[i + k] * 3));
      volume += a.dot(b.cross(c)) / 6;
    }
    expect(volume).toBeCloseTo(0.001, 9);
  });
});

const settings: fc.Arbitrary<TransformSettings> = fc.record({
  factor: fc.constantFrom(0.001, 0.0254, 1, 2.5, 100),
  turnDeg: fc.constantFrom(...QUARTER_TURNS).map((t) => ({ yaw: t.yawDeg, pitch: t.pitchDeg, roll: t.rollDeg })),
  shiftM: fc.tuple(
    ...([0, 1, 2].map(() => fc.double({ min: -3, max: 3, noNaN: true })) as [
      fc.Arbitrary<number>,
      fc.Arbitrary<number>,
      fc.Arbitrary<number>,
    ]),
  ),
  apply: fc.boolean(),
});
const place = (t: TransformSettings, x: Vector3) =>
  x
    .clone()
    .applyQuaternion(turnOf(t))
    .multiplyScalar(t.factor)
    .add(new Vector3(...t.shiftM));

describe('combineTransforms and mergeDrafts', () => {
  test('a step that fits several kinds of file is merged into one', () => {
    const plane = (widthMm: number) => ({ step: 'plane', settings: { widthMm } }) as const;
    expect(mergeDrafts([plane(10), plane(20)])).toEqual([plane(20)]);
  });
  test('one after the other is the same as both at once', () => {
    fc.assert(
      fc.property(settings, settings, (a, b) => {
        const x = new Vector3(0.3, -0.7, 1.1);
        const [one, two] = [place(combineTransforms(a, b), x), place(b, place(a, x))];
        expect(one.distanceTo(two)).toBeLessThan(1e-9 * (1 + two.length()));
      }),
    );
  });
  test('a shift, a size and a turn found on the same model do together what each does alone', () => {
    const drafts = [
      { step: 'transform' as const, settings: { ...NO_TRANSFORM, factor: 0.01 } },
      { step: 'transform' as const, settings: { ...NO_TRANSFORM, turnDeg: { yaw: 180, pitch: 0, roll: 0 } } },
      { step: 'transform' as const, settings: { ...NO_TRANSFORM, shiftM: [-5, 0, 0] as [number, number, number] } },
    ];
    const [merged] = mergeDrafts(drafts);
    if (merged.step !== 'transform') throw new Error('not a transform');
    // what lay at (5, 1, 2) in centimetres lies at (0, 0.01, −0.02)
    expect(place(merged.settings, new Vector3(5, 1, 2)).distanceTo(new Vector3(0, 0.01, -0.02))).toBeLessThan(1e-12);
  });
  test('a fix loses its sentences on the way to a step, whatever its kind', () => {
    const fix = { step: 'trim' as const, settings: { fromS: 0.5, toS: 2 }, changes: ['2 s becomes 1.5 s.'] };
    const bleed = { step: 'alpha' as const, settings: { ops: ['bleed' as const] }, changes: ['x'] };
    expect(mergeDrafts([fix, bleed])).toEqual([
      { step: 'alpha', settings: { ops: ['bleed'] } },
      { step: 'trim', settings: { fromS: 0.5, toS: 2 } },
    ]);
  });
  test('fixes of one kind become one step, in the order of work', () => {
    const merged = mergeDrafts([
      { step: 'texture', settings: { ops: ['resize'], maxEdge: 512 } },
      { step: 'mend', settings: { ops: ['weld'] } },
      { step: 'mend', settings: { ops: ['weld', 'crumbs'] } },
      { step: 'texture', settings: { ops: ['merge'], maxEdge: 1024 } },
    ]);
    expect(merged).toEqual([
      { step: 'mend', settings: { ops: ['weld', 'crumbs'] } },
      { step: 'texture', settings: { ops: ['resize', 'merge'], maxEdge: 512 } },
    ]);
  });
});

describe('divideOffset', () => {
  const offset = fc.record({
    positionM: fc.tuple(
      fc.double({ min: -2, max: 2, noNaN: true }),
      fc.double({ min: -2, max: 2, noNaN: true }),
      fc.double({ min: -2, max: 2, noNaN: true }),
    ),
    turnRad: fc.tuple(
      fc.double({ min: -3, max: 3, noNaN: true }),
      fc.double({ min: -1.4, max: 1.4, noNaN: true }),
      fc.double({ min: -3, max: 3, noNaN: true }),
    ),
    size: fc.tuple(
      fc.double({ min: 0.1, max: 5, noNaN: true }),
      fc.double({ min: 0.1, max: 5, noNaN: true }),
      fc.double({ min: 0.1, max: 5, noNaN: true }),
    ),
  });
  test('every point of the changed model hangs where the old one hung', () => {
    fc.assert(
      fc.property(offset, settings, (o, t) => {
        const before = offsetMatrix(o);
        const after = offsetMatrix(divideOffset(o, t));
        for (const x of [new Vector3(0, 0, 0), new Vector3(1, 0, 0), new Vector3(0.2, -0.5, 3)]) {
          const [a, b] = [x.clone().applyMatrix4(before), place(t, x).applyMatrix4(after)];
          // where the middle turn is a quarter, the others are known to the root of a double's last place: micrometres
          expect(a.distanceTo(b)).toBeLessThan(4e-6 * (1 + a.length()));
        }
      }),
    );
  });
  test('nothing changed leaves the offset as it is', () => {
    const o = { positionM: [0.1, 0.2, 0.3], turnRad: [0, 0.5, 0], size: [1, 2, 3] } as const;
    const d = divideOffset({ positionM: [...o.positionM], turnRad: [...o.turnRad], size: [...o.size] }, NO_TRANSFORM);
    expect(d.positionM).toEqual(o.positionM);
    for (const [i, x] of d.size.entries()) expect(x).toBeCloseTo(o.size[i], 12);
    for (const [i, x] of d.turnRad.entries()) expect(x).toBeCloseTo(o.turnRad[i], 12);
  });
});
