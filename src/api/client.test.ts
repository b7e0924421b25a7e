import { afterEach, describe, expect, test, vi } from 'vitest';
import { settings } from '@/core/piece';
import { ApiFailure, api } from './index';

const answerWith = (make: () => Response | Promise<Response>) => vi.stubGlobal('fetch', async () => make());
const failure = async (work: Promise<unknown>) => {
  const error = await work.catch((e: unknown) => e);
  expect(error).toBeInstanceOf(ApiFailure);
  return error as ApiFailure;
};
afterEach(() => vi.unstubAllGlobals());

describe('the typed client', () => {
  test('parses what comes back, and refuses another shape', async () => {
    answerWith(() => Response.json([{ id: 'y', name: 'Yard' }]));
    expect(await api.listYards()).toEqual([{ id: 'y', name: 'Yard' }]);
    answerWith(() => Response.json([{ id: 7 }]));
    await expect(api.listYards()).rejects.toThrow();
  });
  test('hands on the server’s own sentence, code and details', async () => {
    answerWith(() =>
      Response.json({ error: { code: 'piece/behind', message: 'It moved on.', details: { revision: 3 } } }, { status: 409 }),
    );
    const f = await failure(api.saveEdits('p', { saveId: 's', baseRevision: 1, edits: [settings({ name: 'x' })] }));
    expect([f.status, f.code, f.message, f.details]).toEqual([409, 'piece/behind', 'It moved on.', { revision: 3 }]);
    expect(f.offline).toBe(false);
  });
  test('a server that does not answer, or its database, is offline; a page instead of JSON is told by its status', async () => {
    answerWith(() => Promise.reject(new TypeError('fetch failed')));
    expect((await failure(api.listYards())).offline).toBe(true);
    answerWith(() => Response.json({ error: { code: 'http/database', message: 'away' } }, { status: 503 }));
    expect((await failure(api.listYards())).offline).toBe(true);
    answerWith(() => new Response('<html>', { status: 500 }));
    expect((await failure(api.listYards())).message).toBe('The server answered with 500.');
  });
  test('sends JSON as JSON and a bundle as bytes', async () => {
    const calls: RequestInit[] = [];
    vi.stubGlobal('fetch', async (_: string, init: RequestInit) => {
      calls.push(init);
      return Response.json({ id: 'p' });
    });
    await api.createPiece('y', 'Lamp');
    await api.bringBundle('y', new Blob(['zip']));
    expect(calls[0]).toMatchObject({ method: 'POST', headers: { 'content-type': 'application/json' }, body: '{"name":"Lamp"}' });
    expect(calls[1].headers).toEqual({ 'content-type': 'application/zip' });
    expect(calls[1].body).toBeInstanceOf(Blob);
  });
});
