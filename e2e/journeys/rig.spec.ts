/** Bones by real input: the fronds of a crown, a buoy of two bones, a figure that walks; each with a bound on actions. */
import { readFile } from 'node:fs/promises';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { expect, type Page } from '@playwright/test';
import { crownGlb } from '../../demo/models/crown';
import { lamplighterGlb } from '../../demo/models/lamplighter';
import { readModel } from '../../src/core/model';
import { drawnModel, type Piece } from '../../src/core/piece';
import { raiseBones, rigFigure, surfaceOf } from '../../src/core/rig';
import { masthead } from '../../src/core/rig/samples';
import { tube } from '../../src/core/rig/shapes';
import { longJourney, newPiece, pixels, saved, signIn, site } from '../support/page';
import { lone } from '../support/preparing';
import { User } from './user';

const io = new WebIO().registerExtensions(ALL_EXTENSIONS);
async function begin(page: Page, user: User, file: string, bytes: Uint8Array): Promise<string> {
  await signIn(page);
  const id = await newPiece(page, file);
  await user.chooseFile(page.getByLabel('Files for Stock'), { name: file, mimeType: '', buffer: Buffer.from(bytes) });
  await expect(page.getByRole('button', { name: file, exact: true }).first()).toBeVisible();
  await user.press(page.getByRole('link', { name: /^Rig/ }));
  await expect(page.getByRole('img', { name: `${file} and its bones` })).toHaveAttribute('data-ready', /[0-9a-f]{64}/);
  return id;
}
/** What the piece draws now, read as a GLB. */
async function drawn(page: Page, id: string) {
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  const sha = drawnModel(document, Object.keys(document.stock)[0]) as string;
  const made = await page.request.get(`${site()}/api/pieces/${id}/assets/${sha}`);
  return (await io.readBinary(new Uint8Array(await made.body()))).getRoot();
}

longJourney('kelp crown: all fronds in chains, weights, pose test', async ({ page }) => {
  const user = new User('kelp crown in chains');
  const id = await begin(page, user, 'crown.glb', await crownGlb());
  await user.press(page.getByRole('button', { name: 'Chains in all limbs' }));
  const plan = page.getByRole('table', { name: 'Sail plan' });
  await expect(plan.getByRole('row')).toHaveCount(15);
  await user.press(page.getByRole('button', { name: /Choose chain 3/ }));
  await expect(page.getByRole('button', { name: /Choose chain 3/ })).toHaveAttribute('aria-pressed', 'true');
  // how many bones it needs was computed for this chain
  await expect(page.getByRole('figure', { name: /Bones of limb 3/ })).toBeVisible();
  await user.press(page.getByRole('radio', { name: 'Weights' }));
  await user.press(page.getByRole('radio', { name: 'Pose' }));
  await user.type(page.getByRole('slider', { name: 'Turn of the bone, degrees' }), '45');
  await expect(page.getByRole('table', { name: 'Against rest' })).toContainText(/Longest edge×\d/);
  user.finish(7);
  await saved(page);
  const made = await drawn(page, id);
  // two at least in each of fourteen fronds, under the limit
  const bones = made.listSkins()[0].listJoints().length;
  expect(bones).toBeGreaterThanOrEqual(29);
  expect(bones).toBeLessThanOrEqual(50);
  // one undo takes them away, one redo brings them back
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(plan).toHaveCount(0);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(plan.getByRole('row')).toHaveCount(15);
  await page.getByRole('button', { name: 'Take the bones away' }).click();
  await expect(plan).toHaveCount(0);
});

longJourney('a buoy of two bones', async ({ page }) => {
  const buoy = tube(
    (t) => [0, t * 0.6, 0],
    (t) => 0.05 + 0.06 * Math.sin(Math.PI * Math.min(1, t * 2)),
    40,
    20,
  );
  const user = new User('buoy of two bones');
  const id = await begin(page, user, 'buoy.glb', await lone(4, buoy.positions, buoy.triangles));
  const picture = page.getByRole('img', { name: 'buoy.glb and its bones' });
  const box = await picture.boundingBox();
  if (!box) throw new Error('no picture');
  await user.press(page.getByRole('button', { name: 'Press root and tip' }));
  // it stands in the middle: near its foot, then near its top
  for (const y of [0.85, 0.15]) {
    user.actions++;
    await page.mouse.click(box.x + box.width / 2, box.y + box.height * y);
  }
  await expect(page.getByRole('table', { name: 'Sail plan' }).getByRole('row').nth(1)).toContainText('chain 1');
  user.finish(6);
  await saved(page);
  const joints = (await drawn(page, id)).listSkins()[0].listJoints();
  expect(joints.map((j) => j.getName())).toEqual(['root', 'chain 1.1', 'chain 1.2']);
});

