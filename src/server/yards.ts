/** Yards and who belongs to them. */
import type { YardSummary } from '@/api';
import type { Knex } from './db';
import { notFound } from './errors';
import { newId } from './ids';

export async function createYard(db: Knex, name: string, accountId: string): Promise<string> {
  const id = newId();
  await db.transaction(async (trx) => {
    await trx('yards').insert({ id, name, created_at: new Date() });
    await trx('members').insert({ yard_id: id, account_id: accountId });
  });
  return id;
}

export async function listYards(db: Knex, accountId: string): Promise<YardSummary[]> {
  return db('yards')
    .join('members', 'members.yard_id', 'yards.id')
    .where('members.account_id', accountId)
    .orderBy('yards.created_at')
    .select('yards.id', 'yards.name');
}

export async function renameYard(db: Knex, yardId: string, name: string): Promise<void> {
  await db('yards').where('id', yardId).update({ name });
}

/** @throws {HttpError} 404 where the account is not a member. */
export async function requireYard(db: Knex, yardId: string, accountId: string): Promise<YardSummary> {
  const row = await db('yards')
    .join('members', 'members.yard_id', 'yards.id')
    .where('yards.id', yardId)
    .where('members.account_id', accountId)
    .first('yards.id', 'yards.name');
  if (!row) throw notFound('yard');
  return row;
}
