/** The whole way by the keyboard alone: signed in, a file brought in, said to be spectacles, mended, hung where they sit, delivered. */
import { WebIO } from '@gltf-transform/core';
import { expect, type Page } from '@playwright/test';
import { spectaclesGlb } from '../../demo/models/spectacles';
import { longJourney, saved, site } from '../support/page';

longJourney('by the keyboard alone, from sign-in to a delivered GLB', async ({ page }) => {
  let keys = 0;
  const press = async (key: string, times = 1) => {
    keys += times;
    for (let i = 0; i < times; i++) await page.keyboard.press(key);
  };
  const type = async (text: string) => {
    keys += text.length;
    await page.keyboard.type(text);
  };
  /** Tab until it has the focus; every one counts. */
  const tabTo = async (p: Page, name: string | RegExp) => {
    for (let i = 0; i < 30; i++) {
      const at = p.locator(':focus');
      if ((await at.count()) && (await at.and(p.getByRole('button', { name }).or(p.getByRole('link', { name }))).count())) return;
      await press('Tab');
    }
    throw new Error(`${name} is not reached in 30 tabs`);
  };
  // heard from the beginning: the browser is told to hand choosers over before one is opened
  page.on('filechooser', () => undefined);
  await page.goto(`${site()}/sign-in`);
  await tabTo(page, 'Open the demo');
  await press('Enter');
  await expect(page.getByRole('article').first()).toBeVisible();
  await press('n');
  await expect(page.getByRole('dialog').getByRole('textbox', { name: 'Name' })).toBeFocused();
  await type('Found');
  await press('Enter');
  await expect(page.getByRole('heading', { name: 'Stock', exact: true })).toBeVisible();
  const chooser = page.waitForEvent('filechooser');
  await press('b');
  await (await chooser).setFiles({ name: 'spectacles.glb', mimeType: 'model/gltf-binary', buffer: Buffer.from(await spectaclesGlb()) });
  await expect(page.getByRole('heading', { name: 'spectacles.glb' })).toBeVisible();
  await press('w');
  await expect(page.getByLabel('What it is')).toBeFocused();
  await type('e');
  await expect(page.getByLabel('What it is')).toHaveValue('eyewear');
  await press('Tab');
  await press('m');
  await expect(page.getByRole('dialog', { name: /^Mend/ }).getByRole('button', { name: /^Mend/ })).toBeFocused();
  await press('Enter');
  await expect(page.getByRole('heading', { name: 'As mended' })).toBeVisible();
  await saved(page);
  await press('h');
  await page.waitForURL(/fit/);
  // where spectacles sit, without a value typed: the lenses before the eyes, the bridge outside the head
  await expect(page.getByRole('img', { name: /Front plate: .* is 14\d\.\d mm side/ })).toBeVisible();
  await expect.poll(async () => (await page.getByRole('textbox', { name: 'Place fore' }).inputValue()) !== '0.0').toBe(true);
  await saved(page);
  await press('Alt+6');
  await expect(page.getByRole('button', { name: 'Deliver the GLB' })).toBeVisible();
  const download = page.waitForEvent('download');
  await press('g');
  const file = await (await download).path();
  const doc = await new WebIO().readBinary(new Uint8Array((await import('node:fs')).readFileSync(file)));
  expect(
    doc
      .getRoot()
      .getDefaultScene()
      ?.listChildren()
      .map((n) => n.getName()),
  ).toEqual(['Head']);
  console.log(`journey by keyboard: ${keys} keys`);
  expect(keys).toBeLessThanOrEqual(80);
});
