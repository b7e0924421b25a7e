/** The database: one pool a process, and the migrations in order. */
import knex, { type Knex } from 'knex';
import { config } from './config';
import * as first from './migrations/001-first';
import * as jobs from './migrations/002-jobs';
import * as recipes from './migrations/003-recipes';
import * as devices from './migrations/004-devices';
import * as documents from './migrations/005-documents';
import * as audit from './migrations/006-audit';
import * as finishes from './migrations/007-finishes';

export type { Knex } from 'knex';

const MIGRATIONS: Readonly<Record<string, Knex.Migration>> = {
  '001-first': first,
  '002-jobs': jobs,
  '003-recipes': recipes,
  '004-devices': devices,
  '005-documents': documents,
  '006-audit': audit,
  '007-finishes': finishes,
};

const migrationSource: Knex.MigrationSource<string> = {
  getMigrations: async () => Object.keys(MIGRATIONS).sort(),
  getMigrationName: (name) => name,
  getMigration: async (name) => MIGRATIONS[name],
};

/** Failures reach the caller as errors; knex need not print them too. */
const SILENT = { warn: () => undefined, error: () => undefined, debug: () => undefined, deprecate: () => undefined };

export function openDatabase(url: string): Knex {
  return knex({
    client: 'mysql2',
    connection: { uri: url, timezone: 'Z', charset: 'utf8mb4' } as Knex.StaticConnectionConfig,
    pool: { min: 0, max: 10 },
    acquireConnectionTimeout: 5_000,
    log: SILENT,
  });
}

/** Names of the migrations that were run, and of those that were not; a database of a newer Scaphos is refused. */
export async function migrationsOf(db: Knex): Promise<{ done: string[]; missing: string[] }> {
  const there = await db.schema.hasTable('knex_migrations');
  const done: string[] = there ? (await db('knex_migrations').orderBy('id').select('name')).map((r: { name: string }) => r.name) : [];
  const newer = done.find((name) => !Object.hasOwn(MIGRATIONS, name));
  if (newer) throw new Error(`it has been through ${newer}, which this Scaphos does not know. Use the newer Scaphos that made it.`);
  // a run that was killed leaves its lock; the folder's own lock says that nobody else is at it
  if (there) await db('knex_migrations_lock').update({ is_locked: 0 });
  return { done, missing: Object.keys(MIGRATIONS).filter((name) => !done.includes(name)) };
}

export const migrateUp = (db: Knex) => db.migrate.latest({ migrationSource });
export const migrateDown = (db: Knex) => db.migrate.rollback({ migrationSource }, true);

const held = globalThis as { scaphosDb?: Knex };
/** The pool of this process. */
export function database(): Knex {
  held.scaphosDb ??= openDatabase(config().dbUrl);
  return held.scaphosDb;
}
