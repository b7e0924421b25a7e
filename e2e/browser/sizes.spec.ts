/** Windows of any size: nothing that one presses is cut off where no scrolling reaches it, and no two lie over one another. */
import { expect, type Page } from '@playwright/test';
import { add, createSolid, type Piece } from '../../src/core/piece';
import { copyDemo, longTest, makePiece, openDemo, saved, saveEdits, signIn, site } from '../support/page';
import { inTurn } from '../support/sweep';

const SIZES = [
  [1280, 800],
  [1024, 640],
  [640, 400],
] as const;

/** What is wrong with the boxes of all that can be pressed or typed into. */
const faults = (page: Page) =>
  page.evaluate(() => {
    const out: string[] = [];
    const name = (e: Element) =>
      `${e.tagName.toLowerCase()} “${(e.getAttribute('aria-label') ?? e.textContent ?? '').replace(/\s+/g, ' ').trim().slice(0, 40)}”`;
    const shown = [...document.querySelectorAll<HTMLElement>('button, a[href], input:not([type="file"]), select, textarea')].filter((e) => {
      const s = getComputedStyle(e);
      return e.getClientRects().length > 0 && s.visibility !== 'hidden' && !e.classList.contains('skip') && s.opacity !== '0';
    });
    // an ancestor that hides what runs out of it, in a direction in which it does not scroll
    for (const e of shown) {
      const box = e.getBoundingClientRect();
      if (box.width < 2 || box.height < 2) continue;
      let reach = box;
      for (let up = e.parentElement; up; up = up.parentElement) {
        const style = getComputedStyle(up);
        if (style.position === 'fixed') break;
        const clip = up === document.documentElement ? new DOMRect(0, 0, innerWidth, innerHeight) : up.getBoundingClientRect();
        const [x, y] = up === document.documentElement || up === document.body ? ['hidden', 'hidden'] : [style.overflowX, style.overflowY];
        const scrolls = (o: string) => o === 'auto' || o === 'scroll';
        const cutX =
          x !== 'visible' &&
          style.textOverflow !== 'ellipsis' &&
          !scrolls(x) &&
          (reach.right < clip.left + 2 || reach.left > clip.right - 2 || reach.right > clip.right + reach.width * 0.4);
        const cutY =
          y !== 'visible' &&
          !scrolls(y) &&
          (reach.bottom < clip.top + 2 || reach.top > clip.bottom - 2 || reach.bottom > clip.bottom + reach.height * 0.4);
        if (cutX || cutY) {
          out.push(`${name(e)} is cut off`);
          break;
        }
        // what scrolls brings it into its own box; a long name ends in dots
        if (scrolls(x) || scrolls(y) || style.textOverflow === 'ellipsis') reach = clip;
      }
    }
    // texts of the bars and buttons that lie over one another
    const boxes = shown
      .filter((e) => !e.querySelector('button, a, input, select') && e.closest('label') === null)
      .map((e) => ({ e, b: e.getBoundingClientRect() }))
      .filter(({ b }) => b.width > 2 && b.height > 2 && b.right > 0 && b.left < innerWidth && b.bottom > 0 && b.top < innerHeight);
    for (let i = 0; i < boxes.length; i++)
      for (let k = i + 1; k < boxes.length; k++) {
        const [a, b] = [boxes[i], boxes[k]];
        if (a.e.contains(b.e) || b.e.contains(a.e)) continue;
        // of two that meet on the page only those that are both on top there
        const x = Math.min(a.b.right, b.b.right) - Math.max(a.b.left, b.b.left);
        const y = Math.min(a.b.bottom, b.b.bottom) - Math.max(a.b.top, b.b.top);
        if (x < 3 || y < 3) continue;
        const top = (e: Element, r: DOMRect) => {
          const hit = document.elementFromPoint(r.left + r.width / 2, r.top + r.height / 2);
          return hit !== null && (e.contains(hit) || hit.contains(e));
        };
        if (top(a.e, a.b) && top(b.e, b.b)) out.push(`${name(a.e)} lies over ${name(b.e)}`);
      }
    if (document.documentElement.scrollWidth > innerWidth + 1) out.push(`the page is ${document.documentElement.scrollWidth} px wide`);
    return [...new Set(out)];
  });

longTest('every step and the Yard at three sizes', async ({ page }) => {
  const id = await copyDemo(page, 'Brass diver’s helmet');
  await openDemo(page);
  const yard = page.url();
  const screens = {
    yard,
    ...Object.fromEntries(['stock', 'prepare', 'fit?parts=head-block', 'deliver'].map((s) => [s, `${site()}/piece/${id}/${s}`])),
  };
  for (const [name, url] of Object.entries(screens)) {
    await page.goto(url);
    await expect(page.locator('main').first()).toBeVisible();
    await expect(page.locator('[data-weight], article').first()).toBeAttached();
    for (const [width, height] of SIZES.filter((size) => inTurn(`${name} ${size}`))) {
      await page.setViewportSize({ width, height });
      await expect.poll(() => faults(page), { message: `${name} at ${width} × ${height}` }).toEqual([]);
    }
  }
});

