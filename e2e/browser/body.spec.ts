/** The wearer's body: what hides as it does, hands and face shown again, joints, a garment that gets its bones from it. */
import { AxeBuilder } from '@axe-core/playwright';
import { WebIO } from '@gltf-transform/core';
import { expect, type Locator, type Page } from '@playwright/test';
import { darkSuit } from '../../src/core/fit/samples';
import { add, change, changePart, createSolid, Layer, onAnchor, onJoint } from '../../src/core/piece';
import { clean } from '../support/axe';
import { drawn, longTest, makePiece, pixels, saved, saveEdits, signIn, site, test } from '../support/page';

/** A sheet as large as a person, so far before or behind the hips. */
const sheet = (zM: number) => ({
  ...createSolid('sheet', 'sheet', { form: 'plane', sizeMm: [1500, 2300, 1], roundMm: 0, wallMm: 1, open: [] }, onAnchor('head')),
  offset: {
    positionM: [0, -0.75, zM] as [number, number, number],
    turnRad: [0, 0, 0] as [number, number, number],
    size: [1, 1, 1] as [number, number, number],
  },
});

/** Of the Mirror, which share of the sheet's picture shows something else: below the head, and at its height. */
async function holes(page: Page) {
  await page.reload();
  await drawn(page, 'mirror');
  const { width, height, data } = await pixels(page.locator('[data-view="mirror"]'));
  const pale = (i: number) =>
    Math.min(data[i], data[i + 1], data[i + 2]) > 120 &&
    Math.max(data[i], data[i + 1], data[i + 2]) - Math.min(data[i], data[i + 1], data[i + 2]) < 40;
  const share = (from: number, to: number) => {
    let [all, other] = [0, 0];
    for (let y = Math.round(height * from); y < height * to; y++)
      for (let x = Math.round(width * 0.06); x < width * 0.94; x++) {
        all++;
        if (!pale((y * width + x) * 4)) other++;
      }
    return other / all;
  };
  return { head: share(0.22, 0.34), below: share(0.4, 0.72) };
}

longTest('the body hides what is behind it; hands, then the face, are shown again before what covers them', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Body');
  await saveEdits(page, piece, [changePart('head-block', { region: 'body' }), add('parts', sheet(-0.3))]);
  // what bodies are made of comes as the build baked it
  const baked = page.waitForResponse(/\/baked\/body-/);
  await page.goto(`${site()}/piece/${piece}/fit`);
  expect((await baked).status()).toBe(200);
  const behind = await holes(page);
  // a trunk, legs and arms stand before the sheet
  expect(behind.below).toBeGreaterThan(0.2);
  expect(behind.below).toBeLessThan(0.6);
  await saveEdits(page, piece, [changePart('sheet', { offset: sheet(0.5).offset })]);
  const before = await holes(page);
  expect(before.below).toBeLessThan(0.01);
  expect(before.head).toBeLessThan(0.01);
  await saveEdits(page, piece, [add('layers', Layer.parse({ id: 'again', kind: 'matte', matte: { name: 'hands' } }))]);
  const hands = await holes(page);
  expect(hands.head).toBeLessThan(0.01);
  expect(hands.below).toBeGreaterThan(0.004);
  expect(hands.below).toBeLessThan(0.05);
  await saveEdits(page, piece, [change('layers', 'again', { matte: { name: 'face', invert: false, growPx: 0, featherPx: 0 } })]);
  const face = await holes(page);
  expect(face.head).toBeGreaterThan(0.02);
  expect(face.below).toBeLessThan(0.001);
  await page.getByRole('radio', { name: 'stacking' }).click();
  await expect(page.getByRole('region', { name: 'Stacking' })).toContainText('Face again');
});

