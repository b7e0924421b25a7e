/** Rig on the screen: a chain by two presses, one bone more; a figure, its joints, weights, poses and motion. */

import { WebIO } from '@gltf-transform/core';
import { expect } from '@playwright/test';
import { crownGlb } from '../../demo/models/crown';
import { manikin, masthead } from '../../src/core/rig/samples';
import { clean } from '../support/axe';
import { different, longTest, pixels, saved } from '../support/page';
import { bentTube, lone } from '../support/preparing';
import { bring } from '../support/rigging';

const plan = 'Sail plan';

longTest('a chain by two presses; one bone more, and struck again', async ({ page }) => {
  await bring(page, 'crown.glb', await crownGlb());
  const picture = page.getByRole('img', { name: /crown\.glb and its bones/ });
  await page.getByRole('button', { name: 'Press root and tip' }).click();
  await expect(page.getByText('Press where the chain begins.')).toBeVisible();
  // a frond of the picture: found by its green, from below to above
  const ends = await picture.evaluate((c: HTMLCanvasElement) => {
    const { width, height } = c;
    const { data } = (c.getContext('2d') as CanvasRenderingContext2D).getImageData(0, 0, width, height);
    const green = (x: number, y: number) => {
      const i = (y * width + x) * 4;
      return data[i + 3] > 200 && data[i + 1] > data[i] * 1.15 && data[i + 1] > data[i + 2] * 1.8;
    };
    let best = { run: 0, x: 0, from: 0, to: 0 };
    for (let x = 0; x < width; x++)
      for (let y = 0, from = -1; y <= height; y++) {
        const is = y < height && green(x, y);
        if (is && from < 0) from = y;
        if (!is && from >= 0) {
          if (y - from > best.run) best = { run: y - from, x, from, to: y - 1 };
          from = -1;
        }
      }
    const at = (y: number) => ({ x: (best.x + 0.5) / width, y: (y + 0.5) / height });
    return { run: best.run, root: at(best.to - Math.round(best.run * 0.1)), tip: at(best.from + Math.round(best.run * 0.1)) };
  });
  expect(ends.run).toBeGreaterThan(20);
  const box = await picture.boundingBox();
  if (!box) throw new Error('no picture');
  await page.mouse.click(box.x + ends.root.x * box.width, box.y + ends.root.y * box.height);
  await expect(page.getByText('Press where the chain ends.')).toBeVisible();
  await page.mouse.click(box.x + ends.tip.x * box.width, box.y + ends.tip.y * box.height);
  const row = page.getByRole('table', { name: plan }).getByRole('row').nth(1);
  await expect(row).toContainText('chain 1');
  const before = Number((await picture.getAttribute('aria-label'))?.match(/(\d+) bones/)?.[1]);
  await page.getByRole('button', { name: 'One bone more in chain 1' }).click();
  await expect(page.getByRole('img', { name: `crown.glb and its bones, ${before + 1} bones` })).toBeVisible();
  await page.getByRole('button', { name: 'Strike chain 1' }).click();
  await expect(page.getByRole('table', { name: plan })).toHaveCount(0);
});

