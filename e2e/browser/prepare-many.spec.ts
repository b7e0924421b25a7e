/** Prepare beyond one recipe: a limit met and delivered under it, detail painted, recipes of the yard, many models as one job. */
import { WebIO } from '@gltf-transform/core';
import { expect, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import type { Piece } from '../../src/core/piece';
import { blob, rippledTorus, surfaceDocument } from '../../src/core/prepare/samples';
import { longTest, newPiece, saved, signIn, site } from '../support/page';

let id = '';
const pieceOf = async (page: Page): Promise<Piece> => (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()).document;
const row = (page: Page, step: string) => page.locator(`[data-step="${step}"]`);
const step = async (page: Page, name: RegExp) => {
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('menuitem', { name }).click();
};
/** Shapes of this run alone: searches are answered from what is kept where the same was asked before. */
const size = () => 0.08 + (Date.now() % 1e6) * 1e-9;

async function bring(page: Page, files: Record<string, Uint8Array>): Promise<void> {
  await signIn(page);
  id = await newPiece(page, 'Many buoys');
  for (const [name, bytes] of Object.entries(files)) {
    await page.getByLabel('Files for Stock').setInputFiles([{ name, mimeType: '', buffer: Buffer.from(bytes) }]);
    await expect(page.getByRole('button', { name, exact: true }).first()).toBeVisible();
  }
  await saved(page);
  await page.getByRole('link', { name: /^Prepare/ }).click();
  await expect(page.getByRole('img', { name: 'Before' })).toHaveAttribute('data-ready', /[0-9a-f]{64}/);
}

longTest('a model of over 1 MB is brought well under it without being seen, and its package lies under the line', async ({ page }) => {
  const buoy = surfaceDocument('Buoy', blob(size()), 32, 16);
  // a smooth picture, packed without compression: large, and quickly made light
  const picture = new PNG({ width: 560, height: 560 });
  for (let i = 0; i < picture.data.length; i++)
    picture.data[i] = i % 4 === 3 ? 255 : 128 + 60 * Math.sin(i / 90_001) + 40 * Math.cos(((i >> 2) % 560) / 60);
  const texture = buoy
    .createTexture('skin')
    .setMimeType('image/png')
    .setImage(new Uint8Array(PNG.sync.write(picture, { deflateLevel: 0 })));
  buoy.getRoot().listMaterials()[0].setBaseColorTexture(texture);
  const glb = await new WebIO().writeBinary(buoy);
  expect(glb.byteLength).toBeGreaterThan(1_000_000);
  await bring(page, { 'buoy.glb': glb });
  await page.getByLabel('Limits').selectOption({ label: 'Light: under 1.0 MB' });
  await page.getByRole('button', { name: 'Find the lightest' }).click();
  const front = page.locator('[data-view="front"]');
  // a search is minutes long where the machine is busy
  await expect(front).toBeVisible({ timeout: 480_000 });
  // the point it chose: the lightest that is not seen
  await front.getByRole('button', { name: /chosen/ }).press('Enter');
  await expect(page.getByText(/^E [\d.]+ not seen$/)).toBeVisible();
  await page.getByRole('button', { name: 'Keep this result' }).click();
  await expect.poll(async () => Object.keys((await pieceOf(page)).recipes).length).toBe(1);
  await page.getByRole('link', { name: /^Stock/ }).click();
  await page.waitForURL(/stock/);
  await page.getByRole('button', { name: 'Hang a part' }).first().click();
  await page.waitForURL(/fit/);
  const weight = async () => (await (await page.request.get(`${site()}/api/pieces/${id}/weight`)).json()).bytes as number;
  await expect.poll(weight).toBeGreaterThan(0);
  expect(await weight()).toBeLessThanOrEqual(1_000_000);
});

longTest(
  'settings are opened, detail painted, the error looked at; the recipe goes into the yard and to another model',
  async ({ page }) => {
    const io = new WebIO();
    await bring(page, {
      'buoy.glb': await io.writeBinary(surfaceDocument('Buoy', blob(size()), 24, 12)),
      'ring.glb': await io.writeBinary(surfaceDocument('Ring', rippledTorus(size(), 0.02, 5), 24, 12)),
    });
    await page.getByLabel('Model').selectOption({ label: 'buoy.glb' });
    await step(page, /^Simplify/);
    await expect(row(page, 'simplify')).toContainText(/-26\d/);
    await row(page, 'simplify').getByRole('button', { expanded: false }).first().click();
    await page.getByRole('button', { name: 'Paint where detail stays' }).click();
    const canvas = await page.getByRole('img', { name: 'Before' }).boundingBox();
    if (!canvas) throw new Error('no canvas');
    await page.mouse.click(canvas.x + canvas.width * 0.45, canvas.y + canvas.height * 0.5);
    await expect(page.getByText('1 place painted')).toBeVisible();
    await page.getByRole('button', { name: 'Paint where detail stays' }).click();
    // the error is measured anew, and shown where it is
    await page.getByRole('radio', { name: 'Error' }).click();
    await expect(page.locator('[data-heat="ready"]')).toBeVisible();
    await page.getByRole('radio', { name: 'Difference' }).click();
    await page.getByRole('button', { name: 'Where it differs most' }).click();
    await expect(page.locator('[data-look="difference"]')).toBeVisible();
    const name = `Half ${Date.now()}`;
    await page.getByRole('button', { name: 'Recipes', exact: true }).click();
    await page.getByRole('menuitem', { name: /^Save these steps/ }).click();
    await page.getByLabel(/Name; one of the same name/).fill(name);
    await page.getByRole('button', { name: 'Save recipe' }).click();
    await expect(page.getByText(`“${name}” is kept in`)).toBeVisible();
    // what was painted belongs to this model: it stays behind
    await page.getByRole('button', { name: 'Recipes', exact: true }).click();
    await page.getByRole('menuitem', { name: 'ring.glb' }).click();
    await expect(page.getByLabel('Model')).toHaveValue(
      Object.values((await pieceOf(page)).stock).find((s) => s.name === 'ring.glb')?.id ?? '',
    );
    await expect(row(page, 'simplify')).toContainText(/-\d{3}/);
    await row(page, 'simplify')
      .getByRole('button', { name: /^Take out/ })
      .click();
    await expect(row(page, 'simplify')).toHaveCount(0);
    // and from the yard once more
    await page.getByRole('button', { name: 'Recipes', exact: true }).click();
    await page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).click();
    await expect(row(page, 'simplify')).toContainText(/-\d{3}/);
    await page.getByRole('button', { name: 'Recipes', exact: true }).click();
    await page.getByRole('menuitem', { name: `Take ${name} out of the yard` }).click();
    await expect(page.getByText(`“${name}” is out of the yard.`)).toBeVisible();
  },
);

