/** A picture behind the shoulders, the wearer in front of it, still while the head turns; delivered and read back. */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { expect } from '@playwright/test';
import { readBundle } from '../../src/core/deliver';
import { rackOf } from '../../src/core/piece';
import { buntingPng, isFlag } from '../support/bunting';
import { drawn, longJourney, newPiece, pixels, saved, signIn, journey as test } from '../support/page';
import { User } from './user';

// its pixels are looked at
test.use({ deviceScaleFactor: 1 });

longJourney('bunting behind the shoulders', async ({ page }) => {
  await signIn(page);
  await newPiece(page, 'Bunting');
  const user = new User('picture behind the shoulders');
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
  await user.chooseFile(page.getByLabel('Files for Stock'), { name: 'bunting.png', mimeType: 'image/png', buffer: buntingPng() });
  await user.press(button('Hang a part'));
  await page.waitForURL(/fit/);
  await user.choose(page.getByRole('combobox', { name: 'Hangs on' }), 'anchor shoulders');
  await user.press(button('Behind the wearer'));
  await user.type(page.getByRole('textbox', { name: 'Place up' }), '160');
  await user.press(button('Pose front'));
  await drawn(page, 'mirror');
  const mirror = page.locator('[data-view="mirror"]');
  const front = await pixels(mirror);
  // the wearer stands before it: nothing of it on the face, much of it beside the head
  const at = (x: number, y: number) => (Math.round(y * front.height) * front.width + Math.round(x * front.width)) * 4;
  expect(isFlag(front.data, at(0.5, 0.45))).toBe(false);
  const flags = (of: typeof front) => Array.from({ length: of.data.length / 4 }, (_, i) => i * 4).filter((i) => isFlag(of.data, i));
  expect(flags(front).length).toBeGreaterThan(2_000);

  await user.press(button('Pose yaw +60°'));
  await drawn(page, 'mirror');
  const turned = await pixels(mirror);
  // it does not turn with the head: what is seen of it in both pictures is seen at the same place in the same colour
  const both = flags(front).filter((i) => isFlag(turned.data, i));
  expect(both.length).toBeGreaterThan(1_500);
  // but for the wearer's own edge, which blends
  expect(both.filter((i) => Math.abs(front.data[i] - turned.data[i]) >= 12).length).toBeLessThan(both.length / 100);
  // and the head did turn
  expect(flags(front).length).not.toBe(flags(turned).length);
  await saved(page);

  await user.press(page.getByRole('link', { name: /^Deliver/ }));
  await user.press(button('It is own work'));
  await saved(page);
  await expect(page.locator('[data-lost="bunting"]')).toContainText('stands behind the wearer');
  const fetched = async (name: string | RegExp) => {
    const [file] = await Promise.all([page.waitForEvent('download'), user.press(button(name))]);
    return readFileSync(await file.path());
  };
  const glb = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(new Uint8Array(await fetched('Deliver the GLB')));
  const [root] = glb.getRoot().getDefaultScene()?.listChildren() ?? [];
  expect(root.getName()).toBe('Shoulders');
  expect(root.listChildren().map((n) => n.getName())).toEqual(['bunting']);
  expect(root.listChildren()[0].getExtras()).toMatchObject({ scaphos: { layer: expect.any(String) } });
  const { piece } = await readBundle(new Uint8Array(await fetched(/bundle/i)), async (b) => createHash('sha256').update(b).digest('hex'));
  const part = rackOf(piece).find((p) => p.kind === 'model');
  expect(part?.hang).toEqual({ on: 'anchor', anchor: { kind: 'shoulders' } });
  expect(piece.orders.layers.map((id) => piece.layers[id].kind)).toEqual(['camera', 'parts', 'matte', 'parts']);
  expect(part?.layer).toBe(piece.orders.layers[1]);
  user.finish(11);
});
