/** A buoy, and a flat picture, with the wearer's own eyes and mouth: nothing swims as the head turns. */
import { expect, type Page } from '@playwright/test';
import { CylinderGeometry, Matrix4, SphereGeometry, Vector3 } from 'three';
import { cameraOf } from '../../src/core/fit';
import { makeForm } from '../../src/core/form';
import { formBase } from '../../src/core/form/samples';
import { seededRandom } from '../../src/core/math';
import type { Piece } from '../../src/core/piece';
import { stageStill, wearerCapture } from '../../src/core/run';
import { buntingPng } from '../support/bunting';
import { type Delivery, deliveredGlb, drawnDelivery } from '../support/delivery';
import { drawn, longJourney, newPiece, pixels, saved, signIn, site, journey as test } from '../support/page';
import { SEED } from '../support/sweep';
import { putRight, turnBack, User } from './user';

// its pixels are looked at
test.use({ deviceScaleFactor: 1 });

const random = seededRandom(SEED);
const pick = (n: number) => Math.floor(random() * n);
const RADIUS_MM = 110;
/** A ball with a staff on top: which way is up is seen. */
const buoyGlb = (how: Delivery) =>
  deliveredGlb(
    'Buoy',
    [new SphereGeometry(RADIUS_MM, 48, 32), new CylinderGeometry(8, 8, 90, 16).translate(0, RADIUS_MM + 30, 0)],
    { colour: [0.05, 0.18, 0.5], metallic: 0, roughness: 0.7 },
    how,
  );

/** Whether a pixel is of skin: more red than blue. */
const isSkin = (data: Uint8Array | Buffer, i: number) => data[i] > data[i + 2] + 25;

/** Each live patch shows skin in its middle, in the pose that is held. */
async function showsSkin(page: Page, piece: Piece, yawDeg: number): Promise<void> {
  await drawn(page, 'mirror');
  const picture = await pixels(page.locator('[data-view="mirror"]'));
  const state = stageStill(piece, { models: {}, forms: { M: form } }, wearerCapture(piece, { head: { yawDeg, pitchDeg: 0, rollDeg: 0 } }));
  const camera = cameraOf(state.camera, picture.width / picture.height);
  for (const part of state.parts.filter((p) => p.shape?.type === 'patch')) {
    const at = new Vector3().setFromMatrixPosition(new Matrix4().fromArray(part.matrix)).project(camera);
    const [x, y] = [Math.round(((at.x + 1) / 2) * picture.width), Math.round(((1 - at.y) / 2) * picture.height)];
    // the middle of an eye is no skin: beside it
    const found = [-14, -10, -7, 7, 10, 14].some((dx) => isSkin(picture.data, (y * picture.width + x + dx) * 4));
    expect(found, `${piece.parts[part.id].name} at ${x}, ${y}, yaw ${yawDeg}`).toBe(true);
  }
}
const form = makeForm(formBase(), 'M');
const button = (page: Page, name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
const pieceOf = async (page: Page, id: string): Promise<Piece> => {
  await saved(page);
  return (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()).document;
};

/** Eyes and mouth are put on what is chosen, and looked at turned to both sides. */
async function faceOn(page: Page, user: User, id: string, name: string): Promise<Piece> {
  await user.press(button(page, 'Hang a part'));
  await user.press(page.getByRole('menuitem', { name: 'Eyes and mouth' }));
  await expect(page.locator('[data-swim]')).toContainText('It stays where it lies');
  for (const patch of ['Mouth', 'Left eye', 'Right eye'])
    await expect(page.getByRole('treeitem', { name: new RegExp(patch) })).toBeVisible();
  const piece = await pieceOf(page, id);
  expect(
    Object.values(piece.parts).filter((p) => p.kind === 'patch' && p.hang?.on === 'part' && piece.parts[p.hang.part].name === name),
  ).toHaveLength(3);
  for (const yaw of [30, -30]) {
    await user.press(button(page, `Pose yaw ${yaw > 0 ? '+' : '−'}30°`));
    await showsSkin(page, piece, yaw);
  }
  return piece;
}

longJourney('a buoy with the wearer’s own eyes and mouth, nothing swimming', async ({ page }) => {
  const wrong = drawnDelivery(pick);
  console.log(`seed ${SEED}: ${JSON.stringify(wrong)}`);
  await signIn(page);
  const id = await newPiece(page, 'Buoy face');
  const user = new User('a buoy with eyes and mouth');
  await user.chooseFile(page.getByLabel('Files for Stock'), {
    name: 'buoy.glb',
    mimeType: 'model/gltf-binary',
    buffer: Buffer.from(await buoyGlb(wrong)),
  });
  await user.press(button(page, 'Hang a part').last());
  await page.waitForURL(/fit/);
  const offset = async () => {
    const part = Object.values((await pieceOf(page, id)).parts).find((p) => p.kind === 'model');
    if (!part) throw new Error('no part');
    return part.offset;
  };
  // a ball: only where its staff stands is seen
  await putRight(page, user, wrong, turnBack('side', wrong.quarterPitch), offset, [0, 0, 0.06]);
  await faceOn(page, user, id, 'buoy');
  user.finish(14);
});

longJourney('the same on a flat picture', async ({ page }) => {
  await signIn(page);
  const id = await newPiece(page, 'Flat face');
  const user = new User('a flat picture with eyes and mouth');
  await user.chooseFile(page.getByLabel('Files for Stock'), { name: 'board.png', mimeType: 'image/png', buffer: buntingPng() });
  await user.press(button(page, 'Hang a part'));
  await page.waitForURL(/fit/);
  const fore = page.getByRole('textbox', { name: 'Place fore' });
  await user.type(fore, '130');
  await fore.press('Enter');
  await faceOn(page, user, id, 'board');
  user.finish(11);
});
