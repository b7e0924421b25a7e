/** Rig on the screen: a chain by two presses, one bone more; a figure, its joints, weights, poses and motion. */

import { expect, type Page } from '@playwright/test';
import { crownGlb } from '../../demo/models/crown';
import { lamplighterGlb } from '../../demo/models/lamplighter';
import { makePiece, saved, signIn, site, test } from '../support/page';

const plan = 'Sail plan';

/** A piece with one model, at Rig. */
async function bring(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  await signIn(page);
  const id = await makePiece(page, 'To be rigged');
  await page.goto(`${site()}/piece/${id}/rig`);
  await expect(page.getByText('There is no model yet')).toBeVisible();
  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await page.getByLabel('Files for Stock').setInputFiles([{ name, mimeType: '', buffer: Buffer.from(bytes) }]);
  await expect(page.getByRole('button', { name, exact: true }).first()).toBeVisible();
  await saved(page);
  await page.getByRole('link', { name: /^Rig/ }).click();
  await expect(page.getByRole('img', { name: `${name} and its bones` })).toHaveAttribute('data-ready', /[0-9a-f]{64}/);
}

test('a chain by two presses; one bone more, and struck again', async ({ page }) => {
  await bring(page, 'crown.glb', await crownGlb());
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

test('a figure: bones by one press, an elbow dragged and its pair with it, a wrist typed, fewer bones; weights and a pose are looked at', async ({
  page,
}) => {
  await bring(page, 'lamplighter.glb', await lamplighterGlb());
  await page.getByRole('button', { name: 'A figure' }).click();
  const front = page.getByRole('img', { name: /lamplighter\.glb from the front, 22 bones/ });
  await expect(front).toBeVisible();
  await expect(page.getByText('every joint is sure')).toBeVisible();
  const joints = page.getByRole('region', { name: 'Joints' });
  // out by a tenth of the plate: metres follow from the picture
  const ring = (view: string, bone: string) => page.locator(`[data-view="figure-${view}"] ~ svg [data-joint="${bone}"]`);
  const middle = async (view: string, bone: string) => {
    const box = await ring(view, bone).boundingBox();
    if (!box) throw new Error(`no ${bone}`);
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  };
  const [from, pair] = [await middle('front', 'leftLowerArm'), await middle('front', 'rightLowerArm')];
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x + 24, from.y - 12, { steps: 4 });
  await page.mouse.up();
  await expect(joints.getByText('by hand')).toHaveCount(2);
  await expect.poll(async () => Math.round((await middle('front', 'leftLowerArm')).x - from.x)).toBe(24);
  const moved = await middle('front', 'rightLowerArm');
  expect(Math.abs(moved.x - pair.x + 24)).toBeLessThan(3);
  expect(Math.abs(moved.y - pair.y + 12)).toBeLessThan(3);
  await page.getByRole('button', { name: 'Choose left wrist' }).click();
  const field = page.getByRole('textbox', { name: 'Z of the left wrist, mm' });
  await field.fill('90');
  await field.press('Enter');
  await expect(joints.getByText('by hand')).toHaveCount(4);
  await expect(field).toHaveValue('90');
  await joints.getByRole('button', { name: 'As found' }).first().click();
  await expect(joints.getByText('by hand')).toHaveCount(3);
  await page.getByLabel('Bones', { exact: true }).selectOption({ label: '17 bones' });
  await expect(page.getByRole('img', { name: /from the front, 17 bones/ })).toBeVisible();
  // what the wrist's bone holds, and what it does when it is turned
  await page.getByRole('radio', { name: 'Weights' }).check();
  await page.getByRole('radio', { name: 'Pose' }).check();
  const table = page.getByRole('table', { name: 'Against rest' });
  await expect(table).toContainText(/Longest edge×[1-9]\.\d\d/);
  const before = await table.textContent();
  await page.getByRole('slider', { name: 'Turn of the bone, degrees' }).fill('60');
  await expect(table).not.toHaveText(before ?? '');
  // it walks
  await page.getByRole('checkbox', { name: 'Walk' }).click();
  await page.getByRole('radio', { name: 'Motion' }).check();
  await expect(page.getByRole('combobox', { name: 'Clip' })).toContainText('walk');
  const plate = page.locator('[data-view="figure-side"]');
  const pixels = () => plate.evaluate((c: HTMLCanvasElement) => c.toDataURL());
  const first = await pixels();
  await page.getByRole('slider', { name: 'Moment of the clip, seconds' }).fill('0.4');
  await expect.poll(pixels).not.toBe(first);
  await saved(page);
  await page.getByRole('button', { name: 'Take the bones away' }).click();
  await expect(page.getByRole('button', { name: 'A figure' })).toHaveAttribute('aria-pressed', 'false');
});
