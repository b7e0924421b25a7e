/** Uploads that break and go on, over the protocol itself (tus 1.0.0). */
import { createHash } from 'node:crypto';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { bellWav } from '../../demo/media';
import { closeTestDatabase, signedIn, siteUrl, type Visitor } from '../support/http';

let v: Visitor;
let piece: string;
beforeAll(async () => {
  v = await signedIn();
  piece = await v.newPiece();
});
afterAll(closeTestDatabase);

const sha256 = (b: Uint8Array) => createHash('sha256').update(b).digest('hex');
const idOf = (location: string) => location.replace(/^.*\//, '');
const bell = bellWav();
const kept = () => readdirSync(join(process.env.SCAPHOS_DATA as string, 'uploads'));

describe('an upload', () => {
  test('sent in pieces goes on where it stopped, and is what was sent', async () => {
    const made = await v.tus('POST', '/api/uploads', { 'upload-length': String(bell.length) });
    expect(made.status).toBe(201);
    const at = made.headers.get('location') as string;
    const half = bell.length >> 1;
    expect((await v.tus('PATCH', at, { 'upload-offset': '0' }, bell.slice(0, half))).headers.get('upload-offset')).toBe(String(half));
    const asked = await v.tus('HEAD', at);
    expect([asked.status, asked.headers.get('upload-offset'), asked.headers.get('upload-length')]).toEqual([
      200,
      String(half),
      String(bell.length),
    ]);
    // a stretch that does not follow on is refused, and costs nothing
    expect((await v.tus('PATCH', at, { 'upload-offset': '7' }, bell.slice(7))).status).toBe(409);
    const early = await v.post(`/api/pieces/${piece}/assets`, { uploads: [{ id: idOf(at), name: 'bell.wav' }] });
    expect([early.status, early.body.error.code]).toEqual([409, 'upload/unfinished']);
    expect((await v.tus('PATCH', at, { 'upload-offset': String(half) }, bell.slice(half))).status).toBe(204);
    const taken = await v.post(`/api/pieces/${piece}/assets`, { uploads: [{ id: idOf(at), name: 'bell.wav', sha256: sha256(bell) }] });
    expect(taken.status).toBe(201);
    expect(taken.body.items[0].item).toMatchObject({ kind: 'sound', name: 'bell.wav', original: sha256(bell), bytes: bell.length });
    // and nothing of it is left where it was gathered
    expect(kept().filter((n) => n.startsWith(idOf(at)))).toEqual([]);
    expect((await v.tus('HEAD', at)).status).toBe(404);
  });
  test('damaged on its way is told by its hash and not kept', async () => {
    const at = await v.send(bell);
    const answer = await v.post(`/api/pieces/${piece}/assets`, { uploads: [{ id: idOf(at), name: 'bell.wav', sha256: 'a'.repeat(64) }] });
    expect([answer.status, answer.body.error.code]).toEqual([422, 'upload/damaged']);
    expect(kept().filter((n) => n.startsWith(idOf(at)))).toEqual([]);
  });
  test('given up is gone; larger than is read is refused before a byte is sent; junk is refused', async () => {
    const at = await v.send(new Uint8Array(10));
    expect((await v.tus('DELETE', at)).status).toBe(204);
    expect((await v.tus('HEAD', at)).status).toBe(404);
    const large = await v.tus('POST', '/api/uploads', { 'upload-length': '900000000' });
    expect([large.status, large.body.error.code]).toEqual([413, 'file/too-large']);
    expect((await v.call('POST', '/api/uploads', {}, { 'upload-length': '5' })).status).toBe(412);
    for (const id of ['../../etc/passwd', 'x', '%2e%2e', `${'a'.repeat(200)}.b`])
      expect((await v.tus('HEAD', `/api/uploads/${encodeURIComponent(id)}`)).status).toBe(404);
    expect((await v.post(`/api/pieces/${piece}/assets`, { uploads: [{ id: '../x', name: 'x' }] })).status).toBe(404);
    expect((await v.post(`/api/pieces/${piece}/assets`, { uploads: [] })).status).toBe(400);
  });
  test('asked for twice at once it is taken once; who hangs up while it is read can ask again', async () => {
    const twice = await v.send(bell);
    const take = (at: string, name = 'bell.wav') => v.post(`/api/pieces/${piece}/assets`, { uploads: [{ id: idOf(at), name }] });
    const answers = await Promise.all([take(twice), take(twice)]);
    expect(answers.map((a) => a.status).sort()).toEqual([201, 404]);
    // until one was hung up on before it had answered
    for (let tries = 0; ; tries++) {
      const at = await v.send(bell);
      // under a name of its own: what was read before is there at once
      const name = `bell ${tries}.wav`;
      const heard = await fetch(`${siteUrl()}/api/pieces/${piece}/assets`, {
        method: 'POST',
        headers: { ...v.headers(), 'content-type': 'application/json' },
        body: JSON.stringify({ uploads: [{ id: idOf(at), name }] }),
        signal: AbortSignal.timeout(120),
      }).then(
        () => true,
        () => false,
      );
      if (heard && tries < 20) continue;
      expect(heard).toBe(false);
      expect((await take(at, name)).status).toBe(201);
      break;
    }
  });
  test('two at once do not mix', async () => {
    const [a, b] = [
      await v.tus('POST', '/api/uploads', { 'upload-length': '4' }),
      await v.tus('POST', '/api/uploads', { 'upload-length': '4' }),
    ];
    const [x, y] = [a, b].map((r) => r.headers.get('location') as string);
    expect(x).not.toBe(y);
    await Promise.all([
      v.tus('PATCH', x, { 'upload-offset': '0' }, new Uint8Array([1, 1, 1, 1])),
      v.tus('PATCH', y, { 'upload-offset': '0' }, new Uint8Array([2, 2, 2, 2])),
    ]);
    const answer = await v.post(`/api/pieces/${piece}/assets`, {
      uploads: [{ id: idOf(x), name: 'x', sha256: sha256(new Uint8Array([1, 1, 1, 1])) }],
    });
    expect(answer.body.error.code).toBe('file/unknown');
  });
});
