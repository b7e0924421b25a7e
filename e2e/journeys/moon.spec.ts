/** A paper moon that sails only in the sky: behind the wearer's head and the houses, whatever the wearer does. */
import { expect } from '@playwright/test';
import { PNG } from 'pngjs';
import type { Piece } from '../../src/core/piece';
import { drawn, longJourney, newPiece, pixels, resting, saved, signIn, site, journey as test } from '../support/page';
import { User } from './user';

// its pixels are looked at
test.use({ deviceScaleFactor: 1 });

const EDGE = 128;
/** A green paper disc on nothing: no such green is in the set or on the wearer. */
function moonPng(): Buffer {
  const png = new PNG({ width: EDGE, height: EDGE });
  for (let y = 0; y < EDGE; y++)
    for (let x = 0; x < EDGE; x++) {
      const inside = Math.hypot(x - EDGE / 2 + 0.5, y - EDGE / 2 + 0.5) < EDGE * 0.46;
      png.data.set(inside ? [90, 235, 90, 255] : [90, 235, 90, 0], (y * EDGE + x) * 4);
    }
  return PNG.sync.write(png);
}
const moons = ({ data }: PNG) =>
  Array.from({ length: data.length / 4 }, (_, i) => i).filter(
    (i) => data[i * 4 + 1] > data[i * 4] + 40 && data[i * 4 + 1] > data[i * 4 + 2] + 40,
  );

longJourney('a paper moon only in the sky', async ({ page }) => {
  await signIn(page);
  const id = await newPiece(page, 'Paper moon');
  const user = new User('a paper moon only in the sky');
  const button = (name: string) => page.getByRole('button', { name, exact: true });
  const tab = (name: string) => page.getByRole('radiogroup', { name: 'The work is about' }).getByText(name);
  await user.chooseFile(page.getByLabel('Files for Stock'), { name: 'moon.png', mimeType: 'image/png', buffer: moonPng() });
  await user.press(button('Hang a part'));
  await page.waitForURL(/fit/);
  for (const [name, value] of [
    ['Size side', '4'],
    ['Place side', '70'],
    ['Place up', '40'],
    ['Place fore', '120'],
  ]) {
    await user.type(page.getByRole('textbox', { name, exact: true }), value);
    await page.keyboard.press('Enter');
  }
  await drawn(page, 'mirror');
  const mirror = page.locator('[data-view="mirror"]');
  await resting(mirror);
  const before = await pixels(mirror);
  const whole = moons(before);
  expect(whole.length).toBeGreaterThan(3_000);
  const share = (n: number, of: PNG) => n / (of.width * of.height);
  await user.press(tab('finish'));
  await user.press(button('Only in the sky'));
  await expect(page.getByRole('listitem', { name: 'Layer 3, All but the sky again' })).toBeVisible();
  await drawn(page, 'mirror');
  await resting(mirror);
  const picture = await pixels(mirror);
  const seen = moons(picture);
  // some of it, none where the head is or the houses are: sky ends at 55 % of the picture's height
  expect(seen.length).toBeGreaterThan(600);
  expect(share(seen.length, picture)).toBeLessThan(0.8 * share(whole.length, before));
  const lowest = Math.max(...seen.map((i) => Math.floor(i / picture.width))) / picture.height;
  expect(lowest).toBeLessThan(0.57);
  await saved(page);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  const [, sky, ground] = document.orders.layers.map((l) => document.layers[l]);
  expect(Object.values(document.parts).find((p) => p.kind === 'model')?.layer).toBe(sky.id);
  expect(ground).toMatchObject({ kind: 'matte', matte: { name: 'sky', invert: true } });
  await user.press(page.getByRole('link', { name: /^Deliver/ }));
  await expect(page.locator('[data-lost="moon"]')).toContainText('is seen only in the sky');
  user.finish(9);
});
