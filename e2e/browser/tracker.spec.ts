/**
 * The form is face enough for a tracker: a face-landmark model of the registry, which nobody here made, looks at pictures of forms as the
 * Mirror draws them, and finds our landmarks where they are. `@mediapipe/face_mesh`, its points numbered as its own drawings have them.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { Vector3 } from 'three';
import { MIRROR_CAMERA } from '../../src/core/capture';
import { cameraOf } from '../../src/core/fit';
import { type Expression, FORM_SIZES, type FormBase, type FormSize, type LandmarkName, makeForm, PRESETS } from '../../src/core/form';
import { formBase } from '../../src/core/form/samples';
import { turnMatrix } from '../../src/core/math';
import { drawn, longTest, makePiece, signIn, site } from '../support/page';

const MODEL = join(import.meta.dirname, '../../node_modules/@mediapipe/face_mesh');
type Points = [number, number][];
interface Picture {
  png: string;
  width: number;
  height: number;
}

/** The model in a page of its own, which gets its files from the package alone. */
async function tracker(page: Page): Promise<(picture: Picture) => Promise<Points>> {
  const origin = 'http://tracker.test';
  const types: Record<string, string> = { js: 'text/javascript', wasm: 'application/wasm' };
  await page.route(`${origin}/**`, (route) => {
    const name = new URL(route.request().url()).pathname.slice(1);
    if (name === '') return route.fulfill({ contentType: 'text/html', body: '<script src="/face_mesh.js"></script>' });
    return route.fulfill({
      contentType: types[name.split('.').pop() ?? ''] ?? 'application/octet-stream',
      body: readFileSync(join(MODEL, name)),
    });
  });
  await page.goto(`${origin}/`);
  await page.evaluate(async () => {
    const w = window as unknown as Record<string, unknown> & {
      FaceMesh: new (o: object) => Record<string, (x?: unknown) => Promise<void>>;
    };
    const model = new w.FaceMesh({ locateFile: (f: string) => `/${f}` });
    void model.setOptions({ selfieMode: false, useCpuInference: true, maxNumFaces: 1, refineLandmarks: true });
    void model.onResults((r: unknown) => {
      w.got = r;
    });
    await model.initialize();
    w.model = model;
  });
  return (picture) =>
    page.evaluate(async ({ png, width, height }) => {
      const w = window as unknown as Record<string, unknown> & {
        model: { send: (x: object) => Promise<void>; reset: () => Promise<void> };
      };
      const image = new Image();
      image.src = png;
      await image.decode();
      // found in the first look, followed in the others
      // each picture by itself: what it saw before would be smoothed into what it sees
      await w.model.reset();
      for (let i = 0; i < 4; i++) await w.model.send({ image });
      const [face] = (w.got as { multiFaceLandmarks: { x: number; y: number }[][] }).multiFaceLandmarks;
      if (!face) throw new Error('no face is found');
      return face.map(({ x, y }): [number, number] => [x * width, y * height]);
    }, picture);
}

/** The model's points that are landmarks of ours; of the wearer, not of the picture. */
const SAME: readonly [number, LandmarkName, number][] = [
  // point, landmark, how far apart as a share of what is between the pupils
  [468, 'pupilR', 0.04],
  [473, 'pupilL', 0.04],
  [33, 'ectocanthionR', 0.1],
  [133, 'endocanthionR', 0.1],
  [362, 'endocanthionL', 0.1],
  [263, 'ectocanthionL', 0.1],
  [4, 'pronasale', 0.1],
  [61, 'cheilionR', 0.1],
  [291, 'cheilionL', 0.1],
  [152, 'gnathion', 0.14],
];

function where(base: FormBase, size: FormSize, face: Expression, yawDeg: number, { width, height }: Picture) {
  const camera = cameraOf(MIRROR_CAMERA, width / height);
  const head = turnMatrix({ yawDeg, pitchDeg: 0, rollDeg: 0 });
  const { landmarks } = makeForm(base, size, face);
  const seen = (at: Vector3): [number, number] => {
    const p = at.project(camera);
    return [((p.x + 1) / 2) * width, ((1 - p.y) / 2) * height];
  };
  const between = PRESETS[size].interpupillaryDistance / 1000;
  const [a, b] = [-1, 1].map((s) => seen(new Vector3((s * between) / 2, 0, 0.08).applyMatrix4(head).setX((s * between) / 2)));
  return { at: (name: LandmarkName) => seen(new Vector3(...landmarks[name].position).applyMatrix4(head)), pupilsPx: Math.abs(a[0] - b[0]) };
}

