/** A capture log is written by programs outside: a change of its lines is a change for them. Written anew by `vitest -u`. */
import { expect, test } from 'vitest';
import * as z from 'zod';
import { CaptureLine } from './log';

test('the schema of a line of a capture log is the one that was published', async () => {
  const published = z.toJSONSchema(CaptureLine, { io: 'input', unrepresentable: 'any', reused: 'ref' });
  await expect(`${JSON.stringify(published, null, 1)}\n`).toMatchFileSnapshot('./published/capture.jsonschema');
});
