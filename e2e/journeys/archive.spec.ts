/**
 * A grey, lying, hundred times too large archive with its pictures elsewhere becomes a clean stock model, in at most 8 actions;
 * replacing it by a newer file keeps a fitted piece as it was.
 */
import { WebIO } from '@gltf-transform/core';
import { expect, type Page } from '@playwright/test';
import { zipSync } from 'fflate';
import { spectaclesGlb } from '../../demo/models/spectacles';
import { simulateCapture } from '../../src/core/capture';
import { SKELETONS } from '../../src/core/form';
import { createGltfIo, readModel } from '../../src/core/intake';
import { drawnModel, type Piece } from '../../src/core/piece';
import { stageStill, worldVertices } from '../../src/core/run';
import { longJourney, saved, site } from '../support/page';
import { User } from './user';

const LYING = { unitPerMm: 0.1, quarterPitch: 3, quarterYaw: 0, shiftMm: [0, 0, 0] as [number, number, number] };

/** The spectacles as a glTF in a zip that asks for pictures by names of its own; and those pictures, named by their maker. */
async function archive(): Promise<{ model: Buffer; pictures: Buffer }> {
  const document = await new WebIO().readBinary((await spectaclesGlb(LYING)) as Uint8Array<ArrayBuffer>);
  document.getRoot().getAsset().copyright = '';
  const pictures: Record<string, Uint8Array> = {};
  for (const t of document.getRoot().listTextures()) {
    const colour = t.getName().endsWith('colour');
    pictures[`from the painter/Worn_Brass_${colour ? 'BaseColor' : 'MRAO'}.png`] = t.getImage() as Uint8Array;
    t.setURI(`maps/tex_${colour ? '01' : '02'}.png`);
  }
  const { json, resources } = await new WebIO().writeJSON(document);
  const files = Object.fromEntries(Object.entries(resources).filter(([uri]) => !uri.endsWith('.png')));
  const gltf = new TextEncoder().encode(JSON.stringify(json));
  return {
    model: Buffer.from(
      zipSync({ 'export/glasses.gltf': gltf, ...Object.fromEntries(Object.entries(files).map(([n, b]) => [`export/${n}`, b])) }),
    ),
    pictures: Buffer.from(zipSync(pictures)),
  };
}

const pieceOf = (page: Page) => new URL(page.url()).pathname.split('/')[2];

/** Every vertex as it hangs on the head, straight from what the server keeps. */
async function hanging(page: Page): Promise<{ piece: Piece; box: number[] }> {
  const id = pieceOf(page);
  const piece = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()).document as Piece;
  const stock = Object.values(piece.stock).find((s) => s.kind === 'model');
  const sha = drawnModel(piece, stock?.id ?? '') as string;
  const glb = new Uint8Array(await (await page.request.get(`${site()}/api/pieces/${id}/assets/${sha}`)).body());
  const model = readModel(await createGltfIo({}).readBinary(glb));
  const staged = stageStill(
    piece,
    { models: { [sha]: model } },
    simulateCapture({ yawDeg: 0, pitchDeg: 0, rollDeg: 0 }, SKELETONS.M),
  ).parts.find((p) => p.shape?.type === 'glb');
  if (!staged) throw new Error('nothing hangs');
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (const p of worldVertices(staged, model))
    p.positions.forEach((x, i) => {
      box[i % 3] = Math.min(box[i % 3], x);
      box[3 + (i % 3)] = Math.max(box[3 + (i % 3)], x);
    });
  return { piece, box };
}

