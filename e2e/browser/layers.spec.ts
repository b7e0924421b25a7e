/** Layers by their pixels in Chromium: every order, the matte's edge against the form's outline, groups and occluders. */
import { expect, type Page } from '@playwright/test';
import { Matrix4, Vector3 } from 'three';
import { MIRROR_CAMERA, poseWearer } from '../../src/core/capture';
import { cameraOf } from '../../src/core/fit';
import { bendBones, bendForm, buildFormBase, makeForm, SKELETONS } from '../../src/core/form';
import { writeRgbe } from '../../src/core/intake';
import { add, changePart, createSolid, type Edit, Layer, onAnchor, order, PIECE_SCHEMA, remove } from '../../src/core/piece';
import { drawn, newPiece, pixels, saved, signIn, site, test } from '../support/page';

let serial = 0;
/** Edits as another would make them; the page shows them when it is looked at again. */
async function save(page: Page, piece: string, edits: Edit[]): Promise<void> {
  const { revision } = await (await page.request.get(`${site()}/api/pieces/${piece}`)).json();
  const answer = await page.request.post(`${site()}/api/pieces/${piece}/edits`, {
    headers: { origin: site() },
    data: { saveId: `layers-${serial++}-${Date.now()}`, baseRevision: revision, schema: PIECE_SCHEMA, edits },
  });
  expect(answer.ok(), await answer.text()).toBe(true);
}
const shown = async (page: Page) => {
  await page.reload();
  await drawn(page, 'mirror');
  return pixels(page.locator('[data-view="mirror"]'));
};

const sheet = (id: string, zM: number) => ({
  ...createSolid(id, id, { form: 'plane', sizeMm: [900, 900, 1], roundMm: 0, wallMm: 1, open: [] }, onAnchor('shoulders')),
  offset: {
    positionM: [0, 0.1, zM] as [number, number, number],
    turnRad: [0, 0, 0] as [number, number, number],
    size: [1, 1, 1] as [number, number, number],
  },
});

test('in every order each layer lies on what is before it', async ({ page }) => {
  await signIn(page);
  const piece = await newPiece(page, 'Orders');
  const green = { id: 'green', kind: 'screen' as const, name: 'Green', colour: '#00ff00', layer: 'screen', hang: onAnchor('screen') };
  await save(page, piece, [
    remove('parts', 'head-block'),
    add('layers', Layer.parse({ id: 'matte', kind: 'matte', matte: { name: 'person' } })),
    add('layers', Layer.parse({ id: 'screen', kind: 'screen' })),
    { kind: 'add', table: 'parts', row: green } as never,
    add('parts', sheet('sheet', -0.2)),
  ]);
  await page.goto(`${site()}/piece/${piece}/fit`);
  const names = ['camera', 'main', 'matte', 'screen'];
  const orders = names
    .flatMap((a) => names.flatMap((b) => names.flatMap((c) => names.map((d) => [a, b, c, d]))))
    .filter((o) => new Set(o).size === 4);
  expect(orders).toHaveLength(24);
  // pale sheet, green screen; skin on the face, dusk beside it
  const what = (p: Awaited<ReturnType<typeof shown>>, x: number, y: number) => {
    const i = (Math.round(y * p.height) * p.width + Math.round(x * p.width)) * 4;
    const [r, g, b] = p.data.subarray(i, i + 3);
    if (g > 200 && r < 60 && b < 60) return 'screen';
    if (Math.abs(r - g) < 30 && r > 150 && b > 110) return 'sheet';
    return r > g + 25 ? 'skin' : 'dusk';
  };
  const canvas = page.locator('[data-view="mirror"]');
  await drawn(page, 'mirror');
  for (const [n, o] of orders.entries()) {
    const before = (await canvas.getAttribute('data-drawn')) as string;
    await save(
      page,
      piece,
      o.map((id, at) => order('layers', id, at)),
    );
    // the first is the order there is
    if (n > 0) {
      await page.evaluate(() => window.dispatchEvent(new Event('focus')));
      await expect(canvas).not.toHaveAttribute('data-drawn', before);
    }
    const p = await pixels(canvas);
    const last = (place: 'face' | 'beside') =>
      o.reduce(
        (under, layer) =>
          layer === 'screen' ? 'screen' : layer === 'main' ? 'sheet' : place === 'face' ? 'skin' : layer === 'camera' ? 'dusk' : under,
        'nothing',
      );
    expect([what(p, 0.5, 0.45), what(p, 0.06, 0.2)], o.join(' → ')).toEqual([last('face'), last('beside')]);
  }
});

