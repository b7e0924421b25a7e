/** Layers by their pixels in Chromium: every order, an order within a layer, an environment around. */
import { expect, type Page } from '@playwright/test';
import { writeRgbe } from '../../src/core/intake';
import { add, changePart, createSolid, Layer, onAnchor, order, remove } from '../../src/core/piece';
import { drawn, longTest, makePiece, newPiece, pixels, saved, saveEdits, signIn, site, test } from '../support/page';
import { drawn as ofSweep, WHOLE } from '../support/sweep';

const shown = async (page: Page) => {
  await page.reload();
  await drawn(page, 'mirror');
  return pixels(page.locator('[data-view="mirror"]'));
};

const sheet = (id: string, zM: number) => ({
  ...createSolid(id, id, { form: 'plane', sizeMm: [900, 900, 1], roundMm: 0, wallMm: 1, open: [] }, onAnchor('shoulders')),
  offset: {
    positionM: [0, 0.1, zM] as [number, number, number],
    turnRad: [0, 0, 0] as [number, number, number],
    size: [1, 1, 1] as [number, number, number],
  },
});

longTest('in every order each layer lies on what is before it', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Orders');
  const green = { id: 'green', kind: 'screen' as const, name: 'Green', colour: '#00ff00', layer: 'screen', hang: onAnchor('screen') };
  await saveEdits(page, piece, [
    remove('parts', 'head-block'),
    add('layers', Layer.parse({ id: 'matte', kind: 'matte', matte: { name: 'person' } })),
    add('layers', Layer.parse({ id: 'screen', kind: 'screen' })),
    { kind: 'add', table: 'parts', row: green } as never,
    add('parts', sheet('sheet', -0.2)),
  ]);
  await page.goto(`${site()}/piece/${piece}/fit`);
  const names = ['camera', 'main', 'matte', 'screen'];
  const orders = names
    .flatMap((a) => names.flatMap((b) => names.flatMap((c) => names.map((d) => [a, b, c, d]))))
    .filter((o) => new Set(o).size === 4);
  expect(orders).toHaveLength(24);
  // the first is the order there is
  const tried = WHOLE ? orders : [...new Set([orders[0], ...[1, 2, 3].flatMap((salt) => ofSweep(orders, salt))])];
  // pale sheet, green screen; skin on the face, dusk beside it
  const what = (p: Awaited<ReturnType<typeof shown>>, x: number, y: number) => {
    const i = (Math.round(y * p.height) * p.width + Math.round(x * p.width)) * 4;
    const [r, g, b] = p.data.subarray(i, i + 3);
    if (g > 200 && r < 60 && b < 60) return 'screen';
    if (Math.abs(r - g) < 30 && r > 150 && b > 110) return 'sheet';
    return r > g + 25 ? 'skin' : 'dusk';
  };
  const canvas = page.locator('[data-view="mirror"]');
  await drawn(page, 'mirror');
  for (const [n, o] of tried.entries()) {
    const before = (await canvas.getAttribute('data-drawn')) as string;
    await saveEdits(
      page,
      piece,
      o.map((id, at) => order('layers', id, at)),
    );
    if (n > 0) {
      await page.evaluate(() => window.dispatchEvent(new Event('focus')));
      await expect(canvas).not.toHaveAttribute('data-drawn', before);
    }
    const p = await pixels(canvas);
    const last = (place: 'face' | 'beside') =>
      o.reduce(
        (under, layer) =>
          layer === 'screen' ? 'screen' : layer === 'main' ? 'sheet' : place === 'face' ? 'skin' : layer === 'camera' ? 'dusk' : under,
        'nothing',
      );
    expect([what(p, 0.5, 0.45), what(p, 0.06, 0.2)], o.join(' → ')).toEqual([last('face'), last('beside')]);
  }
});

