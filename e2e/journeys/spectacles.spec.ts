/**
 * A spectacles file in a wrong unit, turned by quarters and off its origin: on its new owner's head, judged from front
 * and side, occluded, delivered. At most 20 actions.
 */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { WebIO } from '@gltf-transform/core';
import { expect, type Page } from '@playwright/test';
import { Matrix4, Vector3 } from 'three';
import { deliveredTurn, SPECTACLES_SEAT_M, type SpectaclesDelivery, spectacleLumps, spectaclesGlb } from '../../demo/models/spectacles';
import { emptyBox, growBox, seededRandom } from '../../src/core/math';
import { occluderHides, site, journey as test } from '../support/page';
import { drawn as ofSweep } from '../support/sweep';
import { User } from './user';

const UNITS = [
  { name: 'mm', unitPerMm: 1 },
  { name: 'cm', unitPerMm: 0.1 },
  { name: 'inch', unitPerMm: 1 / 25.4 },
];

function draw(seed: number): SpectaclesDelivery & { unit: string } {
  const random = seededRandom(seed);
  const pick = (n: number) => Math.floor(random() * n);
  const unit = UNITS[pick(3)];
  const offset = () => Math.round((random() - 0.5) * 120);
  return {
    unit: unit.name,
    unitPerMm: unit.unitPerMm,
    quarterYaw: pick(4),
    quarterPitch: pick(2) ? 0 : 3,
    shiftMm: [offset(), offset(), offset()],
  };
}

/** Where the spectacles' box must come to lie, mm: as drawn, at their seat. */
function wantedBox(): number[] {
  const box = emptyBox();
  for (const l of spectacleLumps()) growBox(box, l.geometry.getAttribute('position').array);
  return box.map((v, i) => v + SPECTACLES_SEAT_M[i % 3] * 1000);
}

/** What the plate says of the part's reach: the user reads it off the rulers. */
async function reach(page: Page): Promise<number[]> {
  const label = (await page.getByRole('img', { name: /^Front plate: .* reaches/ }).getAttribute('aria-label')) ?? '';
  const n = [...label.slice(label.indexOf('reaches')).matchAll(/from (−?[\d.]+) to (−?[\d.]+)/g)].map((m) =>
    [m[1], m[2]].map((t) => Number(t.replace('−', '-'))),
  );
  return [n[0][0], n[1][0], n[2][0], n[0][1], n[1][1], n[2][1]];
}

for (const seed of ofSweep([2, 8, 10])) {
  const file = draw(seed);
  test(`spectacles, seed ${seed}`, async ({ page }) => {
    console.log(
      `seed ${seed}: unit ${file.unit}, yaw ${file.quarterYaw} quarters, pitch ${file.quarterPitch} quarters, offset ${file.shiftMm.join(', ')} mm`,
    );
    const user = new User(`spectacles seed ${seed}`);
    const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
    await page.goto(`${site()}/sign-in`);
    await user.press(button('Open the demo'));
    await user.press(button('New piece'));
    await user.type(page.getByRole('textbox', { name: 'Name' }), `Found spectacles ${seed}`);
    await user.press(button('Lay it down'));
    await user.chooseFile(page.getByLabel('Files for Stock'), {
      name: 'spectacles.glb',
      mimeType: 'model/gltf-binary',
      buffer: Buffer.from(await spectaclesGlb(file)),
    });
    await user.press(button('Hang a part').last());
    await page.waitForURL(/fit/);
    // the plate says how large it hangs; only one unit makes that a pair of spectacles
    const found = await reach(page);
    const longest = Math.max(...[0, 1, 2].map((k) => found[k + 3] - found[k]));
    const factor = [0.001, 0.01, 0.0254].find((f) => longest * f > 130 && longest * f < 160);
    await user.type(page.getByRole('textbox', { name: 'Size side' }), String(factor));
    // turned as it is seen to be: the yaw first, in one press, then the pitch in another
    const yaw = ['', '−90°', '180°', '+90°'][file.quarterYaw];
    if (yaw) await user.press(button(`Turn up ${yaw}`));
    if (file.quarterPitch) await user.press(button('Turn side +90°'));
    const want = wantedBox();
    const middle = (b: number[], i: number) => (b[i] + b[i + 3]) / 2;
    const have = await reach(page);
    for (const [i, axis] of ['side', 'up', 'fore'].entries())
      await user.type(page.getByRole('textbox', { name: `Place ${axis}` }), `+(${(middle(want, i) - middle(have, i)).toFixed(2)})`);
    await user.press(button('Pose yaw +60°'));
    await occluderHides(page, (t) => user.press(t));
    await user.press(page.getByRole('link', { name: /^Deliver/ }));
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      user.press(page.getByRole('button', { name: 'Deliver the GLB' })),
    ]);
    const path = `${await download.path()}`;
    user.finish(20);

    const info = execFileSync('assimp', ['info', await withEnding(path)], { encoding: 'utf8' });
    const [lo, hi] = ['Minimum point', 'Maximum point'].map((k) =>
      (new RegExp(`${k}\\s+\\(([^)]+)\\)`).exec(info)?.[1] ?? '').trim().split(/\s+/).map(Number),
    );
    const width = (hi[0] - lo[0]) * 1000;
    expect(width, 'width by assimp info, mm').toBeGreaterThan(135);
    expect(width).toBeLessThan(150);
    const doc = await new WebIO().readBinary(new Uint8Array(readFileSync(path)));
    const part = doc
      .getRoot()
      .listNodes()
      .find((n) => n.getMesh()) as NonNullable<ReturnType<typeof doc.createNode>>;
    const world = new Matrix4().fromArray(part.getWorldMatrix()).multiply(deliveredTurn(file));
    expect(new Vector3(0, 0, 1).transformDirection(world).z, 'the bridge faces fore').toBeGreaterThan(0.99);
    expect(new Vector3(0, 1, 0).transformDirection(world).y, 'and stands upright').toBeGreaterThan(0.99);
  });
}

/** assimp goes by the ending. */
async function withEnding(path: string): Promise<string> {
  const named = `${path}.glb`;
  execFileSync('cp', [path, named]);
  return named;
}
