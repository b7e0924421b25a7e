/** Every screen, dialog and menu by axe: WCAG 2.2, A and AA, in both themes. */
import { expect, type Page } from '@playwright/test';
import { clean } from '../support/axe';
import { copyDemo, longTest, openDemo, saved, site } from '../support/page';

const close = async (page: Page) => {
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByRole('menu')).toHaveCount(0);
};

longTest('sign-in and the Yard, with its menus and dialogs', async ({ browser, page }) => {
  const context = await browser.newContext();
  const stranger = await context.newPage();
  await stranger.goto(`${site()}/sign-in`);
  await expect(stranger.getByRole('button', { name: 'Open the demo' })).toBeVisible();
  await clean(stranger, 'sign-in');
  await context.close();
  await openDemo(page);
  await expect(page.getByRole('article').first()).toBeVisible();
  await clean(page, 'the Yard');
  await page
    .getByRole('button', { name: /More for/ })
    .first()
    .click();
  await clean(page, 'the menu of a piece', 'menu');
  await close(page);
  await page.getByRole('button', { name: 'New piece', exact: true }).click();
  await clean(page, 'a new piece', 'dialog');
  await close(page);
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('dialog', { name: 'Find anything' })).toBeVisible();
  await clean(page, 'the finder', 'dialog');
  await close(page);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await clean(page, 'the keys', 'dialog');
});

longTest('Stock: a model, each other kind of file, menus and dialogs', async ({ page }) => {
  const id = await copyDemo(page, 'Brass diver’s helmet');
  await page.goto(`${site()}/piece/${id}/stock`);
  const files = page.getByRole('row').filter({ has: page.locator('[data-file]') });
  await expect(files.first()).toBeVisible();
  for (let i = 0; i < (await files.count()); i++) {
    await files.nth(i).locator('[data-file]').click();
    await expect(files.nth(i)).toHaveAttribute('aria-selected', 'true');
    await expect(page.getByRole('region', { name: 'Findings' }).or(page.getByText('Where it came from')).first()).toBeVisible();
    await clean(page, `Stock, ${await files.nth(i).locator('[data-file]').textContent()}`);
  }
  for (const menu of ['Make an environment', 'Download the form, to model or paint upon']) {
    await page.getByRole('button', { name: menu }).click();
    await clean(page, menu, 'menu');
    await close(page);
  }
  await files.first().click({ button: 'right' });
  await clean(page, 'the menu of a file', 'menu');
  await close(page);
  await files.first().locator('[data-file]').click();
  await page.getByRole('button', { name: 'Look into its pictures' }).first().click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await clean(page, 'the pictures of a model', 'dialog');
});

longTest('Prepare, Fit and Deliver, with menus and dialogs', async ({ page }) => {
  const id = await copyDemo(page, 'Brass diver’s helmet');
  await page.goto(`${site()}/piece/${id}/prepare`);
  await expect(page.getByRole('heading', { name: 'What each step saved' })).toBeVisible();
  await page.getByRole('button', { name: 'Add a step' }).click();
  await clean(page, 'steps to add', 'menu');
  await page.getByRole('menuitem', { name: 'Simplify' }).click();
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('menuitem', { name: 'Write pictures anew' }).click();
  for (const step of ['simplify', 'pictures']) {
    await page.locator(`[data-step="${step}"] button[aria-expanded="false"]`).click();
    await clean(page, `Prepare, ${step}`);
  }
  await page.getByRole('button', { name: 'Recipes' }).click();
  await clean(page, 'recipes', 'menu');
  await close(page);
  await page.goto(`${site()}/piece/${id}/fit?parts=head-block`);
  await expect(page.getByRole('treeitem').first()).toBeVisible();
  await clean(page, 'Fit, an occluder');
  await page.getByRole('treeitem', { name: /helmet/ }).click();
  await clean(page, 'Fit, a model');
  await page.getByRole('button', { name: 'Hang a part' }).click();
  await clean(page, 'what can be hung', 'menu');
  await page.getByRole('menuitem', { name: 'Backdrop, behind the wearer' }).click();
  await clean(page, 'Fit, a screen');
  await page.getByRole('radio', { name: 'stacking' }).check();
  await clean(page, 'Fit, layers');
  await saved(page);
  await page.getByRole('button', { name: 'Versions', exact: true }).click();
  await expect(page.getByRole('dialog', { name: 'Versions' })).toBeVisible();
  await clean(page, 'versions', 'dialog');
  await close(page);
  await page.goto(`${site()}/piece/${id}/deliver`);
  await expect(page.getByRole('heading', { name: 'Deliver', exact: true })).toBeVisible();
  await clean(page, 'Deliver');
  await page.goto(`${site()}/piece/${id}/rig`);
  await clean(page, 'Rig');
});