longJourney('archive: from grey, lying and too large to clean; then replaced, the fit kept', async ({ page }) => {
  const { model, pictures } = await archive();
  await page.goto(`${site()}/sign-in`);
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.waitForURL(/\/yard\//);
  await page.getByRole('button', { name: 'New piece', exact: true }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('From an archive');
  await page.getByRole('button', { name: 'Lay it down' }).click();
  await page.waitForURL(/stock/);

  const user = new User('archive to clean stock model');
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
  const finding = (code: string) => page.locator(`[data-finding="${code}"]`);
  await user.chooseFile(page.getByLabel('Files for Stock'), { name: 'glasses.zip', mimeType: 'application/zip', buffer: model });
  await expect(finding('texture/missing')).toHaveCount(2);
  await user.chooseFile(page.getByLabel('Files for Stock'), { name: 'maps.zip', mimeType: 'application/zip', buffer: pictures });
  await expect(finding('texture/missing').filter({ hasText: 'is taken from' })).toHaveCount(2);
  await user.choose(page.getByLabel('What it is'), 'eyewear');
  await expect(finding('placing/scale')).toContainText('14.6 m wide; spectacles are about 140 mm: ×0.01');
  await expect(finding('placing/turn')).toContainText(/It lies on its (back|face)/);
  await user.press(button(/^Mend all/));
  const changes = page.getByRole('list', { name: 'What will change' });
  await expect(changes).toContainText('tex_01.png is taken from Worn_Brass_BaseColor.png');
  await expect(changes).toContainText('tex_02.png is taken from Worn_Brass_MRAO.png');
  await user.press(button('Mend all'));
  await expect(page.getByRole('heading', { name: 'As mended' })).toBeVisible();
  await user.press(button('All own work'));
  // the tubes' ends are seen: they are closed when asked to
  await user.press(finding('geometry/open-edges').getByRole('button', { name: 'Close them' }));
  // nothing that blocks or warns is left
  const levels = page.getByRole('radiogroup', { name: 'Which findings' });
  await expect(levels.getByRole('radio', { name: /Blockers|Warnings/ })).toHaveCount(0);
  await expect(page.locator('[data-size="side"]')).toHaveText('146.3mm');
  await expect(page.locator('[data-fact="pictures"]')).toContainText('2');
  user.finish(8);

  // hung and fitted
  await button('Hang a part').last().click();
  await page.waitForURL(/fit/);
  await page.getByRole('textbox', { name: 'Place fore' }).fill('108.5');
  await page.getByRole('textbox', { name: 'Place up' }).fill('30');
  await page.getByRole('textbox', { name: 'Place up' }).press('Enter');
  await saved(page);
  const before = await hanging(page);
  expect((before.box[3] - before.box[0]) * 1000).toBeCloseTo(146.3, 0);

  // a newer file: the same thing, one lump fewer, as it always comes
  await page.getByRole('link', { name: /^Stock/ }).click();
  await page.waitForURL(/stock/);
  await page.getByRole('button', { name: 'glasses.zip' }).click();
  const newer = await new WebIO().readBinary((await spectaclesGlb(LYING)) as Uint8Array<ArrayBuffer>);
  newer.getRoot().listMaterials()[0].setName('Polished brass');
  await page
    .getByLabel('A newer file')
    .setInputFiles({ name: 'glasses-v2.glb', mimeType: 'model/gltf-binary', buffer: Buffer.from(await new WebIO().writeBinary(newer)) });
  const dialog = page.getByRole('dialog', { name: /Replace glasses.zip by glasses-v2.glb/ });
  await expect(dialog).toContainText('Nothing asks for maps/tex_01.png any more; the link stays in the recipe.');
  await expect(dialog).toContainText('The material Worn brass is not in the new file.');
  await dialog.getByRole('button', { name: 'Replace' }).click();
  await expect(page.getByRole('heading', { name: 'glasses-v2.glb' })).toBeVisible();
  await saved(page);
  const after = await hanging(page);
  const part = (p: Piece) => Object.values(p.parts).find((x) => x.kind === 'model');
  expect(part(after.piece)).toEqual(part(before.piece));
  const steps = (p: Piece) => Object.values(p.recipes)[0].steps;
  expect(steps(after.piece)).toEqual(steps(before.piece));
  for (const [i, x] of after.box.entries()) expect(x * 1000).toBeCloseTo(before.box[i] * 1000, 1);

  // one step taken back with the fit kept: the size of the file changes, what hangs does not
  const row = page.getByRole('listitem').filter({ hasText: 'Transform:' });
  await row.getByRole('button', { name: 'Remove' }).click();
  await expect(page.locator('[data-size="side"]')).toHaveText('14 631mm');
  await saved(page);
  const kept = await hanging(page);
  for (const [i, x] of kept.box.entries()) expect(x * 1000).toBeCloseTo(before.box[i] * 1000, 1);
  // and all of it is undone, edit by edit
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('[data-size="side"]')).toHaveText('146.3mm');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('heading', { name: 'glasses.zip' })).toBeVisible();
  await saved(page);
});
