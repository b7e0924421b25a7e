/** Chains on bones that are there: a figure's tail, and a strand that came with bones. */
import { WebIO } from '@gltf-transform/core';
import { expect } from '@playwright/test';
import { IcosahedronGeometry } from 'three';
import { manikin } from '../../src/core/rig/samples';
import { clean } from '../support/axe';
import { longTest, saved } from '../support/page';
import { bentTube, lone } from '../support/preparing';
import { bring } from '../support/rigging';

longTest(
  'a tail is told as an end of no limb, becomes a chain, is dragged as one, and is told again when it is struck',
  async ({ page }) => {
    const { positions, triangles } = manikin(72, true);
    await bring(page, 'faun.glb', await lone(4, positions, triangles));
    await page.getByRole('button', { name: 'A figure' }).click();
    const ends = page.getByRole('list', { name: 'Ends that belong to no limb' });
    await expect(ends).toContainText('that belongs to no limb');
    await ends.getByRole('button', { name: 'Make it a chain' }).first().click();
    const plan = page.getByRole('table', { name: 'Sail plan' });
    await expect(plan.getByRole('row').nth(1)).toContainText('chain 1');
    await expect(page.getByRole('button', { name: 'Choose hips', exact: true })).toBeVisible();
    await expect(page.getByText('hangs from')).toBeVisible();
    await clean(page, 'Rig, a chain on a figure');
    // its joints are dragged as the figure's are, and are the chain's
    const joint = page.locator('[data-view="figure-side"] ~ svg [data-joint="chain 1.2"]');
    const from = await joint.boundingBox();
    if (!from) throw new Error('no joint');
    await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
    await page.mouse.down();
    await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2 - 15, { steps: 4 });
    await page.mouse.up();
    await expect(page.getByRole('button', { name: 'Joints as found' })).toBeVisible();
    await plan.getByRole('button', { name: 'Strike chain 1' }).click();
    await expect(plan).toHaveCount(0);
    await expect(ends.getByRole('button', { name: 'Make it a chain' }).first()).toBeVisible();
    await saved(page);
  },
);

longTest(
  'on a strand that came with bones two presses hang a chain from the bone there; struck, the file’s own are left',
  async ({ page }) => {
    const doc = bentTube();
    const ball = new IcosahedronGeometry(0.01, 0).getAttribute('position').array;
    const places = doc.createAccessor().setType('VEC3').setArray(Float32Array.from(ball)).setBuffer(doc.getRoot().listBuffers()[0]);
    const lamp = doc.createMesh('lamp').addPrimitive(doc.createPrimitive().setAttribute('POSITION', places));
    doc
      .getRoot()
      .listScenes()[0]
      .addChild(doc.createNode('lamp').setTranslation([0.05, 0.19, 0]).setMesh(lamp));
    await bring(page, 'strand.glb', await new WebIO().writeBinary(doc));
    await expect(page.getByText('The file came with these bones.')).toBeVisible();
    const wrong = page.getByRole('list', { name: 'What is wrong with the bones' });
    await expect(wrong).toContainText('1 piece follows no bone: lamp');
    await wrong.getByRole('button', { name: 'Hang on the nearest' }).click();
    await expect(wrong).toHaveCount(0);
    await expect(page.getByRole('button', { name: 'Chains in all limbs' })).toBeDisabled();
    const picture = page.getByRole('img', { name: 'strand.glb and its bones, 4 bones' });
    const box = await picture.boundingBox();
    if (!box) throw new Error('no picture');
    await page.getByRole('button', { name: 'Press root and tip' }).click();
    const press = (share: number) => page.mouse.click(box.x + box.width / 2, box.y + box.height * share);
    await press(0.5);
    await expect(page.getByText('Press where the chain ends.')).toBeVisible();
    await press(0.2);
    const plan = page.getByRole('table', { name: 'Sail plan' });
    await expect(plan.getByRole('row').nth(1)).toContainText('chain 1');
    await expect(page.getByRole('img', { name: /strand\.glb and its bones, [6-9] bones/ })).toBeVisible();
    await plan.getByRole('button', { name: 'Strike chain 1' }).click();
    await expect(page.getByRole('img', { name: 'strand.glb and its bones, 4 bones' })).toBeVisible();
    await saved(page);
  },
);