longTest(
  'a figure: bones by one press, an elbow dragged and its pair with it, a wrist typed, fewer bones; weights and a pose are looked at',
  async ({ page }) => {
    const { positions, triangles } = manikin(56);
    await bring(page, 'manikin.glb', await lone(4, positions, triangles));
    await page.getByRole('button', { name: 'A figure' }).click();
    const front = page.getByRole('img', { name: /manikin\.glb from the front, 22 bones/ });
    await expect(front).toBeVisible();
    await expect(page.getByText('every joint is sure')).toBeVisible();
    const joints = page.getByRole('region', { name: 'Joints' });
    // out by a tenth of the plate: metres follow from the picture
    const ring = (view: string, bone: string) => page.locator(`[data-view="figure-${view}"] ~ svg [data-joint="${bone}"]`);
    const middle = async (view: string, bone: string) => {
      const box = await ring(view, bone).boundingBox();
      if (!box) throw new Error(`no ${bone}`);
      return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    };
    const [from, pair] = [await middle('front', 'leftLowerArm'), await middle('front', 'rightLowerArm')];
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(from.x + 24, from.y - 12, { steps: 4 });
    await page.mouse.up();
    await expect(joints.getByText('by hand')).toHaveCount(2);
    await expect.poll(async () => Math.round((await middle('front', 'leftLowerArm')).x - from.x)).toBe(24);
    const moved = await middle('front', 'rightLowerArm');
    expect(Math.abs(moved.x - pair.x + 24)).toBeLessThan(3);
    expect(Math.abs(moved.y - pair.y + 12)).toBeLessThan(3);
    await page.getByRole('button', { name: 'Choose left wrist' }).click();
    const field = page.getByRole('textbox', { name: 'Z of the left wrist, mm' });
    await field.fill('90');
    await field.press('Enter');
    await expect(joints.getByText('by hand')).toHaveCount(4);
    await expect(field).toHaveValue('90');
    await joints.getByRole('button', { name: 'As found' }).first().click();
    await expect(joints.getByText('by hand')).toHaveCount(3);
    await page.getByLabel('Bones', { exact: true }).selectOption({ label: '17 bones' });
    await expect(page.getByRole('img', { name: /from the front, 17 bones/ })).toBeVisible();
    // what the wrist's bone holds, and what it does when it is turned
    await page.getByRole('radio', { name: 'Weights' }).check();
    await page.getByRole('radio', { name: 'Pose' }).check();
    const table = page.getByRole('table', { name: 'Against rest' });
    await expect(table).toContainText(/Longest edge×[1-9]\.\d\d/);
    const before = await table.textContent();
    await page.getByRole('slider', { name: 'Turn of the bone, degrees' }).fill('60');
    await expect(table).not.toHaveText(before ?? '');
    // other weights, beside those before: at a shoulder they differ, where a limb bends they are alike
    await page.getByRole('combobox', { name: 'Bone', exact: true }).selectOption('leftUpperArm');
    await page.getByRole('button', { name: 'Keep beside' }).click();
    const [then, now] = ['before', 'now'].map((when) => page.getByRole('figure', { name: `The weights ${when}` }));
    await expect(then).toBeVisible();
    await expect(table).toContainText('before');
    const column = async (n: number) => {
      const rows = await table
        .getByRole('row')
        .filter({ has: page.getByRole('cell') })
        .all();
      return (await Promise.all(rows.map((r) => r.getByRole('cell').nth(n).textContent()))).join(' ');
    };
    expect(await column(1)).toBe(await column(0));
    await page.getByRole('combobox', { name: 'Weights' }).selectOption('heat');
    await expect.poll(async () => (await column(1)) === (await column(0)), { timeout: 120_000 }).toBe(false);
    await expect(now.locator('canvas')).toBeVisible();
    await page.getByRole('button', { name: 'Before, beside' }).click();
    await expect(then).toHaveCount(0);
    // its arms level at rest: joints are put right in the pose it came in
    await page.getByRole('combobox', { name: 'Rest pose' }).selectOption('T');
    await expect(page.getByRole('region', { name: 'Rest pose' })).toContainText('in the pose it came in');
    await page.getByRole('combobox', { name: 'Rest pose' }).selectOption('came');
    await expect(page.getByRole('region', { name: 'Rest pose' })).not.toContainText('in the pose it came in');
    // it walks
    await page.getByRole('checkbox', { name: 'Walk' }).click();
    await page.getByRole('radio', { name: 'Motion' }).check();
    const clip = page.getByRole('combobox', { name: 'Clip' });
    await expect(clip).toContainText('walk');
    // half as fast as the slowest is refused in words; slower it takes longer
    const speed = page.getByRole('textbox', { name: 'Speed of walk' });
    await speed.fill('0.2');
    await speed.press('Enter');
    await expect(page.getByText('From 0.40 to 2.00')).toBeVisible();
    const seconds = async () => Number(await page.getByRole('slider', { name: 'Moment of the clip, seconds' }).getAttribute('max'));
    const usual = await seconds();
    await speed.fill('0.7');
    await speed.press('Enter');
    await expect.poll(seconds).toBeGreaterThan(usual * 1.2);
    const plate = page.locator('[data-view="figure-side"]');
    const pixels = () => plate.evaluate((c: HTMLCanvasElement) => c.toDataURL());
    const first = await pixels();
    // where it stretches while it walks; then in a pose that people take, arms and all
    const against = page.getByRole('table', { name: 'Against rest' });
    await expect(against).toContainText('Longest edge');
    await page.getByRole('slider', { name: 'Moment of the clip, seconds' }).fill('0.4');
    await expect.poll(pixels).not.toBe(first);
    await page.getByRole('radio', { name: 'Pose' }).check();
    const usualStretch = await against.textContent();
    await page.getByRole('combobox', { name: 'Held' }).selectOption('Seated');
    await expect(page.getByRole('combobox', { name: 'Turned' })).toHaveCount(0);
    await expect(against).not.toHaveText(usualStretch ?? '');
    await page.getByRole('combobox', { name: 'Held' }).selectOption('One bone turned');
    await expect(against).toHaveText(usualStretch ?? '');
    await saved(page);
    await page.getByRole('button', { name: 'Take the bones away' }).click();
    await expect(page.getByRole('button', { name: 'A figure' })).toHaveAttribute('aria-pressed', 'false');
  },
);

