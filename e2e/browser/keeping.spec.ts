/** What is done is kept: away from the server, in two tabs, in one that was duplicated, refused; and versions to go back to. */
import { expect, type Page } from '@playwright/test';
import { add, createGroup, type Piece, settings } from '../../src/core/piece';
import { longTest, makePiece, newPiece, saved, saveEdits, signIn, site, test } from '../support/page';

const pieceOf = async (page: Page, id: string): Promise<{ revision: number; document: Piece }> =>
  (await page.request.get(`${site()}/api/pieces/${id}`)).json();
const rename = async (page: Page, name: string) => {
  await page.getByTitle('Rename the piece').click();
  await page.getByRole('textbox', { name: 'Name of the piece' }).fill(name);
  await page.keyboard.press('Enter');
};

longTest('a version is given a name, looked at beside what there is now, gone back to, and that undone', async ({ page }) => {
  await signIn(page);
  const id = await makePiece(page, 'Bunting');
  await saveEdits(page, id, [add('parts', createGroup('g', 'Pennants'))]);
  await page.goto(`${site()}/piece/${id}/fit`);
  const versions = page.getByRole('button', { name: 'Versions', exact: true });
  const dialog = page.getByRole('dialog', { name: 'Versions' });
  await versions.click();
  await dialog.getByLabel('Name for the piece as it is, revision 1').fill('With pennants');
  await dialog.getByRole('button', { name: 'Keep it' }).click();
  await expect(dialog.getByRole('listitem')).toHaveText([/With pennants.*Revision 1.*named by Ines Marsh/, /Kept by itself.*Revision 0/]);
  await dialog.getByRole('button', { name: /With pennants/ }).click();
  await expect(dialog.getByText('The same as the piece is now.')).toBeVisible();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('treeitem', { name: /Pennants/ }).click();
  await page.keyboard.press('Delete');
  await expect(page.getByRole('treeitem', { name: /Pennants/ })).toHaveCount(0);
  await rename(page, 'Bare');
  await saved(page);
  await versions.click();
  await dialog.getByRole('button', { name: /With pennants/ }).click();
  await expect(dialog.getByRole('img', { name: 'The piece at revision 1' })).toBeVisible();
  await expect(dialog.getByText(/Differs from now in \d things/)).toContainText('Pennants');
  await dialog.getByRole('button', { name: 'Make the piece as it was then' }).click();
  await expect(page.getByRole('treeitem', { name: /Pennants/ })).toBeVisible();
  await saved(page);
  expect((await pieceOf(page, id)).document).toMatchObject({ settings: { name: 'Bunting' }, parts: { g: { name: 'Pennants' } } });
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTitle('Rename the piece')).toContainText('Bare');
  await saved(page);
  const bare = (await pieceOf(page, id)).document;
  expect([bare.settings.name, bare.parts.g]).toEqual(['Bare', undefined]);
  // one that has no name, by its number; then one the server cannot give
  await versions.click();
  await dialog.getByLabel(/Any revision/).fill('0');
  await dialog.getByRole('button', { name: 'Look at it' }).click();
  await expect(dialog.locator('[data-version="0"]')).toContainText('Differs from now');
  await page.route('**/versions/1', (r) => r.abort());
  await page.reload();
  await versions.click();
  await dialog.getByRole('button', { name: /With pennants/ }).click();
  await expect(dialog.getByRole('alert')).toContainText('The server does not answer');
});

longTest(
  'a tab that was duplicated keeps edits of its own: what both did without the server arrives, each once',
  async ({ page, context }) => {
    await signIn(page);
    const id = await newPiece(page, 'Twice open');
    await saved(page);
    await context.route('**/edits', (r) => r.abort());
    await rename(page, 'By the first tab');
    await expect(page.locator('[data-save="offline"]')).toBeVisible();
    // as a browser duplicates a tab: with a copy of what the tab keeps for its session
    const [twin] = await Promise.all([
      context.waitForEvent('page'),
      page.evaluate((url) => void window.open(url), `${site()}/piece/${id}/fit`),
    ]);
    expect(await twin.evaluate(() => sessionStorage.length)).toBeGreaterThan(0);
    await twin.getByRole('button', { name: 'Hang a part' }).click();
    await twin.getByRole('menuitem', { name: 'Ring', exact: true }).click();
    await expect(twin.getByRole('treeitem', { name: /^Ring,/ })).toBeVisible();
    await expect(twin.locator('[data-save="offline"]')).toBeVisible();
    // what the first does now must not take the place of what the other keeps
    await rename(page, 'By the first tab again');
    await expect(page.locator('[data-save="offline"]')).toBeVisible();
    await twin.close();
    await context.unroute('**/edits');
    await page.reload();
    await saved(page);
    // whoever opens the piece next, with nothing of its own to send, takes up what the closed one kept
    await page.reload();
    await expect.poll(async () => Object.values((await pieceOf(page, id)).document.parts).filter((p) => p.name === 'Ring').length).toBe(1);
    await saved(page);
    const { document } = await pieceOf(page, id);
    expect(document.settings.name).toBe('By the first tab again');
    expect(Object.values(document.parts).filter((p) => p.name === 'Ring')).toHaveLength(1);
  },
);

