/** Ways into Rig that browser tests share. */
import { expect, type Page } from '@playwright/test';
import { makePiece, saved, signIn, site } from './page';

/** A piece with one model, at Rig. */
export async function bring(page: Page, name: string, bytes: Uint8Array): Promise<void> {
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
