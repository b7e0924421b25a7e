/** Stock through the interface: findings filtered, mended, let be; a hung model keeps its fit or changes; foreign files and pictures. */
import { expect, type Page } from '@playwright/test';
import { zipSync } from 'fflate';
import { spectaclesGlb } from '../../demo/models/spectacles';
import type { Piece } from '../../src/core/piece';
import { longTest, newPiece, pixels, saved, signIn, site, test } from '../support/page';

const text = (s: string) => new TextEncoder().encode(s);
const file = (name: string, buffer: Uint8Array) => ({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(buffer) });
const finding = (page: Page, code: string) => page.locator(`[data-finding="${code}"]`);
const documentOf = async (page: Page): Promise<Piece> => {
  const id = new URL(page.url()).pathname.split('/')[2];
  return (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()).document;
};
const part = (p: Piece) => {
  const found = Object.values(p.parts).find((x) => x.kind === 'model');
  if (found?.kind !== 'model') throw new Error('nothing hangs');
  return found;
};

longTest('findings: filtered, one mended, one let be with a reason and taken up again; each an undo', async ({ page }) => {
  await signIn(page);
  await newPiece(page, 'Findings');
  await page.getByLabel('Files for Stock').setInputFiles(file('spectacles.glb', await spectaclesGlb()));
  await page.getByLabel('What it is').selectOption('eyewear');
  const levels = page.getByRole('radiogroup', { name: 'Which findings' });
  await levels.getByRole('radio', { name: /Blockers/ }).click();
  await expect(page.locator('[data-finding]')).toHaveCount(1);
  await finding(page, 'placing/scale').getByRole('button', { name: 'Treat as centimetres' }).click();
  await expect(page.locator('[data-size="side"]')).toHaveText('146.3mm');
  await levels.getByRole('radio', { name: /All/ }).click();
  await finding(page, 'geometry/open-edges').getByRole('button', { name: 'Leave as it is' }).click();
  await page.getByRole('textbox', { name: 'Why it may stay' }).fill('The tubes end in the rims');
  await page.getByRole('button', { name: 'Leave it as it is' }).click();
  await expect(finding(page, 'geometry/open-edges')).toHaveCount(0);
  await page.getByRole('button', { name: '1 left as it is' }).click();
  await expect(page.getByText('The tubes end in the rims')).toBeVisible();
  await page.getByRole('button', { name: 'Look at it again' }).click();
  await expect(finding(page, 'geometry/open-edges')).toHaveCount(1);
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('[data-size="side"]')).toHaveText('14 631mm');
  await expect(page.getByRole('heading', { name: 'As delivered by its author' })).toBeVisible();
  await saved(page);
});

longTest('a hung model that changes size keeps its fit, or changes with it; both are one undo', async ({ page }) => {
  await signIn(page);
  await newPiece(page, 'Hung');
  await page.getByLabel('Files for Stock').setInputFiles(file('spectacles.glb', await spectaclesGlb()));
  await page.getByLabel('What it is').selectOption('eyewear');
  await page.getByRole('button', { name: 'Hang a part' }).last().click();
  await page.waitForURL(/fit/);
  await page.getByRole('textbox', { name: 'Size side' }).fill('0.01');
  await page.getByRole('textbox', { name: 'Size side' }).press('Enter');
  await saved(page);
  await page.getByRole('link', { name: /^Stock/ }).click();
  await page.waitForURL(/stock/);
  const mend = async (how: 'Keep what I fitted' | 'Let it change') => {
    await finding(page, 'placing/scale').getByRole('button', { name: 'Treat as centimetres' }).click();
    const dialog = page.getByRole('dialog', { name: 'Mend this' });
    await expect(dialog).toContainText('14.6 m becomes 146 mm');
    await expect(dialog.getByRole('radio', { name: 'Keep what I fitted' })).toBeChecked();
    await dialog.getByRole('radio', { name: how }).check();
    await dialog.getByRole('button', { name: 'Mend' }).click();
    await expect(page.locator('[data-size="side"]')).toHaveText('146.3mm');
    await saved(page);
  };
  await mend('Keep what I fitted');
  expect(part(await documentOf(page)).offset.size[0]).toBeCloseTo(1, 9);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(finding(page, 'placing/scale')).toBeVisible();
  await saved(page);
  expect(part(await documentOf(page)).offset.size[0]).toBeCloseTo(0.01, 9);
  await mend('Let it change');
  expect(part(await documentOf(page)).offset.size[0]).toBeCloseTo(0.01, 9);
});

