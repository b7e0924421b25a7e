import { describe, expect, test } from 'vitest';
import { migrateDown, migrateUp, openDatabase } from '@/server/db';

describe('migrations', () => {
  test('go up, down to nothing, and up again', async () => {
    const url = process.env.SCAPHOS_DB_URL as string;
    const admin = openDatabase(url);
    await admin.raw('CREATE DATABASE scaphos_migrations CHARACTER SET utf8mb4');
    const db = openDatabase(url.replace(/\/scaphos$/, '/scaphos_migrations'));
    const tables = async () =>
      (await db.raw('SHOW TABLES'))[0].map((r: object) => Object.values(r)[0]).filter((t: string) => !t.startsWith('knex'));
    try {
      await migrateUp(db);
      const full = await tables();
      expect(full).toEqual(expect.arrayContaining(['accounts', 'assets', 'blobs', 'members', 'pieces', 'revisions', 'sessions', 'yards']));
      await migrateDown(db);
      expect(await tables()).toEqual([]);
      await migrateUp(db);
      expect(await tables()).toEqual(full);
    } finally {
      await db.destroy();
      await admin.raw('DROP DATABASE scaphos_migrations');
      await admin.destroy();
    }
  });
});
