/**
 * The largest allowed piece in Fit, in Chromium: the first picture beside that of an empty piece, the longest tasks while a part is
 * dragged and when it is let go. Times of one machine; the empty piece is the yardstick.
 */
import { type Browser, chromium, type Page } from '@playwright/test';
import { add, createSolid, type Edit, MAX_PARTS } from '@/core/piece';
import startSite from '../e2e/support/browser-site';
import { drawn, makePiece, saveEdits, signIn } from '../e2e/support/page';
import config from '../playwright.config';
import './clearance';

const VISITS = 5;
const FIRST_VISITS = 3;
const DRAGS = 4;
const median = (x: number[]) => x.sort((a, b) => a - b)[x.length >> 1];

/** Boxes side by side above the head. */
const boxes = (count: number): Edit[] =>
  Array.from({ length: count }, (_, i) => {
    const box = createSolid(`box${i}`, `Box ${i}`, { form: 'box', sizeMm: [12, 12, 12], roundMm: 0, wallMm: 12, open: [] });
    return add('parts', {
      ...box,
      offset: { ...box.offset, positionM: [((i % 23) - 11) * 0.016, 0.15 + Math.floor(i / 23) * 0.008, 0.02 * (i % 7)] },
    });
  });

async function pieceOf(page: Page, edits: Edit[]): Promise<string> {
  const id = await makePiece(page, `${edits.length} parts`);
  if (edits.length === 0) return id;
  await saveEdits(page, id, edits);
  return id;
}

/** Milliseconds from asking for the page to the first picture in the Mirror. */
async function firstPicture(page: Page, url: string): Promise<number> {
  await page.goto('about:blank');
  await page.goto(url);
  const at = await page.waitForFunction(() => (window as unknown as { firstPicture?: number }).firstPicture);
  return (await at.jsonValue()) as number;
}

/** A page that keeps its long tasks and the moment of its first picture. */
async function timedPage(browser: Browser): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.addInitScript(() => {
    const w = window as unknown as { tasks: number[]; firstPicture?: number };
    w.tasks = [];
    new PerformanceObserver((list) => w.tasks.push(...list.getEntries().map((e) => e.duration))).observe({
      type: 'longtask',
      buffered: true,
    });
    const look = setInterval(() => {
      if (!document.querySelector<HTMLElement>('[data-view="mirror"]')?.dataset.drawn) return;
      w.firstPicture = performance.now();
      clearInterval(look);
    }, 10);
  });
  return page;
}

const longest = (page: Page) =>
  page.evaluate(() => {
    const w = window as unknown as { tasks: number[] };
    return Math.max(0, ...w.tasks.splice(0));
  });

const stop = await startSite();
const site = process.env.SCAPHOS_E2E_URL as string;
const browser = await chromium.launch(config.use?.launchOptions);
try {
  const page = await timedPage(browser);
  await signIn(page);
  const empty = await pieceOf(page, []);
  // the head block is a part too
  const full = await pieceOf(page, boxes(MAX_PARTS - 1));
  const addressOf = (id: string) => `${site}/piece/${id}/fit`;
  const first: Record<string, number[]> = { [empty]: [], [full]: [] };
  for (let i = 0; i < FIRST_VISITS; i++)
    for (const id of [empty, full]) {
      // a browser that holds nothing yet: no script, no form, no program
      const fresh = await timedPage(browser);
      await fresh.context().addCookies(await page.context().cookies());
      first[id].push(await firstPicture(fresh, addressOf(id)));
      await fresh.context().close();
    }
  console.log(
    `first visit of a browser, ${FIRST_VISITS} times: empty piece ${first[empty].map((x) => x.toFixed(0)).join(', ')} ms, ${MAX_PARTS} parts ${first[full].map((x) => x.toFixed(0)).join(', ')} ms`,
  );
  const times: Record<string, number[]> = { [empty]: [], [full]: [] };
  for (let i = 0; i < VISITS; i++) for (const id of [empty, full]) times[id].push(await firstPicture(page, addressOf(id)));
  const [bare, laden] = [median(times[empty]), median(times[full])];
  console.log(
    `first picture, median of ${VISITS}: empty piece ${bare.toFixed(0)} ms, ${MAX_PARTS} parts ${laden.toFixed(0)} ms (${(laden / bare).toFixed(2)} ×; bound 3000 ms)`,
  );
  await drawn(page, 'mirror');
  await page.getByRole('treeitem').nth(5).click();
  const stub = page.locator('[data-handles="mirror"] [data-stub="disc"]');
  await drawn(page, 'mirror');
  for (let i = 0; i < DRAGS; i++) {
    const box = await stub.boundingBox();
    if (!box) throw new Error('The part chosen has no handles.');
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await longest(page);
    for (let n = 1; n <= 15; n++) {
      await page.mouse.move(x + n * 3, y + n * 2);
      await page.evaluate(() => new Promise((r) => requestAnimationFrame(() => setTimeout(r))));
    }
    await drawn(page, 'mirror');
    const moving = await longest(page);
    await page.mouse.up();
    await drawn(page, 'mirror');
    console.log(
      `drag ${i + 1}: longest task ${moving.toFixed(0)} ms while moving, ${(await longest(page)).toFixed(0)} ms letting go (0: none over 50)`,
    );
  }
} finally {
  await browser.close();
  await stop();
}
