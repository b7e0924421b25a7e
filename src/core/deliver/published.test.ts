/** Extras of a GLB as they were published, and as they are written. */
import { expect, test } from 'vitest';
import * as z from 'zod';
import { add, applyEdit, createPiece, MediaItem, settings, usualSurroundings } from '../piece';
import { Extras, sceneExtras } from './extras';

test('the schema of extras is the one that was published', async () => {
  const published = z.toJSONSchema(Extras, { io: 'input', unrepresentable: 'any', reused: 'ref' });
  await expect(`${JSON.stringify(published, null, 1)}\n`).toMatchFileSnapshot('./published/extras.jsonschema');
});

test('what lit a piece is said where it is not as usual: one of ours by its name, a file of Stock by that file’s', () => {
  const piece = createPiece('x');
  expect(sceneExtras(piece)).toBeNull();
  const ours = applyEdit(piece, settings({ surroundings: { ...usualSurroundings(), environment: 'quay-at-dawn', turnDeg: 30 } }));
  expect(sceneExtras(ours)?.surroundings).toMatchObject({ environment: 'quay-at-dawn', turnDeg: 30 });
  const sky = MediaItem.parse({
    id: 'sky',
    name: 'harbour.hdr',
    kind: 'environment',
    original: 'a'.repeat(64),
    model: 'a'.repeat(64),
    bytes: 9,
  });
  const under = (p: typeof piece) => applyEdit(p, settings({ surroundings: { ...usualSurroundings(), environment: { stock: 'sky' } } }));
  expect(sceneExtras(under(applyEdit(piece, add('stock', sky))))?.surroundings?.environment).toEqual({ file: 'harbour.hdr' });
  // one that is gone lights as usual does
  expect(sceneExtras(under(piece))?.surroundings?.environment).toBe('fitting');
});