test('the matte’s edge lies within a pixel of the form’s outline, whichever way the head is turned', async ({ page }) => {
  await signIn(page);
  const piece = await newPiece(page, 'Edge');
  await save(page, piece, [
    remove('parts', 'head-block'),
    add('layers', Layer.parse({ id: 'matte', kind: 'matte', matte: { name: 'person' } })),
    { kind: 'add', table: 'layers', row: Layer.parse({ id: 'screen', kind: 'screen' }), at: 1 } as Edit,
    {
      kind: 'add',
      table: 'parts',
      row: { id: 'green', kind: 'screen', name: 'Green', colour: '#00ff00', layer: 'screen', hang: onAnchor('screen') },
    } as never,
  ]);
  await page.goto(`${site()}/piece/${piece}/fit`);
  await drawn(page, 'mirror');
  const form = makeForm(buildFormBase(), 'M');
  for (const [pose, yawDeg] of [
    ['front', 0],
    ['yaw +60°', 60],
  ] as const) {
    await page.getByRole('button', { name: `Pose ${pose}` }).click();
    await drawn(page, 'mirror');
    const p = await pixels(page.locator('[data-view="mirror"]'));
    const { head, shoulders } = poseWearer({ head: { yawDeg, pitchDeg: 0, rollDeg: 0 } }, SKELETONS.M);
    const bent = { positions: new Float32Array(form.positions.length), normals: new Float32Array(form.positions.length) };
    bendForm(form, bendBones(head, shoulders, SKELETONS.M), bent);
    const mask = outline(bent.positions, form.indices, head, p.width, p.height);
    let wrong = 0;
    let inside = 0;
    for (let y = 1; y < p.height - 1; y++)
      for (let x = 1; x < p.width - 1; x++) {
        const i = (y * p.width + x) * 4;
        const person = !(p.data[i + 1] > 235 && p.data[i] < 30 && p.data[i + 2] < 30);
        if (mask[y * p.width + x]) inside++;
        if (person === Boolean(mask[y * p.width + x])) continue;
        let edge = false;
        for (let dy = -1; dy <= 1; dy++)
          for (let dx = -1; dx <= 1; dx++) if (Boolean(mask[(y + dy) * p.width + x + dx]) === person) edge = true;
        if (!edge) wrong++;
      }
    expect(inside, pose).toBeGreaterThan(10_000);
    expect(wrong, pose).toBe(0);
  }
});

/** The form's outline by itself: every triangle filled at pixel centres (Pineda's edge functions). */
function outline(positions: Float32Array, indices: Uint32Array, head: Matrix4, width: number, height: number): Uint8Array {
  const camera = cameraOf(MIRROR_CAMERA, width / height);
  const project = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse).multiply(head);
  const at = new Float64Array((positions.length / 3) * 2);
  const v = new Vector3();
  for (let i = 0; i < positions.length / 3; i++) {
    v.fromArray(positions, i * 3).applyMatrix4(project);
    at[i * 2] = ((v.x + 1) / 2) * width;
    at[i * 2 + 1] = ((1 - v.y) / 2) * height;
  }
  const mask = new Uint8Array(width * height);
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t] * 2, indices[t + 1] * 2, indices[t + 2] * 2];
    const side = (p: number, q: number, x: number, y: number) => (at[q] - at[p]) * (y - at[p + 1]) - (at[q + 1] - at[p + 1]) * (x - at[p]);
    const xs = [at[a], at[b], at[c]];
    const ys = [at[a + 1], at[b + 1], at[c + 1]];
    for (let y = Math.max(0, Math.floor(Math.min(...ys))); y <= Math.min(height - 1, Math.ceil(Math.max(...ys))); y++)
      for (let x = Math.max(0, Math.floor(Math.min(...xs))); x <= Math.min(width - 1, Math.ceil(Math.max(...xs))); x++) {
        const s = [side(a, b, x + 0.5, y + 0.5), side(b, c, x + 0.5, y + 0.5), side(c, a, x + 0.5, y + 0.5)];
        if (s.every((k) => k >= 0) || s.every((k) => k <= 0)) mask[y * width + x] = 1;
      }
  }
  return mask;
}

