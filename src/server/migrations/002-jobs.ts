import type { Knex } from 'knex';
import { createOnce } from './once';

export async function up(db: Knex): Promise<void> {
  const id = (t: Knex.CreateTableBuilder, name = 'id') => t.string(name, 40).collate('ascii_bin');
  const time = (t: Knex.CreateTableBuilder, name: string) => t.datetime(name, { precision: 3 });
  await createOnce(db, 'jobs', (t) => {
    id(t).primary();
    id(t, 'yard_id').notNullable().references('yards.id').onDelete('CASCADE');
    id(t, 'piece_id').notNullable().references('pieces.id').onDelete('CASCADE');
    t.string('state', 10).notNullable();
    /** How often it was begun: a job that takes the server with it is not begun for ever. */
    t.integer('tries').unsigned().notNullable().defaultTo(0);
    t.specificType('request', 'longtext').notNullable();
    t.double('share').notNullable().defaultTo(0);
    t.string('what', 200).notNullable().defaultTo('');
    t.specificType('result', 'longtext').nullable();
    t.specificType('error', 'text').nullable();
    time(t, 'created_at').notNullable();
    time(t, 'started_at').nullable();
    time(t, 'ended_at').nullable();
    t.index(['piece_id', 'created_at']);
    t.index(['state', 'yard_id', 'started_at']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTableIfExists('jobs');
}
