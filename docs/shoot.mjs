// Takes the pictures of the README from a running demo (fresh data): node docs/shoot.mjs ADDRESS FOLDER, the folder as `node dist/demo/write.js FOLDER` fills it
import { chromium } from '@playwright/test';

const [, , site = 'http://127.0.0.1:4780', files = 'dist/demo-files'] = process.argv;
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: ['--no-sandbox', '--no-first-run', '--disable-quic', '--disable-background-networking', '--use-angle=swiftshader', '--enable-unsafe-swiftshader', '--ignore-gpu-blocklist'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
// a page rests when no drawing waits
const rest = async () => {
  await page.waitForTimeout(5000);
  // what was worked out is fetched afterwards, and saved
  do await page.waitForTimeout(1500);
  while (await page.locator('[data-busy]').or(page.getByText('Saving …')).count());
  await page.waitForFunction(() => !document.body.dataset.drawing);
};
const shoot = (name) => page.screenshot({ path: `docs/screenshots/${name}.png` });
const press = (name, exact = true) => page.getByRole('button', { name, exact }).click();

await page.goto(`${site}/sign-in`);
await rest();
await shoot('sign-in');
await press('Open the demo');
await page.waitForURL(/yard/);
await page.getByRole('article', { name: 'Tide-glass spectacles', exact: true }).getByRole('link').click();
await page.waitForURL(/piece/);
await page.getByRole('link', { name: /^Stock/ }).click();
await page.getByLabel('What it is').selectOption('eyewear');
await rest();
await shoot('stock');
await page.getByRole('button', { name: /^Mend all/ }).click();
await press('Mend all');
await page.getByRole('heading', { name: 'As mended' }).waitFor();
await rest();
await page.locator('section[aria-label="Arrival sheet"] > div').evaluate((e) => e.scrollTo(0, 300));
await shoot('stock-mended');
for (let i = 0; i < 2; i++) await press('Undo');
await rest();
await press('Hang a part');
await page.waitForURL(/fit/);
await page.locator('.fix-main').click();
await press('Turn up 180°');
for (const [axis, value] of [['up', '30'], ['fore', '108.5']]) await page.getByRole('textbox', { name: `Place ${axis}` }).fill(value);
await press('Pose yaw +30°');
await rest();
await shoot('fit');
await press('Face');
await press('Smile');
await rest();
await shoot('fit-face');
await press('Close the face');
await press('Pose front');
await page.getByRole('link', { name: /^Deliver/ }).click();
await rest();
await shoot('deliver');
await page.getByRole('link', { name: 'Yard', exact: true }).click();
await page.waitForURL(/yard/);
await rest();
await rest();
await shoot('yard');
await press(/Account of/, false);
await page.getByRole('menuitem', { name: /Nightwatch/ }).click();
await page.getByRole('article', { name: 'Brass diver’s helmet', exact: true }).getByRole('link').first().click();
await page.waitForURL(/piece/);
await page.getByRole('link', { name: /^Fit/ }).click();
await page.getByRole('treeitem', { name: /helmet/ }).click();
await press('Pose yaw −30°');
await rest();
await shoot('fit-nightwatch');
await page.getByRole('link', { name: /^Stock/ }).click();
for (const [file, name] of [
  ['lantern-flame.zip', 'stock-sequence'],
  ['quay-at-dawn.hdr', 'stock-environment'],
  ['quay-walk.bvh', 'stock-motion'],
]) {
  await press(file);
  await rest();
  await shoot(name);
}
await press('divers-helmet.glb');
await press('Look into its pictures');
await page.getByRole('button', { name: 'Tiled' }).click();
await rest();
await shoot('stock-textures');
await press('Close');
await page.getByLabel('What it is').selectOption('headwear');
await rest();
await shoot('stock-nightwatch');
await press(/Account of/, false);
await page.getByRole('menuitem', { name: /Chartroom/ }).click();
await page.getByRole('link', { name: /^Prepare/ }).click();
await press('Find the lightest');
await page.locator('[data-view="front"]').waitFor({ timeout: 300_000 });
await page.locator('[data-view="front"]').getByRole('button').nth(4).press('Enter');
await page.locator('canvas[aria-label="After"]:not([data-ready=""])').waitFor({ timeout: 120_000 });
await page.getByRole('radio', { name: 'Triangles' }).click();
await rest();
await shoot('prepare');
await page.locator('[data-view="front"]').getByRole('button').nth(1).press('Enter');
await page.locator('[data-step="simplify"] button[aria-expanded]').click();
await page.getByRole('radio', { name: 'Error' }).click();
await page.locator('[data-heat="ready"]').waitFor({ timeout: 120_000 });
await rest();
await shoot('prepare-error');
// models of the demo beside it, as one job
await page.getByRole('link', { name: /^Stock/ }).click();
for (const name of ['kelp-crown.glb', 'oilskin-cape.glb', 'pearl-drop.glb']) {
  await page.getByLabel('Files for Stock').setInputFiles(`${files}/${name}`);
  await page.getByRole('button', { name, exact: true }).first().waitFor();
}
await rest();
await page.getByRole('link', { name: /^Prepare/ }).click();
await press('Many models');
await page.getByRole('button', { name: /^Prepare \d/ }).click();
await page.getByRole('table', { name: 'Results' }).waitFor({ timeout: 300_000 });
await rest();
await shoot('prepare-many');
await page.keyboard.press('Escape');
// bones in every frond of the crown
await page.getByRole('link', { name: /^Rig/ }).click();
await page.waitForURL(/rig/);
await page.getByLabel('Model').selectOption({ label: 'kelp-crown.glb' });
await press('Chains in all limbs');
await page.getByRole('table', { name: 'Sail plan' }).waitFor({ timeout: 120_000 });
await page.getByRole('button', { name: /Choose chain 3/ }).click();
await rest();
await shoot('rig');
// a pennant behind the shoulders and a hat of two solids
await page.getByRole('link', { name: 'Yard', exact: true }).click();
await page.waitForURL(/yard/);
await press('New piece');
await page.getByRole('textbox', { name: 'Name' }).fill('Night parade');
await press('Lay it down');
await page.waitForURL(/stock/);
await page.getByLabel('Files for Stock').setInputFiles(`${files}/pennant.png`);
await press('Hang a part');
await page.waitForURL(/fit/);
await page.getByRole('combobox', { name: 'Hangs on' }).selectOption('anchor shoulders');
await press('Behind the wearer');
for (const [axis, value] of [['side', '75'], ['up', '215']]) await page.getByRole('textbox', { name: `Place ${axis}` }).fill(value);
for (const [item, up] of [['Disc', '75'], ['Cylinder', '110']]) {
  await press('Hang a part');
  await page.getByRole('menuitem', { name: item, exact: true }).click();
  await page.getByRole('textbox', { name: 'Place up' }).fill(up);
}
await press('Hang a part');
await page.getByRole('menuitem', { name: 'Both eyes' }).click();
await page.locator('[data-swim]').waitFor();
await press('Pose yaw −30°');
await page.getByRole('radiogroup', { name: 'The work is about' }).getByText('finish').click();
await page.getByRole('combobox', { name: 'Environment' }).selectOption({ label: 'Quay at dawn' });
await rest();
await page.locator('[data-view="mirror"]').click({ position: { x: 215, y: 120 } });
await page.locator('[data-stack]').waitFor();
await rest();
await shoot('fit-finish');
// a figure: bones found, its weights, motions of its own
await page.getByRole('link', { name: /^Stock/ }).click();
await page.getByLabel('Files for Stock').setInputFiles(`${files}/lamplighter.glb`);
await page.getByRole('button', { name: 'lamplighter.glb', exact: true }).first().waitFor();
await page.getByLabel('Files for Stock').setInputFiles(`${files}/quay-walk.bvh`);
await page.getByRole('button', { name: 'quay-walk.bvh', exact: true }).first().waitFor();
await rest();
await page.getByRole('link', { name: /^Rig/ }).click();
await press('A figure');
await page.locator('[data-view="figure-front"]').waitFor({ timeout: 120_000 });
await page.getByRole('checkbox', { name: 'Walk', exact: true }).click();
await press('Choose left elbow');
await page.getByRole('radio', { name: 'Weights' }).check();
await rest();
await shoot('rig-figure');
await browser.close();
