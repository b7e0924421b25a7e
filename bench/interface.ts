/**
 * The interface in Chromium: what each screen loads, what opened and closed pieces leave behind, and how long the page is held. Sizes are
 * what goes over the line (gzip), times those of the main thread's processor; memory is the page's own heap after a collection.
 */
import { Document, NodeIO } from '@gltf-transform/core';
import { type Browser, type CDPSession, chromium, type Page } from '@playwright/test';
import startSite from '../e2e/support/browser-site';
import { copyDemo, drawn, makePiece, openDemo, saved, signIn } from '../e2e/support/page';
import config from '../playwright.config';

const KB = 1000;
/** Bounds of JavaScript by screen, kB. */
const BOUNDS: Record<string, number> = { 'sign-in': 150, yard: 220, stock: 350, prepare: 350, fit: 350, deliver: 350 };
const FEW = 5;
const MANY = 20;
/** Triangles of a piece that is opened and closed; of the one that is worked at. */
const CLOSED_TRIANGLES = 75_000;
const LARGE_TRIANGLES = 500_000;

/** A wavy sheet of about so many triangles, half a metre wide. */
async function sheet(triangles: number, seed: number): Promise<Buffer> {
  const n = Math.floor(Math.sqrt(triangles / 2));
  const at = new Float32Array((n + 1) ** 2 * 3);
  for (let y = 0, i = 0; y <= n; y++)
    for (let x = 0; x <= n; x++) {
      at[i++] = (x / n - 0.5) * 0.2;
      at[i++] = (y / n - 0.5) * 0.2;
      at[i++] = 0.12 + 0.005 * Math.sin(x * 0.07 + seed) * Math.cos(y * 0.05);
    }
  const index = new Uint32Array(n * n * 6);
  for (let y = 0, i = 0; y < n; y++)
    for (let x = 0; x < n; x++) {
      const a = y * (n + 1) + x;
      for (const v of [a, a + 1, a + n + 1, a + 1, a + n + 2, a + n + 1]) index[i++] = v;
    }
  const doc = new Document();
  const buffer = doc.createBuffer();
  const primitive = doc
    .createPrimitive()
    .setAttribute('POSITION', doc.createAccessor().setType('VEC3').setArray(at).setBuffer(buffer))
    .setIndices(doc.createAccessor().setType('SCALAR').setArray(index).setBuffer(buffer))
    .setMaterial(doc.createMaterial('sheet'));
  doc.createScene().addChild(doc.createNode('sheet').setMesh(doc.createMesh('sheet').addPrimitive(primitive)));
  doc.getRoot().getAsset().copyright = 'made for a measurement';
  return Buffer.from(await new NodeIO().writeBinary(doc));
}

const stop = await startSite();
const site = process.env.SCAPHOS_E2E_URL as string;
const browser: Browser = await chromium.launch(config.use?.launchOptions);

/** A browser that comes for the first time. */
async function visitor(signedIn: boolean): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, serviceWorkers: 'block' });
  const page = await context.newPage();
  if (signedIn) await signIn(page);
  return page;
}

