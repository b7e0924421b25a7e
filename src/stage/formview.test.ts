import { Matrix4, type MeshBasicMaterial, Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { simulateCapture } from '@/core/capture';
import { type Form, makeForm, SKELETONS } from '@/core/form';
import { drawnBody, packBare, shapeBody } from '@/core/form/body';
import { coarseTriangles } from '@/core/form/coarse';
import { bodyBase, formBase } from '@/core/form/samples';
import { add, applyEdit, createPiece, createSolid, onJoint } from '@/core/piece';
import { stageStill, wearerCapture } from '@/core/run';
import { FormView } from './formview';

let form: Form;
beforeAll(() => {
  form = makeForm(formBase(), 'M');
});
const stateAt = (yawDeg: number, growMm = 0) => {
  const piece = createPiece('x');
  const block = piece.parts['head-block'];
  return stageStill(
    { ...piece, parts: { 'head-block': { ...block, growMm } as typeof block } },
    { models: {} },
    simulateCapture({ yawDeg, pitchDeg: 0, rollDeg: 0 }, SKELETONS.M),
  );
};
const bodyStill = () => {
  const box = { form: 'box' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 8, open: [] };
  const piece = applyEdit(createPiece('x'), add('parts', createSolid('a', 'a', box, onJoint('leftHand'))));
  return stageStill(piece, { models: {} }, wearerCapture(piece, { head: { yawDeg: 0, pitchDeg: 0, rollDeg: 0 } }));
};

describe('FormView', () => {
  test('the bust stays where it is while the head turns; every mesh wears the same vertices', () => {
    const view = new FormView();
    view.set(form);
    const bust = [...form.regions.ids.keys()].filter((v) => form.regions.names[form.regions.ids[v]] === 'bust');
    for (const yaw of [0, 60, -30, 60]) {
      view.pose(stateAt(yaw).form);
      // what is asked for alone wears them from then on
      view.matte('face');
      for (const mesh of Object.values(view.meshes)) {
        const position = mesh.geometry.getAttribute('position');
        for (const v of bust.slice(0, 50)) {
          const at = new Vector3().fromBufferAttribute(position, v).applyMatrix4(mesh.matrix);
          expect(at.distanceTo(new Vector3().fromArray(form.positions, v * 3))).toBeLessThan(1e-6);
        }
      }
    }
  });

  test.each([true, false])(
    'few triangles are worn by all of it alike, those that occlude too; known before they are asked for: %s',
    async (before) => {
      const coarse = await coarseTriangles(form);
      const view = new FormView();
      view.set(form);
      if (before) view.setCoarse(coarse);
      const state = stateAt(10);
      const { shape, matrix } = state.parts[0];
      const occluder = view.occluder();
      /** Triangles of whatever wears all of the form. */
      const worn = () => {
        view.pose(state.form);
        occluder.update(shape as Parameters<typeof occluder.update>[0], matrix);
        const { picture, clay, hatch, matte } = view.meshes;
        return new Set([picture, clay, hatch, matte, occluder.mesh].map((m) => (m.geometry.index?.count ?? 0) / 3));
      };
      expect(worn()).toEqual(new Set([form.indices.length / 3]));
      view.detail(true);
      if (!before) view.setCoarse(coarse);
      expect(worn()).toEqual(new Set([coarse.indices.length / 3]));
      expect(view.meshes.matte.geometry.getAttribute('position')).toBe(occluder.mesh.geometry.getAttribute('position'));
      view.detail(false);
      expect(worn()).toEqual(new Set([form.indices.length / 3]));
    },
  );

  test('vertices are touched only where the pose is another', () => {
    const view = new FormView();
    view.set(form);
    view.pose(stateAt(20).form);
    const { version } = view.meshes.clay.geometry.getAttribute('position') as { version: number } & ReturnType<
      typeof view.meshes.clay.geometry.getAttribute
    >;
    view.pose(stateAt(20).form);
    const now = view.meshes.clay.geometry.getAttribute('position') as unknown as { version: number };
    expect(now.version).toBe(version);
    view.pose(stateAt(21).form);
    expect(now.version).toBe(version + 1);
  });

  test('an occluder that goes, or changes, frees nothing of the form’s own vertices', () => {
    const view = new FormView();
    view.set(form);
    const state = stateAt(10);
    view.pose(state.form);
    const freed = new Set<unknown>();
    const occluder = view.occluder();
    // what three frees with a geometry are the attributes it holds at that time
    const watch = () => {
      const { geometry } = occluder.mesh;
      geometry.addEventListener('dispose', () => {
        for (const a of Object.values(geometry.attributes)) freed.add(a);
      });
    };
    for (const region of ['bust', 'face', 'head'] as const) {
      occluder.update({ type: 'form', region, growMm: 0, widenMm: 0, softMm: 0, without: [], bare: [] }, state.parts[0].matrix);
      watch();
    }
    occluder.free();
    const { position, normal } = view.vertices as NonNullable<typeof view.vertices>;
    expect(freed.has(position) || freed.has(normal)).toBe(false);
  });

  test('an occluder follows the bend, grown by what it says', () => {
    const view = new FormView();
    view.set(form);
    const state = stateAt(45, 2);
    view.pose(state.form);
    const occluder = view.occluder();
    const part = state.parts[0];
    if (part.shape?.type !== 'form') throw new Error('no occluder');
    occluder.update(part.shape, part.matrix);
    const position = occluder.mesh.geometry.getAttribute('position');
    const v = form.landmarks.acromionL.index;
    const at = new Vector3().fromBufferAttribute(position, v).applyMatrix4(new Matrix4().fromArray(part.matrix));
    expect(at.distanceTo(new Vector3().fromArray(form.positions, v * 3)) * 1000).toBeCloseTo(2, 3);
  });

  test('what is bare of a body hides no more, of one without a mask everything does', () => {
    const view = new FormView();
    view.set(form);
    const body = drawnBody(shapeBody(bodyBase(), 'M'));
    view.setBody(body);
    const still = bodyStill();
    view.pose(still.form);
    const count = body.positions.length / 3;
    const occluder = view.occluder();
    const shape = { type: 'form', region: 'body', growMm: 0, widenMm: 0, softMm: 0, without: [] } as const;
    const material = () => occluder.mesh.material as MeshBasicMaterial;
    occluder.update({ ...shape, bare: [packBare(new Uint8Array(count).fill(15, 0, 100))] }, still.parts[0].matrix);
    const alpha = occluder.mesh.geometry.getAttribute('color');
    expect([99, 100].map((v) => alpha.getW(v))).toEqual([0, 1]);
    expect(material()).toMatchObject({ alphaTest: 0.5, vertexColors: true, colorWrite: false });
    // of another body: it says nothing of this one
    for (const bare of [[], [packBare(new Uint8Array(count - 1).fill(15))]]) {
      occluder.update({ ...shape, bare }, still.parts[0].matrix);
      expect(occluder.mesh.geometry.getAttribute('color')).toBeUndefined();
      expect(material().alphaTest).toBe(0);
    }
  });
});
