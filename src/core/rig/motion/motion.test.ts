import { Document, WebIO } from '@gltf-transform/core';
import { cloneDocument } from '@gltf-transform/functions';
import { Euler, type Matrix4, Quaternion, Vector3 } from 'three';
import { beforeAll, describe, expect, it } from 'vitest';
import { errorsOf } from '../../../../e2e/support/preparing';
import { BODY_POSES, type Body, poseBody, type ShapedBody, shapeBody } from '../../form/body';
import { bodyBase } from '../../form/samples';
import { type Model, nodeMatrices, poseAt, readModel, restPose } from '../../model';
import { MOTION_NAMES } from '../../words/humanoid';
import { rigFigure } from '../figure';
import type { Vec } from '../middle';
import { raiseBones } from '../raise';
import { surfaceOf } from '../surface';
import { addClip, motionClip } from './clip';
import { movedFigure } from './figure';

let shape: ShapedBody;
let body: Body;
beforeAll(() => {
  shape = shapeBody(bodyBase());
  body = poseBody(shape);
});

const made = new Map<string, Document>();
/** The body with bones at its own joints, under a node that is turned and sized. */
function rigged(detail: 17 | 22, turn = new Quaternion(), scale = 1): Document {
  const asked = [detail, ...turn.toArray(), scale].join();
  const document = made.get(asked) ?? rig(detail, turn, scale);
  made.set(asked, document);
  return cloneDocument(document);
}
function rig(detail: 17 | 22, turn: Quaternion, scale: number): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC3' | 'SCALAR', array: Float32Array | Uint32Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', body.rest.positions.slice()))
    .setIndices(accessor('SCALAR', body.indices.slice()));
  const node = document
    .createNode('figure')
    .setMesh(document.createMesh('figure').addPrimitive(primitive))
    .setRotation(turn.toArray())
    .setScale([scale, scale, scale]);
  document.createScene('scene').addChild(node);
  const surface = surfaceOf(readModel(document));
  const joints = Object.fromEntries(
    body.joints.map((j) => [j.name, new Vector3().fromArray(j.rest, 12).applyQuaternion(turn).multiplyScalar(scale).toArray() as Vec]),
  );
  const own = Object.fromEntries(Object.entries(joints).filter(([n]) => !/Thumb|Index|Middle|Ring|Little/.test(n)));
  const bones = rigFigure(surface, { detail, joints: own, weights: 'voxel' });
  raiseBones(document, surface, bones);
  return document;
}
/** Where the bones of a model stand when its nodes are turned so. */
function placesOf(model: Model, turns: Map<number, Quaternion>, hips?: Vector3): Map<string, Vector3> {
  const pose = restPose(model);
  for (const [node, q] of turns) pose.trs.set(q.toArray(), node * 10 + 3);
  const at = model.nodes.findIndex((n) => n.name === 'hips');
  if (hips) pose.trs.set(hips.toArray(), at * 10);
  return new Map(nodeMatrices(model, pose).map((m: Matrix4, i) => [model.nodes[i].name, new Vector3().setFromMatrixPosition(m)]));
}

describe('a pose of the body on a figure that was rigged', () => {
  it.each(Object.keys(BODY_POSES) as (keyof typeof BODY_POSES)[])(
    '%s: every joint is where the body’s is, also turned about and sized',
    (name) => {
      const turn = new Quaternion().setFromEuler(new Euler(0, Math.PI / 2, 0));
      const model = readModel(rigged(22, turn, 2));
      const figure = movedFigure(model);
      const { turns, hips } = figure.apply(figure.stanceIn(BODY_POSES[name]));
      const places = placesOf(model, turns, hips);
      const own = poseBody(shape, name);
      for (const j of own.joints) {
        const at = places.get(j.name);
        if (!at) continue;
        const ought = new Vector3().fromArray(j.pose, 12).applyQuaternion(turn).multiplyScalar(2);
        expect(at.distanceTo(ought), j.name).toBeLessThan(1e-5);
      }
    },
  );
});