/** JavaScript that comes over the line up to the load event, and in the four seconds after. */
async function firstLoad(name: string, path: string): Promise<void> {
  const page = await visitor(name !== 'sign-in');
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Network.enable');
  const scripts = new Map<string, string>();
  let bytes = 0;
  const asked: string[] = [];
  cdp.on('Network.responseReceived', (e) => {
    if (e.type === 'Script' || /\.js(\?|$)/.test(e.response.url)) scripts.set(e.requestId, e.response.url);
    if (/\/api\//.test(e.response.url)) asked.push(e.response.url);
  });
  // of bodies alone: the lines above them (a policy of its own for each file) are no JavaScript
  cdp.on('Network.dataReceived', (e) => {
    if (scripts.has(e.requestId)) bytes += e.encodedDataLength;
  });
  await page.goto(`${site}${path}`, { waitUntil: 'load' });
  const first = bytes;
  await page.waitForTimeout(4000);
  const weights = asked.filter((u) => /\/weights?$/.test(u)).length;
  console.log(
    `${name.padEnd(8)} ${(first / KB).toFixed(0).padStart(4)} kB of JavaScript to the load event (bound ${BOUNDS[name]}), ${(bytes / KB).toFixed(0)} kB four seconds later${name === 'yard' ? `; ${weights} requests for weights` : ''}`,
  );
  await page.context().close();
}

/** Bytes of the heap once all that nobody holds is gone. */
async function heap(cdp: CDPSession): Promise<number> {
  for (let i = 0; i < 3; i++) await cdp.send('HeapProfiler.collectGarbage');
  const { usedSize, backingStorageSize } = (await cdp.send('Runtime.getHeapUsage')) as { usedSize: number; backingStorageSize: number };
  return usedSize + backingStorageSize;
}

async function pieceWith(page: Page, name: string, glb: Buffer): Promise<string> {
  const id = await makePiece(page, name);
  await page.goto(`${site}/piece/${id}/stock`);
  await page.getByLabel('Files for Stock').setInputFiles({ name: `${name}.glb`, mimeType: 'model/gltf-binary', buffer: glb });
  await page.getByRole('button', { name: 'Hang a part' }).last().click();
  await page.waitForURL(/fit/);
  await saved(page);
  return id;
}

/** Walks from piece to piece inside one page, as one does: by the Yard. */
async function memory(): Promise<void> {
  const page = await visitor(true);
  const ids: string[] = [];
  for (let i = 0; i < FEW; i++) ids.push(await pieceWith(page, `Sheet ${i}`, await sheet(CLOSED_TRIANGLES, i)));
  const cdp = await page.context().newCDPSession(page);
  await page.getByRole('link', { name: 'Yard', exact: true }).click();
  const figures: number[] = [];
  for (let i = 1; i <= MANY; i++) {
    const card = page.locator(`article a[href*="${ids[i % FEW]}"]`).first();
    await card.click();
    await page.waitForURL(/piece/);
    await page.getByRole('link', { name: /^Fit/ }).click();
    await drawn(page, 'mirror');
    await page.getByRole('link', { name: 'Yard', exact: true }).click();
    await page.getByRole('article').first().waitFor();
    if (i === FEW || i === MANY) figures.push(await heap(cdp));
  }
  const [few, many] = figures;
  console.log(
    `${MANY} pieces of ${CLOSED_TRIANGLES} triangles opened and closed: heap and buffers ${(few / 1e6).toFixed(1)} MB after ${FEW}, ${(many / 1e6).toFixed(1)} MB after ${MANY} (${(((many - few) / few) * 100).toFixed(0)} %, bound 20 %)`,
  );
  await page.context().close();
}

interface TraceEvent {
  name: string;
  ph: string;
  pid: number;
  tid: number;
  /** Wall clock, and processor time of the thread, µs. */
  dur?: number;
  tdur?: number;
  args?: { name?: string };
}

/** Tasks of pages' main threads while something is done, by the processor time of the thread, ms: what others take does not count. */
async function tasksOf(page: Page, act: () => Promise<unknown>): Promise<number[]> {
  await browser.startTracing(page, { categories: ['toplevel', '__metadata'] });
  await act();
  const { traceEvents } = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: TraceEvent[] };
  const main = new Set(
    traceEvents.filter((e) => e.name === 'thread_name' && e.args?.name === 'CrRendererMain').map((e) => `${e.pid}.${e.tid}`),
  );
  const tasks = traceEvents.filter((e) => e.ph === 'X' && /RunTask$/.test(e.name) && main.has(`${e.pid}.${e.tid}`));
  if (!tasks.some((t) => t.tdur)) throw new Error('This Chromium does not tell the processor time of tasks.');
  return tasks.map((t) => (t.tdur ?? 0) / 1000);
}

/** The longest task of the main thread when one works at a large piece. */
async function tasks(): Promise<void> {
  const page = await visitor(true);
  await pieceWith(page, 'Large', await sheet(LARGE_TRIANGLES, 0));
  await drawn(page, 'mirror');
  const longest = async (what: string, act: () => Promise<unknown>) => {
    const list = await tasksOf(page, async () => {
      await act();
      await drawn(page, 'mirror');
    });
    console.log(
      `${what.padEnd(12)} longest task ${Math.max(0, ...list).toFixed(0)} ms of processor time (bound 50), ${list.filter((t) => t > 50).length} over 50 ms`,
    );
  };
  const stub = page.locator('[data-handles="mirror"] [data-stub="disc"]');
  await longest('drag', async () => {
    const box = await stub.boundingBox();
    if (!box) throw new Error('The part chosen has no handles.');
    await page.mouse.move(box.x + 4, box.y + 4);
    await page.mouse.down();
    for (let n = 1; n <= 10; n++) await page.mouse.move(box.x + 4 + n * 3, box.y + 4 + n * 2);
    await page.mouse.up();
  });
  await longest('nudges', async () => {
    for (let n = 0; n < 10; n++) await page.keyboard.press('ArrowRight');
  });
  await longest('scrub', async () => {
    for (const pose of ['yaw −30°', 'yaw +30°', 'front']) await page.getByRole('button', { name: `Pose ${pose}` }).click();
  });
  await longest('another step', async () => {
    await page.getByRole('link', { name: /^Deliver/ }).click();
    await page.waitForURL(/deliver/);
    await page.getByRole('link', { name: /^Fit/ }).click();
    await page.waitForURL(/fit/);
  });
  await page.context().close();
}

try {
  const page = await visitor(true);
  await openDemo(page);
  const yard = new URL(page.url()).pathname;
  const piece = await copyDemo(page, 'Brass diver’s helmet');
  await page.context().close();
  await firstLoad('sign-in', '/sign-in');
  await firstLoad('yard', yard);
  for (const step of ['stock', 'prepare', 'fit', 'deliver']) await firstLoad(step, `/piece/${piece}/${step}`);
  await memory();
  await tasks();
} finally {
  await browser.close();
  await stop();
}
