/** Finishes: worn, changed, one for many, delivered; every blend by the pixels it leaves. */
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS, type Transform } from '@gltf-transform/extensions';
import { expect } from '@playwright/test';
import { type PerspectiveCamera, Vector3 } from 'three';
import { pennantPng } from '../../demo/media';
import { DEMO_PIECES } from '../../demo/names';
import { MIRROR_CAMERA } from '../../src/core/capture';
import { BLENDS, blended, FACES, FinishRow, libraryFinish } from '../../src/core/finish';
import { cameraOf } from '../../src/core/fit';
import { add, applyEdit, createSolid, type Piece, remove } from '../../src/core/piece';
import { clean } from '../support/axe';
import { copyDemo, different, drawn, longTest, makePiece, newPiece, pixels, saved, saveEdits, signIn, site, test } from '../support/page';

const io = () => new WebIO().registerExtensions(ALL_EXTENSIONS);

longTest(
  'a finish of our own is worn, changed in its sheet, worn by all, and delivered; the file’s own becomes one that can be changed',
  async ({ page }) => {
    await signIn(page);
    const piece = await copyDemo(page, DEMO_PIECES.helmet);
    const documentOf = async () =>
      ((await (await page.request.get(`${site()}/api/pieces/${piece}`)).json()) as { document: Piece }).document;
    const { parts } = await documentOf();
    const helmet = Object.values(parts).find((p) => p.kind === 'model') as { id: string };
    await page.goto(`${site()}/piece/${piece}/fit?parts=${helmet.id}`);
    await drawn(page, 'mirror');
    const card = page.getByRole('region', { name: 'Finish' });
    await expect(card).toContainText('5 materials');
    const mirror = page.locator('[data-view="mirror"]');
    const before = await pixels(mirror);
    await card.getByRole('combobox', { name: 'Finish of Beaten copper' }).selectOption({ label: 'Lacquer' });
    await drawn(page, 'mirror');
    const lacquered = await pixels(mirror);
    const share = (n: number) => n / (before.width * before.height);
    expect(share(different(before, lacquered))).toBeGreaterThan(0.1);
    await card.getByRole('button', { name: 'Change the look of Beaten copper' }).click();
    const sheet = page.getByRole('dialog', { name: 'Finish Lacquer' });
    await sheet.getByRole('textbox', { name: 'Metal, %' }).fill('90');
    await sheet.getByRole('textbox', { name: 'Metal, %' }).press('Enter');
    await sheet.getByRole('combobox', { name: 'Blend' }).selectOption({ label: 'add' });
    await sheet.getByRole('slider', { name: 'Opacity' }).fill('0.5');
    await sheet.getByLabel('Colour', { exact: true }).fill('#2050a0');
    await sheet.getByRole('button', { name: 'Name the finish Lacquer otherwise' }).click();
    await sheet.getByRole('textbox', { name: 'Name of the finish' }).fill('Deep blue');
    await sheet.getByRole('textbox', { name: 'Name of the finish' }).press('Enter');
    await clean(page, 'a finish in its sheet', undefined, '[role="dialog"]');
    await page.keyboard.press('Escape');
    await drawn(page, 'mirror');
    expect(share(different(lacquered, await pixels(mirror)))).toBeGreaterThan(0.1);
    await saved(page);
    const [row] = Object.values((await documentOf()).finishes);
    expect(row).toMatchObject({ name: 'Deep blue', metal: 0.9, blend: 'add', opacity: 0.5, colour: '#2050a0' });
    // the file's own look, as a finish that looks the same until it is changed
    const rim = card.getByRole('combobox', { name: 'Finish of Worn brass' });
    const own = await pixels(mirror);
    await card.getByRole('button', { name: 'Change the look of Worn brass' }).click();
    await expect(page.getByRole('dialog', { name: 'Finish Worn brass' })).toBeVisible();
    await page.keyboard.press('Escape');
    await expect(rim.locator('option:checked')).toHaveText('Worn brass');
    await drawn(page, 'mirror');
    expect(share(different(own, await pixels(mirror)))).toBeLessThan(0.005);
    // another like it in its place, and gone again: the rim is as it comes
    await card.getByRole('button', { name: 'Change the look of Worn brass' }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Copy' }).click();
    await expect(page.getByRole('dialog', { name: 'Finish Worn brass 2' })).toBeVisible();
    await page.getByRole('dialog').getByRole('button', { name: 'Discard' }).click();
    await expect(page.getByRole('dialog')).toBeHidden();
    await expect(rim.locator('option:checked')).toHaveText('as it comes');
    await clean(page, 'materials of a part', undefined, 'section[aria-label="Finish"]');
    // one for all, by one action
    await card.getByRole('combobox', { name: 'Every material' }).selectOption({ label: 'Deep blue' });
    await saved(page);
    expect((await documentOf()).parts[helmet.id].wears).toEqual({ '*': row.id });
    const glb = await page.request.get(`${site()}/api/pieces/${piece}/packages/glb`);
    const materials = (await io().readBinary(await glb.body())).getRoot().listMaterials();
    expect(new Set(materials.map((m) => m.getName()))).toEqual(new Set(['Deep blue']));
    expect(materials[0].getExtras()).toEqual({ scaphos: { blend: 'add' } });
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(card.getByRole('combobox', { name: 'Finish of Window glass' }).locator('option:checked')).toHaveText('as it comes');
  },
);

test('every blend, seen from every side, before and behind: the pixels are those of the standard', async ({ page }) => {
  await page.setViewportSize({ width: 1700, height: 900 });
  await signIn(page);
  const piece = await makePiece(page, 'Blends');
  const [FRONT, BACK, ALPHA] = ['#40c080', '#8060a0', 0.6];
  const plane = (id: string, at: [number, number, number], mm: number, finish: FinishRow) => [
    add('finishes', finish),
    add('parts', {
      ...createSolid(id, id, { form: 'plane', sizeMm: [mm, mm, 1], roundMm: 0, wallMm: 1, open: [] }),
      offset: { positionM: at, turnRad: [0, 0, 0] as [number, number, number], size: [1, 1, 1] as [number, number, number] },
      wears: { '*': finish.id },
    }),
  ];
  const finish = (id: string, set: Partial<FinishRow>) =>
    FinishRow.parse({ id, name: id, unlit: true, colour: FRONT, opacity: ALPHA, ...set });
  const GROUND_M = 0.14;
  const cases = BLENDS.flatMap((blend, c) => [
    ...FACES.map((faces, r) => ({ blend, set: { faces }, row: r, depthM: 0.01, seen: faces !== 'back', c })),
    { blend, set: { depthTest: true }, row: 3, depthM: -0.01, seen: false, c },
    { blend, set: { depthTest: false }, row: 4, depthM: -0.01, seen: true, c },
  ]).map((k, i) => ({ ...k, id: `p${i}`, at: [(k.c - 2.5) * 0.02, (k.row - 2) * 0.02, GROUND_M + k.depthM] as [number, number, number] }));
  await saveEdits(page, piece, [
    remove('parts', 'head-block'),
    ...plane('ground', [0, 0, GROUND_M], 400, finish('ground', { colour: BACK, opacity: 1 })),
    ...cases.flatMap((k) => plane(k.id, k.at, 14, finish(k.id, { blend: k.blend, ...k.set }))),
  ]);
  await page.goto(`${site()}/piece/${piece}/fit`);
  await drawn(page, 'mirror');
  const p = await pixels(page.locator('[data-view="mirror"]'));
  const camera: PerspectiveCamera = cameraOf(MIRROR_CAMERA, p.width / p.height);
  const bytes = (hex: string) => [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16));
  const pixelAt = (at: [number, number, number]) => {
    const v = new Vector3(...at).project(camera);
    const [x, y] = [Math.round(((v.x + 1) / 2) * p.width), Math.round(((1 - v.y) / 2) * p.height)];
    return [...p.data.subarray((y * p.width + x) * 4, (y * p.width + x) * 4 + 3)];
  };
  for (const k of cases) {
    const want = bytes(BACK).map((b, i) => (k.seen ? 255 * blended(k.blend, bytes(FRONT)[i] / 255, ALPHA, b / 255) : b));
    const got = pixelAt(k.at);
    for (const i of [0, 1, 2])
      expect(Math.abs(got[i] - want[i]), `${k.blend} ${JSON.stringify(k.set)}: ${got} for ${want.map(Math.round)}`).toBeLessThanOrEqual(2);
  }
});

