/** Things that come in a wrong unit, turned and off their origin, brought onto the head by what they are. */
import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { Matrix4, Vector3 } from 'three';
import { crownGlb } from '../../demo/models/crown';
import { dropGlb } from '../../demo/models/drop';
import { deliveredTurn, SPECTACLES_SEAT_M, type SpectaclesDelivery, spectaclesGlb } from '../../demo/models/spectacles';
import { makeForm } from '../../src/core/form';
import { formBase } from '../../src/core/form/samples';
import { offsetMatrix, seededRandom } from '../../src/core/math';
import type { Part, Piece } from '../../src/core/piece';
import { longJourney, newPiece, occluderHides, saved, signIn, site } from '../support/page';
import { SEED } from '../support/sweep';
import { User } from './user';

const UNITS = [1, 0.1, 1 / 25.4, 0.001];
const random = seededRandom(SEED);
const pick = (n: number) => Math.floor(random() * n);
const file = (name: string, bytes: Uint8Array) => ({ name, mimeType: 'model/gltf-binary', buffer: Buffer.from(bytes) });

async function partsOf(page: Page, id: string): Promise<Part[]> {
  await saved(page);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  return document.orders.parts.map((p) => document.parts[p]).filter((p) => p.kind === 'model');
}

longJourney('spectacles, judged from front and side on three heads, the far temple hidden, the sheet saved', async ({ page }) => {
  const wrong: SpectaclesDelivery = {
    unitPerMm: UNITS[pick(4)],
    quarterYaw: pick(4),
    quarterPitch: pick(2) ? 0 : 3,
    shiftMm: [pick(80) - 40, pick(80) - 40, pick(80) - 40],
  };
  console.log(`seed ${SEED}: ${JSON.stringify(wrong)}`);
  await signIn(page);
  const id = await newPiece(page, 'Found spectacles');
  const user = new User('spectacles on three heads');
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
  await user.chooseFile(page.getByLabel('Files for Stock'), file('spectacles.glb', await spectaclesGlb(wrong)));
  await user.press(button('Hang a part').last());
  await page.waitForURL(/fit/);
  await user.press(button('Fit it …'));
  const sheet = page.getByRole('dialog', { name: /^Fit it/ });
  await user.choose(sheet.getByRole('combobox', { name: 'What it is' }), 'eyewear');
  await expect(sheet.getByRole('status').last()).toContainText('Fitted', { timeout: 480_000 });
  await user.press(sheet.getByRole('button', { name: 'Put it there' }));
  await user.press(button('Pose yaw +60°'));
  await occluderHides(page, (t) => user.press(t));
  await user.press(button('On every form, in every pose'));
  const cast = page.getByRole('dialog', { name: /clearance/ });
  const [download] = await Promise.all([page.waitForEvent('download'), user.press(cast.getByRole('button', { name: 'Save as CSV' }))]);
  user.finish(14);
  const rows = readFileSync(`${await download.path()}`, 'utf8')
    .trim()
    .split('\r\n');
  expect(rows.length).toBeGreaterThan(20);
  const [part] = await partsOf(page, id);
  const onHead = offsetMatrix(part.offset)
    .multiply(new Matrix4().makeScale(wrong.unitPerMm, wrong.unitPerMm, wrong.unitPerMm))
    .multiply(new Matrix4().makeTranslation(...wrong.shiftMm))
    .multiply(deliveredTurn(wrong));
  expect(new Vector3().applyMatrix4(onHead).distanceTo(new Vector3(...SPECTACLES_SEAT_M))).toBeLessThan(0.006);
  expect(new Vector3(0, 0, 1).transformDirection(onHead).z).toBeGreaterThan(0.99);
  expect(new Vector3(0, 1, 0).transformDirection(onHead).y).toBeGreaterThan(0.99);
});

longJourney('a hat and a pair of earrings, unit and facing wrong', async ({ page }) => {
  const unit = UNITS[pick(4)];
  const turned = (yaw: number, pitch: number) =>
    new Matrix4()
      .makeScale(unit, unit, unit)
      .multiply(new Matrix4().makeRotationY((yaw * Math.PI) / 2))
      .multiply(new Matrix4().makeRotationX((pitch * Math.PI) / 2));
  const [hat, drop] = [turned(2, 0), turned(pick(4), 3)];
  console.log(`seed ${SEED}: ×${unit}`);
  await signIn(page);
  const id = await newPiece(page, 'Crown and pearls');
  const user = new User('a hat and a pair of earrings');
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
  const sheet = page.getByRole('dialog', { name: /^Fit it/ });
  const fitAs = async (kind: string) => {
    await user.press(button('Fit it …'));
    await user.choose(sheet.getByRole('combobox', { name: 'What it is' }), kind);
    await expect(sheet.getByRole('status').last()).toContainText('Fitted', { timeout: 480_000 });
    await user.press(sheet.getByRole('button', { name: 'Put it there' }));
  };
  await user.chooseFile(page.getByLabel('Files for Stock'), file('crown.glb', await crownGlb(hat)));
  await user.press(button('Hang a part').last());
  await page.waitForURL(/fit/);
  await fitAs('headwear');
  await user.press(page.getByRole('link', { name: /^Stock/ }));
  await user.chooseFile(page.getByLabel('Files for Stock'), file('drop.glb', await dropGlb(drop)));
  await expect(page.getByRole('heading', { name: 'drop.glb' })).toBeVisible();
  await user.press(button('Hang a part').last());
  await page.waitForURL(/fit/);
  await fitAs('earring');
  user.actions++;
  await page.keyboard.press('Control+d');
  await user.press(button('Other side'));
  user.finish(16);
  const [crown, left, right] = await partsOf(page, id);
  const worn = offsetMatrix(crown.offset).multiply(hat);
  expect(new Vector3(0, 1, 0).transformDirection(worn).y).toBeGreaterThan(0.95);
  expect(new Vector3(0, 0, 1).transformDirection(worn).z).toBeGreaterThan(0.95);
  // the hook's inside, in millimetres of its drawing, where lobes are pierced
  const { landmarks } = makeForm(formBase(), 'M');
  for (const [part, lobe] of [
    [left, landmarks.subauraleL],
    [right, landmarks.subauraleR],
  ] as const) {
    const hook = new Vector3(0, 4.6, -3.6).applyMatrix4(offsetMatrix(part.offset).multiply(drop));
    expect(hook.distanceTo(new Vector3(...lobe.position))).toBeLessThan(0.011);
  }
});
