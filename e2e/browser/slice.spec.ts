/** A piece from its file to its package through the real interface: hung, sized, hidden, posed, delivered. */
import { readFileSync } from 'node:fs';
import { WebIO } from '@gltf-transform/core';
import { expect } from '@playwright/test';
import { DEMO_PIECES } from '../../demo/names';
import { IMPORTERS } from '../../src/core/intake';
import { add, createModelPart, type Piece } from '../../src/core/piece';
import {
  apart,
  copyDemo,
  different,
  drawn,
  longTest,
  newPiece,
  openDemo,
  pixels,
  saved,
  saveEdits,
  signIn,
  site,
  test,
} from '../support/page';

const { helmet: HELMET, spectacles: SPECTACLES } = DEMO_PIECES;

test('from the stock file to a fitted, saved, delivered piece; all of it undone and redone', async ({ page }) => {
  const id = await copyDemo(page, SPECTACLES);
  await openDemo(page);
  await page.getByRole('article').locator(`a[href*="${id}"]`).first().click();
  await page.waitForURL(/fit/);
  await page.getByRole('button', { name: 'Hang a part' }).click();
  await page.getByRole('menuitem', { name: 'tide-glass-spectacles.glb' }).click();
  // 14.6 m of spectacles: the camera is inside them, which is told without asking
  await expect(page.locator('[data-cause]')).toHaveAttribute('data-cause', 'camera-inside');
  await expect(page.locator('[data-cause]')).toContainText('× the head’s width');
  await page.getByRole('button', { name: /Make it about a head wide/ }).click();
  await expect(page.locator('[data-cause="camera-inside"]')).toHaveCount(0);
  await expect(page.getByRole('textbox', { name: 'Size side' })).toHaveValue('0.010');
  await page.getByRole('button', { name: 'Turn up 180°' }).click();
  await expect(page.getByRole('textbox', { name: 'Turn up' })).toHaveValue('180.0');
  for (const [axis, value, shown] of [
    ['up', '3cm', '30.0'],
    ['fore', '100 + 8.5', '108.5'],
  ]) {
    await page.getByRole('textbox', { name: `Place ${axis}` }).fill(value);
    await page.getByRole('textbox', { name: `Place ${axis}` }).press('Enter');
    await expect(page.getByRole('textbox', { name: `Place ${axis}` })).toHaveValue(shown);
  }
  await expect(page.getByRole('img', { name: /Front plate: .* is 146\.\d mm side/ })).toBeVisible();
  await saved(page);
  // reload brings back exactly what was there
  await page.reload();
  await page.getByRole('treeitem', { name: /tide-glass/ }).click();
  await expect(page.getByRole('textbox', { name: 'Place fore' })).toHaveValue('108.5');
  // each edit is one undo; make two and take them back
  await page.getByRole('textbox', { name: 'Place side' }).fill('5');
  await page.getByRole('textbox', { name: 'Place side' }).press('Enter');
  await page.getByRole('button', { name: 'Hide part' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('textbox', { name: 'Place side' })).toHaveValue('0.0');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.getByRole('textbox', { name: 'Place side' })).toHaveValue('5.0');
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  await page.getByRole('link', { name: /^Deliver/ }).click();
  await expect(page.getByText('left out: an occluder; a GLB cannot carry it')).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Deliver the GLB' }).click()]);
  const doc = await new WebIO().readBinary(new Uint8Array(readFileSync(await download.path())));
  expect(
    doc
      .getRoot()
      .getDefaultScene()
      ?.listChildren()
      .map((n) => n.getName()),
  ).toEqual(['Head']);
});

longTest('only an occluder hides: at yaw 60° the far temple’s tip shows without it and is hidden with it', async ({ page }) => {
  const id = await copyDemo(page, SPECTACLES);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  // 14.6 m wide and looking back, as the file is
  const worn = createModelPart('worn', Object.keys(document.stock)[0], 'tide-glass-spectacles');
  worn.offset = { positionM: [0, 0.03, 0.1085], turnRad: [0, Math.PI, 0], size: [0.01, 0.01, 0.01] };
  await saveEdits(page, id, [add('parts', worn)]);
  await page.goto(`${site()}/piece/${id}/fit`);
  const part = page.getByRole('treeitem', { name: /tide-glass/ });
  await part.click();
  await page.getByRole('button', { name: 'Pose yaw +60°' }).click();
  const mirror = page.locator('[data-view="mirror"]');
  const shot = async () => {
    await drawn(page, 'mirror');
    return pixels(mirror);
  };
  const hidden = await shot();
  await page.getByRole('button', { name: 'Occluder', exact: true }).click();
  const open = await shot();
  expect(different(hidden, open)).toBeGreaterThan(40);
  await page.getByRole('button', { name: 'Occluder', exact: true }).click();
  expect(different(hidden, await shot())).toBe(0);
  await page.getByRole('button', { name: 'Hide part' }).click();
  const bare = await shot();
  // the far temple's tip: there without the occluder, plain wearer with it (glass in front keeps other pixels from being that)
  let tip = 0;
  for (let i = 0; i < open.data.length; i += 4) if (apart(open, hidden, i) && !apart(hidden, bare, i)) tip++;
  expect(tip).toBeGreaterThan(25);
  await page.getByRole('button', { name: 'Show part' }).click();
  await saved(page);
});

