/** The database: one pool a process, and the migrations in order. */
import knex, { type Knex } from 'knex';
import { config } from './config';
import * as first from './migrations/001-first';
import * as jobs from './migrations/002-jobs';
import * as recipes from './migrations/003-recipes';
import * as devices from './migrations/004-devices';

export type { Knex } from 'knex';

const MIGRATIONS: Readonly<Record<string, Knex.Migration>> = {
  '001-first': first,
  '002-jobs': jobs,
  '003-recipes': recipes,
  '004-devices': devices,
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

export const migrateUp = (db: Knex) => db.migrate.latest({ migrationSource });
export const migrateDown = (db: Knex) => db.migrate.rollback({ migrationSource }, true);

const held = globalThis as { scaphosDb?: Knex };
/** The pool of this process. */
export function database(): Knex {
  held.scaphosDb ??= openDatabase(config().dbUrl);
  return held.scaphosDb;
}
