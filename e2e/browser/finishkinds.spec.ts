/** Finishes by the picture: occluders, live pictures, maps by screen, live masks; sets of pictures, channels, one on many, kept. */
import { expect, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { type PerspectiveCamera, Vector3 } from 'three';
import { MIRROR_CAMERA } from '../../src/core/capture';
import { FinishRow } from '../../src/core/finish';
import { cameraOf } from '../../src/core/fit';
import { add, change, createSolid, type Edit, type Piece, remove } from '../../src/core/piece';
import { clean } from '../support/axe';
import { different, drawn, longTest, newPiece, pixels, resting, saved, saveEdits, signIn, site, test } from '../support/page';

type At = [number, number, number];
const box = (id: string, at: At, mm: At, look: Partial<FinishRow>): Edit[] => [
  add('finishes', FinishRow.parse({ id: `${id}f`, name: `${id} look`, unlit: true, ...look })),
  add('parts', {
    ...createSolid(id, id, { form: 'box', sizeMm: mm, roundMm: 0, wallMm: 1, open: [] }),
    offset: { positionM: at, turnRad: [0, 0, 0], size: [1, 1, 1] },
    wears: { '*': `${id}f` },
  }),
];
const RED = { colour: '#e01020' };
const mirrorOf = (page: Page) => page.locator('[data-view="mirror"]');
async function look(page: Page, piece: string): Promise<PNG> {
  await page.goto(`${site()}/piece/${piece}/fit`);
  await drawn(page, 'mirror');
  await resting(mirrorOf(page));
  return pixels(mirrorOf(page));
}
function pixelOf(p: PNG, at: At): number[] {
  const camera: PerspectiveCamera = cameraOf(MIRROR_CAMERA, p.width / p.height);
  const v = new Vector3(...at).project(camera);
  const [x, y] = [Math.round(((v.x + 1) / 2) * p.width), Math.round(((1 - v.y) / 2) * p.height)];
  return [...p.data.subarray((y * p.width + x) * 4, (y * p.width + x) * 4 + 3)];
}
const apart = (a: readonly number[], b: readonly number[]) => Math.max(...a.map((x, i) => Math.abs(x - b[i])));
const isRed = ([r, g, b]: readonly number[]) => r > 180 && g < 60 && b < 80;

test('an occluder hides what is behind it and is not seen; a live picture shows the camera there, whatever lies behind it', async ({
  page,
}) => {
  await signIn(page);
  const piece = await newPiece(page, 'Kinds');
  await saveEdits(page, piece, [remove('parts', 'head-block')]);
  const bare = await look(page, piece);
  const [near, far]: At[] = [
    [0, 0, 0.16],
    [0, 0, 0.12],
  ];
  await saveEdits(page, piece, [...box('red', far, [120, 60, 4], RED), ...box('front', near, [40, 200, 4], { colour: '#10e020' })]);
  const seen = await look(page, piece);
  const [middle, left]: At[] = [near, [-0.045, 0, 0.122]];
  expect(pixelOf(seen, middle)[1]).toBeGreaterThan(200);
  expect(isRed(pixelOf(seen, left))).toBe(true);
  for (const kind of ['occluder', 'patch'] as const) {
    await saveEdits(page, piece, [change('finishes', 'frontf', { kind })]);
    const now = await look(page, piece);
    expect(apart(pixelOf(now, middle), pixelOf(bare, middle)), kind).toBeLessThanOrEqual(2);
    expect(isRed(pixelOf(now, left)), kind).toBe(true);
  }
  // half a window: half the camera, half what is behind it
  await saveEdits(page, piece, [change('finishes', 'frontf', { blend: 'over', opacity: 0.5 })]);
  const half = pixelOf(await look(page, piece), middle);
  const [camera, red] = [pixelOf(bare, middle), pixelOf(seen, left)];
  expect(
    apart(
      half,
      camera.map((c, i) => (c + red[i]) / 2),
    ),
  ).toBeLessThanOrEqual(4);
});

test('a live mask is an opacity: red only outside the wearer, as a layer of the wearer again has it', async ({ page }) => {
  await signIn(page);
  const piece = await newPiece(page, 'Masked');
  const matte = { name: 'person' as const, invert: true, growPx: 0, featherPx: 0 };
  await saveEdits(page, piece, [
    remove('parts', 'head-block'),
    ...box('sheet', [0, 0, 0.16], [300, 300, 2], { ...RED, blend: 'over', matte }),
  ]);
  const masked = await look(page, piece);
  // what lies before a pixel is told by the mask, too: nothing of it on the wearer, all of it beside
  await page.getByRole('radiogroup', { name: 'The work is about' }).getByText('finish').click();
  await drawn(page, 'mirror');
  const frame = await mirrorOf(page).boundingBox();
  const told = page.locator('[data-stack] tbody tr', { hasText: 'sheet' }).locator('td').nth(1);
  for (const [x, y, cover] of [
    [0.5, 0.35, '0'],
    [0.15, 0.35, '100'],
  ] as const) {
    await mirrorOf(page).click({ position: { x: (frame?.width ?? 0) * x, y: (frame?.height ?? 0) * y } });
    await expect(told).toHaveText(cover);
  }
  await saveEdits(page, piece, [
    change('finishes', 'sheetf', { matte: null }),
    add('layers', { id: 'again', name: null, visible: true, kind: 'matte', matte: { ...matte, invert: false } }),
  ]);
  const layered = await look(page, piece);
  const share = different(masked, layered) / (masked.width * masked.height);
  // but for the pixels of its edge
  expect(share).toBeLessThan(0.01);
  const reds = (p: PNG) =>
    Array.from({ length: p.width * p.height }, (_, i) => [...p.data.subarray(i * 4, i * 4 + 3)]).filter(isRed).length;
  expect(reds(masked)).toBeGreaterThan(2000);
  expect(isRed(pixelOf(masked, [0, 0, 0.1]))).toBe(false);
});

const EDGE = 64;
/** Left half red, right half blue; upper half light, lower dark. */
function quarters(): Buffer {
  const png = new PNG({ width: EDGE, height: EDGE });
  for (let y = 0; y < EDGE; y++)
    for (let x = 0; x < EDGE; x++) {
      const v = y < EDGE / 2 ? 250 : 90;
      png.data.set(x < EDGE / 2 ? [v, 0, 0, 255] : [0, 0, v, 255], (y * EDGE + x) * 4);
    }
  return PNG.sync.write(png);
}

test('a map by screen stays where the picture has it while the part moves', async ({ page }) => {
  await signIn(page);
  const piece = await newPiece(page, 'By screen');
  await page.getByLabel('Files for Stock').setInputFiles([{ name: 'quarters.png', mimeType: '', buffer: quarters() }]);
  await expect(page.getByRole('heading', { name: 'quarters.png' })).toBeVisible();
  await saved(page);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${piece}`)).json()) as { document: Piece };
  const [stock] = Object.keys(document.stock);
  const own = { base: 'own', metalRough: 'own', normal: 'own', occlusion: 'own', glow: 'own', opacity: 'own' } as const;
  const base = { stock, uv: 'screen' as const, offset: [0, 0] as [number, number], repeat: [1, 1] as [number, number], turnDeg: 0 };
  await saveEdits(page, piece, [
    remove('parts', 'head-block'),
    ...box('sheet', [0, 0, 0.16], [120, 120, 2], { colour: '#ffffff', maps: { ...own, base } }),
  ]);
  const quarterAt = (p: PNG, x: number, y: number) => [...p.data.subarray((y * p.width + x) * 4, (y * p.width + x) * 4 + 3)];
  for (const at of [
    [0, 0, 0.16],
    [0.02, -0.02, 0.16],
  ] as At[]) {
    await saveEdits(page, piece, [change('parts', 'sheet', { offset: { positionM: at, turnRad: [0, 0, 0], size: [1, 1, 1] } })]);
    const p = await look(page, piece);
    const [w, h] = [p.width, p.height];
    const want: [number, number, number[]][] = [
      [0.47, 0.48, [250, 0, 0]],
      [0.53, 0.48, [0, 0, 250]],
      [0.47, 0.52, [90, 0, 0]],
      [0.53, 0.52, [0, 0, 90]],
    ];
    for (const [x, y, colour] of want)
      expect(apart(quarterAt(p, Math.round(x * w), Math.round(y * h)), colour), `${at} ${x} ${y}`).toBeLessThanOrEqual(2);
  }
});

/** Every channel something else. */
function packed(): Buffer {
  const png = new PNG({ width: EDGE, height: EDGE });
  for (let y = 0; y < EDGE; y++) for (let x = 0; x < EDGE; x++) png.data.set([255, x * 4, y * 4, 255], (y * EDGE + x) * 4);
  return PNG.sync.write(png);
}
const plain = (rgb: readonly number[]): Buffer => {
  const png = new PNG({ width: EDGE, height: EDGE });
  for (let i = 0; i < EDGE * EDGE; i++) png.data.set([...rgb, 255], i * 4);
  return PNG.sync.write(png);
};

longTest(
  'a set dropped on a part finds its roles; channels are what is in the file; one finish on many, kept in the yard',
  async ({ page }) => {
    await signIn(page);
    const piece = await newPiece(page, 'Dressed');
    await saveEdits(page, piece, [
      ...box('mask', [0, 0, 0.14], [120, 120, 20], {}),
      ...box('strap-one', [0.1, 0, 0.1], [10, 10, 10], {}),
      ...box('strap-two', [-0.1, 0, 0.1], [10, 10, 10], {}),
    ]);
    await page.goto(`${site()}/piece/${piece}/fit?parts=mask`);
    await drawn(page, 'mirror');
    const files = [
      { name: 'mask_basecolor.png', bytes: quarters() },
      { name: 'mask_orm.png', bytes: packed() },
      { name: 'mask_normal.png', bytes: plain([128, 128, 255]) },
    ];
    const data = await page.evaluateHandle(
      (list) => {
        const transfer = new DataTransfer();
        for (const { name, base64 } of list) {
          const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
          transfer.items.add(new File([bytes], name, { type: 'image/png' }));
        }
        return transfer;
      },
      files.map(({ name, bytes }) => ({ name, base64: bytes.toString('base64') })),
    );
    const card = page.getByRole('region', { name: 'Finish', exact: true });
    for (const type of ['dragenter', 'dragover', 'drop'])
      await card.getByRole('list', { name: 'Materials' }).dispatchEvent(type, { dataTransfer: data });
    await card.getByRole('button', { name: 'Change the look of Surface' }).click();
    const sheet = page.getByRole('dialog', { name: /^Finish / });
    for (const [role, name] of [
      ['base colour', 'mask_basecolor.png'],
      ['metal and roughness', 'mask_orm.png'],
      ['occlusion', 'mask_orm.png'],
      ['normal', 'mask_normal.png'],
    ])
      await expect(sheet.getByRole('combobox', { name: `Map of ${role}` }).locator('option:checked')).toHaveText(name);
    // what the channels show, against a reader of PNG that has nothing to do with ours
    const file = PNG.sync.read(packed());
    for (const [label, channel] of [
      ['metal and roughness, roughness', 1],
      ['metal and roughness, metal', 2],
      ['occlusion, occlusion', 0],
    ] as const) {
      const canvas = sheet.locator(`[data-map="${label}"]`);
      await expect(sheet.locator(`[data-map="${label.split(',')[0]}"]`)).toHaveAttribute('data-drawn', 'yes');
      const shown = await pixels(canvas);
      expect([shown.width, shown.height]).toEqual([EDGE, EDGE]);
      for (let i = 0; i < EDGE * EDGE; i += 97) expect(shown.data[i * 4], `${label} at ${i}`).toBe(file.data[i * 4 + channel]);
    }
    await clean(page, 'a finish with its maps', undefined, '[role="dialog"]');
    // a picture of Stock dragged onto another role
    await sheet.getByRole('listitem').filter({ hasText: 'mask_basecolor.png' }).dragTo(sheet.locator('[data-role="occlusion"]'));
    await expect(sheet.getByRole('combobox', { name: 'Map of occlusion' }).locator('option:checked')).toHaveText('mask_basecolor.png');
    await sheet.getByRole('button', { name: 'Keep' }).click();
    await expect(page.getByText(/is kept in .*, for every piece/)).toBeVisible();
    await sheet.getByRole('button', { name: 'On many …' }).click();
    const many = page.getByRole('dialog', { name: /on many$/ });
    await many.getByRole('textbox', { name: 'Pattern of names' }).fill('strap*');
    await clean(page, 'one finish on many', undefined, '[role="dialog"]');
    await many.getByRole('button', { name: 'Wear it on 2 materials' }).click();
    await page.keyboard.press('Escape');
    await saved(page);
    const { document } = (await (await page.request.get(`${site()}/api/pieces/${piece}`)).json()) as { document: Piece };
    expect(new Set(Object.values(document.parts).flatMap((p) => Object.values(p.wears))).size).toBe(1);
    // in another piece of the yard it is there, with its pictures
    const other = await newPiece(page, 'Another');
    await saveEdits(page, other, box('ball', [0, 0, 0.14], [60, 60, 60], {}));
    await page.goto(`${site()}/piece/${other}/fit?parts=ball`);
    await drawn(page, 'mirror');
    const kept = document.finishes[Object.values(document.parts.mask.wears)[0]].name;
    await card.getByRole('combobox', { name: 'Finish of Surface' }).selectOption({ label: kept });
    await saved(page);
    const there = ((await (await page.request.get(`${site()}/api/pieces/${other}`)).json()) as { document: Piece }).document;
    expect(
      Object.values(there.stock)
        .map((s) => s.name)
        .sort(),
    ).toEqual(['mask_basecolor.png', 'mask_normal.png', 'mask_orm.png']);
    expect(Object.values(there.parts.ball.wears).map((id) => there.finishes[id].name)).toEqual([kept]);
  },
);