describe('motions', () => {
  it.each(MOTION_NAMES)('%s: a loop without a seam, feet that stand where they stand, in 22 bones and in 17', (motion) => {
    for (const detail of [22, 17] as const) {
      const document = rigged(detail);
      const clip = motionClip(document, { motion, speed: null, energy: 1, inPlace: true });
      expect(clip.footSlipMm).toBeLessThan(3);
      expect(clip.loopGapDeg).toBeLessThan(0.01);
      expect(clip.turns.size).toBe(detail);
      // the hips come back as well
      const { places } = clip.hips;
      for (let k = 0; k < 3; k++) expect(places[k]).toBeCloseTo(places[places.length - 3 + k], 4);
      // something moves, and no bone leaps from key to key
      let most = 0;
      for (const own of clip.turns.values())
        for (let k = 4; k < own.length; k += 4)
          most = Math.max(most, new Quaternion().fromArray(own, k).angleTo(new Quaternion().fromArray(own, k - 4)));
      expect(most).toBeGreaterThan(0.0005);
      expect(most).toBeLessThan(0.6);
    }
  });

  it('walking, the figure’s lowest point keeps to the floor, and it goes as far as its speed says', () => {
    const document = rigged(22);
    const clip = motionClip(document, { motion: 'walk', speed: 1.1, energy: 1, inPlace: false });
    addClip(document, clip);
    const model = readModel(document);
    const hips = model.nodes.findIndex((n) => n.name === 'hips');
    const z = (t: number) => new Vector3().setFromMatrixPosition(nodeMatrices(model, poseAt(model, 0, t))[hips]).z;
    // a person's of the form's size, which has the usual one within a few hundredths
    expect(z(clip.seconds - 1e-4) - z(0)).toBeCloseTo(1.1 * clip.seconds, 1);
    const foot = ['leftFoot', 'rightFoot'].map((n) => model.nodes.findIndex((x) => x.name === n));
    for (let k = 0; k <= 10; k++) {
      const world = nodeMatrices(model, poseAt(model, 0, (clip.seconds * k) / 10));
      const low = Math.min(...foot.map((f) => new Vector3().setFromMatrixPosition(world[f]).y));
      const rest = new Vector3().fromArray(body.joints.find((j) => j.name === 'leftFoot')?.rest as number[], 12).y;
      expect(low).toBeGreaterThan(rest - 0.015);
    }
  });

  it('with less energy swings less, with none not at all; its feet do as before', () => {
    const document = rigged(22);
    const model = readModel(document);
    const swing = (energy: number, bone: string) => {
      const clip = motionClip(document, { motion: 'walk', speed: null, energy, inPlace: true });
      const own = clip.turns.get(model.nodes.findIndex((n) => n.name === bone)) as Float32Array;
      const first = new Quaternion().fromArray(own, 0);
      let most = 0;
      for (let k = 4; k < own.length; k += 4) most = Math.max(most, first.angleTo(new Quaternion().fromArray(own, k)));
      return most;
    };
    expect(swing(0.5, 'leftUpperArm') / swing(1, 'leftUpperArm')).toBeCloseTo(0.5, 1);
    expect(swing(0, 'leftUpperArm')).toBeLessThan(1e-3);
    expect(swing(0, 'leftLowerLeg')).toBeCloseTo(swing(1, 'leftLowerLeg'), 6);
  });

  it('as an animation: valid by the Khronos validator, and of its name there is one', async () => {
    const document = rigged(17);
    addClip(document, motionClip(document, { motion: 'wave', speed: null, energy: 1, inPlace: true }));
    addClip(document, motionClip(document, { motion: 'wave', speed: null, energy: 0.5, inPlace: true }));
    expect(
      document
        .getRoot()
        .listAnimations()
        .map((a) => a.getName()),
    ).toEqual(['wave']);
    expect(await errorsOf(await new WebIO().writeBinary(document))).toEqual([]);
  });

  it('what cannot be: another speed than it bears, a model that is no figure', () => {
    const document = rigged(17);
    const ask = (motion: 'walk' | 'idle', speed: number | null) => () => motionClip(document, { motion, speed, energy: 1, inPlace: true });
    expect(ask('walk', 9)).toThrow('walk goes at 0.4 to 2 m/s, not 9.');
    expect(ask('idle', 1)).toThrow('idle has no speed of its own.');
    expect(() => motionClip(new Document(), { motion: 'walk', speed: null, energy: 1, inPlace: true })).toThrow(
      /there is no hips, spine, head/,
    );
  });
});
