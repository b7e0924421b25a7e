/**
 * What programs outside rely on, as it was published: a change here is a change for them. Written anew by `vitest -u` once it is
 * meant; a document of the older kind then needs its migration. Edits are made of the rows of a piece.
 */
import { expect, test } from 'vitest';
import * as z from 'zod';
import { Piece, RecipeFile } from './index';

test.each([
  ['piece', Piece],
  ['recipe', RecipeFile],
] as const)('the schema of a %s is the one that was published', async (name, schema) => {
  const published = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any', reused: 'ref' });
  await expect(`${JSON.stringify(published, null, 1)}\n`).toMatchFileSnapshot(`./published/${name}.jsonschema`);
});
