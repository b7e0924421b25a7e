/** How a part sits: told beside it, on every form and in every pose in its sheet. */
import { readFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { type Download, expect } from '@playwright/test';
import { PDFDocument } from 'pdf-lib';
import { PNG } from 'pngjs';
import { makeForm } from '../../src/core/form';
import { formBase } from '../../src/core/form/samples';
import { add, changePart, createSolid, onAnchor } from '../../src/core/piece';
import { clean } from '../support/axe';
import { longTest, makePiece, saved, saveEdits, signIn, site } from '../support/page';

const RADIUS_M = 0.01;
const text = async (d: Download) => readFile(await d.path(), 'utf8');

/** A ball so far before the tip of the nose of form M. */
function ball(gapM: number) {
  const [x, y, z] = makeForm(formBase(), 'M').landmarks.pronasale.position;
  const mm = RADIUS_M * 2000;
  return {
    ...createSolid('ball', 'Ball', { form: 'sphere', sizeMm: [mm, mm, mm], roundMm: 0, wallMm: 1, open: [] }, onAnchor('head')),
    offset: {
      positionM: [x, y, z + RADIUS_M + gapM] as [number, number, number],
      turnRad: [0, 0, 0] as [number, number, number],
      size: [1, 1, 1] as [number, number, number],
    },
  };
}

longTest('a ball before the nose: free on a small head, in a large one’s skin; where and how deep is told, and seen', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Ball');
  await saveEdits(page, piece, [add('parts', ball(0.0015))]);
  await page.goto(`${site()}/piece/${piece}/fit?parts=ball`);
  const card = page.getByRole('region', { name: 'Clearance' });
  const deepest = card.locator('[data-clearance]');
  // a millimetre and a half off, but for what its flat faces leave
  await expect(card).toContainText(/Free by 1\.[4-7] mm\. Where it touches, 1\.\d mm off\./);
  await saveEdits(page, piece, [changePart('ball', { offset: ball(-0.004).offset })]);
  await page.reload();
  await expect(card).toContainText(/Cuts in [34]\.\d mm, the tip of the nose/);
  expect(Number(await deepest.getAttribute('data-clearance'))).toBeGreaterThan(3.5);
  await page.getByRole('textbox', { name: 'Place fore' }).fill('400');
  await page.getByRole('textbox', { name: 'Place fore' }).press('Enter');
  await expect(card).toContainText('Nowhere near the wearer.');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(card).toContainText('Cuts in');
  await saved(page);
  await saveEdits(page, piece, [changePart('ball', { offset: ball(0.0005).offset })]);
  await page.reload();
  // let back on the nose from far before it, as near as is asked; one undo
  await page.getByRole('textbox', { name: 'Place fore' }).fill('300');
  await page.getByRole('textbox', { name: 'Place fore' }).press('Enter');
  await card.getByRole('combobox', { name: 'Which way it is let down' }).selectOption('to the left');
  await card.getByRole('button', { name: 'Seat' }).click();
  await expect(page.getByText('meets nobody')).toBeVisible();
  await card.getByRole('combobox', { name: 'Which way it is let down' }).selectOption('backwards');
  await card.getByRole('textbox', { name: 'Gap to the skin' }).fill('0.5');
  await card.getByRole('textbox', { name: 'Gap to the skin' }).press('Enter');
  await card.getByRole('button', { name: 'Seat' }).click();
  await expect(card).toContainText(/Free by 0\.[45] mm/);
  await card.getByRole('button', { name: 'On every form, in every pose' }).click();
  const sheet = page.getByRole('dialog', { name: /clearance/ });
  const rows = sheet.getByRole('table', { name: 'Over the cast' }).getByRole('row');
  await expect(rows).toHaveCount(8);
  const cell = (size: string) => sheet.getByRole('button', { name: new RegExp(`^Form ${size}, front`) });
  const mm = async (size: string) => Number(await cell(size).textContent());
  expect(await mm('S')).toBeLessThan(-1);
  expect(await mm('M')).toBeCloseTo(-0.5, 0);
  expect(await mm('L')).toBeGreaterThan(1);
  // what is on the head stays there however that turns
  expect(Number(await sheet.getByRole('button', { name: /^Form L, yaw \+60°/ }).textContent())).toBeCloseTo(await mm('L'), 1);
  await expect(sheet.getByRole('status').last()).toContainText('Form L');
  await expect(sheet.locator('[data-view="surface"]')).toHaveAttribute('data-ready', 'yes');
  await cell('S').click();
  await expect(sheet.getByRole('status').last()).toContainText(/Form S, front: free by/);
  await clean(page, 'clearance over the cast', 'dialog');
  const csv = page.waitForEvent('download');
  await sheet.getByRole('button', { name: 'Save as CSV' }).click();
  const lines = (await text(await csv)).trim().split('\r\n');
  expect(lines).toHaveLength(1 + 7 * 3);
  expect(lines.find((l) => l.startsWith('"front",L,'))?.split(',')[2]).toMatch(/^[1-9]\d*\.\d{4}$/);
  // between the two who are told apart it is found from whom on
  await expect(sheet.locator('[data-says]')).toHaveText(
    /^From the \d+(st|nd|rd|th) percentile of .* on \(.* mm\) something is wrong, as heads grow from form M to form L\.$/,
  );
  const pdf = page.waitForEvent('download');
  await sheet.getByRole('button', { name: 'PDF with pictures' }).click();
  const pages = (await PDFDocument.load(readFileSync(await (await pdf).path()))).getPages();
  expect(pages.map((p) => Math.round((p.getHeight() * 25.4) / 72))).toEqual([297]);
  const png = page.waitForEvent('download');
  await sheet.getByRole('button', { name: 'PNG with pictures' }).click();
  const picture = PNG.sync.read(readFileSync(await (await png).path()));
  expect([picture.width, picture.height]).toEqual([1654, 2339]);
  // each face in each pose
  await sheet.getByRole('radio', { name: 'faces in poses' }).click();
  await expect(sheet.getByRole('table', { name: 'Over the cast' }).getByRole('row')).toHaveCount(1 + 7 * 7);
  await expect(sheet.getByRole('button', { name: /^Form L, yaw \+60°, smile/ })).toBeVisible();
  await page.keyboard.press('Escape');
  // behind the head: the block hides it as a wearer would; without the block all of it leaks, in front of nothing
  await saved(page);
  await saveEdits(page, piece, [changePart('ball', { offset: { ...ball(0).offset, positionM: [0, 0, -0.2] } })]);
  await page.reload();
  const leak = card.locator('[data-leak]');
  await expect(leak).toHaveAttribute('data-leak', '0.0000');
  await page.getByRole('button', { name: 'Hide Head block' }).click();
  await expect(leak).toHaveAttribute('data-leak', '1.0000');
  await expect(card).toContainText('100 % of what is seen of it a wearer would hide.');
  // told beside the poses too, where it is so
  const strip = page.getByRole('region', { name: 'Pose strip' });
  await expect(strip.getByRole('listitem').filter({ hasText: 'front' })).toContainText('100 %');
  await card.getByRole('button', { name: 'On every form, in every pose' }).click();
  await sheet.getByText('Leaks', { exact: true }).click();
  await expect(cell('M')).toHaveAccessibleName('Form M, front: 100.0 %');
  // turned far enough it is seen beside the head by right
  await expect(sheet.getByRole('button', { name: /^Form M, yaw \+60°/ })).not.toHaveText('100.0');
});

