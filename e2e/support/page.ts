/** Ways through the interface that several browser tests share. */
import { expect, type Locator, type Page } from '@playwright/test';
import { PNG } from 'pngjs';

export const site = () => process.env.SCAPHOS_E2E_URL as string;

export async function openDemo(page: Page): Promise<void> {
  await page.goto(`${site()}/sign-in`);
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.waitForURL(/\/yard\//);
}

export async function newPiece(page: Page, name: string): Promise<string> {
  await page.getByRole('button', { name: 'New piece', exact: true }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill(name);
  await page.getByRole('button', { name: 'Lay it down' }).click();
  await page.waitForURL(/\/piece\/[^/]+\/stock/);
  return new URL(page.url()).pathname.split('/')[2];
}

export const saved = (page: Page) => expect(page.locator('[data-save="saved"]')).toBeVisible();

/** Waits until a view has drawn again and rests: no model on its way, no drawing waits, and its own count stands still. */
export async function drawn(page: Page, view: string): Promise<void> {
  const canvas = page.locator(`[data-view="${view}"]`);
  await expect(canvas).toHaveAttribute('data-drawn', /\d+/);
  let before = '';
  await expect
    .poll(
      async () => {
        const busy = (await page.locator('body[data-drawing]').count()) > 0;
        const now = busy ? '' : ((await canvas.getAttribute('data-drawn')) ?? '');
        const rests = !busy && now === before;
        before = now;
        return rests;
      },
      { intervals: [600] },
    )
    .toBe(true);
}

/** The pixels of a canvas, as the browser holds them. */
export async function pixels(canvas: Locator): Promise<PNG> {
  const url = await canvas.evaluate((c: HTMLCanvasElement) => c.toDataURL('image/png'));
  return PNG.sync.read(Buffer.from(url.split(',')[1], 'base64'));
}

/** Whether two pictures differ visibly at a byte offset. */
export const apart = (a: PNG, b: PNG, i: number) =>
  Math.abs(a.data[i] - b.data[i]) + Math.abs(a.data[i + 1] - b.data[i + 1]) + Math.abs(a.data[i + 2] - b.data[i + 2]) > 30;

export function different(a: PNG, b: PNG): number {
  let n = 0;
  for (let i = 0; i < a.data.length; i += 4) if (apart(a, b, i)) n++;
  return n;
}
