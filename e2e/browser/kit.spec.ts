/** Menus, dialogs and choices by the keyboard alone: it walks through them, and is afterwards where it was before. */
import { expect, type Page } from '@playwright/test';
import { copyDemo, saved, site, test } from '../support/page';

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
  await expect(focused(page)).toHaveText('Eyeballs');
  await page.keyboard.press('ArrowDown');
  await expect(focused(page)).toHaveText('divers-helmet.glb');
  await page.keyboard.type('cap');
  await expect(focused(page)).toHaveText('Capsule');
  await page.keyboard.press('Escape');
  await expect(menu).toHaveCount(0);
  await expect(hang).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(focused(page)).toHaveText('Eyeballs');
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
  await page.getByRole('radio', { name: 'place', exact: true }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(turn).toBeChecked();
  await expect(turn).toBeFocused();
  // one stop for all three
  await page.keyboard.press('Tab');
  await expect(page.getByRole('radio', { name: 'size' })).not.toBeFocused();
});

test('a dialog takes the keyboard, keeps it, and gives it back', async ({ page }) => {
  await page.goto(`${site()}/piece/${await copyDemo(page, HELMET)}/deliver`);
  const versions = page.getByRole('button', { name: 'Versions', exact: true });
  await versions.focus();
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Versions' });
  await expect(dialog).toBeVisible();
  for (let i = 0; i < 4; i++) {
    await page.keyboard.press('Tab');
    await expect(dialog.locator(':focus')).toHaveCount(1);
  }
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await expect(versions).toBeFocused();
});

test('keys go by what is written on them: a German and a French keyboard undo by Ctrl Z and do again by Ctrl Y', async ({ page }) => {
  await page.goto(`${site()}/piece/${await copyDemo(page, HELMET)}/deliver`);
  const name = page.getByTitle('Rename the piece');
  await expect(name).toContainText(HELMET);
  await page.getByRole('radio', { name: 'Light' }).check();
  await saved(page);
  const press = (key: string, code: string) =>
    page.evaluate(
      ([k, c]) => document.body.dispatchEvent(new KeyboardEvent('keydown', { key: k, code: c, ctrlKey: true, bubbles: true })),
      [key, code],
    );
  await press('z', 'KeyY');
  await expect(page.getByRole('radio', { name: 'Pocket' })).toBeChecked();
  await press('y', 'KeyZ');
  await expect(page.getByRole('radio', { name: 'Light' })).toBeChecked();
  // a French one has its Z where W lies elsewhere
  await press('z', 'KeyW');
  await expect(page.getByRole('radio', { name: 'Pocket' })).toBeChecked();
  await press('y', 'KeyY');
  await expect(page.getByRole('radio', { name: 'Light' })).toBeChecked();
  await expect(page).toHaveTitle(/^Brass diver’s helmet .*, Deliver · Scaphos$/);
});

test('one is soon at the step: the first stop of the keyboard leads there, and a piece has one heading of its own', async ({ page }) => {
  await page.goto(`${site()}/piece/${await copyDemo(page, HELMET)}/deliver`);
  await expect(page.getByRole('heading', { level: 1 })).toHaveCount(1);
  await page.keyboard.press('Tab');
  await expect(focused(page)).toHaveText('To the step');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('radio', { name: 'Pocket' })).toBeFocused();
});

test('until one chooses, the page is as dark as the system', async ({ browser }) => {
  for (const [colorScheme, theme] of [
    ['dark', 'nightwatch'],
    ['light', 'chartroom'],
  ] as const) {
    const context = await browser.newContext({ colorScheme });
    const page = await context.newPage();
    await page.goto(`${site()}/sign-in`);
    await expect(page.locator('html')).toHaveAttribute('data-theme', theme);
    await context.close();
  }
});
