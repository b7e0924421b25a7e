import { Matrix4, Quaternion, Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { poseWearer } from '../capture';
import {
  type BentBones,
  bendBones,
  bendForm,
  bendShares,
  type buildFormBase,
  type Form,
  type FormSize,
  growForm,
  makeForm,
  regionIndices,
  SKELETONS,
  skeletonOf,
} from './index';
import { formBase } from './samples';

let form: Form;
let base: ReturnType<typeof buildFormBase>;
beforeAll(() => {
  base = formBase();
  form = makeForm(base, 'M');
});
const turn = (yawDeg = 0, pitchDeg = 0, rollDeg = 0) => ({ yawDeg, pitchDeg, rollDeg });
const bonesAt = (head: ReturnType<typeof turn>, shoulders = turn()): BentBones => {
  const p = poseWearer({ head, shoulders }, SKELETONS.M);
  return bendBones(p.head, p.shoulders, SKELETONS.M);
};
const bent = (bones: BentBones) => {
  const out = { positions: new Float32Array(form.positions.length), normals: new Float32Array(form.normals.length) };
  bendForm(form, bones, out);
  return out;
};
const world = (bones: BentBones, positions: Float32Array, v: number) =>
  new Vector3(positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]).applyMatrix4(bones.head);
const region = (name: string) => [...form.regions.ids.keys()].filter((v) => form.regions.names[form.regions.ids[v]] === name);
const rest = (v: number) => new Vector3(form.positions[v * 3], form.positions[v * 3 + 1], form.positions[v * 3 + 2]);

describe('the skeleton of a form', () => {
  test.each(['S', 'M', 'L'] as FormSize[])('%s: the numbers kept are those of its landmarks', (size) => {
    const found = skeletonOf(makeForm(base, size));
    for (const key of ['neckBaseM', 'neckTopM', 'shouldersM'] as const)
      for (const k of [0, 1, 2]) expect(found[key][k], `${key} ${k}`).toBeCloseTo(SKELETONS[size][key][k], 4);
  });

  test('shares lie between nought and one; the face follows the head alone, the bust itself', () => {
    const s = bendShares(form);
    for (const x of s) expect(x >= 0 && x <= 1).toBe(true);
    for (const v of region('lips')) expect([s[v * 2], s[v * 2 + 1]]).toEqual([0, 0]);
    for (const v of region('bust')) expect(s[v * 2 + 1]).toBe(1);
    const neck = region('neck').map((v) => s[v * 2]);
    expect(Math.max(...neck)).toBeGreaterThan(0.45);
    for (const v of region('neck')) expect(s[v * 2] + s[v * 2 + 1]).toBeLessThanOrEqual(1 + 1e-6);
  });
});

describe('bending', () => {
  test.each([turn(60), turn(-60), turn(0, 20), turn(0, -20), turn(20, 10, 15)])('head turned %o: head rigid, bust where it was', (t) => {
    const bones = bonesAt(t);
    const { positions } = bent(bones);
    for (const v of region('skin').slice(0, 200))
      expect(world(bones, positions, v).distanceTo(rest(v).applyMatrix4(bones.head))).toBeLessThan(1e-6);
    for (const v of region('bust')) expect(world(bones, positions, v).distanceTo(rest(v))).toBeLessThan(1e-6);
  });

  test('the neck bends smoothly: no edge of its skin grows to 2.5 times its length, hardly a triangle turns inside out', () => {
    const inNeck = new Set(region('neck'));
    for (const t of [turn(40), turn(0, 20), turn(0, -20), turn(0, 0, 15)]) {
      const { positions, normals } = bent(bonesAt(t));
      let [inside, all] = [0, 0];
      const at = (v: number) => new Vector3(positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]);
      let worst = 0;
      for (let i = 0; i < form.indices.length; i += 3) {
        const [a, b, c] = [form.indices[i], form.indices[i + 1], form.indices[i + 2]];
        if (!inNeck.has(a) || !inNeck.has(b) || !inNeck.has(c)) continue;
        const face = at(b)
          .sub(at(a))
          .cross(at(c).sub(at(a)));
        all++;
        if (face.dot(new Vector3(normals[a * 3], normals[a * 3 + 1], normals[a * 3 + 2])) < 0) inside++;
        for (const [u, v] of [
          [a, b],
          [b, c],
          [c, a],
        ])
          if (rest(u).distanceTo(rest(v)) > 1e-3) worst = Math.max(worst, at(u).distanceTo(at(v)) / rest(u).distanceTo(rest(v)));
      }
      expect(worst, JSON.stringify(t)).toBeLessThan(2.5);
      expect(inside / all, `${inside} of ${all}`).toBeLessThan(0.02);
    }
  });

  test('the neck takes half of the turn about its own axis, and stands on the bust', () => {
    const bones = bonesAt(turn(60));
    const q = new Quaternion().setFromRotationMatrix(bones.neck);
    expect((2 * Math.acos(Math.min(1, Math.abs(q.w))) * 180) / Math.PI).toBeCloseTo(30, -1);
    const foot = new Vector3(...SKELETONS.M.neckBaseM);
    expect(foot.clone().applyMatrix4(bones.neck).distanceTo(foot)).toBeLessThan(1e-9);
  });

  test('turned as one, nothing bends; without shoulders they are upright under the head', () => {
    const together = bent(bonesAt(turn(), turn(35, 0, 5)));
    expect(together.positions).toEqual(form.positions);
    const head = new Matrix4().makeRotationY(1).setPosition(0.2, 0, 0.1);
    const { bust } = bendBones(head, null, SKELETONS.M);
    expect(new Quaternion().setFromRotationMatrix(bust).w).toBe(1);
    expect(new Vector3().setFromMatrixPosition(bust).distanceTo(new Vector3(0.2, 0, 0.1))).toBeLessThan(0.05);
  });
});

describe('what hides', () => {
  test('the face lies before the ears, the head has no shoulders, the bust has all', () => {
    const [face, head, bust] = (['face', 'head', 'bust'] as const).map((r) => regionIndices(form, r));
    expect(bust).toBe(form.indices);
    expect(head.length).toBeLessThan(bust.length);
    expect(face.length).toBeLessThan(head.length);
    for (const v of face) expect(form.positions[v * 3 + 2]).toBeGreaterThan(form.landmarks.tragionL.position[2]);
    for (const v of head) expect(form.regions.names[form.regions.ids[v]]).not.toBe('bust');
    expect(face.includes(form.landmarks.pronasale.index)).toBe(true);
    expect(head.includes(form.landmarks.opisthocranion.index)).toBe(true);
  });

  test('growing goes along the normals, widening to both sides', () => {
    const out = new Float32Array(form.positions.length);
    const at = (v: number) => new Vector3(out[v * 3], out[v * 3 + 1], out[v * 3 + 2]);
    const { euryonL, euryonR, pronasale } = form.landmarks;
    growForm(form.positions, form.normals, 3, 0, out);
    expect(at(euryonL.index).distanceTo(rest(euryonL.index)) * 1000).toBeCloseTo(3, 4);
    growForm(form.positions, form.normals, 0, 4, out);
    expect((at(euryonL.index).x - at(euryonR.index).x) * 1000 - (rest(euryonL.index).x - rest(euryonR.index).x) * 1000).toBeCloseTo(8, 3);
    expect(at(pronasale.index).distanceTo(rest(pronasale.index)) * 1000).toBeLessThan(0.01);
  });
});
