/** A ring at the lip, its unit, turn and origin wrong, that stays put while the mouth opens. */
import { expect } from '@playwright/test';
import { Matrix4, Vector3 } from 'three';
import { MIRROR_CAMERA } from '../../src/core/capture';
import { cameraOf } from '../../src/core/fit';
import { makeForm } from '../../src/core/form';
import { formBase } from '../../src/core/form/samples';
import { seededRandom } from '../../src/core/math';
import type { Piece } from '../../src/core/piece';
import { stageStill, wearerCapture } from '../../src/core/run';
import { deliveredAs, drawnDelivery } from '../support/delivery';
import { newPiece, saved, signIn, site, journey as test } from '../support/page';
import { RING_BROAD_MM, ringGlb } from '../support/ringmodel';
import { SEED } from '../support/sweep';
import { User } from './user';

const random = seededRandom(SEED);
const pick = (n: number) => Math.floor(random() * n);

test('a ring at the lip that stays put while the mouth opens', async ({ page }) => {
  const wrong = drawnDelivery(pick);
  console.log(`seed ${SEED}: ${JSON.stringify(wrong)}`);
  await signIn(page);
  const id = await newPiece(page, 'Lip ring');
  const user = new User('a ring at the lip');
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
  await user.chooseFile(page.getByLabel('Files for Stock'), {
    name: 'lip-ring.glb',
    mimeType: 'model/gltf-binary',
    buffer: Buffer.from(await ringGlb(wrong)),
  });
  await user.press(button('Hang a part').last());
  await page.waitForURL(/fit/);
  await user.press(button('Press its place on the skin …'));
  await expect(page.getByRole('status').filter({ hasText: 'Press the skin' })).toBeVisible();
  // a hand presses where it sees the lower lip
  const mirror = page.locator('canvas[data-view="mirror"][data-drawn]');
  const box = await mirror.boundingBox();
  if (!box) throw new Error('the Mirror is not there');
  const form = makeForm(formBase(), 'M');
  const lip = new Vector3(...form.landmarks.labialeInferius.position).project(cameraOf(MIRROR_CAMERA, box.width / box.height));
  user.actions++;
  await page.mouse.click(box.x + ((lip.x + 1) / 2) * box.width, box.y + ((1 - lip.y) / 2) * box.height);
  await expect(page.getByText(/mm from the lower lip/)).toBeVisible();
  await user.press(button('Fit it …'));
  const sheet = page.getByRole('dialog', { name: /^Fit it/ });
  await expect(sheet.getByRole('status').last()).toContainText('A ring of 11 mm');
  await user.press(sheet.getByRole('button', { name: 'Put it there' }));
  await user.press(button('Face'));
  await user.press(button('Mouth open'));
  await user.press(button(/^Drift in/));
  await expect(page.locator('[data-drift]')).toHaveAttribute('data-drift', '0.00');
  user.finish(9);

  await saved(page);
  const { document: piece } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  const part = Object.values(piece.parts).find((p) => p.kind === 'model');
  const made = deliveredAs(wrong);
  /** Where the ring as it was made is, and where the lip is below it. */
  const seen = (face: Record<string, number>) => {
    const capture = wearerCapture(piece, { head: { yawDeg: 0, pitchDeg: 0, rollDeg: 0 }, face });
    const staged = stageStill(piece, { models: {}, forms: { M: form } }, capture).parts.find((p) => p.id === part?.id);
    const m = new Matrix4().fromArray(staged?.matrix ?? []).multiply(made);
    const lipNow = makeForm(formBase(), 'M', face).landmarks.labialeInferius.position;
    return { m, apartM: new Vector3().setFromMatrixPosition(m).distanceTo(new Vector3(...lipNow)) };
  };
  const [shut, open] = [seen({}), seen({ AU26: 1 })];
  expect(shut.apartM).toBeLessThan(0.003);
  expect(Math.abs(open.apartM - shut.apartM)).toBeLessThan(0.0015);
  expect(new Vector3().setFromMatrixPosition(shut.m).distanceTo(new Vector3().setFromMatrixPosition(open.m))).toBeGreaterThan(0.008);
  // as broad as it is, its hole to the side
  expect(new Vector3().setFromMatrixScale(shut.m).x * RING_BROAD_MM * 1000).toBeCloseTo(RING_BROAD_MM, 1);
  expect(Math.abs(new Vector3(0, 0, 1).transformDirection(shut.m).x)).toBeGreaterThan(0.97);
});
