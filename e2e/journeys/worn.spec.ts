/** A helmet over the wearer's head, and a collar on the shoulders that stays when the head turns; both in a wrong unit, turned and off. */
import { expect, type Page } from '@playwright/test';
import { CylinderGeometry, Matrix4, Vector3 } from 'three';
import { lumpsToGlb } from '../../demo/kit';
import { helmetLumps } from '../../demo/models/helmet';
import { offsetMatrix, seededRandom } from '../../src/core/math';
import type { Part, Piece } from '../../src/core/piece';
import { stageStill, wearerCapture } from '../../src/core/run';
import { deliveredAs, deliveredGlb, drawnDelivery } from '../support/delivery';
import { drawn, longJourney, newPiece, occluderHides, saved, signIn, site } from '../support/page';
import { SEED } from '../support/sweep';
import { putRight, turnBack, User } from './user';

const random = seededRandom(SEED);
const pick = (n: number) => Math.floor(random() * n);
const button = (page: Page, name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
const glbFile = (name: string, bytes: Uint8Array) => ({ name, mimeType: 'model/gltf-binary', buffer: Buffer.from(bytes) });

async function pieceOf(page: Page, id: string): Promise<{ piece: Piece; part: Part }> {
  await saved(page);
  const { document: piece } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  return { piece, part: Object.values(piece.parts).find((p) => p.kind === 'model') as Part };
}

longJourney('the diver’s helmet over the wearer’s head', async ({ page }) => {
  const wrong = drawnDelivery(pick);
  console.log(`seed ${SEED}: ${JSON.stringify(wrong)}`);
  await signIn(page);
  const id = await newPiece(page, 'Found helmet');
  const user = new User('a helmet over the head');
  await user.chooseFile(
    page.getByLabel('Files for Stock'),
    glbFile('helmet.glb', await lumpsToGlb('Helmet', helmetLumps(), deliveredAs(wrong))),
  );
  await user.press(button(page, 'Hang a part').last());
  await page.waitForURL(/fit/);
  await user.press(button(page, 'Fit it …'));
  const sheet = page.getByRole('dialog', { name: /^Fit it/ });
  await user.choose(sheet.getByRole('combobox', { name: 'What it is' }), 'fullhead');
  await expect(sheet.getByRole('status').last()).toContainText('Fitted', { timeout: 480_000 });
  await user.press(sheet.getByRole('button', { name: 'Put it there' }));
  // the head is seen through the windows: the block of the head must not hide what is before it
  await user.press(button(page, 'Pose yaw +60°'));
  await occluderHides(page, (t) => user.press(t));
  await user.press(button(page, 'Pose front'));
  await drawn(page, 'mirror');
  user.finish(12);

  const { part } = await pieceOf(page, id);
  const onHead = offsetMatrix(part.offset).multiply(deliveredAs(wrong));
  // as it was made for a head: upright, its window ahead, about as large, its dome round the head
  expect(new Vector3(0, 0, 1).transformDirection(onHead).z).toBeGreaterThan(0.98);
  expect(new Vector3(0, 1, 0).transformDirection(onHead).y).toBeGreaterThan(0.98);
  expect(new Vector3().setFromMatrixScale(onHead).x * 1000).toBeGreaterThan(0.9);
  expect(new Vector3().setFromMatrixScale(onHead).x * 1000).toBeLessThan(1.15);
  expect(new Vector3(0, 16, 6).applyMatrix4(onHead).distanceTo(new Vector3(0, 0.016, 0.006))).toBeLessThan(0.015);
});

longJourney('an oilskin collar on the shoulders that does not turn with the head', async ({ page }) => {
  const wrong = drawnDelivery(pick);
  console.log(`seed ${SEED}: ${JSON.stringify(wrong)}`);
  await signIn(page);
  const id = await newPiece(page, 'Collar');
  const user = new User('a collar on the shoulders');
  // open before the throat
  const collar = new CylinderGeometry(85, 120, 70, 60, 4, true, 0.25, 2 * Math.PI - 0.5);
  const glb = await deliveredGlb('Oilskin', [collar], { colour: [0.8, 0.62, 0.1], metallic: 0, roughness: 0.6 }, wrong);
  await user.chooseFile(page.getByLabel('Files for Stock'), glbFile('collar.glb', glb));
  await user.press(button(page, 'Hang a part').last());
  await page.waitForURL(/fit/);
  await user.choose(page.getByRole('combobox', { name: 'Hangs on' }), 'anchor shoulders');
  // open ahead: the last turn it was given is undone first
  const back = [...turnBack('side', wrong.quarterPitch), ...turnBack('up', wrong.quarterYaw)];
  await putRight(page, user, wrong, back, async () => (await pieceOf(page, id)).part.offset, [0, 0.1, 0.01]);
  await user.press(button(page, 'Pose yaw +60°'));
  await drawn(page, 'mirror');
  user.finish(10);

  const { piece, part } = await pieceOf(page, id);
  const seen = (yawDeg: number) => {
    const capture = wearerCapture(piece, { head: { yawDeg, pitchDeg: 0, rollDeg: 0 } });
    return stageStill(piece, { models: {} }, capture).parts.find((p) => p.id === part.id)?.matrix ?? [];
  };
  const [front, turned] = [seen(0), seen(60)];
  for (const [i, x] of front.entries()) expect(turned[i]).toBeCloseTo(x, 9);
  const worn = new Matrix4().fromArray(front).multiply(deliveredAs(wrong));
  expect(new Vector3(0, 1, 0).transformDirection(worn).y).toBeCloseTo(1, 6);
  expect(new Vector3(0, 0, 1).transformDirection(worn).z).toBeCloseTo(1, 6);
  expect(new Vector3().setFromMatrixScale(worn).x * 1000).toBeCloseTo(1, 3);
});
