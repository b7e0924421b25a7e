import { Vector3 } from 'three';
import { expect, test } from 'vitest';
import { cameraOf } from '../fit/camera';
import { MIRROR_CAMERA } from './frame';
import { LENSES, lensCamera, PICTURE_SHAPES, type PictureShape } from './lens';

/** Where a place is in the picture, px from its middle. */
function seen(camera: ReturnType<typeof lensCamera>, at: Vector3): [number, number] {
  const { widthPx = 0, heightPx = 0 } = camera;
  const p = at.clone().project(cameraOf(camera, widthPx / heightPx));
  return [(p.x * widthPx) / 2, (p.y * heightPx) / 2];
}

test('the portrait is what a piece is looked at by unless it is asked', () => {
  const camera = lensCamera(LENSES.portrait);
  expect(camera).toMatchObject({ fovDeg: MIRROR_CAMERA.fovDeg, widthPx: 720, heightPx: 1280 });
  for (const k of [0, 1, 2]) expect(camera.positionM[k]).toBeCloseTo(MIRROR_CAMERA.positionM[k], 3);
});

test('two places of the face are as far apart in px as a pinhole has them: focal length by their distance', () => {
  for (const lens of Object.values(LENSES)) {
    const camera = lensCamera(lens);
    const f = 640 / Math.tan(((lens.fovDeg / 2) * Math.PI) / 180);
    // in the plane through what is looked at, across the way there
    const [a, b] = [-0.03, 0.03].map((x) => seen(camera, new Vector3(x, camera.targetM[1], camera.targetM[2])));
    expect(b[0] - a[0]).toBeCloseTo((f * 0.06) / lens.distanceM, 2);
    // what is nearer is larger: a nose before a near lens by much more than before a far one
    const [c, d] = [-0.03, 0.03].map((x) => seen(camera, new Vector3(x, camera.targetM[1], camera.targetM[2] + 0.1)));
    expect((d[0] - c[0]) / (b[0] - a[0])).toBeCloseTo(lens.distanceM / (lens.distanceM - 0.1), 1);
  }
});

test.each(Object.keys(PICTURE_SHAPES) as PictureShape[])('a picture of shape %s has it, and its longer side in full', (shape) => {
  const { widthPx = 0, heightPx = 0 } = lensCamera({ ...LENSES.front, shape });
  const [side, up] = PICTURE_SHAPES[shape];
  expect(widthPx / heightPx).toBeCloseTo(side / up, 3);
  expect(Math.max(widthPx, heightPx)).toBe(1280);
});

test('of a body it looks at the body', () => {
  const [face, body] = [false, true].map((whole) => lensCamera({ ...LENSES.back, distanceM: 4 }, whole));
  expect(body.targetM[1]).toBeLessThan(face.targetM[1] - 0.5);
  expect(new Vector3(...body.positionM).distanceTo(new Vector3(...body.targetM))).toBeCloseTo(4, 9);
});
