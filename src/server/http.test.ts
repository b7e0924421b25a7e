import { expect, test, vi } from 'vitest';
import * as z from 'zod';
import { PieceFormatError } from '@/core/piece';
import { HttpError } from './errors';
import { openRoute } from './http';

vi.mock('./log', () => ({ log: { error: () => undefined, info: () => undefined } }));
vi.mock('./db', () => ({ database: () => Promise.resolve({}) }));

/** What a route answers whose work fails so. */
async function answered(error: unknown): Promise<[number, string, string]> {
  const route = openRoute(() => Promise.reject(error));
  const response = await route(new Request('http://localhost/api/x', { headers: { host: 'localhost' } }), { params: Promise.resolve({}) });
  const { code, message } = (await response.json()).error;
  return [response.status, code, message];
}
const shape = (schema: z.ZodType, value: unknown) => schema.safeParse(value).error;
const withCode = (code: string, message = 'x') => Object.assign(new Error(message), { code });

test('each kind of failure has its status, its code and its words', async () => {
  expect(await answered(new HttpError(418, 'a/b', 'Said.'))).toEqual([418, 'a/b', 'Said.']);
  const nested = await answered(shape(z.object({ edits: z.array(z.number()) }), { edits: [1, 'two'] }));
  expect(nested.slice(0, 2)).toEqual([400, 'http/shape']);
  expect(nested[2]).toMatch(/^The request is wrong at edits\.1: /);
  expect((await answered(shape(z.object({}), 7)))[2]).toMatch(/^The request is wrong at its root: /);
  expect(await answered(new PieceFormatError('piece/broken', 'Torn.'))).toEqual([422, 'piece/broken', 'Torn.']);
  for (const error of [withCode('ECONNREFUSED'), withCode('', 'this connection is in closed state')])
    expect((await answered(error)).slice(0, 2)).toEqual([503, 'http/database']);
  for (const error of [withCode('ENOSPC'), withCode('', 'errno: 28 "No space left"')]) expect((await answered(error))[0]).toBe(507);
  expect((await answered(new Error('boom'))).slice(0, 2)).toEqual([500, 'http/failed']);
});
