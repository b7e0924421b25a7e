/** Acts wherever they can be asked for: by key, finder, right press, clipboard and drop; in runs, broken off, and undone after a reload. */
import { expect, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { add, createSolid, type Piece } from '../../src/core/piece';
import { copyDemo, drawn, longTest, makePiece, newPiece, newYard, saved, saveEdits, signIn, site, test } from '../support/page';

const HELMET = 'Brass diver’s helmet';
const item = (page: Page, name: string) => page.getByRole('treeitem', { name: new RegExp(`^${name},`) });
const place = (page: Page, axis: string) => page.getByRole('textbox', { name: `Place ${axis}` });
const finder = (page: Page) => page.getByRole('dialog', { name: 'Find anything' });
const png = (grey: number): number[] => {
  const picture = new PNG({ width: 8, height: 8 });
  picture.data.fill(grey);
  return [...PNG.sync.write(picture)];
};

async function solids(page: Page, ...names: string[]): Promise<string> {
  await signIn(page);
  const id = await makePiece(page, 'Acts');
  const box = { form: 'box', sizeMm: [60, 60, 60], roundMm: 0, wallMm: 12, open: [] } as const;
  await saveEdits(
    page,
    id,
    names.map((n) => add('parts', createSolid(n.toLowerCase(), n, { ...box, sizeMm: [60, 60, 60], open: [] }))),
  );
  return id;
}

longTest('a run of nudges is one undo, wherever the focus is; all of it is undone after a reload too', async ({ page }) => {
  const id = await solids(page, 'Box');
  await page.goto(`${site()}/piece/${id}/fit`);
  await item(page, 'Box').click();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
  await expect(place(page, 'side')).toHaveValue('5.0');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(place(page, 'side')).toHaveValue('0.0');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(place(page, 'side')).toHaveValue('5.0');
  // another thing done between two nudges: two steps
  await page.keyboard.press('v');
  await page.keyboard.press('ArrowUp');
  await saved(page);
  await page.reload();
  await expect(place(page, 'up')).toHaveValue('1.0');
  expect(page.url()).toContain('parts=box');
  await page.keyboard.press('Control+z');
  await expect(place(page, 'up')).toHaveValue('0.0');
  await expect(item(page, 'Box')).toContainText('hidden');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(place(page, 'side')).toHaveValue('0.0');
  await page.keyboard.press('Control+y');
  await expect(place(page, 'side')).toHaveValue('5.0');
  await saved(page);
});

test('Esc during a drag puts back; what is chosen stays chosen', async ({ page }) => {
  const id = await solids(page, 'Box');
  await page.goto(`${site()}/piece/${id}/fit?parts=box`);
  await drawn(page, 'front');
  const b = await page.locator('[data-handles="front"] [data-stub="disc"]').boundingBox();
  if (!b) throw new Error('no handle');
  await page.mouse.move(b.x + 5, b.y + 5);
  await page.mouse.down();
  await page.mouse.move(b.x + 60, b.y + 5, { steps: 4 });
  await expect(place(page, 'side')).not.toHaveValue('0.0');
  await page.keyboard.press('Escape');
  await expect(place(page, 'side')).toHaveValue('0.0');
  await page.mouse.move(b.x + 90, b.y + 5, { steps: 2 });
  await page.mouse.up();
  await expect(place(page, 'side')).toHaveValue('0.0');
  await expect(item(page, 'Box')).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('title', 'Nothing to undo');
});

test('the rack is a tree to walk through; what is chosen is renamed, hidden, copied and lifted off by keys and by a right press', async ({
  page,
}) => {
  const id = await solids(page, 'Ring', 'Cone', 'Tube');
  await page.goto(`${site()}/piece/${id}/fit`);
  await page.getByRole('button', { name: 'Hang a part' }).focus();
  await page.keyboard.press('Tab');
  await expect(item(page, 'Head block')).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await expect(item(page, 'Ring')).toBeFocused();
  await expect(item(page, 'Ring')).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByRole('heading', { name: '2 parts', exact: true })).toBeVisible();
  await page.keyboard.press('v');
  await expect(item(page, 'Ring')).toContainText('hidden');
  await expect(item(page, 'Cone')).toContainText('hidden');
  await page.keyboard.press('End');
  await expect(item(page, 'Tube')).toBeFocused();
  await page.keyboard.press('F2');
  await page.keyboard.type('Bight');
  await page.keyboard.press('Enter');
  await expect(item(page, 'Bight')).toBeVisible();
  // Enter gives the arrows to the part
  await item(page, 'Bight').focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await expect(place(page, 'up')).toHaveValue('1.0');
  await page.getByRole('radio', { name: 'anchor' }).focus();
  await page.keyboard.press('Control+d');
  await expect(page.getByRole('treeitem')).toHaveCount(5);
  await page.keyboard.press('Delete');
  await expect(page.getByRole('treeitem')).toHaveCount(4);
  await item(page, 'Ring').click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Delete the part' }).click();
  await expect(item(page, 'Ring')).toHaveCount(0);
  await page.keyboard.press('Control+a');
  await expect(page.getByRole('heading', { name: '3 parts', exact: true })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { name: '3 parts', exact: true })).toHaveCount(0);
});

