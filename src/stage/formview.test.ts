import { Matrix4, Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { simulateCapture } from '@/core/capture';
import { type Form, makeForm, SKELETONS } from '@/core/form';
import { formBase } from '@/core/form/samples';
import { createPiece } from '@/core/piece';
import { stageStill } from '@/core/run';
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
      occluder.update({ type: 'form', region, growMm: 0, widenMm: 0, without: [] }, state.parts[0].matrix);
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
});
