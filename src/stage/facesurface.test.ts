/** The face surface: its triangles, and where they lie while the face moves; against the form's own expression. */
import { Matrix4, type Mesh, type MeshStandardMaterial } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { type Expression, expressForm, type FaceCover, type Form, faceIndices, makeForm, weightsOf } from '@/core/form';
import { drawnBody, shapeBody } from '@/core/form/body';
import { bodyBase, formBase } from '@/core/form/samples';
import { add, applyEdit, createFace, createModelItem, createPiece, createSolid, type FacePart, onJoint } from '@/core/piece';
import { stageStill, wearerCapture } from '@/core/run';
import { FaceSurface } from './facesurface';
import { FormView } from './formview';

let form: Form;
let off: Float32Array;
beforeAll(() => {
  form = makeForm(formBase(), 'M');
  off = new Float32Array(form.positions.length);
  for (const [v, id] of form.regions.ids.entries()) if (form.regions.names[id] === 'lips') off.set([0, 0.001, 0.004], v * 3);
});
const HEAD = { yawDeg: 25, pitchDeg: 0, rollDeg: 0 };
const HAND = { form: 'box' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 8, open: [] };

function drawnAs(set: Partial<FacePart>, face: Expression, whole = false) {
  const part = { ...createFace('f', 'Face', 'face', '#aa3322'), growMm: 0, ...set };
  const file = createModelItem({ id: 'copy', name: 'copy.glb', original: 'a'.repeat(64), model: 'b'.repeat(64), bytes: 1 });
  const faced = applyEdit(applyEdit(createPiece('x'), add('stock', file)), add('parts', part as never));
  const piece = whole ? applyEdit(faced, add('parts', createSolid('a', 'a', HAND, onJoint('leftHand')))) : faced;
  const state = stageStill(piece, { models: {}, sculpts: { copy: off } }, wearerCapture(piece, { head: HEAD, face }));
  const view = new FormView();
  view.set(form);
  if (whole) view.setBody(drawnBody(shapeBody(bodyBase(), 'M')));
  view.pose(state.form);
  const staged = state.parts.find((p) => p.id === 'f');
  if (staged?.shape?.type !== 'face') throw new Error('not staged');
  const surface = new FaceSurface('f', view);
  surface.update(staged, staged.shape, null);
  return { mesh: surface.mesh, surface, staged };
}
/** Of vertices that are drawn, the greatest way from where they should be, metres. */
function furthest(mesh: Mesh, want: (v: number) => readonly number[]): number {
  const { array } = mesh.geometry.getAttribute('position');
  let most = 0;
  for (const v of new Set(mesh.geometry.index?.array ?? []))
    most = Math.max(most, Math.hypot(...want(v).map((x, k) => x - array[v * 3 + k])));
  return most;
}
const expressed = (face: Expression) => {
  const out = { positions: new Float32Array(form.positions.length), normals: new Float32Array(form.positions.length) };
  expressForm(form, weightsOf(face), out);
  return (v: number, k: number) => [out.positions[v * 3 + k], out.normals[v * 3 + k]] as const;
};

describe('the face surface', () => {
  test('goes with all that the face does, and with the head; it stands off along the skin', () => {
    const face = { AU26: 0.8, AU12: 0.6, AU61: 1 };
    const at = expressed(face);
    for (const growMm of [0, 2]) {
      const { mesh, staged } = drawnAs({ growMm, covers: 'lips' }, face);
      expect(furthest(mesh, (v) => [0, 1, 2].map((k) => at(v, k)[0] + (growMm / 1000) * at(v, k)[1]))).toBeLessThan(2e-6);
      expect(mesh.matrix.equals(new Matrix4().fromArray(staged.matrix))).toBe(true);
    }
  });
  test('a re-sculpted copy moves with every expression: by as much as it stands off at rest', () => {
    const face = { AU26: 1, AU18: 0.5 };
    const at = expressed(face);
    const { mesh } = drawnAs({ sculpt: 'copy' }, face);
    expect(furthest(mesh, (v) => [0, 1, 2].map((k) => at(v, k)[0] + off[v * 3 + k]))).toBeLessThan(2e-6);
  });
  test('on a whole body it is the same face', () => {
    const face = { AU12: 1 };
    const [head, body] = [drawnAs({ covers: 'lips' }, face), drawnAs({ covers: 'lips' }, face, true)];
    const count = (m: Mesh) => m.geometry.index?.count ?? 0;
    expect(Math.abs(count(body.mesh) / count(head.mesh) - 1)).toBeLessThan(0.1);
    const uv = (m: Mesh) => {
      const list = m.geometry.getAttribute('uv').array;
      const used = [...new Set(m.geometry.index?.array ?? [])];
      return used.reduce((s, v) => s + list[v * 2], 0) / used.length;
    };
    expect(uv(body.mesh)).toBeCloseTo(uv(head.mesh), 2);
  });
  test('what it covers: lids round the eyes, brows over them, lips, eyeballs; holes left open or closed', () => {
    const triangles = (covers: FaceCover, holes = { eyes: true, mouth: true }) => faceIndices(form, covers, holes).length / 3;
    const middle = (covers: FaceCover) => {
      const used = [...new Set(faceIndices(form, covers, { eyes: true, mouth: true }))];
      return [1, 2].map((k) => used.reduce((s, v) => s + form.positions[v * 3 + k], 0) / used.length);
    };
    const [pupil, mouth] = [form.landmarks.pupilL.position, form.landmarks.stomion.position];
    expect(middle('brows')[0]).toBeGreaterThan(pupil[1] + 0.008);
    expect(Math.abs(middle('lids')[0] - pupil[1])).toBeLessThan(0.006);
    expect(Math.abs(middle('lips')[0] - mouth[1])).toBeLessThan(0.004);
    expect(triangles('eyes')).toBe(form.groups[1].count / 3);
    expect(triangles('face', { eyes: false, mouth: true }) - triangles('face')).toBeGreaterThanOrEqual(triangles('eyes'));
    expect(triangles('face', { eyes: true, mouth: false })).toBeGreaterThan(triangles('face') + 100);
    expect(triangles('face')).toBeGreaterThan(2_000);
    for (const v of faceIndices(form, 'face', { eyes: true, mouth: true }))
      expect(['ear', 'neck', 'bust', 'eye', 'mouth']).not.toContain(form.regions.names[form.regions.ids[v]]);
  });
  test('its look: a colour, nothing where nothing is painted, clear as it says', () => {
    const { mesh, surface, staged } = drawnAs({ opacity: 0.5 }, {});
    const look = mesh.material as MeshStandardMaterial;
    expect([look.color.getHexString(), look.opacity, look.transparent, look.map]).toEqual(['aa3322', 0.5, true, null]);
    expect(drawnAs({ colour: null }, {}).staged.shown).toBe(false);
    expect(staged.shown).toBe(true);
    surface.free();
  });
});