longJourney(
  'a masthead with a pennant branch: two chains by presses, the pennant hangs from the mast, and both are tried',
  async ({ page }) => {
    const { positions, triangles } = masthead();
    const user = new User('masthead with a pennant branch');
    const id = await begin(page, user, 'masthead.glb', await lone(4, positions, triangles));
    const picture = page.getByRole('img', { name: /masthead\.glb and its bones/ });
    const plan = page.getByRole('table', { name: 'Sail plan' });
    // where an eye sees them: the pole's foot and head, where the pennant leaves it, and its end
    const { width: w, height: h, data } = await pixels(picture);
    const there = (x: number, y: number) => data[(y * w + x) * 4 + 3] > 200;
    const seen = Array.from({ length: w * h }, (_, i): [number, number] => [i % w, Math.floor(i / w)]).filter(([x, y]) => there(x, y));
    const [head, foot] = [seen[0], seen[seen.length - 1]];
    const end = seen.reduce((far, p) => (Math.abs(p[0] - head[0]) > Math.abs(far[0] - head[0]) ? p : far));
    const fork = [Math.round(head[0] + (end[0] - head[0]) * 0.25), 0];
    const column = seen.filter(([x]) => x === fork[0]);
    fork[1] = column[column.length >> 1][1];
    const chains = [
      [foot, head],
      [fork, end],
    ];
    for (const [i, ends] of chains.entries()) {
      await user.press(page.getByRole('button', { name: 'Press root and tip' }));
      const { width, height, x, y } = (await picture.boundingBox()) as { width: number; height: number; x: number; y: number };
      for (const at of ends) {
        user.actions++;
        await page.mouse.click(x + ((at[0] + 0.5) / w) * width, y + ((at[1] + 0.5) / h) * height);
      }
      await expect(plan.getByRole('row').nth(i + 1)).toContainText(`chain ${i + 1}`);
    }
    await user.press(page.getByRole('radio', { name: 'Pose' }));
    await expect(page.getByRole('table', { name: 'Against rest' })).toContainText(/Longest edge×\d/);
    user.finish(9);
    await saved(page);
    const joints = (await drawn(page, id)).listSkins()[0].listJoints();
    const parent = (name: string) => joints.find((j) => j.listChildren().some((c) => c.getName() === name))?.getName();
    expect(parent('chain 1.1')).toBe('root');
    expect(parent('chain 2.1')).toMatch(/^chain 1\./);
  },
);

longJourney('the lamplighter without bones made to walk under 50 bones, textures kept', async ({ page }) => {
  const user = new User('lamplighter walks');
  const given = (await io.readBinary(await lamplighterGlb())).getRoot();
  await begin(page, user, 'lamplighter.glb', await lamplighterGlb());
  await user.press(page.getByRole('button', { name: 'A figure' }));
  await expect(page.getByRole('img', { name: /from the front, 22 bones/ })).toBeVisible();
  await user.press(page.getByRole('checkbox', { name: 'Walk' }));
  await expect(page.getByRole('radio', { name: 'Motion' })).toBeVisible();
  await user.press(page.getByRole('link', { name: /^Stock/ }));
  await user.press(page.getByRole('button', { name: 'Hang a part' }).first());
  await page.waitForURL(/fit/);
  await saved(page);
  await user.press(page.getByRole('link', { name: /^Deliver/ }));
  const [download] = await Promise.all([page.waitForEvent('download'), user.press(page.getByRole('button', { name: 'Deliver the GLB' }))]);
  user.finish(8);
  const made = (await io.readBinary(new Uint8Array(await readFile(`${await download.path()}`)))).getRoot();
  expect(made.listSkins()[0].listJoints().length).toBeLessThan(50);
  expect(made.listAnimations().map((a) => a.getName())).toContain('walk');
  expect(made.listTextures()).toHaveLength(given.listTextures().length);
  expect(made.listMaterials().map((m) => m.getName())).toEqual(given.listMaterials().map((m) => m.getName()));
});

/** The lamplighter as another program would hand it over: with bones of other names, and nothing of ours said of them. */
async function foreignFigure(): Promise<Uint8Array> {
  const document = await io.readBinary(await lamplighterGlb());
  const surface = surfaceOf(readModel(document));
  raiseBones(document, surface, rigFigure(surface, { detail: 22, joints: {}, weights: 'voxel' }));
  for (const joint of document.getRoot().listSkins()[0].listJoints())
    joint
      .setName(
        joint
          .getName()
          .replace(/^(left|right)?(.+)$/, (_, side: string | undefined, part: string) => `def_${part}${side ? `.${side[0]}` : ''}`),
      )
      .setExtras({});
  return io.writeBinary(document);
}

longJourney('a rigged figure whose bones have other names, given a BVH nobody here made', async ({ page }) => {
  const user = new User('foreign bones given a BVH');
  const id = await begin(page, user, 'stranger.glb', await foreignFigure());
  await expect(page.getByRole('region', { name: 'The figure in it' })).toContainText('22 bones known by their names');
  const bvh = await readFile('/usr/share/assimp/models/BVH/01_03.bvh');
  await user.chooseFile(page.getByLabel('Files for Stock'), { name: 'steps.bvh', mimeType: '', buffer: bvh });
  const taken = page.getByRole('checkbox', { name: 'steps' });
  await user.press(taken);
  await expect(page.getByRole('radio', { name: 'Motion' })).toBeVisible();
  await expect(taken).toBeChecked();
  await user.press(page.getByRole('radio', { name: 'Motion' }));
  await user.press(page.getByRole('button', { name: 'Play' }));
  user.finish(7);
  await saved(page);
  const made = await drawn(page, id);
  const [clip] = made.listAnimations();
  expect(clip.getName()).toBe('steps');
  // its own bones are moved, and are called what they were
  const moved = new Set(clip.listChannels().map((c) => c.getTargetNode()?.getName()));
  expect(moved).toContain('def_LowerLeg.l');
  expect(made.listSkins()[0].listJoints()).toHaveLength(22);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(taken).not.toBeChecked();
  // what a bone was taken for is said otherwise, and taken back
  const figure = page.getByRole('region', { name: 'The figure in it' });
  await figure.getByText('What each was taken for').click();
  await figure.getByLabel('left wrist').selectOption('none');
  await expect(figure).toContainText('Not known as a figure’s bones: of those that motions need left wrist is not told.');
  await figure.getByLabel('left wrist').selectOption('def_Hand.l');
  await expect(figure).toContainText('22 bones known by their names, 1 as you said');
  await figure.getByRole('button', { name: 'All as found' }).click();
  await expect(figure).toContainText('22 bones known by their names.');
});
