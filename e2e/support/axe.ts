/** A screen by axe: WCAG 2.2, A and AA, in both themes. */
import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { inTurn } from './sweep';

/** Pages whose colours were looked at in the dark: another file or part on one has the same. */
const seenDark = new Set<string>();
const RULES = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

/** Looks, in one commit in three, at the page as it is, or at a dialog or menu that opens over it, or within what a selector names, in the light theme and, the first time of each page, in the dark one. */
export async function clean(page: Page, what: string, over?: 'dialog' | 'menu', within?: string): Promise<void> {
  if (over) await expect(page.getByRole(over)).toBeVisible();
  if (!inTurn(what)) return;
  const address = new URL(page.url()).pathname;
  const dark = over !== undefined || !seenDark.has(address);
  seenDark.add(address);
  for (const theme of dark ? ['nightwatch', 'chartroom'] : ['chartroom']) {
    await page.evaluate((t) => {
      document.documentElement.dataset.theme = t;
    }, theme);
    // one frame: nothing to put together from several in a page of its own
    const look = new AxeBuilder({ page }).setLegacyMode();
    // the page below was looked at before
    if (over) look.include(`[role="${over}"]`);
    if (within) look.include(within);
    // what axe cannot decide (pictures behind text) is measured by the contrast tool; of the other theme only colours can be wrong
    const { violations } = await (theme === 'chartroom' ? look.withTags(RULES) : look.withRules(['color-contrast'])).analyze();
    expect(
      violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.target.join(' ')} (${v.help})`)),
      `${what}, ${theme}`,
    ).toEqual([]);
  }
}