longTest(
  'the occluder is fitted: taken back where nothing leaks, grown where something does, and what it costs is told',
  async ({ page }) => {
    await signIn(page);
    const piece = await makePiece(page, 'Occluder');
    // behind the head, so that its edge looks out beside a block that is too small
    const behind = { ...ball(0), offset: { ...ball(0).offset, positionM: [0, 0.03, -0.14] as [number, number, number] } };
    await saveEdits(page, piece, [changePart('head-block', { growMm: -30 }), add('parts', behind)]);
    await page.goto(`${site()}/piece/${piece}/fit?parts=head-block`);
    const told = page.locator('[data-growth]');
    await page.getByRole('button', { name: 'Fit the occluder' }).click();
    await expect(told).toContainText(/Grown by 0\.0 mm: at worst 0\.\d % of what is seen leaks/);
    await expect(page.getByRole('textbox', { name: 'Grow', exact: true })).toHaveValue('0.0');
    await saved(page);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByRole('textbox', { name: 'Grow', exact: true })).toHaveValue('−30.0');
    // the face alone hides nothing behind the head: no growth helps, and that is said
    await page.getByRole('combobox', { name: 'Hides with' }).selectOption('face');
    await page.getByRole('button', { name: 'Fit the occluder' }).click();
    await expect(told).toContainText('No growth stops all leaks');
  },
);

longTest('a number at five values side by side; the value at which it is as free as wished, taken as one undo', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Ball at five places');
  const start = ball(0.0005);
  await saveEdits(page, piece, [add('parts', start)]);
  await page.goto(`${site()}/piece/${piece}/fit?parts=ball`);
  await page.getByRole('region', { name: 'Clearance' }).getByRole('button', { name: 'At five values …' }).click();
  const sheet = page.getByRole('dialog', { name: 'Ball: five values' });
  await sheet.getByRole('combobox', { name: 'Which number' }).selectOption('fore');
  const five = sheet.getByRole('list', { name: 'Five values' });
  await expect(five).toHaveAttribute('data-ready', 'yes');
  const told = await five.getByRole('listitem').allInnerTexts();
  // two millimetres apart: the first two lie in the nose, the last is freest
  expect(told.map((t) => /cuts in/.test(t))).toEqual([true, true, false, false, false]);
  const free = told.slice(2).map((t) => Number(/free by ([\d.]+) mm/.exec(t.replaceAll('\n', ' '))?.[1]));
  expect(free[2] - free[1]).toBeCloseTo(2, 0);
  await expect(five.getByRole('img')).toHaveCount(5);
  await clean(page, 'five values', 'dialog');
  // a gap is what is left once it was let down
  await sheet.getByRole('combobox', { name: 'Which number' }).selectOption('gap back');
  for (const [i, mm] of [
    [2, '0.5'],
    [3, '1.5'],
    [4, '2.5'],
  ] as const)
    await expect(five.getByRole('listitem').nth(i)).toContainText(new RegExp(`free by\\s*${mm.replace('.', '\\.')}\\s*mm`));
  await expect(five.getByRole('listitem').nth(0)).toContainText(/cuts in\s*1\.\d\s*mm/);
  await sheet.getByRole('combobox', { name: 'Which number' }).selectOption('fore');
  const wish = sheet.getByRole('textbox', { name: 'Wished clearance' });
  await wish.fill('3');
  await wish.press('Enter');
  await sheet.getByRole('button', { name: 'Find the value' }).click();
  await expect(five.getByRole('listitem').nth(2)).toContainText(/free by\s*3\.0\s*mm/);
  await five.getByRole('listitem').nth(2).getByRole('button').click();
  await expect(page.getByRole('region', { name: 'Clearance' })).toContainText('Free by 3.0 mm');
  await saved(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  const { document } = await (await page.request.get(`${site()}/api/pieces/${piece}`)).json();
  expect(document.parts.ball.offset.positionM).toEqual(start.offset.positionM);
});
