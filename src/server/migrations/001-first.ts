import type { Knex } from 'knex';
import { createOnce } from './once';

export async function up(db: Knex): Promise<void> {
  const id = (t: Knex.CreateTableBuilder, name = 'id') => t.string(name, 40).collate('ascii_bin');
  const sha = (t: Knex.CreateTableBuilder, name: string) => t.specificType(name, 'char(64) character set ascii collate ascii_bin');
  const time = (t: Knex.CreateTableBuilder, name: string) => t.datetime(name, { precision: 3 });
  await createOnce(db, 'accounts', (t) => {
    id(t).primary();
    t.string('email', 200).notNullable().unique();
    t.string('name', 120).notNullable();
    t.string('password_hash', 200).notNullable();
    time(t, 'created_at').notNullable();
  });
  await createOnce(db, 'sessions', (t) => {
    sha(t, 'token_hash').primary();
    id(t, 'account_id').notNullable().references('accounts.id').onDelete('CASCADE');
    time(t, 'expires_at').notNullable().index();
  });
  await createOnce(db, 'yards', (t) => {
    id(t).primary();
    t.string('name', 120).notNullable();
    time(t, 'created_at').notNullable();
  });
  await createOnce(db, 'members', (t) => {
    id(t, 'yard_id').notNullable().references('yards.id').onDelete('CASCADE');
    id(t, 'account_id').notNullable().references('accounts.id').onDelete('CASCADE');
    t.primary(['yard_id', 'account_id']);
  });
  await createOnce(db, 'blobs', (t) => {
    sha(t, 'sha256').primary();
    t.bigInteger('bytes').unsigned().notNullable();
    time(t, 'last_named_at').notNullable().index();
  });
  await createOnce(db, 'pieces', (t) => {
    id(t).primary();
    id(t, 'yard_id').notNullable().references('yards.id').onDelete('CASCADE');
    t.integer('revision').unsigned().notNullable();
    t.specificType('document', 'longtext').notNullable();
    sha(t, 'cover_sha256').nullable();
    t.integer('cover_revision').unsigned().nullable();
    time(t, 'created_at').notNullable();
    time(t, 'updated_at').notNullable();
    time(t, 'deleted_at').nullable();
  });
  await createOnce(db, 'revisions', (t) => {
    id(t, 'piece_id').notNullable().references('pieces.id').onDelete('CASCADE');
    t.integer('number').unsigned().notNullable();
    t.string('save_id', 40).collate('ascii_bin').notNullable();
    id(t, 'account_id').nullable();
    t.specificType('edits', 'longtext').notNullable();
    time(t, 'created_at').notNullable();
    t.primary(['piece_id', 'number']);
    t.unique(['piece_id', 'save_id']);
  });
  await createOnce(db, 'assets', (t) => {
    id(t, 'yard_id').notNullable().references('yards.id').onDelete('CASCADE');
    sha(t, 'original').notNullable();
    sha(t, 'model').notNullable();
    t.specificType('facts', 'longtext').notNullable();
    time(t, 'created_at').notNullable();
    t.primary(['yard_id', 'original', 'model']);
  });
}

export async function down(db: Knex): Promise<void> {
  for (const table of ['assets', 'revisions', 'pieces', 'blobs', 'members', 'yards', 'sessions', 'accounts'])
    await db.schema.dropTableIfExists(table);
}
