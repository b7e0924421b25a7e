import { deepStrictEqual } from 'node:assert';
import { gunzipSync } from 'node:zlib';
import { expect, test } from 'vitest';
import { poseBody, shapeBody } from '@/core/form/body';
import { bodyBase } from '@/core/form/samples';
import { inTurn } from '../../e2e/support/sweep';
import { readBaked, writeBaked } from './baked';
import { bakeBody } from './node/bodybase';

test.runIf(inTurn('what was baked is what was made'))('what was baked is what was made, to the last bit, and bodies are made of it', () => {
  const base = bodyBase();
  const read = readBaked(writeBaked(base));
  deepStrictEqual(read, base);
  expect(poseBody(shapeBody(read, 'S')).positions).toEqual(poseBody(shapeBody(base, 'S')).positions);
  expect(readBaked(gunzipSync(bakeBody()).toString()).measures).toEqual(base.measures);
});
