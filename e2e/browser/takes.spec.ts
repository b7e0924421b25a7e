/** Takes of a piece: keys set and typed, sliders recorded while a take plays, a capture log read and written. */
import { readFile } from 'node:fs/promises';
import { expect, type Page } from '@playwright/test';
import { Matrix4 } from 'three';
import { poseAtTime, type Take, weightsOf } from '../../src/core/form';
import { type Piece, takeOf } from '../../src/core/piece';
import { clean } from '../support/axe';
import { drawn, longTest, makePiece, saved, signIn, site } from '../support/page';

const takesOf = async (page: Page, id: string): Promise<Take[]> => {
  await saved(page);
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  return Object.values(document.takes)
    .sort((a, b) => a.name.localeCompare(b.name))
    .map(takeOf);
};

longTest('a take is copied and its keys changed; sliders are recorded over it; a log comes in and goes out', async ({ page }) => {
  await signIn(page);
  const id = await makePiece(page, 'Takes');
  await page.goto(`${site()}/piece/${id}/fit`);
  await drawn(page, 'mirror');
  await page.getByRole('combobox', { name: 'Take' }).selectOption({ label: 'Nod' });
  await page.getByRole('button', { name: 'Keys of the take' }).click();
  const panel = page.getByRole('complementary', { name: 'Takes' });
  await panel.getByRole('button', { name: 'Copy the take' }).click();
  await expect(panel.getByRole('button', { name: 'Name the take Nod 2 otherwise' })).toBeVisible();
  const keys = panel.getByRole('list', { name: 'Keys' });
  await keys
    .getByRole('button', { name: /pitch 16/ })
    .first()
    .click();
  await panel.getByRole('textbox', { name: 'head roll' }).fill('12');
  await panel.getByRole('textbox', { name: 'head roll' }).press('Enter');
  await expect(keys).toContainText('pitch 16°, roll 12°');
  await clean(page, 'Fit, the takes');
  const [nod] = await takesOf(page, id);
  expect(poseAtTime(nod, 0.5).head).toEqual({ yawDeg: 0, pitchDeg: 16, rollDeg: 12 });

  // a key where there was none, of how the wearer is held by a slider
  await panel.getByRole('slider', { name: 'Moment of the take' }).fill('0.75');
  await page.getByRole('button', { name: 'Face', exact: true }).click();
  const face = page.getByRole('complementary', { name: 'What the face does' });
  await face.getByRole('slider', { name: 'Mouth open' }).fill('0.6');
  await face.getByRole('button', { name: 'Key at 0.75 s' }).click();
  const [keyed] = await takesOf(page, id);
  expect(keyed.keys).toHaveLength(nod.keys.length + 1);
  expect(weightsOf(poseAtTime(keyed, 0.75).face ?? {})).toEqual({ AU26: 0.6 });

  // recorded: what the take does stays, what a slider does comes on top
  await page.getByRole('combobox', { name: 'Take' }).selectOption({ label: 'Tilt' });
  await face.getByRole('button', { name: 'Record over “Tilt”' }).click();
  await face.getByRole('slider', { name: 'Lips puckered' }).fill('0.8');
  await expect(page.getByText(/Kept as “Take 1”/)).toBeVisible();
  const recorded = (await takesOf(page, id)).find((t) => t.label === 'Take 1') as Take;
  expect(recorded.seconds).toBeCloseTo(4, 1);
  expect(poseAtTime(recorded, 1.2).head.rollDeg).toBeCloseTo(-18, 0);
  expect(weightsOf(poseAtTime(recorded, 3.9).face ?? {}).AU18).toBeCloseTo(0.8, 2);

  await page.getByRole('button', { name: 'Keys of the take' }).click();
  const head = (yaw: number) => new Matrix4().makeRotationY(yaw).toArray();
  const log = [
    { timeS: 0, head: head(0), signals: { browsUp: 1 } },
    { timeS: 1, head: head(1) },
  ];
  await panel.getByLabel('Capture log', { exact: true }).setInputFiles({
    name: 'Turned.jsonl',
    mimeType: 'application/jsonl',
    buffer: Buffer.from(log.map((l) => JSON.stringify(l)).join('\n')),
  });
  await expect(page.getByText('Turned.jsonl: 2 keys over 1.0 s.')).toBeVisible();
  const download = page.waitForEvent('download');
  await panel.getByRole('button', { name: 'Save as a capture log' }).click();
  const text = await readFile(await (await download).path(), 'utf8');
  const lines = text
    .trim()
    .split('\n')
    .map((l) => JSON.parse(l));
  expect(lines[0]).toMatchObject({ timeS: 0, signals: { AU1_2_L: 1, browsUp: 1 } });
  expect(lines.at(-1).head[0]).toBeCloseTo(Math.cos(1), 3);

  // what is no log is refused in words, and one that is taken back leaves the strip a take that is there
  await panel
    .getByLabel('Capture log', { exact: true })
    .setInputFiles({ name: 'notes.jsonl', mimeType: 'text/plain', buffer: Buffer.from('hello') });
  await expect(page.getByText(/notes\.jsonl: Line 1 of the capture log: it is not JSON/)).toBeVisible();
  await panel.getByRole('button', { name: 'Take it out of the piece' }).click();
  await expect(page.getByRole('combobox', { name: 'Take' })).toHaveValue('look-about');
  expect((await takesOf(page, id)).map((t) => t.label)).toEqual(['Nod 2', 'Take 1']);
});
