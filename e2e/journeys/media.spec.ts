/** A zipped sequence on the head, looping, in at most 8 actions; the form out, moved and scaled elsewhere, back in place in at most 5. */
import { type Document, WebIO } from '@gltf-transform/core';
import { expect, type Page } from '@playwright/test';
import { Matrix4 } from 'three';
import { flameZip } from '../../demo/media';
import { createGltfIo, readModel } from '../../src/core/intake';
import { nodeMatrices, poseAt, posedPrimitives, restPose } from '../../src/core/model';
import { drawnModel, type Piece } from '../../src/core/piece';
import { different, drawn, longJourney, newPiece, pixels, saved, signIn, site } from '../support/page';
import { User } from './user';

const pieceOf = async (page: Page, id: string) => (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()).document as Piece;
const glbOf = async (page: Page, id: string, sha: string) =>
  new Uint8Array(await (await page.request.get(`${site()}/api/pieces/${id}/assets/${sha}`)).body());

longJourney('a zipped sequence on the head, looping', async ({ page }) => {
  await signIn(page);
  const id = await newPiece(page, 'Flame');
  const user = new User('sequence on the head');
  await user.chooseFile(page.getByLabel('Files for Stock'), {
    name: 'flame.zip',
    mimeType: '',
    buffer: Buffer.from(await flameZip(8, 64)),
  });
  await expect(page.locator('[data-view="sequence"]')).toBeVisible();
  await user.type(page.getByLabel('Hangs'), '60');
  await page.getByLabel('Plays').focus();
  await expect(page.locator('[data-fact="size"], [data-fact="frames"]').first()).toBeVisible();
  await expect(page.getByText('Hangs 60 mm wide')).toBeVisible();
  await user.press(page.getByRole('button', { name: 'Hang a part' }));
  await page.waitForURL(/\/fit/);
  await user.type(page.getByRole('textbox', { name: 'Place up' }), '130');
  await user.type(page.getByRole('textbox', { name: 'Place fore' }), '20');
  await page.getByRole('textbox', { name: 'Place side' }).focus();
  await drawn(page, 'mirror');
  const still = await pixels(page.locator('[data-view="mirror"]'));
  await user.press(page.getByRole('button', { name: 'Play', exact: true }));
  // past the end of the clip (a third of a second) it is still playing
  await expect.poll(async () => Number(await page.locator('[data-take-time]').getAttribute('data-take-time'))).toBeGreaterThan(1);
  user.finish(8);
  await page.getByRole('button', { name: 'Pause', exact: true }).click();
  await drawn(page, 'mirror');
  expect(different(still, await pixels(page.locator('[data-view="mirror"]')))).toBeGreaterThan(50);
  await saved(page);
  const piece = await pieceOf(page, id);
  const part = Object.values(piece.parts).find((p) => p.kind === 'model');
  const model = readModel(
    await createGltfIo({}).readBinary(await glbOf(page, id, drawnModel(piece, part?.kind === 'model' ? part.stock : '') as string)),
  );
  // what plays is the clip of the piece's own model: one frame at a time, and again from the first
  const shown = (t: number) => {
    const m = nodeMatrices(model, poseAt(model, 0, t));
    return model.nodes.flatMap((n, i) => (n.mesh >= 0 && m[i].getMaxScaleOnAxis() > 0 ? [n.name] : []));
  };
  expect([shown(0.01), shown(0.06), shown(8 / 24 + 0.01)]).toEqual([['frame 1'], ['frame 2'], ['frame 1']]);
});

longJourney('the form out, moved and scaled, back in place', async ({ page }) => {
  await signIn(page);
  const id = await newPiece(page, 'Upon the form');
  const user = new User('form out and back');
  await user.press(page.getByRole('button', { name: 'Download the form, to model or paint upon' }));
  const [download] = await Promise.all([page.waitForEvent('download'), user.press(page.getByRole('menuitem', { name: 'Form as GLB' }))]);
  expect(download.suggestedFilename()).toBe('scaphos-form-m.glb');
  const chunks: Buffer[] = [];
  for await (const c of await download.createReadStream()) chunks.push(c as Buffer);
  // elsewhere: a brim is modelled upon it, and all of it comes out in inches, with z up and moved
  const document: Document = await new WebIO().readBinary(new Uint8Array(Buffer.concat(chunks)));
  const brim = new Float32Array([-0.1, 0.08, 0.1, 0.1, 0.08, 0.1, 0.1, 0.09, 0.16, -0.1, 0.09, 0.16]);
  const buffer = document.getRoot().listBuffers()[0];
  const shape = document
    .createPrimitive()
    .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(brim.slice()).setBuffer(buffer))
    .setIndices(
      document
        .createAccessor()
        .setType('SCALAR')
        .setArray(new Uint16Array([0, 1, 2, 0, 2, 3]))
        .setBuffer(buffer),
    );
  const scene = document.getRoot().listScenes()[0];
  scene.addChild(document.createNode('brim').setMesh(document.createMesh('brim').addPrimitive(shape)));
  for (const accessor of new Set(
    document
      .getRoot()
      .listMeshes()
      .flatMap((m) => m.listPrimitives().map((p) => p.getAttribute('POSITION'))),
  )) {
    const a = accessor?.getArray()?.slice() as Float32Array;
    for (let i = 0; i < a.length; i += 3) a.set([a[i] / 0.0254 + 3, -a[i + 2] / 0.0254 - 7, a[i + 1] / 0.0254 + 40], i);
    accessor?.setArray(a as Float32Array<ArrayBuffer>);
  }
  const changed = Buffer.from(await new WebIO().writeBinary(document));
  await user.chooseFile(page.getByLabel('Files for Stock'), { name: 'brim.glb', mimeType: '', buffer: changed });
  await expect(page.getByText(/^Form M came back in brim.glb/)).toBeVisible();
  await user.press(page.getByRole('button', { name: 'Hang a part' }));
  await page.waitForURL(/\/fit/);
  user.finish(5);
  await saved(page);
  const piece = await pieceOf(page, id);
  const part = Object.values(piece.parts).find((p) => p.kind === 'model');
  if (part?.kind !== 'model') throw new Error('nothing hangs');
  expect(part.offset).toEqual({ positionM: [0, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] });
  const model = readModel(await createGltfIo({}).readBinary(await glbOf(page, id, drawnModel(piece, part.stock) as string)));
  // the form is out, the brim is where it was modelled, within a hundredth of a millimetre
  expect(model.meshes.flatMap((m) => m.primitives)).toHaveLength(1);
  const [p] = posedPrimitives(model, restPose(model), new Matrix4()).map((x) => x.positions);
  const points = (a: ArrayLike<number>) => Array.from({ length: a.length / 3 }, (_, i) => [a[i * 3], a[i * 3 + 1], a[i * 3 + 2]]);
  for (const want of points(brim))
    expect(Math.min(...points(p).map((q) => Math.hypot(...q.map((x, k) => x - want[k]))))).toBeLessThan(1e-5);
});