longTest('in a narrow window the rack is a drawer, and the Yard and Deliver work at 400 px', async ({ page }) => {
  const id = await copyDemo(page, 'Brass diver’s helmet');
  await page.setViewportSize({ width: 1024, height: 640 });
  await page.goto(`${site()}/piece/${id}/fit`);
  const part = page.getByRole('treeitem', { name: /helmet/ });
  await expect(page.getByRole('button', { name: 'Rack', exact: true })).toBeVisible();
  await expect(part).toBeHidden();
  await page.getByRole('button', { name: 'Rack', exact: true }).click();
  await part.click();
  await page.getByRole('button', { name: 'Close the rack' }).click();
  await expect(part).toBeHidden();
  await expect(page.getByRole('textbox', { name: 'Place side' })).toBeVisible();
  await page.setViewportSize({ width: 400, height: 700 });
  await page.getByRole('navigation', { name: 'Route' }).getByRole('link', { name: 'Deliver' }).click();
  await page.getByRole('radio', { name: 'Light' }).check();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Deliver the bundle' }).click()]);
  expect(download.suggestedFilename()).toMatch(/\.zip$/);
  await page.getByRole('link', { name: 'Yard', exact: true }).click();
  await expect(page.getByRole('article').first()).toBeVisible();
  expect(await faults(page)).toEqual([]);
});

longTest('two hundred files and two hundred parts: as many rows are drawn as are seen, all are reached and found', async ({ page }) => {
  await signIn(page);
  const id = await makePiece(page, 'Two hundred');
  await page.goto(`${site()}/piece/${id}/stock`);
  const svg = '<svg xmlns="http://www.w3.org/2000/svg" width="64" height="64"><path d="M0 0h64v64H0z" fill="#246"/></svg>';
  await page.getByLabel('Files for Stock').setInputFiles({ name: 'net.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
  await expect(page.getByRole('heading', { name: 'net.svg' })).toBeVisible();
  await saved(page);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  const [net] = Object.values(document.stock);
  const shape = { form: 'box' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 12, open: [] };
  await saveEdits(page, id, [
    ...Array.from({ length: 199 }, (_, i) => add('stock', { ...net, id: `net${i}`, name: `net ${i}.svg` })),
    ...Array.from({ length: 199 }, (_, i) => add('parts', createSolid(`box${i}`, `Box ${i}`, shape))),
  ]);
  await page.reload();
  const rows = page.getByRole('row').filter({ has: page.locator('[data-file]') });
  await expect(page.getByRole('cell', { name: '200 files' })).toBeVisible();
  expect(await rows.count()).toBeLessThan(60);
  await page.getByRole('button', { name: 'File', exact: true }).click();
  await expect(page.getByRole('columnheader', { name: 'File' })).toHaveAttribute('aria-sort', 'ascending');
  // the one that is open stays in sight; the keys lead to both ends
  await page.locator('[data-file][tabindex="0"]').focus();
  await page.keyboard.press('Home');
  await expect(page.getByRole('heading', { name: 'net 0.svg' })).toBeVisible();
  await expect(page.locator('[data-file="net0"]')).toBeFocused();
  await page.keyboard.press('End');
  await expect(page.getByRole('heading', { name: 'net.svg' })).toBeVisible();
  await page.getByRole('searchbox', { name: 'Search the files' }).fill('net 19');
  await expect(rows).toHaveCount(10);
  // several at once: by Shift with a press and with arrows, by Ctrl with a press
  await rows.nth(0).click();
  await rows.nth(1).click({ modifiers: ['Shift'] });
  await page.locator('[data-file][tabindex="0"]').focus();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowUp');
  await rows.nth(5).click({ modifiers: ['Control'] });
  await expect(page.getByRole('cell', { name: '10 of 200 files, 4 chosen' })).toBeVisible();
  await rows.nth(2).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Delete 4 files' }).click();
  await expect(page.getByText('4 files are deleted.')).toBeVisible();
  await expect(rows).toHaveCount(6);
  await page.getByRole('button', { name: 'Undo', exact: true }).first().click();
  await expect(rows).toHaveCount(10);
  await page.keyboard.press('Alt+4');
  await page.waitForURL(/fit/);
  await expect(page.getByRole('treeitem').first()).toBeVisible();
  expect(await page.getByRole('treeitem').count()).toBeLessThan(100);
  await page.getByRole('button', { name: 'Hang a part' }).click();
  const menu = page.getByRole('menu', { name: 'Hang a part' });
  await expect(menu.getByRole('menuitem').first()).toBeFocused();
  await page.keyboard.press('End');
  await expect(page.getByRole('menuitem', { name: 'Occluder, of the form' })).toBeInViewport();
  const box = await menu.boundingBox();
  expect(box && box.x >= 0 && box.x + box.width <= 1280).toBe(true);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('part box 198');
  await expect(page.getByRole('option', { name: 'Box 198', selected: true })).toBeVisible();
  await page.keyboard.press('Enter');
  const chosen = page.getByRole('treeitem', { selected: true });
  await expect(chosen).toHaveAccessibleName(/^Box 198,/);
  // by keys to both ends of the list, whatever of it is drawn
  const places = async () => chosen.evaluate((row) => [row.ariaPosInSet, row.ariaSetSize]);
  await chosen.focus();
  await page.keyboard.press('End');
  await expect.poll(async () => (([at, of]) => at === of)(await places())).toBe(true);
  await expect(chosen).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect.poll(async () => (([at, of]) => Number(of) - Number(at))(await places())).toBe(1);
  await page.keyboard.press('Home');
  await expect(page.getByRole('treeitem').first()).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByRole('treeitem').first()).toBeFocused();
});
