import { readFileSync } from 'node:fs';
import { Document, WebIO } from '@gltf-transform/core';
import { Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { errorsOf } from '../../../../e2e/support/preparing';
import { poseBody, shapeBody } from '../../form/body';
import { bodyBase } from '../../form/samples';
import { bvhDocument, readBvh } from '../../intake/media/bvh';
import { type Model, nodeMatrices, poseAt, readModel } from '../../model';
import { HUMANOID_PARENT, HUMANOID_SETS } from '../../words/humanoid';
import { knownSkeleton } from '../known';
import { addClip } from './clip';
import { type RetargetAsked, retargetClip } from './retarget';

const PLAIN: RetargetAsked = { name: 'made', clip: null, speed: 1, energy: 1, inPlace: false, blend: 0, standing: false };
/** The first ten seconds of a capture nobody here made. */
const capture = (name: string) => {
  const read = readBvh(readFileSync(`/usr/share/assimp/models/BVH/${name}.bvh`, 'utf8'));
  const frames = Math.min(read.frames, Math.round(10 / read.frameS));
  return bvhDocument({ ...read, frames, values: read.values.subarray(0, frames * read.width) }, name, 0.0254 / 0.45);
};

/** A skeleton with the body's joints in a pose, under names of another habit; what is drawn is a sole. */
function figure(pose: 'T' | 'A' | 'armsDown', call = (bone: string) => `b_${bone}`): Document {
  const body = poseBody(shapeBody(bodyBase()), pose);
  const document = new Document();
  const skin = document.createSkin();
  const nodes = new Map<string, ReturnType<Document['createNode']>>();
  const at = (n: string) => new Vector3().fromArray(body.joints.find((j) => j.name === n)?.pose as number[], 12);
  for (const bone of HUMANOID_SETS[22]) {
    const parent = HUMANOID_PARENT[bone];
    const node = document.createNode(call(bone)).setTranslation(parent ? at(bone).sub(at(parent)).toArray() : at(bone).toArray());
    nodes.set(bone, node);
    skin.addJoint(node);
    if (parent) nodes.get(parent)?.addChild(node);
  }
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC3' | 'VEC4', array: Float32Array | Uint8Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const sole = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', new Float32Array([-0.1, 0, 0, 0.1, 0, 0, 0, 0, 0.1])))
    .setAttribute('JOINTS_0', accessor('VEC4', new Uint8Array(12)))
    .setAttribute(
      'WEIGHTS_0',
      accessor(
        'VEC4',
        Float32Array.from({ length: 12 }, (_, i) => (i % 4 === 0 ? 1 : 0)),
      ),
    );
  const hips = nodes.get('hips') as ReturnType<Document['createNode']>;
  const inverse = [...nodes.keys()].flatMap((n) => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...at(n).negate().toArray(), 1]);
  skin.setInverseBindMatrices(document.createAccessor().setType('MAT4').setArray(Float32Array.from(inverse)).setBuffer(buffer));
  document
    .createScene()
    .addChild(hips)
    .addChild(document.createNode('drawn').setMesh(document.createMesh().addPrimitive(sole)).setSkin(skin));
  return document;
}

/** How a bone of a model points at a time, by where it and the next are. */
function pointing(model: Model, timeS: number): Map<string, Vector3> {
  const { nodeOf } = knownSkeleton(model);
  const world = nodeMatrices(model, poseAt({ ...model, clips: model.clips.map((c) => ({ ...c, loop: false })) }, 0, timeS));
  const place = (n: string) => new Vector3().setFromMatrixPosition(world[nodeOf.get(n) as number]);
  return new Map(
    ['left', 'right'].flatMap((s) =>
      [
        ['UpperArm', 'LowerArm'],
        ['LowerArm', 'Hand'],
        ['UpperLeg', 'LowerLeg'],
        ['LowerLeg', 'Foot'],
      ].map(
        ([a, b]) =>
          [
            s + a,
            place(s + b)
              .sub(place(s + a))
              .normalize(),
          ] as const,
      ),
    ),
  );
}

