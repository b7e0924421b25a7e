/** Rig on the screen: chains in all limbs, a chain by two presses, one bone more, all of it undone. */

import { expect } from '@playwright/test';
import { crownGlb } from '../../demo/models/crown';
import { makePiece, saved, signIn, site, test } from '../support/page';

const plan = 'Sail plan';

test.beforeEach(async ({ page }) => {
  await signIn(page);
  const id = await makePiece(page, 'Kelp crown');
  await page.goto(`${site()}/piece/${id}/rig`);
  await expect(page.getByText('There is no model yet')).toBeVisible();
  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await page.getByLabel('Files for Stock').setInputFiles([{ name: 'crown.glb', mimeType: '', buffer: Buffer.from(await crownGlb()) }]);
  await expect(page.getByRole('button', { name: 'crown.glb', exact: true }).first()).toBeVisible();
  await saved(page);
  await page.getByRole('link', { name: /^Rig/ }).click();
  await expect(page.getByRole('img', { name: /crown\.glb and its bones/ })).toHaveAttribute('data-ready', /[0-9a-f]{64}/);
});

test('every frond gets a chain by one press; an undo takes them away', async ({ page }) => {
  await page.getByRole('button', { name: 'Chains in all limbs' }).click();
  await expect(page.getByRole('table', { name: plan }).getByRole('row')).toHaveCount(15);
  await expect(page.getByRole('img', { name: /29 bones/ })).toBeVisible();
  await page.getByRole('button', { name: /Choose chain 3/ }).click();
  await expect(page.getByRole('button', { name: /Choose chain 3/ })).toHaveAttribute('aria-pressed', 'true');
  await saved(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('table', { name: plan })).toHaveCount(0);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.getByRole('table', { name: plan }).getByRole('row')).toHaveCount(15);
  await page.getByRole('button', { name: 'Take the bones away' }).click();
  await expect(page.getByRole('table', { name: plan })).toHaveCount(0);
});

test('a chain by two presses; one bone more, and struck again', async ({ page }) => {
  const picture = page.getByRole('img', { name: /crown\.glb and its bones/ });
  await page.getByRole('button', { name: 'Press root and tip' }).click();
  await expect(page.getByText('Press where the chain begins.')).toBeVisible();
  // a frond of the picture: found by its green, from below to above
  const ends = await picture.evaluate((c: HTMLCanvasElement) => {
    const { width, height } = c;
    const { data } = (c.getContext('2d') as CanvasRenderingContext2D).getImageData(0, 0, width, height);
    const green = (x: number, y: number) => {
      const i = (y * width + x) * 4;
      return data[i + 3] > 200 && data[i + 1] > data[i] * 1.15 && data[i + 1] > data[i + 2] * 1.8;
    };
    let best = { run: 0, x: 0, from: 0, to: 0 };
    for (let x = 0; x < width; x++)
      for (let y = 0, from = -1; y <= height; y++) {
        const is = y < height && green(x, y);
        if (is && from < 0) from = y;
        if (!is && from >= 0) {
          if (y - from > best.run) best = { run: y - from, x, from, to: y - 1 };
          from = -1;
        }
      }
    const at = (y: number) => ({ x: (best.x + 0.5) / width, y: (y + 0.5) / height });
    return { run: best.run, root: at(best.to - Math.round(best.run * 0.1)), tip: at(best.from + Math.round(best.run * 0.1)) };
  });
  expect(ends.run).toBeGreaterThan(20);
  const box = await picture.boundingBox();
  if (!box) throw new Error('no picture');
  await page.mouse.click(box.x + ends.root.x * box.width, box.y + ends.root.y * box.height);
  await expect(page.getByText('Press where the chain ends.')).toBeVisible();
  await page.mouse.click(box.x + ends.tip.x * box.width, box.y + ends.tip.y * box.height);
  const row = page.getByRole('table', { name: plan }).getByRole('row').nth(1);
  await expect(row).toContainText('chain 1');
  const before = Number((await picture.getAttribute('aria-label'))?.match(/(\d+) bones/)?.[1]);
  await page.getByRole('button', { name: 'One bone more in chain 1' }).click();
  await expect(page.getByRole('img', { name: `crown.glb and its bones, ${before + 1} bones` })).toBeVisible();
  await page.getByRole('button', { name: 'Strike chain 1' }).click();
  await expect(page.getByRole('table', { name: plan })).toHaveCount(0);
});