longTest('the finder takes what is typed at once, and finds files, findings, parts, other pieces and acts', async ({ page }) => {
  const id = await copyDemo(page, HELMET);
  await page.goto(`${site()}/piece/${id}/deliver`);
  await expect(page.getByRole('heading', { name: 'Deliver', exact: true })).toBeVisible();
  const find = async (words: string, name: RegExp) => {
    await page.keyboard.press('Control+k');
    await page.keyboard.type(words);
    await expect(finder(page).getByRole('option', { name, selected: true })).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(finder(page)).toHaveCount(0);
  };
  await find('file divers', /divers-helmet\.glb/);
  await expect(page).toHaveURL(/stock\?file=/);
  await find('part head block', /Head block/);
  await expect(page).toHaveURL(/fit\?parts=head-block/);
  await find('hatch', /Hatch the occluder/);
  await expect(page.getByRole('button', { name: 'Hatched' })).toHaveAttribute('aria-pressed', 'false');
  await find('versions', /Open Versions/);
  await expect(page.getByRole('dialog', { name: 'Versions' })).toBeVisible();
  await page.keyboard.press('Escape');
  await find('piece tide-glass', /Tide-glass spectacles/);
  await expect(page.getByTitle('Rename the piece')).toContainText('Tide-glass spectacles');
  await page.getByRole('link', { name: 'Yard', exact: true }).click();
  await expect(page.getByRole('article').first()).toBeVisible();
  await find('make a new', /Make a new piece/);
  await expect(page.getByRole('dialog', { name: 'Lay down a new piece' })).toBeVisible();
});