longTest('many models are one job with a table; all are kept at once, and one undo takes all back', async ({ page }) => {
  const io = new WebIO();
  await bring(page, {
    'buoy.glb': await io.writeBinary(surfaceDocument('Buoy', blob(size() / 8), 12, 6)),
    'ring.glb': await io.writeBinary(surfaceDocument('Ring', rippledTorus(size() / 8, 0.002, 5), 12, 6)),
  });
  await page.getByRole('button', { name: 'Many models' }).click();
  const dialog = page.getByRole('dialog', { name: 'Prepare many models' });
  await dialog.getByRole('button', { name: 'Prepare 2 models' }).click();
  await expect(dialog.locator('[data-job="batch"]')).toBeVisible();
  // it goes on while the page is away
  await page.reload();
  await page.getByRole('button', { name: /Many models/ }).click();
  const table = dialog.getByRole('table', { name: 'Results' });
  await expect(table).toBeVisible();
  await expect(table.getByRole('row')).toHaveCount(4);
  await expect(table.getByRole('cell', { name: 'met' })).toHaveCount(2);
  await dialog.getByRole('button', { name: 'Keep all of them' }).click();
  await expect.poll(async () => Object.keys((await pieceOf(page)).recipes).length).toBe(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => Object.keys((await pieceOf(page)).recipes).length).toBe(0);
});
