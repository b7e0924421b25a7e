/** The Mirror through other lenses: mirrored, near, in a picture of another shape; what is pressed and dragged in it is what is seen there. */
import { expect, type Page } from '@playwright/test';
import { Vector3 } from 'three';
import { LENSES, lensCamera } from '../../src/core/capture';
import { cameraOf } from '../../src/core/fit';
import { add, createSolid, onAnchor } from '../../src/core/piece';
import { clean } from '../support/axe';
import { drawn, longTest, makePiece, saved, saveEdits, signIn, site } from '../support/page';

const AT = [0.1, 0.02, 0.05] as [number, number, number];
const box = {
  ...createSolid('box', 'Lantern', { form: 'box', sizeMm: [50, 50, 50], roundMm: 0, wallMm: 1, open: [] }, onAnchor('head')),
  offset: { positionM: AT, turnRad: [0, 0, 0] as [number, number, number], size: [1, 1, 1] as [number, number, number] },
};

/** Where a place of the world is on the page, as the Mirror shows it. */
async function onPage(page: Page, at: readonly [number, number, number], mirrored: boolean, shape: '9:16' | '1:1' = '9:16') {
  const r = await page.locator('[data-view="mirror"]').boundingBox();
  if (!r) throw new Error('no Mirror');
  const p = new Vector3(...at).project(cameraOf(lensCamera({ ...LENSES.front, shape }), r.width / r.height));
  return { x: r.x + (((mirrored ? -p.x : p.x) + 1) / 2) * r.width, y: r.y + ((1 - p.y) / 2) * r.height, of: r };
}

longTest('the front lens mirrors: what is pressed and dragged is where it is seen; a square picture is one', async ({ page }) => {
  await signIn(page);
  const id = await makePiece(page, 'Lantern aside');
  await saveEdits(page, id, [add('parts', box)]);
  await page.goto(`${site()}/piece/${id}/fit`);
  await drawn(page, 'mirror');
  await page.getByRole('button', { name: 'Form', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Camera …' }).click();
  const panel = page.getByRole('complementary', { name: 'Camera' });
  await clean(page, 'Fit, the camera');
  await panel
    .getByRole('group', { name: 'Lens' })
    .or(panel.getByRole('radiogroup', { name: 'Lens' }))
    .getByText('front')
    .click();
  await expect(page.getByText('70° from 45 cm, mirrored')).toBeVisible();
  await drawn(page, 'mirror');
  // the wearer's left is at the picture's left
  const seen = await onPage(page, [AT[0], AT[1], AT[2] + 0.025], true);
  expect(seen.x).toBeLessThan(seen.of.x + seen.of.width / 2);
  await page.mouse.click(seen.x, seen.y);
  await expect(page.getByRole('region', { name: 'Placement' })).toBeVisible();
  // dragged to the picture's left it goes to the wearer's left
  const disc = await onPage(page, AT, true);
  await page.mouse.move(disc.x, disc.y);
  await page.mouse.down();
  await page.mouse.move(disc.x - 20, disc.y, { steps: 4 });
  await page.mouse.up();
  await saved(page);
  const { document } = await (await page.request.get(`${site()}/api/pieces/${id}`)).json();
  expect(document.parts.box.offset.positionM[0]).toBeGreaterThan(AT[0] + 0.005);
  expect(document.parts.box.offset.positionM[1]).toBeCloseTo(AT[1], 2);

  await panel.getByRole('combobox', { name: 'Shape of the picture' }).selectOption('1:1');
  await drawn(page, 'mirror');
  const { of } = await onPage(page, AT, true, '1:1');
  expect(of.width / of.height).toBeCloseTo(1, 1);
  await panel.getByRole('checkbox', { name: /mirrored/ }).uncheck();
  await expect(page.locator('[data-view="mirror"][data-mirrored]')).toHaveCount(0);
  await panel.getByRole('textbox', { name: 'Distance of the camera' }).fill('90');
  await panel.getByRole('textbox', { name: 'Distance of the camera' }).press('Enter');
  await expect(page.locator('[data-camera]')).toHaveText('70° from 90 cm');
  await panel.getByRole('button', { name: 'As pieces are looked at' }).click();
  await expect(page.locator('[data-camera]')).toHaveCount(0);
});
