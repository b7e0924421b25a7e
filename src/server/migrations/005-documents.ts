import type { Knex } from 'knex';
import { createOnce } from './once';

/** Documents that a piece's history can start from. What there is so far starts where it stands. */
export async function up(db: Knex): Promise<void> {
  await createOnce(db, 'documents', (t) => {
    t.string('piece_id', 40).collate('ascii_bin').notNullable().references('pieces.id').onDelete('CASCADE');
    t.integer('revision').unsigned().notNullable();
    t.string('name', 120).nullable();
    // who gave the name
    t.string('account_id', 40).collate('ascii_bin').nullable().references('accounts.id').onDelete('SET NULL');
    t.specificType('document', 'longtext').notNullable();
    t.datetime('created_at', { precision: 3 }).notNullable();
    t.primary(['piece_id', 'revision']);
  });
  await db.raw(`INSERT IGNORE INTO documents (piece_id, revision, document, created_at)
    SELECT id, revision, document, updated_at FROM pieces`);
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTableIfExists('documents');
}
