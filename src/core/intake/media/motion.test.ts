import { existsSync, readFileSync } from 'node:fs';
import assimpjs from 'assimpjs';
import fc from 'fast-check';
import { Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { walkBvh } from '../../../../demo/media';
import { drawn } from '../../../../e2e/support/sweep';
import { readModel } from '../../model/model';
import { nodeMatrices, poseAt } from '../../model/pose';
import { createGltfIo } from '../read';
import { bvhDocument, guessBvhUnit, readBvh, restHeight } from './bvh';
import { figureAt, measureMotion, motionFindings, stickFigure } from './motion';

const ARM = `HIERARCHY
ROOT hip
{
  OFFSET 0 0 0
  CHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation
  JOINT arm
  {
    OFFSET 0 10 0
    CHANNELS 3 Zrotation Xrotation Yrotation
    End Site
    {
      OFFSET 0 5 0
    }
  }
}
MOTION
Frames: 2
Frame Time: 0.5
0 0 0 0 0 0 0 0 0
1 2 3 90 0 0 90 0 0
`;

describe('a BVH', () => {
  test('moves its joints as its angles say (worked out by hand)', () => {
    const model = readModel(bvhDocument(readBvh(ARM), 'arm', 1));
    const at = (t: number) => {
      const m = nodeMatrices(model, poseAt(model, 0, t));
      return model.nodes.map((_, i) =>
        new Vector3()
          .setFromMatrixPosition(m[i])
          .toArray()
          .map((x) => Math.round(x * 1e4) / 1e4 + 0),
      );
    };
    expect(at(0)).toEqual([
      [0, 0, 0],
      [0, 10, 0],
      [0, 15, 0],
    ]);
    // a quarter about fore at the hip lays the arm along −side; another at its joint points it down
    expect(at(0.49999999)).toEqual([
      [1, 2, 3],
      [-9, 2, 3],
      [-9, -3, 3],
    ]);
  });
  test('says where it stops making sense', () => {
    const bad = (from: string, to: string) => () => readBvh(ARM.replace(from, to));
    expect(() => readBvh('no')).toThrow(/does not begin with HIERARCHY/);
    expect(bad('CHANNELS 3', 'CHANNELS 4')).toThrow(/channels/);
    expect(bad('OFFSET 0 5 0', 'OFFSET 0 x 0')).toThrow(/offset is no number/);
    expect(bad('Frames: 2', 'Frames: many')).toThrow(/number of frames/);
    expect(bad('Frame Time: 0.5', 'Frame Time: 0')).toThrow(/frame time/);
    expect(bad('1 2 3 90', '1 2 3 ninety')).toThrow(/no number \(line 20\)/);
    expect(bad('MOTION', '')).toThrow(/not understood|ends too early|brace/);
    expect(bad('Frames: 2', 'Frames: 999999999')).toThrow(/values are read/);
    const deep = `HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\n${'JOINT b\n{\nOFFSET 0 0 0\n'.repeat(600)}`;
    expect(() => readBvh(deep)).toThrow(/nested more than/);
  });
  test('with fewer frames than it says is read for those that are there', () =>
    expect(readBvh(ARM.replace('Frames: 2', 'Frames: 50')).frames).toBe(2));
  test('any change of a line ends in frames or an error in words', () => {
    const lines = ARM.split('\n');
    fc.assert(
      fc.property(fc.nat(lines.length - 1), fc.string({ maxLength: 30 }), (i, text) => {
        try {
          readBvh(lines.map((l, k) => (k === i ? text : l)).join('\n'));
        } catch (e) {
          expect((e as { code?: string }).code).toBe('motion/unreadable');
        }
      }),
      { numRuns: 300 },
    );
  });
  test('the unit is the one that makes a person of it', () => {
    expect(guessBvhUnit(170).factor).toBe(0.01);
    expect(guessBvhUnit(1.65).factor).toBe(1);
    expect(guessBvhUnit(66).factor).toBe(0.0254);
    expect(guessBvhUnit(0).factor).toBe(1);
  });
});

const FOLDER = '/usr/share/assimp/models/BVH/';
describe.skipIf(!existsSync(FOLDER))('against another reader of BVH (assimp)', () => {
  test.each(drawn(['01_01.bvh', '01_03.bvh', 'Boxing_Toes.bvh']))('%s: every joint is where it is there, in five frames', async (name) => {
    const bytes = new Uint8Array(readFileSync(FOLDER + name));
    const bvh = readBvh(new TextDecoder('latin1').decode(bytes));
    const ours = readModel(bvhDocument(bvh, 'clip', 1));
    const converter = await assimpjs();
    const done = converter.ConvertFile(
      name,
      'glb2',
      bytes,
      () => false,
      () => new Uint8Array(),
    );
    expect(done.IsSuccess()).toBe(true);
    const theirs = readModel(await createGltfIo({}).readBinary(new Uint8Array(done.GetFile(0).GetContent())));
    const scale = theirs.clips[0].seconds / ours.clips[0].seconds;
    expect(bvh.frames).toBeGreaterThan(100);
    let compared = 0;
    for (const share of [0, 0.2, 0.4, 0.6, 0.8]) {
      // on a frame, so that nothing is told by how each blends between two
      const frame = Math.round(share * (bvh.frames - 1));
      const [a, b] = [
        nodeMatrices(ours, poseAt(ours, 0, frame * bvh.frameS + 1e-7)),
        nodeMatrices(theirs, poseAt(theirs, 0, frame * bvh.frameS * scale + 1e-7)),
      ];
      for (const [i, n] of ours.nodes.entries()) {
        const j = theirs.nodes.findIndex((t) => t.name === n.name);
        if (j < 0 || bvh.joints[i].end) continue;
        compared++;
        expect(new Vector3().setFromMatrixPosition(a[i]).distanceTo(new Vector3().setFromMatrixPosition(b[j]))).toBeLessThan(
          restHeight(bvh) * 2e-4,
        );
      }
    }
    expect(compared).toBeGreaterThan(80);
  });
});

describe('what a clip does', () => {
  const model = readModel(bvhDocument(readBvh(walkBvh()), 'walk', 0.01));
  test('length, rate, way and gap are measured', () => {
    const { clips, joints, heightMm } = measureMotion(model);
    expect(joints).toHaveLength(18);
    expect(heightMm).toBeGreaterThan(1500);
    // 59 steps of 1/30 s at 1.3 m/s
    expect(clips[0]).toMatchObject({
      fps: 30,
      frames: 60,
      seconds: expect.closeTo(59 / 30, 3),
      rootMm: expect.closeTo((59 / 30) * 1300, 0),
      loopDeg: expect.closeTo(0, 0),
    });
    expect(motionFindings(clips).map((f) => f.code)).toEqual(['motion/root']);
  });
  test('a clip that does not come round is told, with the joint', () => {
    const { clips } = measureMotion(readModel(bvhDocument(readBvh(ARM), 'arm', 1)));
    expect(clips[0]).toMatchObject({ loopDeg: expect.closeTo(90, 1), rootMm: expect.closeTo(Math.hypot(1, 3) * 1000, 0) });
    expect(motionFindings(clips).map((f) => f.code)).toEqual(['motion/root', 'motion/loop-gap']);
  });
  test('the stick figure has every joint, each with its parent before or after it', () => {
    const figure = stickFigure(model);
    expect(figure.parents.filter((p) => p < 0)).toHaveLength(1);
    const p = figureAt(model, figure, 0, 0.5);
    expect(p).toHaveLength(figure.nodes.length * 3);
    expect([...p].every(Number.isFinite)).toBe(true);
  });
});