const LOOKS: readonly [string, Record<string, number>, Expression, number][] = [
  ['neutral', {}, {}, 0],
  ['smile', { 'Lip corner up': 1 }, { AU12: 1 }, 0],
  ['mouth open', { 'Mouth open': 1 }, { AU26: 1 }, 0],
  ['brows up', { 'Brow up': 1 }, { AU1_2: 1 }, 0],
  ['brows down', { 'Brow down': 1 }, { AU4: 1 }, 0],
  ['half shut', { 'Eye shut': 0.5 }, { AU45: 0.5 }, 0],
  ['shut', { 'Eye shut': 1 }, { AU45: 1 }, 0],
  ['yaw 20', {}, {}, 20],
  ['yaw 40', {}, {}, 40],
  ['yaw -20', {}, {}, -20],
  ['yaw -40', {}, {}, -40],
];
/** Lids that are shut hide the pupils, and a model guesses. */
const counts = (look: string, landmark: LandmarkName) => !(/shut/.test(look) && /^pupil/.test(landmark));

longTest('a tracker finds the face of every form, its features where they are, and what it does', async ({ page, context }) => {
  await page.setViewportSize({ width: 1700, height: 900 });
  await signIn(page);
  const id = await makePiece(page, 'Tracked');
  await page.goto(`${site()}/piece/${id}/fit`);
  await drawn(page, 'mirror');
  await page.getByRole('button', { name: 'Face', exact: true }).click();
  const look = await tracker(await context.newPage());
  const base = formBase();
  const face = page.getByRole('complementary', { name: 'What the face does' });
  for (const size of FORM_SIZES) {
    await page.getByRole('button', { name: 'Form', exact: true }).click();
    await page
      .getByRole('menuitemradio', { name: `Form ${size}`, exact: true })
      .or(page.getByRole('menuitem', { name: `Form ${size}`, exact: true }))
      .first()
      .click();
    const told: Record<string, { mouth: number; eye: number; brow: number }> = {};
    for (const [name, sliders, does, yaw] of LOOKS) {
      await face.getByRole('button', { name: 'At rest' }).click();
      await face.getByRole('slider', { name: 'Head turns' }).fill(String(yaw));
      for (const [slider, value] of Object.entries(sliders))
        await face.getByRole('slider', { name: slider, exact: true }).fill(String(value));
      await drawn(page, 'mirror');
      const picture = await page
        .locator('[data-view="mirror"]')
        .evaluate((c: HTMLCanvasElement) => ({ png: c.toDataURL('image/png'), width: c.width, height: c.height }));
      const points = await look(picture);
      const { at, pupilsPx } = where(base, size, does, yaw, picture);
      for (const [point, landmark, share] of SAME) {
        if (!counts(name, landmark)) continue;
        const off = Math.hypot(points[point][0] - at(landmark)[0], points[point][1] - at(landmark)[1]) / pupilsPx;
        expect.soft(off, `form ${size}, ${name}: ${landmark}`).toBeLessThan(share);
      }
      const far = (p: number, q: number) => Math.hypot(points[p][0] - points[q][0], points[p][1] - points[q][1]);
      told[name] = { mouth: far(13, 14) / far(61, 291), eye: far(159, 145) / far(33, 133), brow: far(105, 33) / far(33, 263) };
    }
    const { neutral } = told;
    expect(told['mouth open'].mouth).toBeGreaterThan(neutral.mouth + 0.15);
    expect(told['brows up'].brow).toBeGreaterThan(neutral.brow + 0.02);
    expect(told['brows down'].brow).toBeLessThan(neutral.brow - 0.01);
    expect(told['half shut'].eye).toBeLessThan(neutral.eye - 0.02);
    expect(told.shut.eye).toBeLessThan(told['half shut'].eye - 0.05);
  }
});
