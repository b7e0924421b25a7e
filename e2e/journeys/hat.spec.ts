/** A hat of three solids in a group: hung, brought to the other side, renamed. */
import { expect } from '@playwright/test';
import type { Piece } from '../../src/core/piece';
import { drawn, longJourney, newPiece, saved, signIn, site } from '../support/page';
import { User } from './user';

longJourney('a hat of three solids', async ({ page }) => {
  await signIn(page);
  const id = await newPiece(page, 'Hat');
  await page.getByRole('link', { name: /^Fit/ }).click();
  await page.waitForURL(/fit/);
  const user = new User('hat of three solids');
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
  for (const solid of ['Cylinder', 'Disc', 'Ring']) {
    await user.press(button('Hang a part'));
    await user.press(page.getByRole('menuitem', { name: solid, exact: true }));
  }
  // the ring sits askew, so that the other side is another
  await user.type(page.getByRole('textbox', { name: 'Place side' }), '24');
  const tag = (name: string) => page.getByRole('treeitem', { name: new RegExp(`^${name}`) });
  // the ring was hung last and is chosen; the others beside it
  for (const name of ['Cylinder', 'Disc']) {
    user.actions++;
    await tag(name).click({ modifiers: ['ControlOrMeta'] });
  }
  user.actions++;
  await page.keyboard.press('g');
  await expect(tag('Group')).toBeVisible();
  await user.press(button('Other side'));
  user.actions++;
  await tag('Group').dblclick();
  await user.type(page.getByRole('textbox', { name: 'Name of Group' }), 'Harbour hat');
  await page.keyboard.press('Enter');
  user.actions++;
  await expect(tag('Harbour hat')).toBeVisible();
  await saved(page);
  await drawn(page, 'mirror');
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  const hat = Object.values(document.parts).find((p) => p.kind === 'group');
  expect(hat).toMatchObject({ name: 'Harbour hat', hang: { on: 'anchor', anchor: { kind: 'head' } } });
  const inside = Object.values(document.parts).filter((p) => p.hang?.on === 'part' && p.hang.part === hat?.id);
  expect(inside.map((p) => p.name).sort()).toEqual(['Cylinder', 'Disc', 'Ring']);
  const ring = inside.find((p) => p.name === 'Ring');
  // seen from the head: the group's place and the ring's in it
  expect((hat?.offset.positionM[0] ?? 0) + (ring?.offset.positionM[0] ?? 0)).toBeCloseTo(-0.024, 4);
  user.finish(14);
  // all of it is undone: the name, the other side, the group, the solids one by one
  for (let i = 0; i < 7; i++) await button('Undo').click();
  await saved(page);
  const after = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  expect(Object.keys(after.document.parts)).toEqual(['head-block']);
});
