/** The cast: a wearer of one's own by typed measures, sliders and shares of people; on them a part is measured too. */
import { expect } from '@playwright/test';
import { add, createSolid, onJoint, type Piece } from '../../src/core/piece';
import { clean } from '../support/axe';
import { drawn, longTest, makePiece, pixels, saved, saveEdits, signIn, site } from '../support/page';

const BALL = { form: 'sphere' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 1, open: [] };

longTest(
  'a wearer of one’s own: measures typed, slid and taken from a share of people; one who leaves leaves the size',
  async ({ page }) => {
    await signIn(page);
    const piece = await makePiece(page, 'Cast');
    // beside the head of form M, free of it
    const ball = {
      ...createSolid('ball', 'Ball', BALL),
      offset: {
        positionM: [0.0895, 0.05, -0.005] as [number, number, number],
        turnRad: [0, 0, 0] as [number, number, number],
        size: [1, 1, 1] as [number, number, number],
      },
    };
    await saveEdits(page, piece, [add('parts', ball)]);
    await page.goto(`${site()}/piece/${piece}/fit?parts=ball`);
    const card = page.getByRole('region', { name: 'Clearance' });
    await expect(card).toContainText('Free by');
    await page.getByRole('button', { name: 'Form', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Cast and measures …' }).click();
    const panel = page.getByRole('complementary', { name: 'Cast' });
    const breadth = panel.getByRole('textbox', { name: 'Head breadth, mm' });
    await expect(breadth).toHaveValue('151.0');
    await expect(breadth).toHaveAttribute('readonly', '');
    await panel.getByRole('button', { name: 'Wearer', exact: true }).click();
    await expect(panel.getByRole('button', { name: 'Wearer 1', exact: true })).toHaveAttribute('aria-pressed', 'true');
    await panel.getByRole('button', { name: 'Name the wearer Wearer 1 otherwise' }).click();
    await panel.getByRole('textbox', { name: 'Name of the wearer' }).fill('Broad Tamsin');
    await panel.getByRole('textbox', { name: 'Name of the wearer' }).press('Enter');
    await breadth.fill('17 cm');
    await breadth.press('Enter');
    await expect(card).toContainText(/Cuts in .*the left side of the head/);
    await expect(card).toContainText('Broad Tamsin');
    const face = panel.getByRole('slider', { name: 'Face length' });
    await drawn(page, 'mirror');
    const before = await pixels(page.locator('[data-view="mirror"]'));
    await face.fill('140');
    await face.blur();
    await drawn(page, 'mirror');
    const after = await pixels(page.locator('[data-view="mirror"]'));
    expect(Buffer.compare(Buffer.from(before.data), Buffer.from(after.data))).not.toBe(0);
    await saved(page);
    const rowOf = async () => {
      const { document } = (await (await page.request.get(`${site()}/api/pieces/${piece}`)).json()) as { document: Piece };
      return Object.values(document.forms)[0];
    };
    expect((await rowOf()).measures).toMatchObject({ headBreadth: 170, faceLength: 140 });
    await clean(page, 'the cast and its measures', undefined, 'aside[aria-label="Cast"]');
    // all of them at once, and a measure that is nobody's is refused in words
    await panel.getByRole('slider', { name: 'All measures at a share of people' }).fill('95');
    await panel.getByRole('slider', { name: 'All measures at a share of people' }).blur();
    await saved(page);
    await expect(breadth).toHaveValue(/^16[0-2]\.\d$/);
    await breadth.fill('3');
    await breadth.press('Enter');
    await expect(panel.getByText('From 115.0 to 195.0 mm.')).toBeVisible();
    await breadth.press('Escape');
    // finer ones follow until they are asked for, and follow again; what nobody has together is said
    const neck = panel.getByRole('textbox', { name: 'Neck girth, mm' });
    const followed = await neck.inputValue();
    await neck.fill('450');
    await neck.press('Enter');
    await saved(page);
    expect((await rowOf()).finer).toMatchObject({ neckGirth: 450, earLength: null });
    await panel.getByRole('button', { name: 'Neck girth as it follows from the others' }).click();
    await expect(neck).toHaveValue(followed);
    const pupils = panel.getByRole('textbox', { name: 'Pupils apart, mm' });
    await pupils.fill('85');
    await pupils.press('Enter');
    await panel.getByRole('textbox', { name: 'Cheekbones, mm' }).fill('120');
    await panel.getByRole('textbox', { name: 'Cheekbones, mm' }).press('Enter');
    await expect(panel.getByText('Pupils apart 85 mm and cheekbones 120 mm: eyes lie between the cheekbones.')).toBeVisible();
    await card.getByRole('button', { name: 'On every form, in every pose' }).click();
    const sheet = page.getByRole('dialog', { name: /clearance/ });
    await expect(sheet.getByRole('columnheader', { name: /Broad Tamsin/ })).toBeVisible();
    await expect(sheet.getByRole('button', { name: /^Broad Tamsin, front: cuts in/ })).toBeVisible();
    await page.keyboard.press('Escape');
    await panel.getByRole('button', { name: 'Take out of the cast' }).click();
    await expect(panel.getByRole('button', { name: 'Form M' })).toHaveAttribute('aria-pressed', 'true');
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(panel.getByRole('button', { name: 'Broad Tamsin', exact: true })).toHaveAttribute('aria-pressed', 'true');
    await expect(card).toContainText('Cuts in');
  },
);

longTest('a body of one’s own: measures typed and slid over its size’s; what hangs on it is measured against them', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Bodies');
  // beside the hips of form M, free of them
  const at = { positionM: [0.215, 0, 0] as [number, number, number], turnRad: [0, 0, 0] as [number, number, number] };
  const ball = { ...createSolid('ball', 'Ball', BALL, onJoint('hips')), offset: { ...at, size: [1, 1, 1] as [number, number, number] } };
  await saveEdits(page, piece, [add('parts', ball)]);
  await page.goto(`${site()}/piece/${piece}/fit?parts=ball`);
  const card = page.getByRole('region', { name: 'Clearance' });
  await expect(card).toContainText('Free by');
  await page.getByRole('button', { name: 'Form', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Cast and measures …' }).click();
  const panel = page.getByRole('complementary', { name: 'Cast' });
  await panel.getByRole('button', { name: 'Wearer', exact: true }).click();
  const hip = panel.getByRole('textbox', { name: 'Hip, mm' });
  await expect(hip).toHaveValue('938');
  await hip.fill('130 cm');
  await hip.press('Enter');
  await expect(card).toContainText('Cuts in');
  // back to its size's, and another size's
  await panel.getByRole('button', { name: 'Hip as size M has it' }).click();
  await expect(hip).toHaveValue('938');
  await expect(card).toContainText('Free by');
  const sizes = panel.getByRole('radiogroup', { name: 'Body of the wearer' });
  await sizes.getByRole('radio', { name: 'S' }).click();
  await expect(hip).toHaveValue('884');
  // all that a survey holds at once
  await drawn(page, 'mirror');
  const before = await pixels(page.locator('[data-view="mirror"]'));
  const all = panel.getByRole('slider', { name: 'All of the body at a share of people' });
  await all.fill('97');
  await expect(panel.getByRole('textbox', { name: 'Stature, mm' })).toHaveValue(/^18\d\d$/);
  await all.blur();
  await drawn(page, 'mirror');
  const after = await pixels(page.locator('[data-view="mirror"]'));
  expect(Buffer.compare(Buffer.from(before.data), Buffer.from(after.data))).not.toBe(0);
  await expect(card).toContainText('Cuts in');
  const leg = panel.getByRole('textbox', { name: 'Inside leg, mm' });
  await leg.fill('1100');
  await leg.press('Enter');
  await expect(panel.getByText(/^Inside leg 1100 mm leaves no trunk at a stature of 18\d\d mm: \d+(\.\d)? mm is taken\.$/)).toBeVisible();
  await saved(page);
  await clean(page, 'measures of a body', undefined, 'aside[aria-label="Cast"]');
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${piece}`)).json()) as { document: Piece };
  expect(Object.values(document.forms)[0]).toMatchObject({ size: 'S', body: { insideLeg: 1100, neck: null } });
  expect(document.settings.form).toBe('S');
});
