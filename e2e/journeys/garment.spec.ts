/** A rigged cape and a dark suit on the body: arms and feet of the suit left out, hands shown, handed over under 1 MB. */
import { readFile } from 'node:fs/promises';
import { expect } from '@playwright/test';
import { cape, darkSuit } from '../../src/core/fit/samples';
import type { Piece } from '../../src/core/piece';
import { readGlb } from '../../src/worker/node/codecs';
import { drawn, longJourney, newPiece, pixels, saved, signIn, site } from '../support/page';
import { User } from './user';

longJourney('a cape and a dark suit', async ({ page }) => {
  const user = new User('cape and suit on the body');
  await signIn(page);
  const id = await newPiece(page, 'Harbour watch');
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
  const suit = Buffer.from(await darkSuit(60));
  expect(suit.length).toBeGreaterThan(1_500_000);
  user.actions++;
  await page.getByLabel('Files for Stock').setInputFiles([
    { name: 'cape.glb', mimeType: '', buffer: Buffer.from(await cape()) },
    { name: 'suit.glb', mimeType: '', buffer: suit },
  ]);
  await expect(button('suit.glb').first()).toBeVisible();
  await saved(page);
  await user.press(page.getByRole('link', { name: /^Prepare/ }));
  const model = page.getByRole('combobox', { name: 'Model' });
  if ((await model.locator('option:checked').textContent()) !== 'suit.glb') await user.choose(model, 'suit.glb');
  await user.press(button('Add a step'));
  await user.press(page.getByRole('menuitem', { name: /^Compress/ }));
  await expect(page.getByText(/% lighter/)).toBeVisible();
  await user.press(button('Keep this result'));
  await saved(page);
  await user.press(page.getByRole('link', { name: /^Fit/ }));
  for (const file of ['cape.glb', 'suit.glb']) {
    await user.press(button('Hang a part').first());
    await user.press(page.getByRole('menuitem', { name: file }));
    await user.press(button('Let the body wear it'));
    await expect(button('take it off')).toBeVisible();
  }
  await expect(page.getByRole('region', { name: 'On the body' })).toContainText('22 bones on the body’s joints');
  await expect(page.getByRole('region', { name: 'On the body' })).toContainText('level, a T');
  const out = page.getByRole('group', { name: 'Left out of it' });
  for (const area of ['arms', 'feet']) await user.press(out.getByLabel(area));
  await user.press(page.getByRole('group', { name: 'Shown before it' }).getByLabel('Hands'));
  await saved(page);
  await expect(page.getByRole('tree', { name: 'Body' }).getByRole('treeitem')).toHaveCount(2);
  await drawn(page, 'mirror');
  // both sides of the cape are seen beside the suit
  const red = async () => {
    const { width, data } = await pixels(page.locator('[data-view="mirror"]'));
    const seen = { left: 0, right: 0 };
    for (let i = 0; i < data.length; i += 4)
      if (data[i] > 90 && data[i] > 3 * data[i + 1] && data[i] > 2 * data[i + 2]) seen[(i / 4) % width < width / 2 ? 'left' : 'right']++;
    return seen;
  };
  await expect.poll(async () => Math.min(...Object.values(await red()))).toBeGreaterThan(300);
  await user.press(page.getByRole('link', { name: /^Deliver/ }));
  await user.press(button('It is own work'));
  const [download] = await Promise.all([page.waitForEvent('download'), user.press(button('Deliver the GLB'))]);
  user.finish(18);
  const bytes = new Uint8Array(await readFile(`${await download.path()}`));
  expect(bytes.length).toBeLessThan(1_000_000);
  const root = (await readGlb(bytes)).getRoot();
  const holder = root.listNodes().find((n) => n.getName() === 'suit');
  expect(holder?.getExtras()).toMatchObject({ scaphos: { worn: { hides: ['arms', 'feet'], bones: { hand_l: 'leftHand' } } } });
  // of the suit's arms nothing is left, of its gloves something
  const worn = root.listNodes().find((n) =>
    n
      .getSkin()
      ?.listJoints()
      .some((j) => j.getName() === 'upperarm_l'),
  );
  const primitive = worn?.getMesh()?.listPrimitives()[0];
  const names =
    worn
      ?.getSkin()
      ?.listJoints()
      .map((j) => j.getName()) ?? [];
  const count = (of: RegExp) => {
    const [joints, weights, all] = [primitive?.getAttribute('JOINTS_0'), primitive?.getAttribute('WEIGHTS_0'), primitive?.getIndices()];
    const wholly = (v: number) =>
      (weights?.getElement(v, []) ?? []).every((w, k) => w < 0.01 || of.test(names[joints?.getElement(v, [])[k] ?? 0]));
    const three = all?.getArray() ?? [];
    let n = 0;
    for (let i = 0; i < three.length; i += 3) if ([0, 1, 2].every((k) => wholly(three[i + k]))) n++;
    return n;
  };
  expect(count(/^(upper|lower)arm_/)).toBe(0);
  expect(count(/^hand_/)).toBeGreaterThan(200);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  expect(Object.values(document.layers).map((l) => (l.kind === 'matte' ? l.matte.name : l.kind))).toContain('hands');
  expect(document.parts['head-block']).toMatchObject({ region: 'body' });
});