test('all keys are shown; one is changed, single ones are switched off, and all come back', async ({ page }) => {
  const id = await solids(page, 'Box');
  await page.goto(`${site()}/piece/${id}/fit?parts=box`);
  const keys = page.getByRole('dialog', { name: 'Keys' });
  const hand = (name: string) => page.getByRole('radio', { name, exact: true });
  await expect(hand('place')).toBeChecked();
  await page.keyboard.press('?');
  await expect(keys.getByText('Hand on turn')).toBeVisible();
  await keys.getByRole('button', { name: 'Change the key of Hand on turn' }).click();
  await page.keyboard.press('o');
  await expect(keys.getByRole('status')).toContainText('was taken from “Hatch the occluder in the plates”');
  await page.keyboard.press('Escape');
  await page.keyboard.press('t');
  await expect(hand('place')).toBeChecked();
  await page.keyboard.press('o');
  await expect(hand('turn')).toBeChecked();
  await page.getByRole('button', { name: 'Find anything' }).focus();
  await page.keyboard.press('?');
  await keys.getByRole('checkbox', { name: /Single keys/ }).uncheck();
  await page.keyboard.press('Escape');
  await page.keyboard.press('p');
  await expect(hand('turn')).toBeChecked();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('show all keys');
  await page.keyboard.press('Enter');
  await keys.getByRole('button', { name: 'As they came' }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('p');
  await expect(hand('place')).toBeChecked();
});

longTest('files come in wherever they are dropped or pasted; Back leads to the file before', async ({ page }) => {
  await signIn(page);
  const id = await newPiece(page, 'Anywhere');
  await page.getByRole('link', { name: /^Fit/ }).click();
  await expect(item(page, 'Head block')).toBeVisible();
  const hand = (kind: 'drop' | 'paste', name: string, grey: number) =>
    page.evaluate(
      ([how, file, bytes]) => {
        const data = new DataTransfer();
        data.items.add(new File([new Uint8Array(bytes as number[])], file as string, { type: 'image/png' }));
        const on = window.document.querySelector('[data-view="mirror"]') as Element;
        if (how === 'paste') on.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
        else
          for (const type of ['dragenter', 'dragover', 'drop'])
            on.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }));
      },
      [kind, name, png(grey)] as const,
    );
  await hand('drop', 'net.png', 200);
  await expect(page.getByText('net.png is in Stock.')).toBeVisible();
  await hand('paste', 'image.png', 90);
  await expect(page.getByText(/pasted .*\.png is in Stock\./)).toBeVisible();
  await page.getByRole('link', { name: /^Stock/ }).click();
  await page.waitForURL(/stock/);
  await page.getByRole('button', { name: 'net.png', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'net.png' })).toBeVisible();
  await page.getByRole('button', { name: /^pasted/ }).click();
  await expect(page.getByRole('heading', { name: /^pasted/ })).toBeVisible();
  await page.goBack();
  await expect(page.getByRole('heading', { name: 'net.png' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('heading', { name: 'net.png' })).toBeVisible();
  const { document } = (await (await page.request.get(`${site()}/api/pieces/${id}`)).json()) as { document: Piece };
  expect(Object.values(document.stock)).toHaveLength(2);
});

test('pieces of a yard are searched, put in order and shown as asked; the yard is renamed where its name stands', async ({ page }) => {
  await newYard(page, 'Sorted');
  const yard = page.url().split('/').at(-1);
  for (const name of ['Net 10', 'Net 9', 'Écume'])
    await page.request.post(`${site()}/api/yards/${yard}/pieces`, { headers: { origin: site() }, data: { name } });
  await page.reload();
  const names = () => page.getByRole('article').getByRole('heading').allTextContents();
  await expect.poll(names).toEqual(['Écume', 'Net 9', 'Net 10']);
  await page.getByRole('combobox', { name: 'In which order' }).selectOption('name');
  await expect.poll(names).toEqual(['Écume', 'Net 9', 'Net 10']);
  await page.keyboard.press('/');
  await page.keyboard.type('net');
  await expect.poll(names).toEqual(['Net 9', 'Net 10']);
  await page.reload();
  await expect.poll(names).toEqual(['Net 9', 'Net 10']);
  await page.getByRole('searchbox').fill('');
  await page.getByRole('combobox', { name: 'Which are shown' }).selectOption('found');
  await expect(page.getByText('No piece is so.')).toBeVisible();
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect(page.getByRole('article')).toHaveCount(3);
  await page.getByRole('heading', { name: 'Sorted' }).dblclick();
  await page.getByRole('textbox', { name: 'Name of the yard' }).fill('Sorted out');
  await Promise.all([page.waitForResponse((r) => r.request().method() === 'PUT' && r.ok()), page.keyboard.press('Enter')]);
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Sorted out' })).toBeVisible();
});