longTest(
  'chains of a masthead: called otherwise, turned round, parted, joined, hung elsewhere, a joint dragged, all as found again',
  async ({ page }) => {
    const { positions, triangles } = masthead();
    await bring(page, 'masthead.glb', await lone(4, positions, triangles));
    await page.getByRole('button', { name: 'Chains in all limbs' }).click();
    const table = page.getByRole('table', { name: plan });
    const names = table.getByRole('button', { name: /Choose chain/ });
    // the pole's lower and upper end, and the pennant from the upper one
    await expect(names).toHaveCount(3);
    await page.getByLabel('Call them all').fill('spar');
    await page.getByRole('button', { name: 'Call', exact: true }).click();
    await expect(table).toContainText('spar 3');
    await page.getByRole('button', { name: 'Choose chain 3, spar 3' }).click();
    const sheet = page.getByRole('group', { name: 'Chain spar 3' });
    await expect(sheet.getByRole('combobox', { name: 'Hangs from' })).toHaveValue('limb 2');
    await sheet.getByRole('combobox', { name: 'Hangs from' }).selectOption({ label: 'the root' });
    await expect(sheet.getByRole('combobox', { name: 'Hangs from' })).toHaveValue('');
    await page.getByRole('button', { name: 'One bone more in spar 3' }).click();
    await expect(table.getByRole('row').nth(3)).toContainText('3');
    await sheet.getByRole('button', { name: 'Part it' }).click();
    await expect(names).toHaveCount(4);
    await expect(table).toContainText('spar 3 b');
    await page.getByRole('button', { name: 'As it was found' }).click();
    await expect(names).toHaveCount(3);
    await page.getByRole('button', { name: 'Choose chain 2, spar 2' }).click();
    await page.getByRole('combobox', { name: 'Goes on with' }).selectOption({ label: 'spar 3' });
    await expect(names).toHaveCount(2);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(names).toHaveCount(3);
    await page.getByRole('button', { name: 'Strike spar 1' }).click();
    await expect(names).toHaveCount(2);
    await page.getByRole('button', { name: 'limb 1', exact: true }).click();
    await expect(names).toHaveCount(3);
    await page.getByRole('button', { name: 'Choose chain 3, spar 3' }).click();
    await page.getByRole('button', { name: 'Two plates' }).click();
    const tip = page.locator('[data-view="figure-front"] ~ svg [data-joint="tip of spar 3"]');
    const box = async () => (await tip.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
    const from = await box();
    await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
    await page.mouse.down();
    await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2 - 20, { steps: 4 });
    await page.mouse.up();
    await expect(page.getByRole('button', { name: 'Joints as found' })).toBeVisible();
    await expect.poll(async () => Math.round((await box()).y - from.y)).toBe(-20);
    // a press beside those that were found
    await saved(page);
  },
);

