/** Each screen when its answers fail, are slow, or the network goes: it says so where the thing would stand, and has it once it is asked again. */
import { expect, type Locator, type Page } from '@playwright/test';
import { copyDemo, site, test } from '../support/page';
import { inTurn } from '../support/sweep';

const HELMET = 'Brass diver’s helmet';

interface Screen {
  name: string;
  path: (piece: string) => string;
  /** What leads to it there. */
  open?: (page: Page) => Promise<void>;
  /** What its main thing is fetched by. */
  fetched: string;
  /** Said instead while it is on its way, and when it failed. */
  waits: (page: Page) => Locator;
  failed: (page: Page) => Locator;
  /** There, once it came. */
  there: (page: Page) => Locator;
}

const SCREENS: readonly Screen[] = [
  {
    name: 'the Yard',
    path: () => '/',
    fetched: '**/weights',
    waits: (page) => page.getByText('being weighed …').first(),
    failed: (page) => page.getByText('not weighed').first(),
    there: (page) => page.getByText(/of 5\.0 MB/).first(),
  },
  {
    name: 'Stock',
    path: (piece) => `/piece/${piece}/stock`,
    open: (page) => page.getByRole('button', { name: 'divers-helmet.glb', exact: true }).click(),
    fetched: '**/drawn',
    waits: (page) => page.getByText('The model is being fetched …'),
    failed: (page) => page.getByText('The model could not be fetched: the server answered with 500.'),
    there: (page) => page.locator('[data-view="turntable"][data-ready]:not([data-ready=""])'),
  },
  {
    name: 'Prepare',
    path: (piece) => `/piece/${piece}/prepare`,
    fetched: '**/drawn',
    waits: (page) => page.getByText('The model is being fetched …'),
    failed: (page) => page.getByText('The model could not be fetched: the server answered with 500.'),
    there: (page) => page.locator('canvas[aria-label="Before"][data-ready]:not([data-ready=""])'),
  },
  {
    name: 'Fit',
    path: (piece) => `/piece/${piece}/fit`,
    fetched: '**/drawn',
    waits: (page) => page.locator('[data-files="waits"]'),
    failed: (page) => page.locator('[data-files="failed"]'),
    there: (page) => page.locator('[data-view="mirror"][data-drawn]'),
  },
  {
    name: 'Deliver',
    path: (piece) => `/piece/${piece}/deliver`,
    fetched: '**/weight',
    waits: (page) => page.locator('[data-point="weight"][data-flag="waits"]'),
    failed: (page) => page.locator('[data-point="weight"]').getByText('It could not be weighed'),
    there: (page) => page.locator('[data-point="weight"][data-flag="done"]'),
  },
];

for (const screen of SCREENS.filter((s) => inTurn(s.name)))
  test(`${screen.name}: slow, failed, off line`, async ({ page, context }) => {
    const id = await copyDemo(page, HELMET);
    const errors: string[] = [];
    page.on('pageerror', (e) => errors.push(e.message));
    let go = () => {};
    const held = new Promise<void>((r) => {
      go = r;
    });
    await page.route(screen.fetched, async (route) => {
      await held;
      await route.fulfill({ status: 500, body: '{}' });
    });
    await page.goto(`${site()}${screen.path(id)}`);
    await screen.open?.(page);
    await expect(screen.waits(page)).toBeVisible();
    go();
    await expect(screen.failed(page)).toBeVisible();
    await page.unrouteAll();
    const again = page.getByRole('button', { name: 'Try again' });
    if (await again.count()) await again.first().click();
    else await page.reload();
    await expect(screen.there(page)).toBeVisible();
    await expect(screen.failed(page)).toHaveCount(0);
    // nothing is lost and nowhere is gone to when the network goes
    const address = page.url();
    await context.setOffline(true);
    await page
      .getByRole('link', { name: screen.name === 'the Yard' ? HELMET : 'Yard', exact: screen.name !== 'the Yard' })
      .first()
      .click();
    await expect(page.getByText('The server does not answer: you stay on this page')).toBeVisible();
    expect(page.url()).toBe(address);
    await context.setOffline(false);
    expect(errors).toEqual([]);
  });