test('an opaque part late in an ordered layer is drawn over a clear one early in it; nothing is drawn while nothing changes', async ({
  page,
}) => {
  await signIn(page);
  const piece = await makePiece(page, 'Ordered');
  const near = sheet('near', 0.2);
  await saveEdits(page, piece, [
    remove('parts', 'head-block'),
    add('parts', near),
    add('parts', { ...sheet('far', -0.3), name: 'far' }),
    { kind: 'change', table: 'layers', id: 'main', set: { sort: 'order' } },
  ]);
  await page.goto(`${site()}/piece/${piece}/fit`);
  const pale = (p: Awaited<ReturnType<typeof shown>>) => {
    const i = (Math.round(0.45 * p.height) * p.width + Math.round(0.5 * p.width)) * 4;
    return [...p.data.subarray(i, i + 3)];
  };
  // a smaller sheet behind, drawn last: it lies on top of the larger one before it
  await saveEdits(page, piece, [changePart('far', { offset: { positionM: [0, 0.1, -0.3], turnRad: [0, 0.9, 0], size: [0.3, 0.3, 0.3] } })]);
  const lastOnTop = pale(await shown(page));
  await saveEdits(page, piece, [order('parts', 'far', 0)]);
  const firstBelow = pale(await shown(page));
  expect(lastOnTop).not.toEqual(firstBelow);
  const canvas = page.locator('[data-view="mirror"]');
  const count = await canvas.getAttribute('data-drawn');
  await page.mouse.move(700, 300);
  await page.mouse.move(720, 320);
  await drawn(page, 'mirror');
  expect(await canvas.getAttribute('data-drawn')).toBe(count);
});

longTest('an environment as a backdrop is what the camera would see all round, turned and as bright as asked', async ({ page }) => {
  // four quarters by bearing: red, green, blue, yellow, of half a unit of light
  const data = new Float32Array(64 * 32 * 3);
  for (let i = 0; i < 64 * 32; i++)
    data.set(
      [
        [0.5, 0, 0],
        [0, 0.5, 0],
        [0, 0, 0.5],
        [0.5, 0.5, 0],
      ][Math.floor((i % 64) / 16)],
      i * 3,
    );
  await signIn(page);
  await newPiece(page, 'Around');
  await page.getByLabel('Files for Stock').setInputFiles({
    name: 'quarters.hdr',
    mimeType: 'image/vnd.radiance',
    buffer: Buffer.from(writeRgbe({ width: 64, height: 32, data })),
  });
  await expect(page.locator('[data-view="environment"]')).toBeVisible();
  await page.getByRole('link', { name: /^Fit/ }).click();
  await page.getByRole('button', { name: 'Hang a part' }).click();
  await page.getByRole('menuitem', { name: 'Backdrop, behind the wearer' }).click();
  const corners = async () => {
    await saved(page);
    await drawn(page, 'mirror');
    const p = await pixels(page.locator('[data-view="mirror"]'));
    return [0.04, 0.96].map((x) => [...p.data.subarray((20 * p.width + Math.round(x * p.width)) * 4).subarray(0, 3)]);
  };
  // 0.5 in sRGB (IEC 61966-2-1) is 188; the tone curve leaves a pure colour under 0.76 alone (Khronos PBR Neutral)
  expect(await corners()).toEqual([near(188, 0, 0), near(188, 188, 0)]);
  const field = async (name: string, value: string) => {
    await page.getByRole('textbox', { name }).fill(value);
    await page.keyboard.press('Enter');
  };
  await field('Turn of the environment', '180');
  expect(await corners()).toEqual([near(0, 0, 188), near(0, 188, 0)]);
  await field('Brightness of the environment', '-1');
  // half the light is 137
  expect(await corners()).toEqual([near(0, 0, 137), near(0, 137, 0)]);
  await page.reload();
  expect(await corners()).toEqual([near(0, 0, 137), near(0, 137, 0)]);
});
const near = (...rgb: number[]) => rgb.map((v) => expect.closeTo(v, -0.4));
