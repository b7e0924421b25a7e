/** The person matte's smoothed edge against the form's outline, filled by other code. */
import { expect } from '@playwright/test';
import { Matrix4, Vector3 } from 'three';
import { MIRROR_CAMERA, poseWearer } from '../../src/core/capture';
import { cameraOf } from '../../src/core/fit';
import { bendBones, bendForm, buildFormBase, makeForm, SKELETONS } from '../../src/core/form';
import { add, type Edit, Layer, onAnchor, remove } from '../../src/core/piece';
import { drawn, makePiece, pixels, saveEdits, signIn, site, test } from '../support/page';

test.use({ smooth: true });

test('the matte’s edge lies within a pixel of the form’s outline, whichever way the head is turned', async ({ page }) => {
  await signIn(page);
  const piece = await makePiece(page, 'Edge');
  await saveEdits(page, piece, [
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
