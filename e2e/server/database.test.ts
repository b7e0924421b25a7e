import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { bringUpToDate, loadDatabase } from '@/cli/database';
import { type Knex, migrateDown, migrateUp, openDatabase } from '@/server/db';

describe('migrations', () => {
  let admin: Knex;
  beforeAll(() => {
    admin = openDatabase(process.env.SCAPHOS_DB_URL as string);
  });
  afterAll(() => admin.destroy());

  /** With an empty database of its own. */
  async function within(name: string, work: (db: Knex, url: string) => Promise<void>): Promise<void> {
    const url = (process.env.SCAPHOS_DB_URL as string).replace(/\/scaphos$/, `/${name}`);
    await admin.raw(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`);
    const db = openDatabase(url);
    try {
      await work(db, url);
    } finally {
      await db.destroy();
      await admin.raw(`DROP DATABASE ${name}`);
    }
  }
  const tables = async (db: Knex) =>
    (await db.raw('SHOW TABLES'))[0].map((r: object) => Object.values(r)[0]).filter((t: string) => !t.startsWith('knex'));

  test('go up, down to nothing, and up again', () =>
    within('scaphos_migrations', async (db) => {
      await migrateUp(db);
      const full = await tables(db);
      expect(full).toEqual(expect.arrayContaining(['accounts', 'assets', 'blobs', 'members', 'pieces', 'revisions', 'sessions', 'yards']));
      await migrateDown(db);
      expect(await tables(db)).toEqual([]);
      await migrateUp(db);
      expect(await tables(db)).toEqual(full);
    }));

  test('cut in the middle, they go on: what was half made is made anew, what holds rows is let be, and the database of before lies in a file', () =>
    within('scaphos_cut', async (db, url) => {
      const dir = await mkdtemp(join(tmpdir(), 'scaphos-before-'));
      const account = { id: 'a', email: 'a@example.test', name: 'A', password_hash: 'x', created_at: new Date() };
      /** As a process leaves it that is killed between the table and the note of it. */
      const cut = async () => {
        await db('knex_migrations').where({ name: '004-devices' }).delete();
        await db('knex_migrations_lock').update({ is_locked: 1 });
      };
      try {
        await migrateUp(db);
        await db('accounts').insert(account);
        await db.raw('DROP TABLE devices');
        await db.raw('CREATE TABLE devices (token_hash CHAR(64))');
        await cut();
        await bringUpToDate(url, dir);
        expect(Object.keys(await db('devices').columnInfo()).sort()).toEqual(['account_id', 'created_at', 'token_hash']);
        expect((await db.raw('SHOW INDEX FROM devices'))[0].length).toBeGreaterThan(1);
        expect(await readdir(join(dir, 'before'))).toEqual(['004-devices.sql']);
        await within('scaphos_as_it_was', async (was, at) => {
          await loadDatabase(at, join(dir, 'before', '004-devices.sql'));
          expect(await was('accounts').select('email')).toEqual([{ email: account.email }]);
          expect(Object.keys(await was('devices').columnInfo())).toEqual(['token_hash']);
        });
        await db('devices').insert({ token_hash: 'f'.repeat(64), account_id: 'a', created_at: new Date() });
        await cut();
        await bringUpToDate(url, dir);
        expect(await db('devices').select('token_hash')).toEqual([{ token_hash: 'f'.repeat(64) }]);
        // nothing is missing: nothing is done
        await rm(join(dir, 'before'), { recursive: true });
        await bringUpToDate(url, dir);
        expect(await readdir(dir)).toEqual([]);
      } finally {
        await rm(dir, { recursive: true, force: true });
      }
    }));
});
