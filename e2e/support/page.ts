/** Ways through the interface that several browser tests share. */
import { type BrowserContext, test as base, expect, type Locator, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { type Edit, PIECE_SCHEMA, settings } from '../../src/core/piece';
import { inTurn } from './sweep';

/** Edges are not smoothed where no test looks at them: in software that takes two fifths of all drawing. */
const rough = () => {
  const getContext = HTMLCanvasElement.prototype.getContext as (kind: string, options?: object) => unknown;
  HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement, kind: string, options?: object) {
    return getContext.call(this, kind, kind === 'webgl2' ? { ...options, antialias: false } : options);
  } as typeof HTMLCanvasElement.prototype.getContext;
};

/**
 * Pages of one browser that stays: its programs, shapes and the form are made once, as for somebody who comes back. Every test has a
 * page and a yard of its own; journeys come for the first time. `smooth`: with smoothed edges.
 */
export const test = base.extend<object, { smooth: boolean; visitor: BrowserContext }>({
  smooth: [false, { option: true, scope: 'worker' }],
  visitor: [
    async ({ browser, smooth }, use) => {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true });
      if (!smooth) await context.addInitScript(rough);
      context.setDefaultTimeout(120_000);
      await use(context);
      await context.close();
    },
    { scope: 'worker' },
  ],
  context: async ({ visitor }, use) => {
    await use(visitor);
    await visitor.unrouteAll();
    await visitor.setOffline(false);
    for (const page of visitor.pages()) await page.close();
  },
  page: async ({ context }, use) => {
    await use(await context.newPage());
  },
});

/** A journey's browser comes for the first time. */
export const journey = base.extend({
  context: async ({ context }, use) => {
    await context.addInitScript(rough);
    await use(context);
  },
});

/** A test of a quarter of a minute or more: one commit in four runs it, a sweep all of them. */
export function longTest(name: string, body: Parameters<typeof test>[2]): void {
  if (inTurn(name)) test(name, body);
}
export function longJourney(name: string, body: Parameters<typeof journey>[2]): void {
  if (inTurn(name)) journey(name, body);
}

export const site = () => process.env.SCAPHOS_E2E_URL as string;

/** The demo account's cookie; the sign-in page has tests of its own. */
export async function signIn(page: Page): Promise<void> {
  const answer = await page.request.post(`${site()}/api/session/demo`, { headers: { origin: site() } });
  expect(answer.ok(), await answer.text()).toBe(true);
}

/** The yard with the demo pieces. */
export async function openDemo(page: Page): Promise<void> {
  await signIn(page);
  const yards = (await (await page.request.get(`${site()}/api/yards`)).json()) as { id: string; name: string }[];
  await page.goto(`${site()}/yard/${yards.find((y) => /Saltmarsh/.test(y.name))?.id}`);
}

/** A copy of a demo piece, its id: what a test does to it no other test meets. It lies in the demo's yard. */
export async function copyDemo(page: Page, name: string): Promise<string> {
  await signIn(page);
  const ask = async (path: string) => (await page.request.get(`${site()}${path}`)).json();
  const yard = ((await ask('/api/yards')) as { id: string; name: string }[]).find((y) => /Saltmarsh/.test(y.name));
  const pieces = (await ask(`/api/yards/${yard?.id}/pieces`)) as { id: string; name: string }[];
  const answer = await page.request.post(`${site()}/api/pieces/${pieces.find((p) => p.name === name)?.id}/copy`, {
    headers: { origin: site() },
  });
  expect(answer.ok(), await answer.text()).toBe(true);
  const { id } = (await answer.json()) as { id: string };
  await saveEdits(page, id, [settings({ name: `${name} ${id}` })]);
  return id;
}

/** A yard of the test's own: nothing that others made is drawn, listed or in the way. */
const yards = new WeakMap<Page, string>();
const make = async (page: Page, path: string, name: string): Promise<string> => {
  const answer = await page.request.post(`${site()}${path}`, { headers: { origin: site() }, data: { name } });
  expect(answer.ok(), await answer.text()).toBe(true);
  return (await answer.json()).id;
};