test('edits that were refused together are sent one by one; what does not fit stays, and is told', async ({ page }) => {
  await signIn(page);
  const id = await newPiece(page, 'Refused');
  await saved(page);
  // refused once, for a reason that one by one it does not meet
  await page.route(
    '**/edits',
    (r) => r.fulfill({ status: 413, json: { error: { code: 'http/too-large', message: 'The request has more than 8 MB.' } } }),
    { times: 1 },
  );
  await rename(page, 'Too much at once');
  await expect(page.getByText('Not taken by the Yard')).toBeVisible();
  await page.getByRole('button', { name: 'What now?' }).click();
  const dialog = page.getByRole('dialog', { name: 'Not taken by the Yard' });
  await expect(dialog).toContainText('One edit is kept in this browser.');
  const [download] = await Promise.all([page.waitForEvent('download'), dialog.getByRole('button', { name: /^Download my edits/ }).click()]);
  const chunks: Buffer[] = [];
  for await (const c of await download.createReadStream()) chunks.push(c as Buffer);
  expect(JSON.parse(Buffer.concat(chunks).toString()).edits).toEqual([settings({ name: 'Too much at once' })]);
  await dialog.getByRole('button', { name: /^Send one by one/ }).click();
  await saved(page);
  expect((await pieceOf(page, id)).document.settings.name).toBe('Too much at once');
});

test('edits made while the server is away are kept in the browser, over a reload, and sent when it is back', async ({ page, context }) => {
  await signIn(page);
  const id = await newPiece(page, 'Kept here');
  await context.route('**/edits', (r) => r.abort());
  await rename(page, 'Renamed at sea');
  await expect(page.getByText('Kept here, not yet in the Yard')).toBeVisible();
  await page.reload();
  await expect(page.getByTitle('Rename the piece')).toContainText('Renamed at sea');
  await expect(page.getByText('Kept here, not yet in the Yard')).toBeVisible();
  await context.unroute('**/edits');
  await saved(page);
  const answer = await (await page.request.get(`${site()}/api/pieces/${id}`)).json();
  expect(answer).toMatchObject({ revision: 1, document: { settings: { name: 'Renamed at sea' } } });
});

test('two tabs: other entities are replayed, the same one is chosen; nothing is lost', async ({ page, context }) => {
  await signIn(page);
  const id = await newPiece(page, 'Two tabs');
  await page.goto(`${site()}/piece/${id}/fit`);
  const other = await context.newPage();
  await other.goto(`${site()}/piece/${id}/fit`);
  const hide = async (p: typeof page, name: string) => p.getByRole('button', { name }).click();
  await expect(other.getByRole('button', { name: 'Hide Head block' })).toBeVisible();
  // the other tab does not hear of this one's edits until it saves its own
  await other.evaluate(() => Object.defineProperty(document, 'visibilityState', { value: 'hidden' }));
  await hide(page, 'Hide Head block');
  await saved(page);
  await rename(other, 'From the other tab');
  await expect(other.getByText(/had moved on to revision 1/)).toBeVisible();
  await expect(other.getByRole('button', { name: 'Show Head block' })).toBeVisible();
  await saved(other);
  // now both rename: the first tab is behind on the same entity
  await page.evaluate(() => Object.defineProperty(document, 'visibilityState', { value: 'hidden' }));
  await rename(page, 'From the first tab');
  await expect(page.getByRole('dialog', { name: 'Edited in two places' })).toContainText('the name of the piece');
  await page.getByRole('button', { name: /^Mine as it stands/ }).click();
  await saved(page);
  expect((await (await page.request.get(`${site()}/api/pieces/${id}`)).json()).document.settings.name).toBe('From the first tab');
});