longTest('a picture of Stock is a map of a finish, repeated and turned; Stock keeps it as long as it is one', async ({ page }) => {
  const piece = await newPiece(page, 'Maps');
  await page
    .getByLabel('Files for Stock')
    .setInputFiles([{ name: 'pennant.png', mimeType: '', buffer: Buffer.from(await pennantPng(64)) }]);
  await expect(page.getByRole('heading', { name: 'pennant.png' })).toBeVisible();
  await saved(page);
  const brass = libraryFinish('sailcloth', 'cloth');
  await saveEdits(page, piece, [
    add('finishes', { ...brass, unlit: true, colour: '#ffffff' }),
    add('parts', {
      ...createSolid('sheet', 'Sheet', { form: 'plane', sizeMm: [120, 120, 1], roundMm: 0, wallMm: 1, open: [] }),
      offset: { positionM: [0, 0, 0.14], turnRad: [0, 0, 0], size: [1, 1, 1] },
      wears: { '*': 'cloth' },
    }),
  ]);
  await page.goto(`${site()}/piece/${piece}/fit?parts=sheet`);
  await drawn(page, 'mirror');
  const mirror = page.locator('[data-view="mirror"]');
  const white = await pixels(mirror);
  const card = page.getByRole('region', { name: 'Finish' });
  await card.getByRole('button', { name: 'Change the look of Surface' }).click();
  const sheet = page.getByRole('dialog', { name: 'Finish Sailcloth' });
  await sheet.getByRole('combobox', { name: 'Map of base colour' }).selectOption({ label: 'pennant.png' });
  await drawn(page, 'mirror');
  const once = await pixels(mirror);
  const share = (n: number) => n / (white.width * white.height);
  expect(share(different(white, once))).toBeGreaterThan(0.02);
  // the pennant is cut out of its picture, and a solid finish does not look at that
  const fault = sheet.locator('[data-alpha-fault]');
  await expect(fault).toContainText('solid does not look at');
  await fault.getByRole('button').click();
  await expect(fault).toHaveCount(0);
  await expect(sheet.getByRole('combobox', { name: 'Blend' }).locator('option:checked')).toHaveText(/cut|over/);
  await sheet.getByRole('textbox', { name: 'Repeat across of base colour' }).fill('4');
  await sheet.getByRole('textbox', { name: 'Repeat across of base colour' }).press('Enter');
  await sheet.getByRole('textbox', { name: 'Turned of base colour' }).fill('90');
  await sheet.getByRole('textbox', { name: 'Turned of base colour' }).press('Enter');
  await clean(page, 'maps of a finish', undefined, '[role="dialog"]');
  await page.keyboard.press('Escape');
  await drawn(page, 'mirror');
  expect(share(different(once, await pixels(mirror)))).toBeGreaterThan(0.01);
  await saved(page);
  const glb = await io().readBinary(await (await page.request.get(`${site()}/api/pieces/${piece}/packages/glb`)).body());
  const [material] = glb.getRoot().listMaterials();
  expect(material.getBaseColorTexture()?.getName()).toBe('pennant.png');
  const moved = material.getBaseColorTextureInfo()?.getExtension<Transform>('KHR_texture_transform');
  expect([moved?.getScale(), moved?.getRotation()]).toEqual([[4, 1], expect.closeTo(Math.PI / 2, 6)]);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${piece}`)).json()) as { document: Piece };
  const [picture] = Object.keys(document.stock);
  expect(() => applyEdit(document, remove('stock', picture))).toThrow(/Sailcloth/);
});
