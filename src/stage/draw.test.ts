import type { Mesh } from 'three';
import { expect, test } from 'vitest';
import { simulateCapture } from '@/core/capture';
import { makeForm, SKELETONS } from '@/core/form';
import { formBase } from '@/core/form/samples';
import { createPiece } from '@/core/piece';
import { stageStill } from '@/core/run';
import { SceneAssets } from './assets';
import { Draw } from './draw';
import { FormView } from './formview';
import { Solids } from './parts';
import { FacePicture } from './patches';

const state = stageStill(createPiece('x'), { models: {} }, simulateCapture({ yawDeg: 10, pitchDeg: 0, rollDeg: 0 }, SKELETONS.M));

test('a form that comes after the state was dressed, and another in its place, is what occludes', () => {
  const form = new FormView();
  const draw = new Draw({} as never, { assets: new SceneAssets(), form, solids: new Solids(), face: new FacePicture() });
  const block = () => draw.occluders.children.find((o) => (o as Mesh).isMesh) as Mesh;
  const cutFrom = () => block().geometry.getAttribute('position');
  const made = makeForm(formBase(), 'M');
  draw.dress(state);
  expect(cutFrom()).toBeUndefined();
  for (const next of [made, { ...made }]) {
    form.set(next);
    form.pose(state.form);
    draw.dress(state);
    expect(cutFrom()).toBe(form.meshes.clay.geometry.getAttribute('position'));
  }
});
