/** Programs outside read what `./scaphos run` prints: a change of its lines is a change for them. Written anew by `vitest -u`. */
import { expect, test } from 'vitest';
import * as z from 'zod';
import { RunLine } from './report';

test('the schema of a printed line of a run is the one that was published', async () => {
  const published = z.toJSONSchema(RunLine, { unrepresentable: 'any', reused: 'ref' });
  await expect(`${JSON.stringify(published, null, 1)}\n`).toMatchFileSnapshot('./published/run.jsonschema');
});