longTest('what hangs on a wrist goes with it, and is listed under it', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Wrist');
  const ball = createSolid('ball', 'Ball', { form: 'sphere', sizeMm: [160, 160, 160], roundMm: 0, wallMm: 1, open: [] }, onAnchor('head'));
  await saveEdits(page, piece, [add('parts', ball)]);
  await page.goto(`${site()}/piece/${piece}/fit?parts=ball`);
  const hangs = page.getByRole('combobox', { name: 'Hangs on' });
  await hangs.selectOption({ label: 'left wrist' });
  await expect(page.getByRole('tree', { name: 'Left wrist' }).getByRole('treeitem')).toHaveCount(1);
  await page.getByRole('button', { name: 'Put at anchor' }).click();
  // where the picture is brightest of what a dusk and dark clothes leave
  const place = async () => {
    await drawn(page, 'mirror');
    const { width, height, data } = await pixels(page.locator('[data-view="mirror"]'));
    let [x, y, n] = [0, 0, 0];
    for (let i = 0; i < data.length; i += 4)
      if (Math.min(data[i], data[i + 1], data[i + 2]) > 150) {
        x += (i / 4) % width;
        y += Math.floor(i / 4 / width);
        n++;
      }
    return { n, x: x / n / width, y: y / n / height };
  };
  const out = await place();
  expect(out.n).toBeGreaterThan(50);
  await page.getByRole('button', { name: 'Pose one arm up' }).click();
  await expect(page.getByRole('button', { name: 'Pose one arm up' })).toHaveAttribute('aria-current', 'true');
  const up = await place();
  expect(out.y - up.y).toBeGreaterThan(0.2);
  // its left is at the picture's right
  expect(up.x).toBeGreaterThan(0.5);
  await page.getByRole('combobox', { name: 'Take', exact: true }).selectOption('body-walk');
  await saved(page);
  await expect(hangs.locator('option:checked')).toHaveText('left wrist');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('tree', { name: 'Head' }).getByRole('treeitem')).toHaveCount(2);
});

test('why it cannot be seen is asked of the whole body: a bead in the ribs, then before them', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Bead');
  const bead = createSolid('bead', 'Bead', { form: 'sphere', sizeMm: [40, 40, 40], roundMm: 0, wallMm: 1, open: [] }, onJoint('chest'));
  await saveEdits(page, piece, [changePart('head-block', { region: 'body' }), add('parts', bead)]);
  await page.goto(`${site()}/piece/${piece}/fit?parts=bead`);
  const cause = page.getByRole('region', { name: 'In sight' }).locator('[data-cause]');
  await expect(cause).toHaveAttribute('data-cause', 'inside-form');
  await page.getByRole('textbox', { name: 'Place fore' }).fill('250');
  await page.getByRole('textbox', { name: 'Place fore' }).press('Enter');
  // what is seen is not told of unasked
  await expect(cause).toHaveCount(0);
});

/** Cloth lies over most of the body; a stroke lets it hide again, and is taken back. */
async function paintsWhereItHidesNothing(page: Page, card: Locator) {
  await card.getByRole('button', { name: 'Paint where it hides nothing' }).click();
  const sheet = page.getByRole('dialog', { name: /The body under/ });
  const canvas = sheet.locator('[data-view="surface"]');
  await expect(canvas).toHaveAttribute('data-ready', 'yes');
  await expect(sheet).toContainText('hides nothing: 0 % of it');
  await sheet.getByRole('button', { name: 'Where it lies over' }).click();
  const share = sheet.getByText(/hides nothing: \d+ % of it/);
  await expect(share).not.toContainText(': 0 %');
  const percent = async () => Number(/(\d+) %/.exec((await share.textContent()) ?? '')?.[1]);
  const all = await percent();
  expect(all).toBeGreaterThan(15);
  await sheet.getByText('Hide again', { exact: true }).click();
  await sheet.getByRole('textbox', { name: 'Radius' }).fill('150');
  await sheet.getByRole('textbox', { name: 'Radius' }).press('Enter');
  const box = await canvas.boundingBox();
  if (!box) throw new Error('no picture');
  await page.mouse.move(box.x + box.width / 2, box.y + box.height * 0.36);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height * 0.5, { steps: 3 });
  await page.mouse.up();
  await expect.poll(percent).toBeLessThan(all);
  await sheet.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(percent).toBe(all);
  await clean(page, 'the body under a garment', 'dialog');
  await page.keyboard.press('Escape');
  await expect(card.getByRole('button', { name: 'Painted by hand: change it' })).toBeVisible();
}