/** A yard of the test's own, opened. */
export async function newYard(page: Page, name: string): Promise<void> {
  await signIn(page);
  await page.goto(`${site()}/yard/${await make(page, '/api/yards', name)}`);
}

/** A new piece in it, not yet looked at. */
export async function makePiece(page: Page, name: string): Promise<string> {
  const yard = yards.get(page) ?? (await make(page, '/api/yards', `Yard of ${name}`));
  yards.set(page, yard);
  return make(page, `/api/yards/${yard}/pieces`, name);
}

/** The same, opened in Stock. */
export async function newPiece(page: Page, name: string): Promise<string> {
  const id = await makePiece(page, name);
  await page.goto(`${site()}/piece/${id}/stock`);
  return id;
}

export const saved = (page: Page) => expect(page.locator('[data-save="saved"]')).toBeVisible();

let serial = 0;
/** Edits as another would make them; a page shows them when it is looked at again. */
export async function saveEdits(page: Page, piece: string, edits: Edit[]): Promise<void> {
  const { revision } = await (await page.request.get(`${site()}/api/pieces/${piece}`)).json();
  const answer = await page.request.post(`${site()}/api/pieces/${piece}/edits`, {
    headers: { origin: site() },
    data: { saveId: `edits-${serial++}-${Date.now()}`, baseRevision: revision, schema: PIECE_SCHEMA, edits },
  });
  expect(answer.ok(), await answer.text()).toBe(true);
}

/** A bound on a hang, also where no configuration of a test runner gives one. */
const HANG_MS = 120_000;

/** Waits until a view has drawn again and rests: no model on its way, no drawing waits, and its own count stands still. */
export async function drawn(page: Page, view: string): Promise<void> {
  const canvas = page.locator(`[data-view="${view}"]`);
  await expect(canvas).toHaveAttribute('data-drawn', /\d+/, { timeout: HANG_MS });
  let before = '';
  await expect
    .poll(
      async () => {
        const busy = (await page.locator('body[data-drawing]').count()) > 0;
        const now = busy ? '' : ((await canvas.getAttribute('data-drawn')) ?? '');
        const rests = !busy && now === before;
        before = now;
        return rests;
      },
      { intervals: [200], timeout: HANG_MS },
    )
    .toBe(true);
}

/** The pixels of a canvas, as the browser holds them. */
export async function pixels(canvas: Locator): Promise<PNG> {
  const url = await canvas.evaluate((c: HTMLCanvasElement) => c.toDataURL('image/png'));
  return PNG.sync.read(Buffer.from(url.split(',')[1], 'base64'));
}

/** Whether two pictures differ visibly at a byte offset. */
export const apart = (a: PNG, b: PNG, i: number) =>
  Math.abs(a.data[i] - b.data[i]) + Math.abs(a.data[i + 1] - b.data[i + 1]) + Math.abs(a.data[i + 2] - b.data[i + 2]) > 30;

export function different(a: PNG, b: PNG): number {
  let n = 0;
  for (let i = 0; i < a.data.length; i += 4) if (apart(a, b, i)) n++;
  return n;
}

/** What the Mirror shows once it does not change any more. */
export async function resting(mirror: Locator): Promise<PNG> {
  await drawn(mirror.page(), 'mirror');
  let before: PNG | null = null;
  for (let i = 0; i < 40; i++) {
    const now = PNG.sync.read(await mirror.screenshot());
    if (before && different(before, now) === 0) return now;
    before = now;
  }
  throw new Error('the Mirror never came to rest');
}

/** Looks whether the occluder hides something, by putting it out and in again. @param press one action of the user */
export async function occluderHides(page: Page, press: (target: Locator) => Promise<void>): Promise<void> {
  const [mirror, switched] = [page.locator('[data-view="mirror"]'), page.getByRole('button', { name: 'Occluder', exact: true })];
  const hidden = await resting(mirror);
  await press(switched);
  const open = await resting(mirror);
  await press(switched);
  expect(different(hidden, open)).toBeGreaterThan(100);
  expect(apart(hidden, open, 0)).toBe(false);
}
