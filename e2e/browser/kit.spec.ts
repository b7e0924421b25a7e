/** Menus, dialogs and choices by the keyboard alone: it walks through them, and is afterwards where it was before. */
import { expect, type Page } from '@playwright/test';
import { copyDemo, site, test } from '../support/page';

const HELMET = 'Brass diver’s helmet';
const focused = (page: Page) => page.locator(':focus');

test('a menu is opened, walked, typed into and left', async ({ page }) => {
  await page.goto(`${site()}/piece/${await copyDemo(page, HELMET)}/fit`);
  const hang = page.getByRole('button', { name: 'Hang a part' });
  const menu = page.getByRole('menu', { name: 'Hang a part' });
  await hang.focus();
  await page.keyboard.press('ArrowDown');
  await expect(focused(page)).toHaveText('divers-helmet.glb');
  await page.keyboard.press('End');
  await expect(focused(page)).toHaveText('Occluder, of the form');
  await page.keyboard.press('ArrowDown');
  await expect(focused(page)).toHaveText('divers-helmet.glb');
  await page.keyboard.type('cap');
  await expect(focused(page)).toHaveText('Capsule');
  await page.keyboard.press('Escape');
  await expect(menu).toHaveCount(0);
  await expect(hang).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(focused(page)).toHaveText('Occluder, of the form');
  await page.keyboard.press('Escape');
  // what is pressed is done once, and the keyboard is not lost
  await hang.press('Enter');
  await page.keyboard.type('cone');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('treeitem', { name: /^Cone/ })).toHaveCount(1);
  await expect(menu).toHaveCount(0);
  await expect(hang).toBeFocused();
});

test('one of several holds: it is told, and arrows change it', async ({ page }) => {
  await page.goto(`${site()}/piece/${await copyDemo(page, HELMET)}/fit`);
  const form = page.getByRole('button', { name: 'Form', exact: true });
  await form.click();
  await expect(page.getByRole('menuitemradio', { name: 'Form M' })).toHaveAttribute('aria-checked', 'true');
  await page.getByRole('menuitemradio', { name: 'Form L' }).click();
  await expect(form).toContainText('Form L');
  const turn = page.getByRole('radio', { name: 'turn' });
  await page.getByRole('radio', { name: 'place' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(turn).toBeChecked();
  await expect(turn).toBeFocused();
  // one stop for all three
  await page.keyboard.press('Tab');
  await expect(page.getByRole('radio', { name: 'size' })).not.toBeFocused();
});

test('a dialog takes the keyboard, keeps it, and gives it back', async ({ page }) => {
  await page.goto(`${site()}/piece/${await copyDemo(page, HELMET)}/deliver`);
  const name = page.getByTitle('Rename the piece');
  await name.focus();
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Rename the piece' });
  await expect(dialog.getByRole('textbox')).toBeFocused();
  for (let i = 0; i < 4; i++) {
    await page.keyboard.press('Tab');
    await expect(dialog.locator(':focus')).toHaveCount(1);
  }
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await expect(name).toBeFocused();
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('dialog', { name: 'Find anything' })).toBeVisible();
  await page.keyboard.type('prep');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/prepare$/);
});
