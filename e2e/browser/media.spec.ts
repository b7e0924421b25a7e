/** Stock files that are no models, through the interface: looked at, mended, painted anew, sent over a broken line. */
import { expect, type Page } from '@playwright/test';
import sharp from 'sharp';
import { bellWav, flameZip, pennantPng, skyHdr, walkBvh } from '../../demo/media';
import { spectaclesGlb } from '../../demo/models/spectacles';
import type { Piece } from '../../src/core/piece';
import { longTest, newPiece, saved, signIn, site, test } from '../support/page';

const bring = (page: Page, ...files: [string, Uint8Array][]) =>
  page.getByLabel('Files for Stock').setInputFiles(files.map(([name, b]) => ({ name, mimeType: '', buffer: Buffer.from(b) })));
const pieceOf = async (page: Page, id: string) => (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()).document as Piece;
const stockRow = (page: Page, name: string) => page.getByRole('button', { name, exact: true }).first();

test.beforeEach(async ({ page }) => {
  await signIn(page);
});

longTest('each kind has its own preview, and what it says is what is there', async ({ page }) => {
  // as most people have it: what moves plays by itself
  await page.emulateMedia({ reducedMotion: 'no-preference' });
  await newPiece(page, 'Every kind');
  await bring(page, ['flame.zip', await flameZip(6, 32)]);
  await expect(page.locator('[data-view="sequence"]')).toBeVisible();
  // it plays: its frame moves on by itself, and comes round
  await expect(page.locator('[data-view="sequence"]')).not.toHaveAttribute('data-frame', '1');
  await expect(page.locator('[data-view="sequence"]')).toHaveAttribute('data-frame', '1');
  await bring(page, ['bell.wav', bellWav()]);
  await expect(page.getByRole('img', { name: /^Waveform of bell.wav, 4.20 seconds/ })).toBeVisible();
  await expect(page.locator('[data-fact="loudness"]')).toHaveText(/−2\d\.\dLUFS/);
  await page.getByRole('button', { name: 'Trim it' }).click();
  await expect(page.locator('[data-fact="length"]')).toHaveText(/^3\.1\ds$/);
  await bring(page, ['dawn.hdr', skyHdr('quay-at-dawn', 128)]);
  for (const view of ['mirror-ball', 'matte-ball', 'unrolled'])
    await expect(page.locator(`[data-view="${view}"]`)).toHaveAttribute('data-drawn', /\d/);
  await expect(page.locator('[data-fact="brightest"]')).toContainText('52° to picture left');
  await bring(page, ['walk.bvh', new TextEncoder().encode(walkBvh())]);
  await expect(page.locator('[data-view="motion"] canvas')).toHaveAttribute('data-drawn', /\d/);
  await expect(page.locator('[data-fact="joints"]')).toHaveText('18');
  await saved(page);
});

test('the decoder of the server and that of the browser see the same picture', async ({ page }) => {
  const raw = { width: 61, height: 37, channels: 4 as const };
  const data = new Uint8Array(61 * 37 * 4);
  for (let i = 0; i < 61 * 37; i++) data.set([(i * 5) % 256, (i % 61) * 4, Math.floor(i / 61) * 6, 255], i * 4);
  const from = () => sharp(data, { raw });
  for (const [type, bytes, most] of [
    ['image/png', await from().png().toBuffer(), 0],
    ['image/webp', await from().webp({ lossless: true }).toBuffer(), 0],
    ['image/gif', await from().gif().toBuffer(), 0],
    ['image/jpeg', await from().jpeg({ quality: 92, chromaSubsampling: '4:4:4' }).toBuffer(), 4],
    ['image/avif', await from().avif({ quality: 90, chromaSubsampling: '4:4:4' }).toBuffer(), 6],
  ] as const) {
    const theirs = await page.evaluate(
      async ([t, b64]) => {
        const blob = await (await fetch(`data:${t};base64,${b64}`)).blob();
        const bitmap = await createImageBitmap(blob, { premultiplyAlpha: 'none', colorSpaceConversion: 'none' });
        const c = document.createElement('canvas');
        c.width = bitmap.width;
        c.height = bitmap.height;
        const g = c.getContext('2d', { willReadFrequently: true }) as CanvasRenderingContext2D;
        g.drawImage(bitmap, 0, 0);
        return [...g.getImageData(0, 0, c.width, c.height).data];
      },
      [type, bytes.toString('base64')] as const,
    );
    const ours = await sharp(bytes).toColourspace('srgb').ensureAlpha().raw().toBuffer();
    expect(theirs.length).toBe(ours.length);
    const worst = theirs.reduce((m, x, i) => Math.max(m, Math.abs(x - ours[i])), 0);
    expect(worst, type).toBeLessThanOrEqual(most);
  }
});

