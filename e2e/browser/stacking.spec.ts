/** The stacking strip: order by pixels, what is in front, mattes grown, softened and poor, one press each. */
import { expect, type Locator, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { FinishRow } from '../../src/core/finish';
import { add, createSolid, type Edit, Layer, type Piece } from '../../src/core/piece';
import { clean } from '../support/axe';
import { different, drawn, longTest, makePiece, pixels, resting, saved, saveEdits, signIn, site, test } from '../support/page';

const mirrorOf = (page: Page) => page.locator('[data-view="mirror"]');
const strip = (page: Page) => page.getByRole('region', { name: 'Stacking', exact: true });
const inFront = (page: Page) => page.getByRole('region', { name: 'What is in front of this?' });
/** A plane in one colour that no light changes. */
const plane = (id: string, colour: string, layer: string, mm: number, at: [number, number, number], opacity = 1): Edit[] => [
  add(
    'finishes',
    FinishRow.parse({ id: `${id}f`, name: `${id} paint`, unlit: true, colour, opacity, blend: opacity < 1 ? 'over' : 'opaque' }),
  ),
  add('parts', {
    ...createSolid(id, id, { form: 'plane', sizeMm: [mm, mm, 1], roundMm: 0, wallMm: 1, open: [] }),
    offset: { positionM: at, turnRad: [0, 0, 0], size: [1, 1, 1] },
    layer,
    wears: { '*': `${id}f` },
  }),
];
const colourAt = (p: PNG, x: number, y: number) => {
  const i = (Math.floor(y * p.height) * p.width + Math.floor(x * p.width)) * 4;
  return [...p.data.subarray(i, i + 3)];
};
async function openLooks(page: Page, piece: string, more = ''): Promise<void> {
  await page.goto(`${site()}/piece/${piece}/fit${more}`);
  await drawn(page, 'mirror');
  await page.getByRole('radiogroup', { name: 'The work is about' }).getByText('finish').click();
  await drawn(page, 'layer-main');
}
/** Presses a place of the Mirror, 0 … 1. */
async function press(mirror: Locator, x: number, y: number): Promise<void> {
  const box = await mirror.boundingBox();
  if (!box) throw new Error('There is no Mirror.');
  await mirror.click({ position: { x: x * box.width, y: y * box.height } });
}
/** Name → cover and seen, %: all of one moment. */
const rowsOf = (page: Page): Promise<[string, number, number][]> =>
  inFront(page)
    .locator('tbody tr')
    .evaluateAll((rows) =>
      rows.map((r): [string, number, number] => {
        const [name, cover, seen] = [...r.querySelectorAll('td')];
        return [name.querySelector('.named')?.textContent ?? '', Number(cover.textContent), Number(seen.textContent)];
      }),
    );

test('red, blue and the wearer again before the camera, in all orders: the last drawn is what is seen, and what is told', async ({
  page,
}) => {
  await signIn(page);
  const piece = await makePiece(page, 'Orders');
  await saveEdits(page, piece, [
    add('layers', Layer.parse({ id: 'red', kind: 'parts', name: 'Red' })),
    add('layers', Layer.parse({ id: 'blue', kind: 'parts', name: 'Blue' })),
    add('layers', Layer.parse({ id: 'again', kind: 'matte', matte: { name: 'person' } })),
    ...plane('scarlet', '#c02030', 'red', 160, [0, 0, 0.02]),
    ...plane('azure', '#2040c0', 'blue', 160, [0, 0, 0.01]),
  ]);
  await openLooks(page, piece);
  const mirror = mirrorOf(page);
  // on the forehead, where all of them are
  const [x, y] = [0.5, 0.33];
  const wearer = colourAt(await pixels(page.locator('[data-view="layer-camera"]')), x, y);
  await press(mirror, x, y);
  const near = (a: number[], b: number[]) => Math.max(...a.map((v, i) => Math.abs(v - b[i])));
  const seen: Record<string, number[]> = { scarlet: [0xc0, 0x20, 0x30], azure: [0x20, 0x40, 0xc0], 'Wearer again': wearer };
  const order = ['camera', 'main', 'red', 'blue', 'again'];
  const names: Record<string, string> = { red: 'Red', blue: 'Blue', again: 'Wearer again' };
  const tried = new Set<string>();
  // neighbours change places one by one, which leads through every order of three
  for (let k = 0; k < 6; k++) {
    const last = order[4];
    const expected = { red: 'scarlet', blue: 'azure', again: 'Wearer again' }[last] as string;
    await drawn(page, 'mirror');
    const got = colourAt(await resting(mirror), x, y);
    expect(near(got, seen[expected]), `${order}: ${got}`).toBeLessThanOrEqual(expected === 'Wearer again' ? 12 : 2);
    await expect.poll(async () => (await rowsOf(page))[0], { timeout: 60_000 }).toEqual([expected, 100, 100]);
    tried.add(order.slice(2).join());
    const at = k % 2 === 0 ? 3 : 2;
    [order[at], order[at + 1]] = [order[at + 1], order[at]];
    await strip(page)
      .getByRole('button', { name: `Draw later: ${names[order[at + 1]]}` })
      .click();
  }
  expect(tried.size).toBe(6);
});

test('a half clear plane before the wearer: half covered, half seen; presses put it behind, on top, in the sky', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'A veil');
  await saveEdits(page, piece, plane('veil', '#40c080', 'main', 120, [0, 0.02, 0.14], 0.5));
  await openLooks(page, piece, '?parts=veil');
  const mirror = mirrorOf(page);
  await press(mirror, 0.5, 0.4);
  await expect
    .poll(() => rowsOf(page), { timeout: 60_000 })
    .toEqual([
      ['veil', 50, 50],
      ['Camera picture', 100, 50],
    ]);
  await clean(page, 'stacking and what is in front');
  await inFront(page).getByRole('button', { name: 'veil' }).click();
  await inFront(page).getByRole('button', { name: 'Behind the wearer' }).click();
  await expect
    .poll(() => rowsOf(page), { timeout: 60_000 })
    .toEqual([
      ['Wearer again', 100, 100],
      ['veil', 50, 0],
      ['Camera picture', 100, 0],
    ]);
  // dragged into the main layer again
  await strip(page)
    .getByRole('listitem', { name: 'Layer 2, Behind the wearer' })
    .getByRole('button', { name: 'veil', exact: true })
    .hover();
  await page.mouse.down();
  await strip(page).getByRole('listitem', { name: 'Layer 4, Main' }).hover();
  await page.mouse.move(5, 5);
  await strip(page).getByRole('listitem', { name: 'Layer 4, Main' }).hover();
  await page.mouse.up();
  await expect.poll(async () => (await rowsOf(page))[0], { timeout: 60_000 }).toEqual(['veil', 50, 50]);
  await strip(page).getByRole('button', { name: 'Only in the sky' }).click();
  await expect(strip(page).getByRole('listitem', { name: 'Layer 3, All but the sky again' })).toBeVisible();
  await expect.poll(async () => await rowsOf(page), { timeout: 60_000 }).toContainEqual(['All but the sky again', 100, 0]);
  await expect.poll(async () => await rowsOf(page), { timeout: 60_000 }).toContainEqual(['veil', 50, 0]);
  await strip(page).getByRole('button', { name: 'Cut the wearer out' }).click();
  await press(mirror, 0.06, 0.06);
  await expect.poll(async () => (await rowsOf(page)).find(([, , seen]) => seen === 100)?.[0], { timeout: 60_000 }).toBe('Backdrop');
  await saved(page);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${piece}`)).json()) as { document: Piece };
  expect(document.orders.layers.map((id) => document.layers[id].kind)).toContain('screen');
});

/** Mean alpha of a picture. */
const covered = (p: PNG) => {
  let sum = 0;
  for (let i = 3; i < p.data.length; i += 4) sum += p.data[i];
  return sum / (p.data.length / 4) / 255;
};

longTest(
  'a matte: its edge softened keeps what it covers, grown it covers more; a poor one is off, and late where a head turns',
  async ({ page }) => {
    await signIn(page);
    const piece = await makePiece(page, 'A matte');
    await saveEdits(page, piece, [
      add('layers', Layer.parse({ id: 'behind', kind: 'parts' })),
      add('layers', Layer.parse({ id: 'again', kind: 'matte', matte: { name: 'person' } })),
      ...plane('sheet', '#c020c0', 'behind', 900, [0, 0, -0.3]),
    ]);
    await openLooks(page, piece);
    await strip(page).getByRole('button', { name: 'Wearer again', exact: true }).click();
    const picture = page.locator('[data-view="layer-again"]');
    await drawn(page, 'layer-again');
    const hard = covered(await pixels(picture));
    const looks = page.getByRole('region', { name: 'Looks' });
    const set = async (label: string, value: string) => {
      const before = await pixels(picture);
      await looks.getByRole('textbox', { name: label }).fill(value);
      await looks.getByRole('textbox', { name: label }).press('Enter');
      await expect.poll(async () => different(before, await pixels(picture)), { timeout: 60_000 }).toBeGreaterThan(0);
      return covered(await pixels(picture));
    };
    // alpha integrated over the edge: as much is lost within as is won beyond
    expect(Math.abs((await set('Softness of Wearer again', '24')) / hard - 1)).toBeLessThan(0.02);
    expect((await set('Growth of Wearer again', '24')) / hard).toBeGreaterThan(1.03);
    expect((await set('Growth of Wearer again', '-24')) / hard).toBeLessThan(0.97);
    const mirror = mirrorOf(page);
    const exact = await resting(mirror);
    const poor = async (label: string, value: string) => {
      await looks.getByRole('textbox', { name: `${label} of the device’s mattes` }).fill(value);
      await looks.getByRole('textbox', { name: `${label} of the device’s mattes` }).press('Enter');
      await drawn(page, 'mirror');
      return resting(mirror);
    };
    await poor('Off', '30');
    await expect.poll(async () => different(exact, await resting(mirror)), { timeout: 60_000 }).toBeGreaterThan(200);
    await poor('Off', '0');
    await expect.poll(async () => different(exact, await resting(mirror)), { timeout: 60_000 }).toBe(0);
    // late: a head that is held still has been where it is
    expect(different(exact, await poor('Late', '600'))).toBe(0);
    // and one that turns is not; where it happens to rest when it is stopped, it is stopped once more
    const transport = (name: string) => strip(page).getByRole('button', { name }).click();
    await expect(async () => {
      await transport('Play');
      await expect.poll(async () => different(exact, PNG.sync.read(await mirror.screenshot())), { timeout: 60_000 }).toBeGreaterThan(2000);
      await transport('Pause');
      const late = await poor('Late', '600');
      expect(different(late, await poor('Late', '0'))).toBeGreaterThan(200);
    }).toPass({ timeout: 240_000 });
  },
);
