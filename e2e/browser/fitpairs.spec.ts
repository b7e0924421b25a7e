/** Fit it: a pair added by two presses, of the part and of the wearer, counts; left out again it does not. */
import { expect } from '@playwright/test';
import { spectaclesGlb } from '../../demo/models/spectacles';
import { clean } from '../support/axe';
import { longTest, newPiece, saved, signIn } from '../support/page';

longTest('a pair is added by a press on the part and one on the wearer; it is solved again', async ({ page }) => {
  await signIn(page);
  await newPiece(page, 'Pairs');
  await page.getByLabel('Files for Stock').setInputFiles([
    {
      name: 'spectacles.glb',
      mimeType: 'model/gltf-binary',
      buffer: Buffer.from(await spectaclesGlb({ unitPerMm: 0.001, quarterPitch: 0, quarterYaw: 0, shiftMm: [0, 0, 0] })),
    },
  ]);
  await page.getByRole('button', { name: 'Hang a part' }).last().click();
  await page.waitForURL(/fit/);
  await page.getByRole('button', { name: 'Fit it …', exact: true }).click();
  const sheet = page.getByRole('dialog', { name: /^Fit it/ });
  await sheet.getByRole('combobox', { name: 'What it is' }).selectOption('eyewear');
  await expect(sheet.getByRole('status').last()).toContainText('Fitted');
  const picture = sheet.getByRole('img', { name: /where it comes to lie/ });
  await expect(picture).toHaveAttribute('data-ready', 'yes');
  await sheet.getByRole('button', { name: 'Add a pair' }).click();
  const box = await picture.boundingBox();
  if (!box) throw new Error('no picture');
  // a frame is thin: pressed where something of it lies, from the top down
  const second = sheet.getByText('Press where that belongs on the wearer');
  for (let y = 0.3; y < 0.75 && !(await second.isVisible()); y += 0.02)
    await page.mouse.click(box.x + box.width * 0.5, box.y + box.height * y);
  await expect(second).toBeVisible();
  await clean(page, 'Fit it, a pair being added', undefined, '[role="dialog"]');
  await page.mouse.click(box.x + box.width * 0.5, box.y + box.height * 0.35);
  const pairs = sheet.getByRole('table', { name: 'Pairs' });
  await expect(pairs.getByRole('button', { name: 'Pair 1' })).toHaveAttribute('aria-pressed', 'true');
  await expect(sheet.getByRole('status').last()).toContainText('By the pairs as they are now');
  const apart = Number(await pairs.getByRole('row').filter({ hasText: 'Pair 1' }).locator('td').last().textContent());
  expect(apart).toBeGreaterThan(0);
  await pairs.getByRole('checkbox', { name: 'Pair 1 counts' }).uncheck();
  await expect(pairs.getByRole('row').filter({ hasText: 'Pair 1' }).locator('td').last()).toHaveText('–');
  await sheet.getByRole('button', { name: 'As found' }).click();
  await expect(pairs.getByText('Pair 1')).toHaveCount(0);
  await sheet.getByRole('button', { name: 'Put it there' }).click();
  await saved(page);
});