longTest('a garment without bones gets them from the body it lies on, is worn, measured and taken off', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Bare suit');
  const document = await new WebIO().readBinary(await darkSuit(10));
  for (const n of document.getRoot().listNodes()) if (n.getMesh()) n.setSkin(null);
  for (const n of document.getRoot().listNodes()) if (!n.getMesh()) n.dispose();
  for (const s of document.getRoot().listSkins()) s.dispose();
  for (const p of document.getRoot().listMeshes()[0].listPrimitives()) p.setAttribute('JOINTS_0', null).setAttribute('WEIGHTS_0', null);
  await page.goto(`${site()}/piece/${piece}/stock`);
  await page
    .getByLabel('Files for Stock')
    .setInputFiles([{ name: 'suit.glb', mimeType: '', buffer: Buffer.from(await new WebIO().writeBinary(document)) }]);
  await expect(page.getByRole('button', { name: 'suit.glb', exact: true }).first()).toBeVisible();
  await saved(page);
  await page.getByRole('button', { name: 'Hang a part' }).last().click();
  await page.waitForURL(/fit/);
  const card = page.getByRole('region', { name: 'On the body' });
  await expect(card).toContainText('It has no bones');
  await expect(card.getByRole('button', { name: 'Let the body wear it' })).toHaveAttribute('aria-disabled', 'true');
  await page.getByRole('link', { name: /^Rig/ }).click();
  await page.getByRole('button', { name: 'A garment' }).click();
  const bones = page.getByRole('region', { name: 'Bones of the garment' });
  await expect(bones).toContainText('22 bones');
  await bones.getByRole('button', { name: /left elbow/ }).click();
  await expect(bones.getByRole('button', { name: /left elbow/ })).toHaveAttribute('aria-pressed', 'true');
  await bones.getByLabel('Bones', { exact: true }).selectOption('17');
  await expect(bones).toContainText('17 bones');
  await page.getByRole('link', { name: /^Fit/ }).click();
  await card.getByRole('button', { name: 'Let the body wear it' }).click();
  await expect(card).toContainText('17 bones on the body’s joints');
  await expect(card).toContainText('level, a T');
  // what a bone was taken for is said otherwise
  await card.getByText('17 bones on the body’s joints').click();
  await card.getByLabel('What leftFoot goes with').selectOption('');
  await expect(card).toContainText('16 bones on the body’s joints, 1 of its own');
  await card.getByLabel('What leftFoot goes with').selectOption('leftFoot');
  await expect(card).toContainText('17 bones on the body’s joints');
  await card.getByRole('button', { name: 'Measure it over the poses' }).click();
  const rows = card.getByRole('table', { name: 'Over the poses' }).getByRole('row');
  await expect(rows).toHaveCount(9);
  await expect(rows.filter({ hasText: 'arms out' })).toContainText('×1.00');
  const { violations } = await new AxeBuilder({ page })
    .setLegacyMode()
    .include('section[aria-label="On the body"]')
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.target.join(' ')} (${v.help})`))).toEqual([]);
  await rows.filter({ hasText: 'seated' }).getByRole('button').click();
  await expect(page.getByRole('button', { name: 'Pose seated' })).toHaveAttribute('aria-current', 'true');
  await paintsWhereItHidesNothing(page, card);
  // what is measured is measured anew where something of it is left out
  await card.getByRole('group', { name: 'Left out of it' }).getByLabel('legs').check();
  await expect(card.getByRole('button', { name: 'Measure it over the poses' })).toBeVisible();
  await card.getByRole('group', { name: 'Shown before it' }).getByLabel('Face').check();
  await page.getByRole('radio', { name: 'stacking' }).click();
  await expect(page.getByRole('region', { name: 'Stacking' })).toContainText('Face again');
  await card.getByRole('group', { name: 'Shown before it' }).getByLabel('Face').uncheck();
  await expect(page.getByRole('region', { name: 'Stacking' })).not.toContainText('Face again');
  await card.getByRole('button', { name: 'take it off' }).click();
  await expect(card.getByRole('button', { name: 'Let the body wear it' })).toBeVisible();
  await saved(page);
});