const OBJ = `mtllib cube.mtl\n${[-1, 1].flatMap((x) => [-1, 1].flatMap((y) => [-1, 1].map((z) => `v ${x} ${y} ${z}`))).join('\n')}
vt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nusemtl brass
f 1/1 2/2 4/3 3/4\nf 5/1 7/2 8/3 6/4\nf 1/1 5/2 6/3 2/4\nf 3/1 4/2 8/3 7/4\nf 1/1 3/2 7/3 5/4\nf 2/1 6/2 8/3 4/4\n`;

longTest(
  'an OBJ comes in, says what it cannot carry, and is looked at in five ways; a type of its own width sizes it',
  async ({ page }) => {
    await signIn(page);
    await newPiece(page, 'Foreign');
    await page
      .getByLabel('Files for Stock')
      .setInputFiles(file('cube.zip', zipSync({ 'a/cube.obj': text(OBJ), 'b/cube.mtl': text('newmtl brass\nKd 0.8 0.5 0.1\n') })));
    await expect(page.locator('[data-fact="format"]')).toHaveText('OBJ');
    await expect(page.getByText(/OBJ has no unit, no bones/)).toBeVisible();
    const looks = page.getByRole('radiogroup', { name: 'Look' });
    const table = page.locator('[data-view="turntable"]');
    const seen: string[] = [];
    for (const look of ['As lit', 'Without pictures', 'Triangles', 'Normals']) {
      await looks.getByRole('radio', { name: look }).click();
      await expect(table).toHaveAttribute('data-ready', /[0-9a-f]{64}/);
      const lookNow = async () => Buffer.from((await pixels(table)).data).toString('base64');
      // drawn anew: unlike every look before
      await expect.poll(async () => seen.includes(await lookNow())).toBe(false);
      seen.push(await lookNow());
    }
    expect(new Set(seen).size).toBe(4);
    await looks.getByRole('radio', { name: 'UV layout' }).click();
    await expect(page.getByRole('img', { name: 'UV layout: 1 of 1 shapes have UVs' })).toBeVisible();
    await page.getByLabel('What it is').selectOption('eyewear');
    await finding(page, 'placing/scale').getByRole('button', { name: 'Type a width' }).click();
    await page.getByRole('textbox', { name: 'True width in millimetres' }).fill('140');
    await page.getByRole('button', { name: 'Size it', exact: true }).click();
    await expect(page.locator('[data-size="side"]')).toHaveText('140mm');
    await saved(page);
  },
);

test('several files at once: a model with its own, a lone one, pictures; a refused one says why', async ({ page }) => {
  await signIn(page);
  await newPiece(page, 'Many');
  await page.getByLabel('Files for Stock').setInputFiles([
    file('cube.obj', text(OBJ)),
    file('cube.mtl', text('newmtl brass\nKd 0.8 0.5 0.1\n')),
    file('spectacles.glb', await spectaclesGlb()),
    file(
      'lie.stl',
      Uint8Array.from({ length: 134 }, (_, i) => (i === 80 ? 9 : 0)),
    ),
  ]);
  const table = page.getByRole('table').first();
  await expect(table.getByRole('button', { name: 'cube.obj' })).toBeVisible();
  await expect(table.getByRole('button', { name: 'spectacles.glb' })).toBeVisible();
  await expect(page.getByRole('status', { name: 'Arriving' }).getByRole('alert')).toContainText(
    'lie.stl was not brought in. The STL says it has 9 triangles',
  );
  await saved(page);
});