longTest('a picture is bled, cut by typed numbers, straightened by its corners, and hangs at the width that is typed', async ({ page }) => {
  const id = await newPiece(page, 'Pennant');
  await bring(page, ['pennant.png', await pennantPng(200)]);
  await page.getByRole('button', { name: 'Spread its edge colours' }).click();
  await expect(page.getByText('Alpha: colour carried outwards')).toBeVisible();
  await expect(page.locator('[data-finding="picture/fringe"]')).toHaveCount(0);
  await page.getByRole('radio', { name: 'Cut', exact: true }).click();
  for (const [label, value] of [
    ['across', '10'],
    ['down', '40'],
    ['wide', '150'],
    ['high', '120'],
  ]) {
    await page.getByLabel(label, { exact: true }).fill(value);
    await page.getByLabel(label, { exact: true }).press('Enter');
  }
  await page.getByRole('button', { name: 'Cut it' }).click();
  await expect(page.locator('[data-fact="pixels"]')).toHaveText('150 × 120');
  await page.getByRole('radio', { name: 'Straighten' }).click();
  const corner = page.getByRole('button', { name: /^Corner top picture left, 15 across, 12 down/ });
  await corner.focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(page.getByRole('button', { name: /^Corner top picture left, 5 across, 12 down/ })).toBeVisible();
  await page.getByRole('button', { name: 'Straighten it' }).click();
  await expect(page.getByText(/^Straightened to 125 × 96 px/)).toBeVisible();
  await page.getByLabel('Hangs').fill('90');
  await page.getByLabel('Hangs').press('Enter');
  await expect(page.locator('[data-fact="size"]')).toHaveText(/^90 × 69.1/);
  await saved(page);
  const piece = await pieceOf(page, id);
  expect(Object.values(piece.recipes)[0].steps.map((s) => s.step)).toEqual(['alpha', 'crop', 'straighten', 'plane']);
  // every step can be taken back; without any it is as it came
  await page.getByRole('button', { name: 'As delivered' }).click();
  await expect(page.locator('[data-fact="pixels"]')).toHaveText('200 × 200');
});

longTest(
  'a model’s pictures are looked into, fetched, painted and take their place again; one undo brings the old one back',
  async ({ page }) => {
    const id = await newPiece(page, 'Painted');
    await bring(page, ['s.glb', await spectaclesGlb()]);
    await page.getByRole('button', { name: 'Look into its pictures' }).click();
    const look = page.locator('[data-view="textures"]');
    await expect(look.locator('[data-view="texture"]')).toHaveAttribute('data-drawn', /\d/);
    // 256² with its mip levels: 4/3 of 4 · 256², to the last pixel
    const mips = [256, 128, 64, 32, 16, 8, 4, 2, 1].reduce((s, e) => s + e * e * 4, 0);
    await expect(look.locator('[data-fact="memory"]')).toHaveText(mips.toString().replace(/\B(?=(\d{3})+$)/g, ' '));
    await expect(look.getByText('base colour')).toBeVisible();
    await look.getByRole('radio', { name: 'Green' }).click();
    await expect(look.getByRole('img', { name: /, green$/ })).toBeVisible();
    await look.getByRole('button', { name: 'Tiled' }).click();
    await expect(look.locator('[data-view="texture-tile"]')).toHaveCount(9);
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      look.getByRole('link', { name: 'Download it to paint on' }).click(),
    ]);
    await page.getByRole('button', { name: 'Close', exact: true }).click();
    const painted = new Uint8Array(
      await sharp({ create: { width: 128, height: 128, channels: 3, background: '#2040a0' } })
        .png()
        .toBuffer(),
    );
    await bring(page, [download.suggestedFilename(), painted]);
    await expect(page.getByText(/takes the place of/)).toBeVisible();
    await expect(page.getByText(/^Painted anew:/)).toBeVisible();
    await saved(page);
    expect(Object.values((await pieceOf(page, id)).stock)).toHaveLength(1);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByText(/^Painted anew:/)).toHaveCount(0);
  },
);

