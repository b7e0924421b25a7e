/** Prepare through the interface: a recipe built and measured, a search stopped, taken up after a reload, and a point of it kept. */

import { WebIO } from '@gltf-transform/core';
import { expect, type Page } from '@playwright/test';
import type { Piece } from '../../src/core/piece';
import { blob, surfaceDocument } from '../../src/core/prepare/samples';
import { longTest, newPiece, saved, signIn, site, test } from '../support/page';

let id = '';
const pieceOf = async (page: Page, id: string) => (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()).document as Piece;
/** The steps of the piece's one recipe, as the server has them. */
const keptSteps = async (page: Page) => Object.values((await pieceOf(page, id)).recipes)[0]?.steps.map((s) => s.step) ?? [];
const row = (page: Page, step: string) => page.locator(`[data-step="${step}"]`);

test.beforeEach(async ({ page }) => {
  await signIn(page);
  id = await newPiece(page, 'To be made light');
  // a shape of this run alone: searches are answered from what is kept where the same was asked before
  const glb = await new WebIO().writeBinary(surfaceDocument('Buoy', blob(0.02 + (Date.now() % 1e6) * 1e-9), 32, 16));
  await page.getByLabel('Files for Stock').setInputFiles([{ name: 'buoy.glb', mimeType: '', buffer: Buffer.from(glb) }]);
  await expect(page.getByRole('button', { name: 'buoy.glb', exact: true }).first()).toBeVisible();
  await saved(page);
  await page.getByRole('link', { name: /Prepare/ }).click();
  await expect(page.getByRole('img', { name: 'Before' })).toHaveAttribute('data-ready', /[0-9a-f]{64}/);
});

longTest('a recipe is built, measured step by step and kept; Stock says what was done', async ({ page }) => {
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('menuitem', { name: /^Simplify/ }).click();
  // E and triangles are measured, not reckoned
  await expect(row(page, 'simplify')).toContainText(/-4[78]\d/);
  await page.getByLabel('Triangles to keep').fill('25');
  await page.getByLabel('Triangles to keep').press('Enter');
  await expect(row(page, 'simplify')).toContainText(/-7[12]\d/);
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('menuitem', { name: /^Compress/ }).click();
  await expect(page.getByText(/% lighter/)).toContainText(/9\d\.\d % lighter/);
  await expect(page.getByRole('img', { name: 'After' })).toHaveAttribute('data-ready', /[0-9a-f]{64}/);
  await page.getByRole('slider', { name: /Wipe/ }).press('ArrowRight');
  await expect(page.getByRole('slider', { name: /Wipe/ })).toHaveAttribute('aria-valuenow', '52');
  await page.getByRole('button', { name: 'Keep this result' }).click();
  await expect.poll(() => keptSteps(page)).toEqual(['simplify', 'compress']);
  // switched off it weighs what it weighed
  await row(page, 'simplify').getByRole('checkbox').uncheck();
  await expect(row(page, 'simplify')).toContainText('–');
  await page.getByRole('link', { name: /Stock/ }).click();
  await page.waitForURL(/stock/);
  await expect(page.getByText('Simplified to 25 % of its triangles')).toBeVisible();
});

longTest('a search is stopped, begun again, lives through a reload, and a point of it is tried and kept', async ({ page }) => {
  await page.getByRole('button', { name: 'Find the lightest' }).click();
  await expect(page.locator('[data-job="solve"]')).toBeVisible();
  await page.locator('[data-job="solve"]').getByRole('button', { name: 'Stop' }).click();
  await expect(page.locator('[data-job="solve"]')).toHaveCount(0);
  await page.getByRole('button', { name: 'Find the lightest' }).click();
  await expect(page.locator('[data-job="solve"]')).toBeVisible();
  await page.reload();
  await expect(page.locator('[data-job="solve"]')).toBeVisible();
  const front = page.locator('[data-view="front"]');
  await expect(front).toBeVisible({ timeout: 480_000 });
  const points = front.getByRole('button');
  expect(await points.count()).toBeGreaterThan(4);
  // what the search chose is tried by itself, and another only after it
  await expect(front.getByRole('button', { pressed: true })).toHaveCount(1);
  await expect(async () => {
    // the chart makes its points anew while it takes in what was tried: a press on one that goes is a press on nothing
    await points.nth(1).press('Enter');
    await expect(points.nth(1)).toHaveAttribute('aria-pressed', 'true', { timeout: 5_000 });
  }).toPass();
  await expect(page.getByRole('img', { name: 'After' })).toHaveAttribute('data-ready', /[0-9a-f]{64}/);
  await page.getByRole('button', { name: 'Keep this result' }).click();
  await expect.poll(async () => (await keptSteps(page)).at(-1)).toBe('compress');
  expect(await keptSteps(page)).toContain('simplify');
});
