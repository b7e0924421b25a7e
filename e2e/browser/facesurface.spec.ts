/** The face surface: painted by the form's layout, re-sculpted elsewhere and come back shifted and a hundred times too large. */

import { WebIO } from '@gltf-transform/core';
import { expect, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { Vector3 } from 'three';
import { MIRROR_CAMERA } from '../../src/core/capture';
import { cameraOf } from '../../src/core/fit';
import { type Form, formDocument, makeForm } from '../../src/core/form';
import { formBase } from '../../src/core/form/samples';
import { clean } from '../support/axe';
import { drawn, longTest, makePiece, pixels, saved, signIn, site } from '../support/page';

/** A nose three centimetres longer. */
async function beak(form: Form): Promise<Buffer> {
  const document = formDocument(form, 'M');
  const tip = form.landmarks.pronasale.position;
  const lists = new Set(
    document
      .getRoot()
      .listMeshes()
      .flatMap((m) => m.listPrimitives().map((q) => q.getAttribute('POSITION'))),
  );
  for (const list of lists) {
    const p = Float32Array.from(list?.getArray() ?? []);
    for (let v = 0; v < p.length / 3; v++) {
      const d = Math.hypot(...[0, 1, 2].map((k) => form.positions[v * 3 + k] - tip[k]));
      if (d < 0.03) p[v * 3 + 2] += 0.03 * Math.cos((d / 0.03) * (Math.PI / 2)) ** 2;
    }
    list?.setArray(p.map((x, i) => x * 100 + (i % 3 === 0 ? 7 : 2)) as Float32Array<ArrayBuffer>);
  }
  return Buffer.from(await new WebIO().writeBinary(document));
}
/** Green all over. */
function paint(): Buffer {
  const picture = new PNG({ width: 64, height: 64 });
  for (let i = 0; i < picture.data.length; i += 4) picture.data.set([20, 160, 60, 255], i);
  return PNG.sync.write(picture);
}
async function colourAt(page: Page, place: readonly [number, number, number]): Promise<[number, number, number]> {
  const picture = await pixels(page.locator('[data-view="mirror"]'));
  const p = new Vector3(...place).project(cameraOf(MIRROR_CAMERA, picture.width / picture.height));
  const i = (Math.round(((1 - p.y) / 2) * picture.height) * picture.width + Math.round(((p.x + 1) / 2) * picture.width)) * 4;
  return [...picture.data.subarray(i, i + 3)] as [number, number, number];
}
const isGreen = ([r, g, b]: readonly number[]) => g > r + 20 && g > b + 20;

longTest(
  'a face is painted, its eyes left open, and takes the shape of a copy that came back elsewhere; lips by themselves',
  async ({ page }) => {
    await signIn(page);
    const id = await makePiece(page, 'Beak');
    await page.goto(`${site()}/piece/${id}/stock`);
    const form = makeForm(formBase(), 'M');
    await page.getByLabel('Files for Stock').setInputFiles([
      { name: 'beak.glb', mimeType: 'model/gltf-binary', buffer: await beak(form) },
      { name: 'green.png', mimeType: 'image/png', buffer: paint() },
    ]);
    for (const name of ['beak.glb', 'green.png']) await expect(page.getByRole('button', { name, exact: true }).first()).toBeVisible();
    await saved(page);
    await page.getByRole('link', { name: /^Fit/ }).click();
    await drawn(page, 'mirror');
    await page.getByRole('button', { name: /^Hang/ }).first().click();
    await page.getByRole('group', { name: 'On the face itself' }).getByRole('menuitem', { name: 'Face', exact: true }).click();
    const card = page.getByRole('region', { name: 'Face surface' });
    await card.getByRole('combobox', { name: 'Picture on the face' }).selectOption({ label: 'green.png' });
    await drawn(page, 'mirror');
    const at = (name: keyof Form['landmarks']) => form.landmarks[name].position;
    await expect.poll(async () => isGreen(await colourAt(page, at('glabella')))).toBe(true);
    expect(isGreen(await colourAt(page, at('pupilL')))).toBe(false);
    await clean(page, 'a face surface', undefined, '[aria-label="Cards for the selected part"]');

    await card.getByRole('combobox', { name: 'Re-sculpted copy of the form' }).selectOption({ label: 'beak.glb' });
    await expect(
      page.getByText(/beak\.glb: form M, re-sculpted by up to 30\.0 mm; a size of ×100 and a shift of .* mm are taken out\./),
    ).toBeVisible();
    // a head turned aside shows the nose beyond its own tip
    await page.getByRole('button', { name: 'Face', exact: true }).click();
    await page.getByRole('slider', { name: 'Head turns' }).fill('70');
    await drawn(page, 'mirror');
    const beyond = new Vector3(at('pronasale')[0], at('pronasale')[1], at('pronasale')[2] + 0.018).applyAxisAngle(
      new Vector3(0, 1, 0),
      (70 * Math.PI) / 180,
    );
    await expect.poll(async () => isGreen(await colourAt(page, beyond.toArray()))).toBe(true);
    await card.getByRole('combobox', { name: 'Re-sculpted copy of the form' }).selectOption({ label: 'the face is' });
    await expect.poll(async () => isGreen(await colourAt(page, beyond.toArray()))).toBe(false);

    await card.getByRole('combobox', { name: 'What of the face it covers' }).selectOption({ label: 'lips' });
    await page.getByRole('slider', { name: 'Head turns' }).fill('0');
    await drawn(page, 'mirror');
    await expect.poll(async () => isGreen(await colourAt(page, at('labialeInferius')))).toBe(true);
    expect(isGreen(await colourAt(page, at('glabella')))).toBe(false);
    // what a face surface takes cannot be discarded under it
    await saved(page);
  },
);
