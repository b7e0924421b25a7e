/** What is not known is not told as known: each thing that fails says what is so, what is kept and what to press. */
import { expect, type Page } from '@playwright/test';
import { copyDemo, newYard, signIn, site, test } from '../support/page';

const HELMET = 'Brass diver’s helmet';
const fails = (page: Page, path: string) => page.route(path, (r) => r.fulfill({ status: 500, body: '{}' }));

test('a weight and a model that do not come are told, and had by pressing', async ({ page }) => {
  const id = await copyDemo(page, HELMET);
  await fails(page, '**/weight');
  await fails(page, '**/drawn');
  await page.goto(`${site()}/piece/${id}/fit`);
  const files = page.locator('[data-files]');
  await expect(files).toContainText('divers-helmet.glb is not shown: the server answered with 500.');
  await expect(page.getByTitle('The server answered with 500.')).toContainText('could not be weighed');
  await expect(page.getByRole('link', { name: /^Deliver/ })).not.toContainText('ready');
  await page.getByRole('link', { name: /^Deliver/ }).click();
  const weight = page.locator('[data-point="weight"]');
  await expect(weight).toContainText('It could not be weighed');
  await expect(page.getByText('4 done, 1 to do')).toBeVisible();
  await expect(page.getByRole('img', { name: 'Waterline: the weight is not known' })).toHaveCount(4);
  await page.unrouteAll();
  await weight.getByRole('button', { name: 'Try again' }).click();
  await expect(weight).toHaveAttribute('data-flag', 'done');
  await expect(page.getByRole('link', { name: /^Deliver/ })).toContainText('ready');
  await files.getByRole('button', { name: 'Try again' }).click();
  await expect(files).toHaveCount(0);
});

test('what is still being weighed is neither done nor ready', async ({ page }) => {
  const id = await copyDemo(page, HELMET);
  let go = () => {};
  const held = new Promise<void>((r) => {
    go = r;
  });
  await page.route('**/weight', async (r) => {
    await held;
    await r.continue();
  });
  await page.goto(`${site()}/piece/${id}/deliver`);
  await expect(page.locator('[data-point="weight"]')).toHaveAttribute('data-flag', 'waits');
  await expect(page.getByText('4 done, 0 to do, 1 not known yet')).toBeVisible();
  await expect(page.getByRole('link', { name: /^Deliver/ })).toContainText('weighing');
  go();
  await expect(page.locator('[data-point="weight"]')).toHaveAttribute('data-flag', 'done');
});

test('a package that cannot be had is told where it was asked for', async ({ page }) => {
  const id = await copyDemo(page, HELMET);
  await page.goto(`${site()}/piece/${id}/deliver`);
  await fails(page, '**/packages/bundle');
  await page.getByRole('button', { name: 'Deliver the bundle' }).click();
  await expect(page.getByRole('region', { name: 'Packages' }).getByRole('alert')).toContainText(
    'The bundle was not delivered. The server answered with 500.',
  );
  await page.unrouteAll();
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Deliver the bundle' }).click()]);
  expect(file.suggestedFilename()).toMatch(/\.zip$/);
});

test('without the server one stays where one is, or is told in words', async ({ page, context }) => {
  const id = await copyDemo(page, HELMET);
  await page.goto(`${site()}/piece/${id}/deliver`);
  await expect(page.locator('[data-point="weight"]')).toHaveAttribute('data-flag', 'done');
  await page.evaluate(() => navigator.serviceWorker.ready);
  await context.setOffline(true);
  await page.getByRole('link', { name: /^Prepare/ }).click();
  await expect(page.getByText('The server does not answer: you stay on this page')).toBeVisible();
  expect(page.url()).toMatch(/deliver$/);
  await page.getByTitle('Rename the piece').click();
  await page.getByRole('textbox', { name: 'Name of the piece' }).press('Escape');
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Scaphos cannot be reached' })).toBeVisible();
  await context.setOffline(false);
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('heading', { name: 'Before it is delivered' })).toBeVisible();
});

test('what cannot be fetched is told, the page lives on, and pressing again asks again', async ({ browser }) => {
  // the worker that answers for pages fetches past what is routed here
  const context = await browser.newContext({ serviceWorkers: 'block' });
  const page = await context.newPage();
  const id = await copyDemo(page, HELMET);
  await page.goto(`${site()}/piece/${id}/deliver`);
  await expect(page.locator('[data-point="weight"]')).toHaveAttribute('data-flag', 'done');
  await page.route('**/_next/static/**', (route) => route.abort());
  await page.getByRole('button', { name: 'Versions', exact: true }).click();
  await expect(page.getByText('What this needs could not be fetched')).toBeVisible();
  await page.unrouteAll();
  await page.getByRole('button', { name: 'Versions', exact: true }).click();
  await expect(page.getByRole('dialog', { name: 'Versions' })).toBeVisible();
  await context.close();
});

test('a new piece that the server does not take keeps its name until it does', async ({ page }) => {
  await newYard(page, 'Told');
  await fails(page, '**/api/yards/*/pieces');
  await page.getByRole('button', { name: 'New piece', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Lay down a new piece' });
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Kelp crown');
  await page.keyboard.press('Enter');
  await expect(dialog.getByRole('alert')).toContainText('The server answered with 500.');
  await page.unrouteAll();
  await page.keyboard.press('Enter');
  await expect(page.getByTitle('Rename the piece')).toContainText('Kelp crown');
});

test('after signing in one is where one was; nowhere else', async ({ browser }) => {
  const context = await browser.newContext();
  const page = await context.newPage();
  const id = await copyDemo(page, HELMET);
  await context.clearCookies();
  await page.goto(`${site()}/piece/${id}/deliver`);
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await expect(page.getByRole('heading', { name: 'Before it is delivered' })).toBeVisible();
  expect(page.url()).toBe(`${site()}/piece/${id}/deliver`);
  await context.clearCookies();
  await page.goto(`${site()}/sign-in?back=${encodeURIComponent('//elsewhere.example/yard')}`);
  await signIn(page);
  await page.reload();
  await expect(page).toHaveURL(/\/yard\//);
  await context.close();
});
