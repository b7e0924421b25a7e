import { WebIO } from '@gltf-transform/core';
import { CylinderGeometry, SphereGeometry, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { type Delivery, deliveredGlb } from '../../../e2e/support/delivery';
import { MIRROR_CAMERA } from '../capture';
import { packageContents } from '../deliver/contents';
import { duplicate } from '../fit/acts';
import { makeForm } from '../form';
import { windowPlaces } from '../form/facewindow';
import { formBase } from '../form/samples';
import { readModel } from '../model';
import {
  add,
  applyEdit,
  batch,
  changePart,
  createModelItem,
  createModelPart,
  createPatch,
  createPiece,
  createSolid,
  hasFace,
  onPart,
  type Piece,
  type SolidShape,
} from '../piece';
import { mirrorRegion, PATCH_REGIONS, WINDOWS } from '../words/windows';
import { flatPatch, inOval, PATCH_GRID, PATCH_SPREAD } from './patch';
import { patchesOn } from './patchacts';
import { compile, restFramesOf } from './show';
import { swimOver } from './swim';

const form = makeForm(formBase(), 'M');
const shape = (of: SolidShape['form'], mm: SolidShape['sizeMm']): SolidShape => ({ form: of, sizeMm: mm, roundMm: 0, wallMm: 8, open: [] });
const BALL = shape('sphere', [200, 200, 200]);
/** A solid over the head, and what hangs on it. */
function pieceWith(solid: SolidShape, at: [number, number, number] = [0, 0.2, 0.05]): Piece {
  const host = createSolid('host', 'Buoy', solid);
  return applyEdit(createPiece('Buoy'), add('parts', { ...host, offset: { ...host.offset, positionM: at } }));
}
const turned = (yawDeg: number) => ({ head: { yawDeg, pitchDeg: 0, rollDeg: 0 } });
const SHA = 'ab'.repeat(32);
const names = (label: string) => label;
let n = 0;
const put = (piece: Piece, regions: readonly (typeof PATCH_REGIONS)[number][]) => {
  const made = patchesOn(compile(piece, { models: {} }), form, piece.parts.host, regions, () => `p${n++}`, names);
  return { piece: made ? applyEdit(piece, batch(made.edits)) : piece, ids: made?.ids ?? [] };
};

describe('seated on a ball', () => {
  const { piece, ids } = put(pieceWith(BALL), ['eyeR', 'eyeL', 'mouth']);
  const show = compile(piece, { models: {} });

  test('every place of it lies on the ball, a hair before it', () => {
    for (const id of ids) {
      const node = show.nodes.find((k) => k.part.id === id);
      const world = restFramesOf(show).world(id);
      expect(node?.patch?.onPart).toBe(1);
      const p = new Vector3();
      const { positions } = node?.patch ?? { positions: [] };
      for (let i = 0; i < positions.length; i += 3)
        if (inOval(i / 3)) {
          const off =
            p
              .fromArray(positions, i)
              .applyMatrix4(world)
              .distanceTo(new Vector3(0, 0.2, 0.05)) - 0.1;
          // flat faces of the ball lie up to a millimetre within it
          expect(off).toBeGreaterThan(-0.0012);
          expect(off).toBeLessThan(0.0006);
        }
    }
  });

  test('the wearer’s right eye is at the picture’s left, the mouth below, as far apart as on the face', () => {
    const [r, l, mouth] = ids.map((id) => new Vector3().setFromMatrixPosition(restFramesOf(show).world(id)));
    expect(r.x).toBeLessThan(0);
    expect(l.x).toBeCloseTo(-r.x, 3);
    expect(mouth.y).toBeLessThan(r.y);
    const at = (name: 'pupilL' | 'pupilR' | 'stomion') => form.landmarks[name].position;
    const ratio = (l.x - r.x) / (r.y - mouth.y);
    const own = (at('pupilL')[0] - at('pupilR')[0]) / (at('pupilL')[1] - at('stomion')[1]);
    expect(Math.abs(ratio / own - 1)).toBeLessThan(0.15);
  });

  test('it stays within a pixel as the head turns; flat, it swims', () => {
    const poses = [0, -30, 30].map(turned);
    for (const id of ids) expect(swimOver(show, id, poses)?.px).toBeLessThan(1);
    const flat = compile(applyEdit(piece, changePart(ids[2], { seated: false })), { models: {} });
    expect(swimOver(flat, ids[2], poses)?.px).toBeGreaterThan(3);
  });

  test('the ball moved, sized or made a box: it is laid anew; what stays keeps what it had', () => {
    const mesh = (p: Piece, last = show) => compile(p, { models: {} }, last).nodes.find((k) => k.part.id === ids[0])?.patch;
    const now = show.nodes.find((k) => k.part.id === ids[0])?.patch;
    expect(mesh(applyEdit(piece, changePart(ids[1], { name: 'Other' })))).toBe(now);
    expect(mesh(applyEdit(piece, changePart('host', { shape: shape('box', [200, 200, 200]) })))).not.toBe(now);
    const { offset } = piece.parts.host;
    expect(mesh(applyEdit(piece, changePart('host', { offset: { ...offset, size: [1.2, 1.2, 1.2] } })))).not.toBe(now);
  });

  test('a pair in one press: the other side shows the other eye', () => {
    const other = duplicate(piece, [ids[1]], () => 'pair', { other: true });
    const made = applyEdit(piece, other.edit).parts.pair;
    expect(made).toMatchObject({ kind: 'patch', region: 'eyeR' });
    expect(made.offset.positionM[0]).toBeCloseTo(-piece.parts[ids[1]].offset.positionM[0], 9);
  });

  test('it asks for the form, and stays behind when a GLB is made, with the reason', () => {
    expect(hasFace(piece)).toBe(true);
    expect(packageContents(piece).leftOut.map((l) => l.why)).toContain('shows the wearer’s own face; a GLB cannot carry it');
  });
});

test('a flat one before a wall swims as a pinhole camera has it', () => {
  const wall = pieceWith(shape('plane', [400, 400, 1]), [0, 0, 0.1]);
  const part = { ...createPatch('p', 'Mouth', 'mouth', onPart('host')), seated: false };
  const before = 0.03;
  const piece = applyEdit(wall, add('parts', { ...part, offset: { ...part.offset, positionM: [0, 0, before] } }));
  const swim = swimOver(compile(piece, { models: {} }), 'p', [turned(25)]);
  // px by hand: f from the upright field of view, the head turned about the origin
  const eye = MIRROR_CAMERA.positionM;
  const f = 640 / Math.tan(((MIRROR_CAMERA.fovDeg / 2) * Math.PI) / 180);
  const tilt = Math.atan2(eye[1] - MIRROR_CAMERA.targetM[1], eye[2]);
  const seen = ([x, y, z]: number[]) => {
    const [c, s] = [Math.cos((25 * Math.PI) / 180), Math.sin((25 * Math.PI) / 180)];
    const [a, b, d] = [x * c + z * s - eye[0], y - eye[1], -x * s + z * c - eye[2]];
    const depth = -(d * Math.cos(tilt)) - b * Math.sin(tilt);
    return [(f * a) / depth, (f * (b * Math.cos(tilt) - d * Math.sin(tilt))) / depth];
  };
  let most = 0;
  const { positions } = flatPatch('mouth');
  for (let i = 0; i < positions.length; i += 3) {
    if (!inOval(i / 3)) continue;
    const p = [positions[i], positions[i + 1], 0.1 + before];
    const share = (eye[2] - 0.1) / (eye[2] - p[2]);
    const q = [eye[0] + (p[0] - eye[0]) * share, eye[1] + (p[1] - eye[1]) * share, 0.1];
    const [m, w] = [seen(p), seen(q)];
    most = Math.max(most, Math.hypot(m[0] - w[0], m[1] - w[1]));
  }
  expect(swim?.px).toBeCloseTo(most, 1);
  expect(most).toBeGreaterThan(20);
});

test('where it reaches past what it lies on, nothing of it is drawn', () => {
  const piece = pieceWith(shape('box', [40, 40, 40]), [0, 0.2, 0]);
  const part = createPatch('p', 'Face', 'face', onPart('host'));
  const show = compile(applyEdit(piece, add('parts', { ...part, offset: { ...part.offset, positionM: [0, 0, 0.03] } })), { models: {} });
  const mesh = show.nodes.find((k) => k.part.id === 'p')?.patch;
  expect(mesh?.onPart).toBeGreaterThan(0.02);
  expect(mesh?.onPart).toBeLessThan(0.15);
  for (const v of mesh?.triangles ?? []) expect(Math.abs(PATCH_SPREAD[v * 2]) * WINDOWS.face.sizeM[0] * 0.5).toBeLessThan(0.022);
});

test('a staff on a ball moves nothing: the face lies on the ball', async () => {
  const ball = put(pieceWith(BALL), ['mouth']);
  const bare = restFramesOf(compile(ball.piece, { models: {} })).world(ball.ids[0]);
  const shapes = [new SphereGeometry(100, 48, 32), new CylinderGeometry(8, 8, 120, 16).translate(0, 150, 0)];
  const how: Delivery = { unitPerMm: 0.001, quarterPitch: 0, quarterYaw: 0, shiftMm: [0, 0, 0] };
  const glb = await deliveredGlb('Buoy', shapes, { colour: [0, 0, 1], metallic: 0, roughness: 1 }, how);
  const model = readModel(await new WebIO().readBinary(glb));
  const host = { ...createModelPart('host', 's', 'Buoy'), offset: pieceWith(BALL).parts.host.offset };
  const stock = createModelItem({ id: 's', name: 'buoy.glb', original: SHA, model: SHA, bytes: 1 });
  const piece = applyEdit(createPiece('Buoy'), batch([add('stock', stock), add('parts', host)]));
  const made = patchesOn(compile(piece, { models: { [SHA]: model } }), form, host, ['mouth'], () => 'm', names);
  const there = restFramesOf(compile(applyEdit(piece, batch(made?.edits ?? [])), { models: { [SHA]: model } })).world('m');
  const [a, b] = [bare, there].map((m) => new Vector3().setFromMatrixPosition(m));
  expect(Math.abs(a.y - b.y)).toBeLessThan(0.015);
  expect(new Vector3().setFromMatrixScale(there).x / new Vector3().setFromMatrixScale(bare).x).toBeGreaterThan(0.85);
});

test('what has no surface before the camera takes none', () => {
  const piece = applyEdit(createPiece('Empty'), add('parts', { ...createSolid('host', 'Gone', BALL), hang: null }));
  expect(patchesOn(compile(piece, { models: {} }), form, piece.parts.host, ['mouth'], () => 'x', names)).toBeNull();
});

describe('windows of a face', () => {
  test.each(PATCH_REGIONS)('%s holds its landmarks, on the skin', (region) => {
    const places = windowPlaces(form, region, PATCH_GRID);
    const at = (v: number) => new Vector3().fromArray(places, v * 3);
    const middle = at(Math.floor(places.length / 6));
    for (const name of WINDOWS[region].across) {
      const p = new Vector3(...form.landmarks[name].position);
      expect(Math.abs(p.x - middle.x)).toBeLessThan((at(PATCH_GRID.across).x - at(0).x) / 2);
      let near = Infinity;
      for (let v = 0; v < places.length / 3; v++) near = Math.min(near, at(v).distanceTo(p));
      // a cell of the grid, and what of the skin slopes away within one
      expect(near).toBeLessThan(region === 'face' ? 0.02 : 0.006);
    }
  });
  test('left and right are each other’s mirror', () => {
    const [l, r] = [windowPlaces(form, 'eyeL', PATCH_GRID), windowPlaces(form, 'eyeR', PATCH_GRID)];
    const row = PATCH_GRID.across + 1;
    for (let v = 0; v < l.length / 3; v++) {
      const m = Math.floor(v / row) * row + (row - 1 - (v % row));
      expect(Math.hypot(l[v * 3] + r[m * 3], l[v * 3 + 1] - r[m * 3 + 1], l[v * 3 + 2] - r[m * 3 + 2])).toBeLessThan(5e-4);
    }
    expect(PATCH_REGIONS.map(mirrorRegion)).toEqual(['eyeR', 'eyeL', 'mouth', 'nose', 'face']);
  });
});
