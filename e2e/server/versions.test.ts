/** History one can go back to: the document of any revision, kept here and there, and where somebody gave it a name. */
import { afterAll, describe, expect, test } from 'vitest';
import { boxGlb } from '@/core/intake/samples';
import { add, applyEdit, createModelPart, type Edit, editsBetween, PIECE_SCHEMA, remove, settings } from '@/core/piece';
import { collectBlobs } from '@/server/blobs';
import { KEPT_EVERY } from '@/server/documents';
import { type Answer, closeTestDatabase, signedIn, testDatabase, type Visitor } from '../support/http';

afterAll(closeTestDatabase);

const told = ({ status, body }: Answer) => [status, body.error?.code];
const save = async (v: Visitor, piece: string, baseRevision: number, ...edits: Edit[]): Promise<number> => {
  const { body } = await v.post(`/api/pieces/${piece}/edits`, { saveId: `v${baseRevision}`, baseRevision, schema: PIECE_SCHEMA, edits });
  return body.revision;
};
const documentOf = async (v: Visitor, piece: string) => (await v.get(`/api/pieces/${piece}`)).body.document;
const at = (v: Visitor, piece: string, revision: number | string) => v.get(`/api/pieces/${piece}/versions/${revision}`);

describe('versions', () => {
  test('the document of every revision is what the piece was; going back to one is a revision like any other', async () => {
    const v = await signedIn();
    const piece = await v.newPiece('First');
    const { item } = (await v.upload(piece, [['box.glb', await boxGlb()]])).body.items[0];
    const edits: Edit[] = [
      add('stock', { ...item, id: 's' }),
      add('parts', createModelPart('p', 's', 'Box')),
      settings({ name: 'Third' }),
      remove('parts', 'p'),
    ];
    const were = [await documentOf(v, piece)];
    for (const [i, edit] of edits.entries()) {
      expect(await save(v, piece, i, edit)).toBe(i + 1);
      were.push(await documentOf(v, piece));
    }
    for (const [i, was] of were.entries()) {
      const { body } = await at(v, piece, i);
      expect(body.document).toEqual(was);
      expect([body.revision, body.assets.length]).toEqual([i, i > 0 ? 1 : 0]);
      expect(Math.abs(Date.parse(body.at) - Date.now())).toBeLessThan(600_000);
    }
    for (const none of ['5', '-1', '1e3', 'x', '99999999999']) expect(told(await at(v, piece, none))).toEqual([404, 'http/not-found']);
    const back = editsBetween(were[4], were[2]);
    expect(await save(v, piece, 4, ...back)).toBe(5);
    expect(await documentOf(v, piece)).toEqual(were[2]);
    expect(back.reduce(applyEdit, were[4])).toEqual(were[2]);
    // and the way back is kept
    expect((await at(v, piece, 4)).body.document).toEqual(were[4]);
  });

  test('a name is given, replaced and taken away; the revision stays', async () => {
    const v = await signedIn();
    const piece = await v.newPiece();
    await save(v, piece, 0, settings({ name: 'One' }));
    const path = `/api/pieces/${piece}/versions`;
    expect((await v.get(path)).body).toEqual([{ revision: 0, name: null, by: null, at: expect.any(String) }]);
    const named = await v.call('PUT', `${path}/1`, { name: 'As the client saw it' });
    expect(named.body.map((r: { name: string; by: string }) => [r.name, r.by])).toEqual([
      ['As the client saw it', 'Visitor'],
      [null, null],
    ]);
    expect((await v.call('PUT', `${path}/1`, { name: 'Approved' })).body[0]).toMatchObject({ revision: 1, name: 'Approved' });
    expect((await v.call('PUT', `${path}/0`, { name: 'The beginning' })).body).toHaveLength(2);
    expect(told(await v.call('PUT', `${path}/2`, { name: 'Not there yet' }))).toEqual([404, 'http/not-found']);
    expect(told(await v.call('PUT', `${path}/1`, { name: '' }))).toEqual([400, 'http/shape']);
    // the beginning is what all others start from
    expect((await v.call('DELETE', `${path}/0`)).body).toMatchObject([{ revision: 1 }, { revision: 0, name: null, by: null }]);
    expect((await v.call('DELETE', `${path}/1`)).body).toMatchObject([{ revision: 0 }]);
    expect(told(await v.call('DELETE', `${path}/1`))).toEqual([404, 'http/not-found']);
    expect((await at(v, piece, 1)).body.document.settings.name).toBe('One');
  });

  test('a document is kept at the beginning and every 200 revisions; what lies between is put together from the nearest', async () => {
    const v = await signedIn();
    const piece = await v.newPiece();
    for (let i = 0; i < KEPT_EVERY + 1; i++) await save(v, piece, i, settings({ name: `Name ${i + 1}` }));
    const revisions = (await v.get(`/api/pieces/${piece}/versions`)).body.map((r: { revision: number }) => r.revision);
    expect(revisions).toEqual([200, 0]);
    // an edit before it that is damaged holds up none after it
    await testDatabase()('revisions')
      .where({ piece_id: piece, number: 5 })
      .update({ edits: '{"schema":4,"edits":[{"kind":"remove","table":"parts","id":"none"}]}' });
    expect((await at(v, piece, KEPT_EVERY + 1)).body.document.settings.name).toBe(`Name ${KEPT_EVERY + 1}`);
    expect((await at(v, piece, 4)).body.document.settings.name).toBe('Name 4');
    expect(told(await at(v, piece, 6))).toEqual([422, 'version/broken']);
  });

  test('a piece without a beginning says what it has', async () => {
    const v = await signedIn();
    const piece = await v.newPiece();
    await save(v, piece, 0, settings({ name: 'One' }));
    await testDatabase()('documents').where({ piece_id: piece }).delete();
    expect(told(await at(v, piece, 1))).toEqual([404, 'http/not-found']);
    expect((await v.get(`/api/pieces/${piece}/versions`)).body).toEqual([]);
  });

  test('at most 200 have a name', async () => {
    const v = await signedIn();
    const piece = await v.newPiece();
    await save(v, piece, 0, settings({ name: 'One' }));
    await save(v, piece, 1, settings({ name: 'Two' }));
    const row = (n: number) => ({ piece_id: piece, revision: 1000 + n, name: `n${n}`, document: '{}', created_at: new Date() });
    await testDatabase()('documents').insert(Array.from({ length: 199 }, (_, n) => row(n)));
    const name = (revision: number) => v.call('PUT', `/api/pieces/${piece}/versions/${revision}`, { name: 'x' });
    expect((await name(1)).status).toBe(200);
    expect(told(await name(2))).toEqual([422, 'version/too-many']);
    // another name for one that has one
    expect((await name(1)).status).toBe(200);
  });

  test('a file that only a version names stays', async () => {
    const v = await signedIn();
    const piece = await v.newPiece();
    const { item } = (await v.upload(piece, [['box.glb', await boxGlb([0.011, 0.012, 0.013])]])).body.items[0];
    await save(v, piece, 0, add('stock', { ...item, id: 's' }));
    await v.call('PUT', `/api/pieces/${piece}/versions/1`, { name: 'With the box' });
    await save(v, piece, 1, remove('stock', 's'));
    // neither the piece nor its edits speak of it
    await testDatabase()('revisions').where({ piece_id: piece, number: 1 }).update({ edits: '[]' });
    const named = () => testDatabase()('blobs').where({ sha256: item.original }).first('last_named_at');
    await testDatabase()('blobs')
      .where({ sha256: item.original })
      .update({ last_named_at: new Date(0) });
    await collectBlobs(testDatabase());
    expect(await named()).toBeDefined();
  });

  test('another yard’s versions are not there, whoever knows the piece', async () => {
    const [owner, stranger] = [await signedIn(), await signedIn()];
    const piece = await owner.newPiece();
    await owner.call('PUT', `/api/pieces/${piece}/versions/0`, { name: 'Mine' });
    const path = `/api/pieces/${piece}/versions`;
    for (const answer of [
      await stranger.get(path),
      await at(stranger, piece, 0),
      await stranger.call('PUT', `${path}/0`, { name: 'Theirs' }),
      await stranger.call('DELETE', `${path}/0`),
    ])
      expect(told(answer)).toEqual([404, 'http/not-found']);
    expect((await owner.get(path)).body[0].name).toBe('Mine');
  });
});
