/** What hides: a soft edge, a cap of hair, a solid of one's own; as the Mirror shows them. */
import { expect, type Page } from '@playwright/test';
import { Vector3 } from 'three';
import { MIRROR_CAMERA } from '../../src/core/capture';
import { cameraOf } from '../../src/core/fit';
import { add, createSolid, type SolidShape } from '../../src/core/piece';
import { clean } from '../support/axe';
import { drawn, longTest, makePiece, pixels, saved, saveEdits, signIn, site } from '../support/page';

const shape = (form: SolidShape['form'], sizeMm: [number, number, number]): SolidShape => ({
  form,
  sizeMm,
  roundMm: 0,
  wallMm: 1,
  open: [],
});
const at = (positionM: [number, number, number]) => ({
  positionM,
  turnRad: [0, 0, 0] as [number, number, number],
  size: [1, 1, 1] as [number, number, number],
});
/** A wall behind the head, and a ball beside it that hides. */
const wall = { ...createSolid('wall', 'Wall', shape('plane', [400, 300, 1])), offset: at([0, 0.1, -0.12]) };
const blind = { ...createSolid('blind', 'Blind', shape('sphere', [60, 60, 60])), offset: at([0.13, 0.1, 0]) };

/** Colour of the Mirror over a place of the world, 0 … 255. */
async function colourAt(page: Page, place: readonly [number, number, number]): Promise<[number, number, number]> {
  const picture = await pixels(page.locator('[data-view="mirror"]'));
  const p = new Vector3(...place).project(cameraOf(MIRROR_CAMERA, picture.width / picture.height));
  const i = (Math.round(((1 - p.y) / 2) * picture.height) * picture.width + Math.round(((p.x + 1) / 2) * picture.width)) * 4;
  return [...picture.data.subarray(i, i + 3)] as [number, number, number];
}
const apart = (a: readonly number[], b: readonly number[]) => Math.max(...a.map((x, k) => Math.abs(x - b[k])));

longTest('a solid hides instead of being seen; hair hides where it stands out; an edge is soft over its width', async ({ page }) => {
  await signIn(page);
  const id = await makePiece(page, 'Occluders');
  await saveEdits(page, id, [add('parts', wall), add('parts', blind)]);
  await page.goto(`${site()}/piece/${id}/fit?parts=blind`);
  await drawn(page, 'mirror');
  const [ball, plain] = [await colourAt(page, [0.13, 0.1, 0.03]), await colourAt(page, [-0.17, 0.2, -0.12])];
  await page.getByRole('checkbox', { name: 'hides what lies behind it, and is not seen' }).check();
  await expect(page.getByRole('treeitem').filter({ hasText: 'hides: Sphere' })).toBeVisible();
  await drawn(page, 'mirror');
  const hole = await colourAt(page, [0.13, 0.1, 0.03]);
  expect(apart(hole, ball)).toBeGreaterThan(20);
  expect(apart(hole, plain)).toBeGreaterThan(20);

  // just beside the crown the wall is seen, until hair stands before it
  const beside: [number, number, number] = [0, 0.13, -0.008];
  expect(apart(await colourAt(page, beside), plain)).toBeLessThan(30);
  await page.getByRole('button', { name: /^Hang/ }).first().click();
  await page.getByRole('menuitem', { name: 'Hair cap, hides as hair does' }).click();
  await drawn(page, 'mirror');
  expect(apart(await colourAt(page, beside), plain)).toBeGreaterThan(30);
  await page.getByRole('button', { name: 'Undo' }).click();

  await page.getByRole('treeitem').filter({ hasText: 'Head block' }).click();
  const card = page.getByRole('region', { name: 'Occluder' });
  await card.getByRole('textbox', { name: 'Soft edge' }).fill('16');
  await card.getByRole('textbox', { name: 'Soft edge' }).press('Enter');
  await saved(page);
  await drawn(page, 'mirror');
  const half = await colourAt(page, beside);
  // neither the wall nor what is behind it: between the two
  expect(apart(half, plain)).toBeGreaterThan(8);
  expect(apart(half, hole)).toBeGreaterThan(8);
  await clean(page, 'the occluder and its edge', undefined, '[aria-label="Cards for the selected part"]');
});