longTest('seven poses are rendered, play turns the wearer, pause holds; Mirror and plates follow', async ({ page }) => {
  await page.goto(`${site()}/piece/${await copyDemo(page, HELMET)}/fit`);
  const strip = page.getByRole('region', { name: 'Pose strip' });
  await expect(strip.getByRole('listitem')).toHaveCount(7);
  await drawn(page, 'pose-pitch+20');
  const [left, right] = [await pixels(page.locator('[data-view="pose-yaw-60"]')), await pixels(page.locator('[data-view="pose-yaw+60"]'))];
  expect(different(left, right)).toBeGreaterThan(500);
  await drawn(page, 'mirror');
  const before = { mirror: await pixels(page.locator('[data-view="mirror"]')), front: await pixels(page.locator('[data-view="front"]')) };
  await strip.getByRole('button', { name: 'Play' }).click();
  await expect.poll(async () => Number(await page.locator('[data-take-time]').getAttribute('data-take-time'))).toBeGreaterThan(1);
  await strip.getByRole('button', { name: 'Pause' }).click();
  const held = await page.locator('[data-take-time]').getAttribute('data-take-time');
  await drawn(page, 'mirror');
  expect(await page.locator('[data-take-time]').getAttribute('data-take-time')).toBe(held);
  expect(different(before.mirror, await pixels(page.locator('[data-view="mirror"]')))).toBeGreaterThan(1000);
  expect(different(before.front, await pixels(page.locator('[data-view="front"]')))).toBeGreaterThan(500);
});

longTest('a drag in a plate moves in that plane only, and is one undo', async ({ page }) => {
  await page.goto(`${site()}/piece/${await copyDemo(page, HELMET)}/fit`);
  await page.getByRole('treeitem', { name: /helmet/ }).click();
  await drawn(page, 'front');
  const disc = async (plate: string) =>
    (await page.locator(`[data-handles="${plate}"] [data-stub="disc"]`).boundingBox()) as {
      x: number;
      y: number;
      width: number;
      height: number;
    };
  const pull = async (plate: string, dx: number, dy: number) => {
    const b = await disc(plate);
    await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2);
    await page.mouse.down();
    await page.mouse.move(b.x + b.width / 2 + dx, b.y + b.height / 2 + dy, { steps: 4 });
    await page.mouse.up();
  };
  const place = async () =>
    Promise.all(
      ['side', 'up', 'fore'].map(async (a) =>
        Number((await page.getByRole('textbox', { name: `Place ${a}` }).inputValue()).replace('−', '-')),
      ),
    );
  await pull('front', 29, -14.5);
  // 1.45 px a millimetre
  expect(await place()).toEqual([20, 10, 0]);
  await pull('side', 29, 0);
  expect(await place()).toEqual([20, 10, -20]);
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await place()).toEqual([20, 10, 0]);
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await place()).toEqual([0, 0, 0]);
  await saved(page);
});

test('a broken file says why and leaves nothing; a good one beside it comes in', async ({ page }) => {
  await signIn(page);
  await newPiece(page, 'Arrivals');
  await page
    .getByLabel('Files for Stock')
    .setInputFiles([
      { name: 'half.glb', mimeType: 'model/gltf-binary', buffer: Buffer.from('glTF\x02\x00\x00\x00\xff\xff\x00\x00 cut short') },
    ]);
  await expect(page.getByRole('status', { name: 'Arriving' }).getByRole('alert')).toContainText('half.glb was not brought in.');
  await expect(page.getByRole('status', { name: 'Arriving' }).getByRole('alert')).toContainText('missing at its end');
  await page.getByRole('button', { name: 'Discard', exact: true }).click();
  await expect(page.getByText('Nothing is in Stock yet.')).toBeVisible();
  expect(await page.locator('[data-accepts]').getAttribute('data-accepts')).toBe(
    IMPORTERS.flatMap((i) => i.extensions)
      .map((e) => e.slice(1))
      .join(', '),
  );
});

longTest('hands turn and size, the vernier moves finely, a locked part stays', async ({ page }) => {
  await page.goto(`${site()}/piece/${await copyDemo(page, HELMET)}/fit`);
  await page.getByRole('treeitem', { name: /helmet/ }).click();
  await drawn(page, 'front');
  const field = (name: string) => page.getByRole('textbox', { name });
  const pull = async (target: string, dx: number, dy: number) => {
    const b = (await page.locator(target).boundingBox()) as { x: number; y: number; width: number; height: number };
    const [x, y] = [b.x + b.width / 2, b.y + b.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + dx, y + dy, { steps: 3 });
    await page.mouse.up();
  };
  await page.getByRole('radio', { name: 'turn' }).click();
  await pull('[data-handles="front"] [data-stub="side"] circle', 0, 40);
  // 80 px across a stub are one radian
  await expect(field('Turn side')).toHaveValue('28.6');
  await expect(field('Turn up')).toHaveValue('0.0');
  await page.getByRole('radio', { name: 'size' }).click();
  await pull('[data-handles="front"] [data-stub="disc"]', 60, 0);
  // all three together, e^(60/120)
  for (const axis of ['side', 'up', 'fore']) await expect(field(`Size ${axis}`)).toHaveValue('1.649');
  await field('Place side').click();
  await pull('[data-vernier="Place side"]', -56, 0);
  await expect(field('Place side')).toHaveValue('1.0');
  await page.getByRole('button', { name: 'Lock part' }).click();
  await expect(field('Place side')).not.toBeEditable();
  await page.getByRole('button', { name: 'Undo' }).click();
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click();
  for (const [name, value] of [
    ['Place side', '0.0'],
    ['Turn side', '0.0'],
    ['Size side', '1.000'],
  ])
    await expect(field(name)).toHaveValue(value);
  await saved(page);
});