longTest(
  'a bone that holds nothing is told and taken out; lines of equal share stand on the weights, which are painted',
  async ({ page }) => {
    const doc = bentTube();
    const [skin] = doc.getRoot().listSkins();
    const spare = doc.createNode('spare');
    skin.listJoints()[3].addChild(spare);
    skin.addJoint(spare);
    const bind = skin.getInverseBindMatrices();
    const given = bind?.getArray() as Float32Array;
    bind?.setArray(Float32Array.from([...given, ...given.slice(-16)]));
    await bring(page, 'strand.glb', await new WebIO().writeBinary(doc));
    const wrong = page.getByRole('list', { name: 'What is wrong with the bones' });
    await expect(wrong).toContainText('1 bone holds nothing: spare');
    await wrong.getByRole('button', { name: 'Take out' }).click();
    await expect(wrong).toHaveCount(0);
    await expect(page.getByRole('img', { name: 'strand.glb and its bones, 4 bones' })).toBeVisible();
    await page.getByRole('button', { name: /Choose chain 1/ }).click();
    await page.getByRole('radio', { name: 'Weights' }).check();
    const figures = page.locator('[data-view="rig"] ~ svg text').filter({ hasText: /^\.\d\d$/ });
    // of a bone in the middle its lines stand twice; those that have room have figures
    await expect(figures.filter({ hasText: '.90' })).toHaveCount(1);
    expect(await figures.count()).toBeGreaterThan(1);
    // the last bone gets the middle too, on a press there; that is taken back
    await page.getByRole('combobox', { name: 'Bone', exact: true }).selectOption('bone 3');
    await page.getByRole('radio', { name: 'Region' }).check();
    await page.getByRole('textbox', { name: 'Radius' }).fill('30');
    await page.getByRole('textbox', { name: 'Radius' }).press('Enter');
    const view = page.locator('[data-view="rig"]');
    const before = await pixels(view);
    const box = await view.boundingBox();
    if (!box) throw new Error('no picture');
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
    await expect(page.getByText('Put right at 1 place.')).toBeVisible();
    await expect.poll(async () => different(before, await pixels(view))).toBeGreaterThan(50);
    await page.getByRole('button', { name: 'The last away' }).click();
    await expect(page.getByText('Put right at 1 place.')).toHaveCount(0);
    await expect.poll(async () => different(before, await pixels(view))).toBeLessThan(5);

    // strokes are seen at once, undone one by one before anything else, and in the piece when they are kept
    await page.getByRole('radio', { name: 'Brush' }).check();
    const draw = async (from: number, to: number) => {
      const at = (y: number) => [box.x + box.width / 2, box.y + box.height * y] as const;
      await page.mouse.move(...at(from));
      await page.mouse.down();
      await page.mouse.move(...at(to), { steps: 5 });
      await page.mouse.up();
    };
    await draw(0.5, 0.6);
    await expect(page.getByText('1 stroke, not kept yet.')).toBeVisible();
    await clean(page, 'Rig, painted');
    await expect.poll(async () => different(before, await pixels(view))).toBeGreaterThan(50);
    await page.getByRole('radio', { name: 'Take' }).check();
    await draw(0.4, 0.3);
    await expect(page.getByText('2 strokes, not kept yet.')).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(page.getByText('1 stroke, not kept yet.')).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(page.getByText('not kept yet')).toHaveCount(0);
    await expect.poll(async () => different(before, await pixels(view))).toBeLessThan(5);
    await page.keyboard.press('Control+Shift+z');
    await expect(page.getByText('1 stroke, not kept yet.')).toBeVisible();
    const painted = await pixels(view);
    await page.getByRole('button', { name: 'Keep the strokes' }).click();
    await expect(page.getByText('Strokes kept once.')).toBeVisible();
    await expect(view).toHaveAttribute('data-ready', /[0-9a-f]{64}/);
    await expect.poll(async () => different(painted, await pixels(view))).toBeLessThan(5);
    // who walks on with strokes that are not kept finds them kept
    await page.getByRole('radio', { name: 'Add' }).check();
    await draw(0.65, 0.7);
    await expect(page.getByText('1 stroke, not kept yet.')).toBeVisible();
    await page.getByRole('link', { name: /^Stock/ }).click();
    await expect(page.getByText('Weights painted, kept 2 times')).toBeVisible();
    await saved(page);
  },
);
