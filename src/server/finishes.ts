/** Finishes a yard keeps under a name, with the pictures of their maps. */
import type { KeptFinish, KeptFinishDraft } from '@/api';
import { FinishClip } from '@/core/piece';
import type { Knex } from './db';
import { HttpError, notFound } from './errors';
import { newId } from './ids';
import { requireOwnFiles } from './pieces';

/** Of one yard. */
const MOST = 200;
const SHA = /\b[0-9a-f]{64}\b/g;

interface Row {
  id: string;
  name: string;
  clip: string;
}

/** By name; one of an older shape that cannot be read is left out. */
export async function listFinishes(db: Knex, yardId: string): Promise<KeptFinish[]> {
  const rows: Row[] = await db('finishes').where('yard_id', yardId).orderBy('name').select('id', 'name', 'clip');
  return rows.flatMap(({ id, name, clip }) => {
    const read = FinishClip.safeParse(JSON.parse(clip));
    return read.success ? [{ id, name, clip: read.data }] : [];
  });
}

/**
 * Keeps a finish; one of the same name is written over.
 * @throws {HttpError} 422 the yard has too many, or a picture is none of its files
 */
export async function keepFinish(db: Knex, yardId: string, { name, clip }: KeptFinishDraft): Promise<KeptFinish[]> {
  await requireOwnFiles(db, yardId, [...new Set(JSON.stringify(clip).match(SHA) ?? [])]);
  const had = await db('finishes').where({ yard_id: yardId, name }).first('id');
  const [{ n }] = await db('finishes').where('yard_id', yardId).count({ n: '*' });
  if (!had && Number(n) >= MOST)
    throw new HttpError(422, 'finish/too-many', `The yard keeps ${MOST} finishes already. Take one out that is not needed any more.`);
  await db('finishes')
    .insert({ id: newId(), yard_id: yardId, name, clip: JSON.stringify(clip), created_at: new Date() })
    .onConflict(['yard_id', 'name'])
    .merge(['clip']);
  return listFinishes(db, yardId);
}

/** @throws {HttpError} 404 no such finish in the yard */
export async function dropFinish(db: Knex, yardId: string, id: string): Promise<KeptFinish[]> {
  if ((await db('finishes').where({ yard_id: yardId, id }).delete()) === 0) throw notFound('finish');
  return listFinishes(db, yardId);
}
