import type { Knex } from 'knex';
import { createOnce } from './once';

/** Who did what, kept for good. No foreign keys: an account that goes does not change what it did. */
export async function up(db: Knex): Promise<void> {
  const id = (t: Knex.CreateTableBuilder, name: string) => t.string(name, 40).collate('ascii_bin').nullable();
  await createOnce(db, 'audit', (t) => {
    t.bigIncrements('id');
    t.datetime('at', { precision: 3 }).notNullable().index();
    t.string('what', 40).collate('ascii_bin').notNullable();
    id(t, 'account_id').index();
    id(t, 'yard_id');
    t.string('subject', 200).nullable();
    t.string('came_from', 64).nullable();
  });
  for (const act of ['UPDATE', 'DELETE'])
    await db.raw(
      `CREATE OR REPLACE TRIGGER audit_no_${act.toLowerCase()} BEFORE ${act} ON audit FOR EACH ROW
       SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'What the audit says is kept for good.'`,
    );
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTableIfExists('audit');
}
