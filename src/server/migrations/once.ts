import type { Knex } from 'knex';

/**
 * Makes a table; one that a cut migration left behind is made anew. MariaDB takes no definitions back: such a table may lack its keys.
 * One with rows in it is never touched.
 */
export async function createOnce(db: Knex, name: string, build: (t: Knex.CreateTableBuilder) => void): Promise<void> {
  if (await db.schema.hasTable(name)) {
    if (await db(name).first()) return;
    // others of the same cut may refer to it already
    await db.raw('SET FOREIGN_KEY_CHECKS = 0');
    await db.schema.dropTable(name).finally(() => db.raw('SET FOREIGN_KEY_CHECKS = 1'));
  }
  await db.schema.createTable(name, build);
}
