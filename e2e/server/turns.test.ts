/** What is asked for by many at once: of one piece only the newest weight is worked out; a file is never taken in while it goes. */
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { boxGlb } from '@/core/intake/samples';
import { add, applyEdit, createModelPart, type Piece } from '@/core/piece';
import { adoptBlob, blobPath, collectBlobs } from '@/server/blobs';
import { packageFile, weighPiece } from '@/server/packages';
import { closeTestDatabase, signedIn, testDatabase } from '../support/http';

afterAll(closeTestDatabase);

test('of weights asked for one upon another the newest is given, older ones say that they are; whoever wants the package has it', async () => {
  const v = await signedIn();
  const id = await v.newPiece('Weighed');
  const { item } = (await v.upload(id, [['box.glb', await boxGlb()]])).body.items[0];
  let piece = (await v.get(`/api/pieces/${id}`)).body.document as Piece;
  piece = applyEdit(piece, add('stock', { id: 'box', ...item }));
  const states = [1, 2, 3, 4].map((n) => {
    piece = applyEdit(piece, add('parts', createModelPart(`p${n}`, 'box', `Box ${n}`)));
    return piece;
  });
  const whose = { yardId: v.yard, pieceId: id };
  const asked = states.map((s) => weighPiece(s, whose).catch((e) => e.code));
  const wanted = packageFile('glb', states[0], whose);
  const answers = await Promise.all(asked);
  expect(answers.slice(1, 3)).toEqual(['weight/older', 'weight/older']);
  expect(answers[3]).toBeGreaterThan(1_000);
  expect(existsSync(await wanted)).toBe(true);
  // asked again, one after the other, each is known
  expect(await weighPiece(states[1], whose)).toBeLessThan(answers[3]);
});

test('a file that comes in just when its like is swept stays, with its row', async () => {
  const db = testDatabase();
  const dir = await mkdtemp(join(tmpdir(), 'scaphos-race-'));
  const old = new Date(Date.now() - 40 * 86_400_000);
  try {
    for (let round = 0; round < 12; round++) {
      const bytes = new Uint8Array([round, 77, 13]);
      const sha = createHash('sha256').update(bytes).digest('hex');
      const bring = async () => {
        const folder = join(dir, `${round}-${Math.random()}`);
        await mkdir(folder);
        await writeFile(join(folder, sha), bytes);
        await adoptBlob(db, folder, sha);
      };
      await bring();
      await db('blobs').where({ sha256: sha }).update({ last_named_at: old });
      await Promise.all(round % 2 ? [collectBlobs(db), bring()] : [bring(), collectBlobs(db)]);
      const row = await db('blobs').where({ sha256: sha }).first();
      expect([round, row?.bytes, existsSync(blobPath(sha))]).toEqual([round, 3, true]);
      await db('blobs').where({ sha256: sha }).delete();
      await rm(blobPath(sha));
    }
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
});
