/** The rack by real input: several chosen at once, dragged to hang elsewhere, grouped, copied into another piece, all undone. */
import { expect, type Locator, type Page } from '@playwright/test';
import type { Part, Piece } from '../../src/core/piece';
import { longTest, newPiece, saved, signIn, site, test } from '../support/page';

const tag = (page: Page, name: string) => page.getByRole('treeitem', { name: new RegExp(`^${name},`) });
const documentOf = async (page: Page, id: string): Promise<Piece> => {
  await saved(page);
  return (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()).document;
};
const byName = (p: Piece, name: string) => Object.values(p.parts).find((q) => q.name === name) as Part;

async function hang(page: Page, ...names: string[]): Promise<void> {
  for (const name of names) {
    await page.getByRole('button', { name: 'Hang a part' }).click();
    await page.getByRole('menuitem', { name, exact: true }).click();
  }
}

/** Drags a row onto a part of another: 0 its upper edge, 1 its lower. */
async function drag(page: Page, from: Locator, to: Locator, share: number): Promise<void> {
  const [a, b] = [await from.boundingBox(), await to.boundingBox()];
  if (!a || !b) throw new Error('nothing to drag');
  await page.mouse.move(a.x + 60, a.y + a.height / 2);
  await page.mouse.down();
  await page.mouse.move(a.x + 60, a.y + a.height / 2 + 8, { steps: 2 });
  await page.mouse.move(b.x + 60, b.y + b.height * share, { steps: 6 });
  await page.mouse.up();
}

longTest(
  'parts are dragged onto parts and anchors, and stay where they are unless asked; what would hang in itself is refused',
  async ({ page }) => {
    await signIn(page);
    const id = await newPiece(page, 'Dragged');
    await page.getByRole('link', { name: /^Fit/ }).click();
    await hang(page, 'Box', 'Sphere', 'Cone');
    await tag(page, 'Box').click();
    await page.getByRole('textbox', { name: 'Place side' }).fill('40');
    await page.getByRole('textbox', { name: 'Place side' }).press('Enter');
    await drag(page, tag(page, 'Cone'), tag(page, 'Box'), 0.5);
    let piece = await documentOf(page, id);
    expect(byName(piece, 'Cone').hang).toEqual({ on: 'part', part: byName(piece, 'Box').id });
    // it stays where it is seen: 40 mm to the other side in the box's frame
    expect(byName(piece, 'Cone').offset.positionM.map((x) => Math.round(x * 1e6) / 1e6 + 0)).toEqual([-0.04, 0, 0]);
    await expect(tag(page, 'Cone')).toHaveAttribute('aria-level', '2');
    // with Alt it comes to lie at what it hangs on
    await page.keyboard.down('Alt');
    await drag(page, tag(page, 'Sphere'), tag(page, 'Cone'), 0.5);
    await page.keyboard.up('Alt');
    piece = await documentOf(page, id);
    expect(byName(piece, 'Sphere')).toMatchObject({
      hang: { on: 'part', part: byName(piece, 'Cone').id },
      offset: { positionM: [0, 0, 0] },
    });
    await drag(page, tag(page, 'Box'), tag(page, 'Sphere'), 0.5);
    await expect(page.getByText('cannot hang in itself')).toBeVisible();
    // between rows it comes to that place, and hangs where they hang
    await drag(page, tag(page, 'Sphere'), tag(page, 'Head block'), 0.1);
    piece = await documentOf(page, id);
    expect(byName(piece, 'Sphere').hang).toEqual({ on: 'anchor', anchor: { kind: 'head' } });
    expect(piece.orders.parts[0]).toBe(byName(piece, 'Sphere').id);
    for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click();
    piece = await documentOf(page, id);
    expect(byName(piece, 'Cone').hang).toEqual({ on: 'anchor', anchor: { kind: 'head' } });
  },
);

