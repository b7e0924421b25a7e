import type { Knex } from 'knex';
import { createOnce } from './once';

/** Browsers that signed in once, by the SHA-256 of their token. */
export async function up(db: Knex): Promise<void> {
  await createOnce(db, 'devices', (t) => {
    t.specificType('token_hash', 'char(64) character set ascii collate ascii_bin').primary();
    t.string('account_id', 40).collate('ascii_bin').notNullable().references('accounts.id').onDelete('CASCADE');
    t.datetime('created_at', { precision: 3 }).notNullable().index();
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTableIfExists('devices');
}