test('an opaque part late in an ordered layer is drawn over a clear one early in it; nothing is drawn while nothing changes', async ({
  page,
}) => {
  await signIn(page);
  const piece = await newPiece(page, 'Ordered');
  const near = sheet('near', 0.2);
  await save(page, piece, [
    remove('parts', 'head-block'),
    add('parts', near),
    add('parts', { ...sheet('far', -0.3), name: 'far' }),
    { kind: 'change', table: 'layers', id: 'main', set: { sort: 'order' } },
  ]);
  await page.goto(`${site()}/piece/${piece}/fit`);
  const pale = (p: Awaited<ReturnType<typeof shown>>) => {
    const i = (Math.round(0.45 * p.height) * p.width + Math.round(0.5 * p.width)) * 4;
    return [...p.data.subarray(i, i + 3)];
  };
  // a smaller sheet behind, drawn last: it lies on top of the larger one before it
  await save(page, piece, [changePart('far', { offset: { positionM: [0, 0.1, -0.3], turnRad: [0, 0.9, 0], size: [0.3, 0.3, 0.3] } })]);
  const lastOnTop = pale(await shown(page));
  await save(page, piece, [order('parts', 'far', 0)]);
  const firstBelow = pale(await shown(page));
  expect(lastOnTop).not.toEqual(firstBelow);
  const canvas = page.locator('[data-view="mirror"]');
  const count = await canvas.getAttribute('data-drawn');
  await page.mouse.move(700, 300);
  await page.mouse.move(720, 320);
  await drawn(page, 'mirror');
  expect(await canvas.getAttribute('data-drawn')).toBe(count);
});

test('an environment as a backdrop is what the camera would see all round, turned and as bright as asked', async ({ page }) => {
  // four quarters by bearing: red, green, blue, yellow, of half a unit of light
  const data = new Float32Array(64 * 32 * 3);
  for (let i = 0; i < 64 * 32; i++)
    data.set(
      [
        [0.5, 0, 0],
        [0, 0.5, 0],
        [0, 0, 0.5],
        [0.5, 0.5, 0],
      ][Math.floor((i % 64) / 16)],
      i * 3,
    );
  await signIn(page);
  await newPiece(page, 'Around');
  await page.getByLabel('Files for Stock').setInputFiles({
    name: 'quarters.hdr',
    mimeType: 'image/vnd.radiance',
    buffer: Buffer.from(writeRgbe({ width: 64, height: 32, data })),
  });
  await expect(page.locator('[data-view="environment"]')).toBeVisible();
  await page.getByRole('link', { name: /^Fit/ }).click();
  await page.getByRole('button', { name: 'Hang a part' }).click();
  await page.getByRole('menuitem', { name: 'Backdrop, behind the wearer' }).click();
  const corners = async () => {
    await saved(page);
    await drawn(page, 'mirror');
    const p = await pixels(page.locator('[data-view="mirror"]'));
    return [0.04, 0.96].map((x) => [...p.data.subarray((20 * p.width + Math.round(x * p.width)) * 4).subarray(0, 3)]);
  };
  // 0.5 in sRGB (IEC 61966-2-1) is 188; the tone curve leaves a pure colour under 0.76 alone (Khronos PBR Neutral)
  expect(await corners()).toEqual([near(188, 0, 0), near(188, 188, 0)]);
  const field = async (name: string, value: string) => {
    await page.getByRole('textbox', { name }).fill(value);
    await page.keyboard.press('Enter');
  };
  await field('Turn of the environment', '180');
  expect(await corners()).toEqual([near(0, 0, 188), near(0, 188, 0)]);
  await field('Brightness of the environment', '-1');
  // half the light is 137
  expect(await corners()).toEqual([near(0, 0, 137), near(0, 137, 0)]);
  await page.reload();
  expect(await corners()).toEqual([near(0, 0, 137), near(0, 137, 0)]);
});
const near = (...rgb: number[]) => rgb.map((v) => expect.closeTo(v, -0.4));