describe('a motion on another figure', () => {
  it.each(['T', 'A', 'armsDown'] as const)('limbs point where the captured ones do, from a rest with arms as in %s', (rest) => {
    const source = readModel(capture('01_03'));
    const document = figure(rest);
    const clip = retargetClip(document, source, PLAIN);
    addClip(document, clip);
    const model = readModel(document);
    for (const share of [0, 0.2, 0.5, 0.83, 1]) {
      const k = Math.round(share * (clip.times.length - 1));
      const [ours, theirs] = [pointing(model, clip.times[k]), pointing(source, clip.times[k])];
      for (const [bone, way] of theirs)
        expect((ours.get(bone)?.angleTo(way) ?? 9) * (180 / Math.PI), `${bone} at ${share}`).toBeLessThan(0.05);
    }
  });

  it('on its own skeleton it is what it was, extra joints and all', () => {
    const document = capture('01_01');
    const source = readModel(document);
    const clip = retargetClip(document, source, PLAIN);
    let worst = 0;
    for (const share of [0, 0.31, 0.77]) {
      const k = Math.round(share * (clip.times.length - 1));
      const pose = poseAt(source, 0, clip.times[k]);
      for (const [node, own] of clip.turns) {
        const [x, y, z, w] = pose.trs.slice(node * 10 + 3, node * 10 + 7);
        worst = Math.max(worst, new Quaternion().fromArray(own, k * 4).angleTo(new Quaternion(x, y, z, w)));
      }
      const hips = new Vector3().fromArray(clip.hips.places, k * 3);
      expect(hips.distanceTo(new Vector3().fromArray(pose.trs, clip.hips.node * 10))).toBeLessThan(1e-4);
    }
    expect((worst * 180) / Math.PI).toBeLessThan(0.05);
    const named = source.nodes.filter((n) => n.children.length > 0).length;
    expect(clip.turns.size).toBeGreaterThanOrEqual(named);
  });

  it('feet that stand stay, by less than 3 mm a key; unheld they slip by more', () => {
    const source = readModel(capture('01_03'));
    const held = retargetClip(figure('A'), source, { ...PLAIN, standing: true });
    expect(held.footSlipMm).toBeLessThan(3);
    expect(retargetClip(figure('A'), source, PLAIN).footSlipMm).toBeGreaterThan(3);
    // also where the end is blended, up to there
    expect(retargetClip(figure('A'), source, { ...PLAIN, standing: true, blend: 12 }).footSlipMm).toBeLessThan(3);
    const document = figure('A');
    addClip(document, held);
    const model = readModel(document);
    // seen from outside: a foot that is held is where it was, for some tenths of a second at a time
    const { nodeOf } = knownSkeleton(model);
    const toes = [...held.times].map((t) =>
      new Vector3().setFromMatrixPosition(
        nodeMatrices(model, poseAt(model, 0, Math.min(t, held.seconds - 1e-4)))[nodeOf.get('leftToes') as number],
      ),
    );
    const still = toes.filter((p, k) => k > 0 && p.distanceTo(toes[k - 1]) < 0.0005).length;
    expect(still).toBeGreaterThan(8);
    // and through the floor goes nothing
    expect(Math.min(...toes.map((p) => p.y))).toBeGreaterThan(-0.03);
  });

  it('on the spot it goes nowhere; a blended end meets the beginning; faster is shorter', () => {
    const source = readModel(capture('01_03'));
    const clip = retargetClip(figure('T'), source, { ...PLAIN, inPlace: true, blend: 12, speed: 2, standing: true });
    const { places } = clip.hips;
    const n = places.length;
    const rest = readModel(figure('T')).nodes[clip.hips.node].translation;
    for (const k of [0, 2]) {
      expect(places[n - 3 + k]).toBeCloseTo(places[k], 3);
      // it sways about its spot and goes nowhere on the way either, where the capture walks for metres
      const along = [...places].filter((_, i) => i % 3 === k);
      // and it is where it stood, though the capture began elsewhere
      expect(Math.abs(along[0] - rest[k])).toBeLessThan(0.1);
      expect(Math.max(...along) - Math.min(...along)).toBeLessThan(0.4);
    }
    const there = retargetClip(figure('T'), source, PLAIN).hips.places.filter((_, i) => i % 3 === 2);
    expect(Math.max(...there) - Math.min(...there)).toBeGreaterThan(1);
    expect(clip.loopGapDeg).toBeLessThan(0.01);
    expect(retargetClip(figure('T'), source, PLAIN).loopGapDeg).toBeGreaterThan(1);
    expect(clip.seconds).toBeCloseTo(source.clips[0].seconds / 2, 2);
  });

  it('with no energy arms hang still, and legs go on', () => {
    const source = readModel(capture('01_03'));
    const swing = (energy: number, bone: string) => {
      const document = figure('T');
      const clip = retargetClip(document, source, { ...PLAIN, energy });
      const own = clip.turns.get(knownSkeleton(readModel(document)).nodeOf.get(bone) as number) as Float32Array;
      let most = 0;
      for (let k = 4; k < own.length; k += 4)
        most = Math.max(most, new Quaternion().fromArray(own).angleTo(new Quaternion().fromArray(own, k)));
      return most;
    };
    expect(swing(0, 'leftLowerArm')).toBeLessThan(1e-3);
    expect(swing(2, 'leftLowerArm') / swing(1, 'leftLowerArm')).toBeGreaterThan(1.4);
    expect(swing(0, 'leftLowerLeg')).toBeCloseTo(swing(1, 'leftLowerLeg'), 4);
  });

  it('what cannot be: a clip that is not there, a motion of no figure, a model that is none', async () => {
    const source = readModel(capture('01_03'));
    expect(() => retargetClip(figure('T'), source, { ...PLAIN, clip: 'jump' })).toThrow('The file holds no motion jump. It holds 01_03.');
    expect(() => retargetClip(figure('T'), readModel(new Document()), PLAIN)).toThrow(/^The motion is of no figure that is known/);
    expect(() => retargetClip(new Document(), source, PLAIN)).toThrow(/Raise a figure first/);
    const document = figure('A');
    addClip(document, retargetClip(document, source, { ...PLAIN, standing: true }));
    expect(await errorsOf(await new WebIO().writeBinary(document))).toEqual([]);
  });
});
