/** Spectacles tinted in three colourways, their mirrored surroundings turned; delivered as one file that has them all. */
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS, type MappingList, type Volume } from '@gltf-transform/extensions';
import { expect } from '@playwright/test';
import type { PNG } from 'pngjs';
import { spectaclesGlb } from '../../demo/models/spectacles';
import { libraryFinish, linearOf } from '../../src/core/finish';
import type { Piece } from '../../src/core/piece';
import { different, drawn, longJourney, newPiece, pixels, resting, saved, signIn, site } from '../support/page';
import { User } from './user';

const TINTS = ['smokedGlass', 'amberGlass', 'roseGlass'] as const;

longJourney('spectacles tinted in three colourways', async ({ page }) => {
  await signIn(page);
  const id = await newPiece(page, 'Tints');
  const user = new User('spectacles tinted in three colourways');
  const glb = await spectaclesGlb({ unitPerMm: 0.001, quarterYaw: 0, quarterPitch: 0, shiftMm: [0, 0, 0] });
  await user.chooseFile(page.getByLabel('Files for Stock'), { name: 'spectacles.glb', mimeType: '', buffer: Buffer.from(glb) });
  await expect(page.getByRole('heading', { name: 'spectacles.glb' })).toBeVisible();
  await user.press(page.getByRole('button', { name: 'Hang a part', exact: true }));
  await page.waitForURL(/fit/);
  await drawn(page, 'mirror');
  await user.press(page.getByRole('button', { name: 'Seat', exact: true }));
  await saved(page);
  await user.press(page.getByRole('radiogroup', { name: 'The work is about' }).getByText('finish'));
  const lens = page.getByRole('combobox', { name: 'Finish of Tide glass' });
  const mirror = page.locator('[data-view="mirror"]');
  const seen: PNG[] = [];
  for (const key of TINTS) {
    await user.press(page.getByRole('button', { name: 'Add a colourway' }));
    await user.choose(lens, `new ${key}`);
    await expect(page.getByRole('radio', { name: `Show ${libraryFinish(key, 'x').name}` })).toBeChecked();
    await drawn(page, 'mirror');
    await resting(mirror);
    seen.push(await pixels(mirror));
  }
  await user.choose(page.getByRole('combobox', { name: 'Environment' }), 'quay-at-dawn');
  const turn = page.getByRole('textbox', { name: 'Turn of the light' });
  await user.type(turn, '60');
  await turn.press('Enter');
  await saved(page);
  user.finish(12);

  // each is seen to be another
  for (const [a, b] of [
    [0, 1],
    [1, 2],
    [0, 2],
  ])
    expect(different(seen[a], seen[b])).toBeGreaterThan(150);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  expect(document.settings.surroundings).toMatchObject({ environment: 'quay-at-dawn', turnDeg: 60 });
  const names = TINTS.map((key) => libraryFinish(key, 'x').name);
  expect(Object.values(document.colourways).map((c) => c.name)).toEqual(names);
  const delivered = await new WebIO()
    .registerExtensions(ALL_EXTENSIONS)
    .readBinary(await (await page.request.get(`${site()}/api/pieces/${id}/packages/glb`)).body());
  const tints = new Map<string, number[]>();
  for (const p of delivered
    .getRoot()
    .listMeshes()
    .flatMap((m) => m.listPrimitives()))
    for (const mapping of p.getExtension<MappingList>('KHR_materials_variants')?.listMappings() ?? [])
      for (const v of mapping.listVariants())
        tints.set(v.getName(), mapping.getMaterial()?.getExtension<Volume>('KHR_materials_volume')?.getAttenuationColor() ?? []);
  expect([...tints.keys()].sort()).toEqual(['As usual', ...names].sort());
  for (const key of TINTS) {
    const { name, tint } = libraryFinish(key, 'x');
    expect(tints.get(name)).toEqual(linearOf(tint).map((c) => expect.closeTo(c, 4)));
  }
});
