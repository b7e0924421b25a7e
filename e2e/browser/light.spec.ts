/** Light: environments of Stock and of ours, by the pixels they leave. */
import { expect, type Page } from '@playwright/test';
import { type PerspectiveCamera, Vector3 } from 'three';
import { MIRROR_CAMERA } from '../../src/core/capture';
import { FinishRow } from '../../src/core/finish';
import { cameraOf } from '../../src/core/fit';
import { writeRgbe } from '../../src/core/intake';
import { direction, type Radiance } from '../../src/core/math/radiance';
import { add, createSolid, type Edit, type Piece, remove, type Surroundings, settings, usualSurroundings } from '../../src/core/piece';
import { clean } from '../support/axe';
import { different, drawn, longTest, newPiece, pixels, resting, saved, saveEdits, signIn, site, test } from '../support/page';

type Rgb = [number, number, number];
type At = [number, number, number];
function sky(of: (d: readonly number[]) => Rgb, width = 128): Radiance {
  const height = width / 2;
  const data = new Float32Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) data.set(of(direction(x + 0.5, y + 0.5, width, height)), (y * width + x) * 3);
  return { width, height, data };
}
const ball = (id: string, at: At, mm: number, look: Partial<FinishRow>): Edit[] => [
  add('finishes', FinishRow.parse({ id: `${id}f`, name: `${id} look`, ...look })),
  add('parts', {
    ...createSolid(id, id, { form: 'sphere', sizeMm: [mm, mm, mm], roundMm: 0, wallMm: 1, open: [] }),
    offset: { positionM: at, turnRad: [0, 0, 0], size: [1, 1, 1] },
    wears: { '*': `${id}f` },
  }),
];
/** A new piece with one environment in Stock. */
async function pieceUnder(page: Page, name: string, light: Radiance): Promise<{ piece: string; stock: string }> {
  const piece = await newPiece(page, name);
  await page.getByLabel('Files for Stock').setInputFiles([{ name: 'sky.hdr', mimeType: '', buffer: Buffer.from(writeRgbe(light)) }]);
  await expect(page.getByRole('heading', { name: 'sky.hdr' })).toBeVisible();
  await saved(page);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${piece}`)).json()) as { document: Piece };
  return { piece, stock: Object.keys(document.stock)[0] };
}
const under = (stock: string, set: Partial<Surroundings> = {}) =>
  settings({ surroundings: { ...usualSurroundings(), environment: { stock }, ...set } });
async function look(page: Page, piece: string) {
  await page.goto(`${site()}/piece/${piece}/fit`);
  await drawn(page, 'mirror');
  await resting(page.locator('[data-view="mirror"]'));
  const p = await pixels(page.locator('[data-view="mirror"]'));
  const camera: PerspectiveCamera = cameraOf(MIRROR_CAMERA, p.width / p.height);
  return (at: At): Rgb => {
    const v = new Vector3(...at).project(camera);
    const [x, y] = [Math.round(((v.x + 1) / 2) * p.width), Math.round(((1 - v.y) / 2) * p.height)];
    return [...p.data.subarray((y * p.width + x) * 4, (y * p.width + x) * 4 + 3)] as Rgb;
  };
}
/** IEC 61966-2-1. */
const linear = (byte: number) => (byte / 255 <= 0.04045 ? byte / 255 / 12.92 : ((byte / 255 + 0.055) / 1.055) ** 2.4);

test('white furnace: whatever is white gives back all light it gets, metal or not, at every roughness', async ({ page }) => {
  await page.setViewportSize({ width: 1700, height: 900 });
  await signIn(page);
  const { piece, stock } = await pieceUnder(
    page,
    'Furnace',
    sky(() => [0.5, 0.5, 0.5]),
  );
  const cases = [1, 0].flatMap((metal, r) =>
    [0, 0.25, 0.5, 0.75, 1].map((roughness, c) => ({
      metal,
      roughness,
      id: `b${r}${c}`,
      at: [(c - 2) * 0.024, (0.5 - r) * 0.03, 0.14] as At,
    })),
  );
  await saveEdits(page, piece, [
    remove('parts', 'head-block'),
    under(stock),
    ...cases.flatMap(({ id, at, metal, roughness }) => ball(id, at, 20, { colour: '#ffffff', metal, roughness })),
  ]);
  const pixel = await look(page, piece);
  // the neutral tone mapping of Khronos takes 0.04 off what is under its shoulder
  const want = 0.5 - 0.04;
  for (const { at, metal, roughness } of cases)
    for (const side of [0, 0.006]) {
      const got = pixel([at[0] + side, at[1], at[2] + 0.008]);
      for (const v of got) expect(Math.abs(linear(v) / want - 1), `metal ${metal}, roughness ${roughness}: ${got}`).toBeLessThan(0.02);
    }
});

longTest('what is red on the wearer’s left is mirrored there; turned, it is elsewhere, in mirror and backdrop alike', async ({ page }) => {
  await page.setViewportSize({ width: 1700, height: 900 });
  await signIn(page);
  const { piece, stock } = await pieceUnder(
    page,
    'Red and blue',
    sky((d) => (d[0] > 0 ? [0.6, 0, 0] : [0, 0, 0.6])),
  );
  await saveEdits(page, piece, [
    remove('parts', 'head-block'),
    under(stock, { blur: 0 }),
    ...ball('glass', [0, 0, 0.14], 60, { colour: '#ffffff', metal: 1, roughness: 0 }),
  ]);
  const hue = ([r, , b]: Rgb) => (r > 2 * b ? 'red' : b > 2 * r ? 'blue' : 'both');
  const told = async () => {
    const pixel = await look(page, piece);
    // the ball's middle mirrors what is before it; the corner of the picture shows what is behind the wearer
    return [pixel([0.012, 0, 0.17]), pixel([-0.012, 0, 0.17]), pixel([0.1, 0.19, 0])].map(hue);
  };
  expect((await told()).slice(0, 2)).toEqual(['red', 'blue']);
  // a quarter counter-clockwise from above: the left comes to lie behind
  await saveEdits(page, piece, [under(stock, { blur: 0, turnDeg: 90 })]);
  expect(await told()).toEqual(['blue', 'blue', 'red']);
  await saveEdits(page, piece, [under(stock, { blur: 0.3, turnDeg: -90 })]);
  expect(await told()).toEqual(['red', 'red', 'blue']);
  // one stop more is twice the light
  const dim = (await look(page, piece))([0.012, 0, 0.17]);
  await saveEdits(page, piece, [under(stock, { blur: 0.3, turnDeg: -90, exposureEv: -1 })]);
  const half = (await look(page, piece))([0.012, 0, 0.17]);
  expect(linear(half[0])).toBeLessThan(0.6 * linear(dim[0]));
});

longTest('one of ours is chosen, turned and undone; pictures of layers go along', async ({ page }) => {
  const piece = await newPiece(page, 'A light');
  await saveEdits(page, piece, ball('brass', [0, 0, 0.14], 60, { colour: '#c79a4b', metal: 1, roughness: 0.2 }));
  await page.goto(`${site()}/piece/${piece}/fit`);
  await drawn(page, 'mirror');
  await page.getByRole('radiogroup', { name: 'The work is about' }).getByText('finish').click();
  await drawn(page, 'layer-main');
  const mirror = page.locator('[data-view="mirror"]');
  const layer = page.locator('[data-view="layer-main"]');
  const before = [await resting(mirror), await pixels(layer)];
  const card = page.getByRole('region', { name: 'Light' });
  await card.getByRole('combobox', { name: 'Environment' }).selectOption({ label: 'Night market' });
  await expect(card.locator('[data-view="dome"]')).toHaveAttribute('data-drawn', 'night-market');
  const share = (a: { width: number; height: number }, n: number) => n / (a.width * a.height);
  await expect.poll(async () => share(before[0], different(before[0], await resting(mirror))), { timeout: 60_000 }).toBeGreaterThan(0.3);
  await expect.poll(async () => share(before[1], different(before[1], await pixels(layer))), { timeout: 60_000 }).toBeGreaterThan(0.01);
  await clean(page, 'light of a piece');
  const night = await resting(mirror);
  await card.getByRole('textbox', { name: 'Turn of the light' }).fill('120');
  await card.getByRole('textbox', { name: 'Turn of the light' }).press('Enter');
  await expect.poll(async () => different(night, await resting(mirror)), { timeout: 60_000 }).toBeGreaterThan(1000);
  await saved(page);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${piece}`)).json()) as { document: Piece };
  expect(document.settings.surroundings).toMatchObject({ environment: 'night-market', turnDeg: 120 });
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => different(before[0], await resting(mirror)), { timeout: 60_000 }).toBeLessThan(50);
});
