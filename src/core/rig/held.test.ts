import { Document } from '@gltf-transform/core';
import { Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { readModel } from '../model';
import { posedPrimitives, restPose } from '../model/pose';
import { heldBy, sharesOf } from './held';
import type { Vec } from './middle';
import { rigChains } from './plan';
import { carriedBy, carriesOf, measurePosed } from './posed';
import { axisOf, poseOne } from './posetest';
import { raiseBones } from './raise';
import { tube } from './shapes';
import { sparsOf } from './spars';
import { surfaceOf } from './surface';

/** An upright tube of 0.3 m under a node that is moved, with a chain of three bones. */
function strand() {
  const document = new Document();
  const buffer = document.createBuffer();
  const { positions, triangles } = tube(
    (t): Vec => [0, t * 0.3, 0],
    () => 0.01,
    40,
    10,
  );
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(positions).setBuffer(buffer))
    .setIndices(document.createAccessor().setType('SCALAR').setArray(triangles).setBuffer(buffer));
  const node = document.createNode('strand').setMesh(document.createMesh('strand').addPrimitive(primitive)).setTranslation([0.1, 0, 0.2]);
  document.createScene('scene').addChild(node);
  const surface = surfaceOf(readModel(document));
  const rig = rigChains(surface, [{ root: [0.11, 0.01, 0.2], tip: [0.1, 0.3, 0.2], bones: 3 }]);
  raiseBones(document, surface, rig);
  return { model: readModel(document), rig };
}

describe('what a file’s skins hold', () => {
  it('is what was bound, vertex for vertex, wherever the node stood', () => {
    const { model, rig } = strand();
    const held = heldBy(model) as NonNullable<ReturnType<typeof heldBy>>;
    expect(held.bones.map((b) => b.name)).toEqual(rig.bones.map((b) => b.name));
    held.bones.forEach((b, i) => {
      for (let k = 0; k < 3; k++) expect(b.head[k]).toBeCloseTo(rig.bones[i].head[k], 6);
    });
    for (const bone of rig.bones.keys()) {
      const own = sharesOf(held, bone);
      const bound = sharesOf({ surface: held.surface, binding: rig.binding }, bone);
      for (let v = 0; v < own.length; v++) expect(own[v]).toBeCloseTo(bound[v], 6);
    }
    expect(heldBy({ ...model, skins: [] })).toBeNull();
    // the chain says how far fewer or more bones would stray
    const [chain] = sparsOf(model).chains;
    expect(chain.strayMm).toEqual(rig.chains[0].plans.map((p) => Math.round(p.strayMm * 100) / 100));
  });

  it('poses as a glTF reader poses it', () => {
    const { model } = strand();
    const held = heldBy(model) as NonNullable<ReturnType<typeof heldBy>>;
    const bone = held.bones.findIndex((b) => b.name === 'limb 1.2');
    const posed = poseOne(held.surface, held.bones, held.binding, bone, 'bend', 40);
    // the same turn in the joint's own frame, which stands as the model's
    const pose = restPose(model);
    const turn = new Quaternion().setFromAxisAngle(axisOf(held.bones[bone], 'bend'), (40 * Math.PI) / 180);
    const node = model.nodes.findIndex((n) => n.name === 'limb 1.2');
    pose.trs.set(turn.toArray(), node * 10 + 3);
    const [{ positions }] = posedPrimitives(model, pose);
    const { vertices } = held.surface.sources[0];
    vertices.forEach((v, i) => {
      const [a, b] = [new Vector3().fromArray(positions, i * 3), new Vector3().fromArray(posed.positions as unknown as number[], v * 3)];
      expect(a.distanceTo(b)).toBeLessThan(1e-5);
    });
    // as one pose of the whole it is the same, and measures the same
    const carries = carriesOf(held, model, pose);
    const whole = measurePosed(held, carries, carriedBy(held, carries));
    expect(Math.max(...whole.positions.map((x, i) => Math.abs(x - posed.positions[i])))).toBeLessThan(1e-6);
    expect(whole.stretchMax).toBeCloseTo(posed.stretchMax, 5);
    expect(whole.volumeChange).toBeCloseTo(posed.volumeChange, 5);
    expect(whole.flips).toBe(posed.flips);
    // grown to twice its size: four times the surface, eight times the volume
    const grown = measurePosed(
      held,
      carries,
      held.surface.positions.map((x) => 2 * x),
    );
    expect([grown.stretchMax, grown.areaChange, grown.volumeChange].map((x) => Math.round(x * 1e6) / 1e6)).toEqual([2, 3, 7]);
    // the end has moved as far as the turn carries it
    const tip = new Vector3(0.1, 0.3, 0.2);
    const head = new Vector3(...held.bones[bone].head);
    const far = tip.clone().sub(head).applyQuaternion(turn).add(head).distanceTo(tip);
    let most = 0;
    for (let i = 0; i < posed.positions.length; i += 3)
      most = Math.max(most, Math.hypot(...[0, 1, 2].map((k) => posed.positions[i + k] - held.surface.positions[i + k])));
    expect(most).toBeCloseTo(far, 2);
    expect(posed.stretchMax).toBeGreaterThan(1.02);
    expect(posed.stretchMax).toBeLessThan(2);
    expect(posed.stretch.filter((s) => s > 1.01).length).toBeLessThan(posed.stretch.length * 0.8);
    // unturned nothing is otherwise
    expect(poseOne(held.surface, held.bones, held.binding, bone, 'twist', 0)).toMatchObject({
      stretchMax: 1,
      flips: 0,
      areaChange: 0,
      volumeChange: 0,
    });
  });

  it('what turns as a whole is not turned over, what is folded upon itself is', () => {
    const { model } = strand();
    const held = heldBy(model) as NonNullable<ReturnType<typeof heldBy>>;
    const pose = restPose(model);
    const root = held.joints[held.bones.findIndex((b) => b.parent < 0)];
    pose.trs.set(new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), Math.PI).toArray(), root * 10 + 3);
    let carries = carriesOf(held, model, pose);
    expect(measurePosed(held, carries, carriedBy(held, carries))).toMatchObject({ flips: 0 });
    const bent = restPose(model);
    const second = held.joints[held.bones.findIndex((b) => b.name === 'limb 1.2')];
    bent.trs.set(new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), 0.98 * Math.PI).toArray(), second * 10 + 3);
    carries = carriesOf(held, model, bent);
    expect(measurePosed(held, carries, carriedBy(held, carries)).flips).toBeGreaterThan(0);
  });
});
