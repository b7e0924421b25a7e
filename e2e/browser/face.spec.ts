/** What the wearer's face does, and what hangs on it: sliders, the strip of faces, drift, and a pair by one key. */
import { expect } from '@playwright/test';
import { makeForm } from '../../src/core/form';
import { formBase } from '../../src/core/form/samples';
import { add, createSolid, type Piece } from '../../src/core/piece';
import { clean } from '../support/axe';
import { drawn, longTest, makePiece, saved, saveEdits, signIn, site, test } from '../support/page';

const BEAD = { form: 'sphere' as const, sizeMm: [4, 4, 4] as [number, number, number], roundMm: 0, wallMm: 1, open: [] };
/** A bead upon a landmark of form M, hung on the head. */
function bead(at: 'labialeInferius' | 'cheilionL') {
  const { landmarks } = makeForm(formBase(), 'M');
  const [x, y, z] = landmarks[at].position;
  return {
    ...createSolid('bead', 'Bead', BEAD),
    offset: {
      positionM: [x, y, z + 0.003] as [number, number, number],
      turnRad: [0, 0, 0] as [number, number, number],
      size: [1, 1, 1] as [number, number, number],
    },
  };
}

test('a bead on the head drifts from a lip that speaks; hung on the skin it does not; one undo', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Bead');
  await saveEdits(page, piece, [add('parts', bead('labialeInferius'))]);
  await page.goto(`${site()}/piece/${piece}/fit?parts=bead`);
  const card = page.getByRole('region', { name: 'Clearance' });
  await expect(card).toContainText(/Free by|Cuts in/);
  await page.getByRole('combobox', { name: 'Take', exact: true }).selectOption('speak');
  await page.getByRole('button', { name: 'Drift in “Speak”' }).click();
  const drift = card.locator('[data-drift]');
  await expect(drift).toContainText(/hung on the skin, 0\.\d mm/);
  expect(Number(await drift.getAttribute('data-drift'))).toBeGreaterThan(5);
  await page.getByRole('button', { name: 'Hang it on the skin there' }).click();
  await expect(page.getByRole('tree', { name: /^Skin by the lower lip/ }).getByRole('treeitem')).toHaveCount(1);
  await page.getByRole('button', { name: 'Drift in “Speak”' }).click();
  await expect.poll(async () => Number(await drift.getAttribute('data-drift'))).toBeLessThan(0.5);
  await saved(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('tree', { name: 'Head' }).getByRole('treeitem')).toHaveCount(2);
});

longTest('the face’s sliders move skin and what hangs on it; takes move them; a pair by one key', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Corner');
  await saveEdits(page, piece, [add('parts', bead('cheilionL'))]);
  await page.goto(`${site()}/piece/${piece}/fit?parts=bead`);
  await drawn(page, 'mirror');
  const hangs = page.getByRole('combobox', { name: 'Hangs on' });
  await hangs.selectOption({ label: 'the left corner of the mouth' });
  await expect(page.getByText(/On the wearer’s left, 0\.0 mm from the left corner of the mouth/)).toBeVisible();
  // what hangs on a face has a strip of faces
  await expect(page.getByRole('button', { name: 'Pose lips puckered' })).toBeVisible();
  await page.getByRole('radio', { name: 'poses' }).check();
  await expect(page.getByRole('button', { name: 'Pose yaw +60°' })).toBeVisible();
  await page.getByRole('button', { name: 'Face', exact: true }).click();
  const card = page.getByRole('region', { name: 'Clearance' });
  const smile = page.getByRole('slider', { name: 'Lip corner up' });
  await smile.fill('1');
  await expect(smile).toHaveAttribute('aria-valuetext', '100 %');
  await page.getByText('Left and right apart').click();
  await expect(page.getByRole('slider', { name: 'Right lip corner up' })).toHaveValue('1');
  await page.getByRole('slider', { name: 'Left lip corner up' }).fill('0.5');
  await expect(page.getByRole('slider', { name: 'Right lip corner up' })).toHaveValue('1');
  await page.getByRole('button', { name: 'Nose wrinkled' }).click();
  await expect(page.getByRole('slider', { name: 'Right lip corner up' })).toHaveValue('0');
  await expect(page.getByRole('slider', { name: 'Left nose wing up' })).toHaveValue('1');
  await page.getByRole('button', { name: 'At rest' }).click();
  await expect(page.getByRole('slider', { name: 'Left nose wing up' })).toHaveValue('0');
  await expect(card).toContainText(/Free by|Cuts in/);
  await clean(page, 'the face and what hangs on it');
  await page.getByRole('button', { name: 'Close the face' }).click();
  await expect(page.getByRole('tree', { name: 'Skin: the left corner of the mouth' })).toBeVisible();
  await page.keyboard.press('Shift+M');
  await expect(page.getByRole('tree', { name: 'Skin: the right corner of the mouth' }).getByRole('treeitem')).toContainText(
    'Bead, other side',
  );
  await saved(page);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${piece}`)).json()) as { document: Piece };
  const [left, right] = document.orders.parts.map((p) => document.parts[p]).filter((p) => p.kind === 'solid');
  expect(right.offset.positionM[0]).toBeCloseTo(-left.offset.positionM[0], 9);
});
