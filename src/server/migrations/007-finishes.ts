import type { Knex } from 'knex';
import { createOnce } from './once';

export async function up(db: Knex): Promise<void> {
  const id = (t: Knex.CreateTableBuilder, name = 'id') => t.string(name, 40).collate('ascii_bin');
  await createOnce(db, 'finishes', (t) => {
    id(t).primary();
    id(t, 'yard_id').notNullable().references('yards.id').onDelete('CASCADE');
    t.string('name', 120).notNullable();
    t.specificType('clip', 'longtext').notNullable();
    t.datetime('created_at', { precision: 3 }).notNullable();
    t.unique(['yard_id', 'name']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTableIfExists('finishes');
}