longTest('an upload that breaks goes on after a reload, by itself', async ({ page }) => {
  const id = await newPiece(page, 'Flaky');
  await page.route('**/api/uploads/**', (route) => (route.request().method() === 'PATCH' ? route.abort() : route.continue()));
  await bring(page, ['bell.wav', bellWav()]);
  const arriving = page.getByRole('status', { name: 'Arriving' });
  await expect(arriving).toContainText('the line is broken; tried again');
  await page.unroute('**/api/uploads/**');
  await page.reload();
  await expect(stockRow(page, 'bell.wav')).toBeVisible();
  await saved(page);
  expect(Object.values((await pieceOf(page, id)).stock).map((s) => [s.kind, s.name])).toEqual([['sound', 'bell.wav']]);
  // and it does not come in a second time
  await page.reload();
  await expect(page.locator('[data-view="sound"]')).toBeVisible();
  expect(Object.values((await pieceOf(page, id)).stock)).toHaveLength(1);
});

longTest('an environment of our own is made and comes into Stock as a file', async ({ page }) => {
  await newPiece(page, 'Light');
  await page.getByRole('button', { name: 'Make an environment' }).click();
  await page.getByRole('menuitem', { name: 'Night market' }).click();
  await expect(page.locator('[data-view="mirror-ball"]')).toHaveAttribute('data-drawn', /\d/);
  await expect(stockRow(page, 'night-market.hdr')).toBeVisible();
});

longTest('the UV layout of a model goes out as PNG and SVG at the size that is chosen', async ({ page }) => {
  await newPiece(page, 'Layout');
  await bring(page, ['s.glb', await spectaclesGlb()]);
  await page.getByRole('radio', { name: 'UV layout' }).click();
  const fetchLayout = async (kind: 'PNG' | 'SVG') => {
    await page.getByRole('button', { name: 'Download the UV layout, to paint upon' }).click();
    await page.getByRole('menuitemradio', { name: '1024 px' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: `Layout as ${kind}` }).click(),
    ]);
    const chunks: Buffer[] = [];
    for await (const c of await download.createReadStream()) chunks.push(c as Buffer);
    return { name: download.suggestedFilename(), bytes: Buffer.concat(chunks) };
  };
  const png = await fetchLayout('PNG');
  expect(png.name).toBe('s-uv.png');
  const { width, height } = await sharp(png.bytes).metadata();
  expect([width, height]).toEqual([1024, 1024]);
  const svg = await fetchLayout('SVG');
  // the same lines: drawn by another renderer they cover the same pixels
  const [a, b] = [
    await sharp(png.bytes).ensureAlpha().extractChannel(3).raw().toBuffer(),
    await sharp(svg.bytes).ensureAlpha().extractChannel(3).raw().toBuffer(),
  ];
  expect(a.length).toBe(b.length);
  let apart = 0;
  let inked = 0;
  for (let i = 0; i < a.length; i++) {
    if (a[i] > 127 || b[i] > 127) inked++;
    if (Math.abs(a[i] - b[i]) > 127) apart++;
  }
  expect(inked).toBeGreaterThan(5000);
  expect(apart / inked).toBeLessThan(0.05);
});