longTest('several are chosen, grouped, taken apart, copied into another piece of the yard; a locked one refuses', async ({ page }) => {
  await signIn(page);
  const first = await newPiece(page, 'From');
  await page.getByRole('link', { name: /^Fit/ }).click();
  await hang(page, 'Ring', 'Tube', 'Arch');
  await tag(page, 'Ring').click();
  await tag(page, 'Tube').click({ modifiers: ['ControlOrMeta'] });
  await expect(page.getByRole('heading', { name: '2 parts' })).toBeVisible();
  await page.keyboard.press('g');
  await expect(tag(page, 'Group')).toBeVisible();
  await expect(tag(page, 'Ring')).toHaveAttribute('aria-level', '2');
  await page.keyboard.press('ControlOrMeta+c');
  await expect(page.getByText('1 part copied.')).toBeVisible();
  await page.keyboard.press('Shift+G');
  await expect(tag(page, 'Group')).toBeHidden();
  await tag(page, 'Arch').click();
  await page.getByRole('button', { name: 'Lock part' }).click();
  await expect(page.getByRole('button', { name: 'Delete the part' })).toHaveAttribute('aria-disabled', 'true');
  await tag(page, 'Arch').press('Delete');
  await expect(page.getByText('Arch is locked')).toBeVisible();
  expect(Object.keys((await documentOf(page, first)).parts)).toHaveLength(4);

  await page.getByRole('link', { name: 'Yard', exact: true }).click();
  const second = await newPiece(page, 'To');
  await page.getByRole('link', { name: /^Fit/ }).click();
  await expect(tag(page, 'Head block')).toBeVisible();
  await page.keyboard.press('ControlOrMeta+v');
  await expect(tag(page, 'Group')).toBeVisible();
  const piece = await documentOf(page, second);
  expect(
    Object.values(piece.parts)
      .map((p) => p.name)
      .sort(),
  ).toEqual(['Group', 'Head block', 'Ring', 'Tube']);
  expect(byName(piece, 'Ring').hang).toEqual({ on: 'part', part: byName(piece, 'Group').id });
  // a copy of the group brings what is in it; lifting it off takes that along, undo brings all of it back
  await tag(page, 'Group').click();
  await page.keyboard.press('Control+d');
  await expect(page.getByRole('treeitem')).toHaveCount(7);
  await page.getByRole('button', { name: 'Delete the part' }).click();
  await expect(page.getByRole('treeitem')).toHaveCount(4);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('treeitem')).toHaveCount(7);
});

test('a backdrop behind the wearer and its colour; layers by hand: hidden, moved, taken out', async ({ page }) => {
  await signIn(page);
  const id = await newPiece(page, 'Backdrop');
  await page.getByRole('link', { name: /^Fit/ }).click();
  await page.getByRole('button', { name: 'Hang a part' }).click();
  await page.getByRole('menuitem', { name: 'Backdrop, behind the wearer' }).click();
  await page.getByLabel('Colour of the screen').fill('#7a1020');
  let piece = await documentOf(page, id);
  expect(piece.orders.layers.map((l) => piece.layers[l].kind)).toEqual(['camera', 'screen', 'matte', 'parts']);
  expect(byName(piece, 'Backdrop')).toMatchObject({ kind: 'screen', colour: '#7a1020' });
  await page.getByRole('radio', { name: 'stacking' }).click();
  await page.getByRole('button', { name: 'Hide layer Wearer again' }).click();
  await page.getByRole('button', { name: 'Draw later: Backdrop' }).click();
  piece = await documentOf(page, id);
  expect(piece.orders.layers.map((l) => piece.layers[l].kind)).toEqual(['camera', 'matte', 'screen', 'parts']);
  expect(Object.values(piece.layers).find((l) => l.kind === 'matte')?.visible).toBe(false);
  await page.getByRole('button', { name: 'Delete layer Wearer again' }).click();
  // a layer that a part stands in and that no other can take over stays
  await expect(page.getByRole('button', { name: 'Delete layer Backdrop' })).toHaveAttribute('aria-disabled', 'true');
  piece = await documentOf(page, id);
  expect(piece.orders.layers).toHaveLength(3);
});
