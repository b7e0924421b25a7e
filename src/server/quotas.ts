/** What a yard, or an account, may take of a server that others use too. What is over says so with the figure. */
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { YardUse } from '@/api';
import { showBytes } from '@/core/math';
import { given, uploadDir } from './config';
import type { Knex } from './db';
import { HttpError } from './errors';
import { readingOf } from './reading';

const GB = 1e9;
/** Of files in a yard; SCAPHOS_YARD_GB. */
export const yardBytes = () => given('SCAPHOS_YARD_GB', 50) * GB;
/** Of files an account has begun to send and not finished; SCAPHOS_UPLOADS_GB. */
export const uploadBytes = () => given('SCAPHOS_UPLOADS_GB', 10) * GB;
const MOST_UPLOADS = 500;
/** Jobs of a yard that wait. */
export const MOST_YARD_JOBS = 100;

/** Bytes of the files that a yard's stock speaks of, each once, how long they were read, and the most of both. */
export async function yardUse(db: Knex, yardId: string): Promise<YardUse> {
  const named = db('assets').where('yard_id', yardId);
  const row = await db('blobs')
    .whereIn('sha256', named.clone().select('original').union(named.clone().select('model')))
    .sum({ bytes: 'bytes' })
    .first();
  const { seconds, most } = readingOf(yardId);
  return { bytes: Number(row?.bytes ?? 0), most: yardBytes(), readS: seconds, mostReadS: most };
}

/** @throws {HttpError} 413 the yard has no room for so many bytes more */
export async function requireRoom(db: Knex, yardId: string, more: number): Promise<void> {
  const { bytes, most } = await yardUse(db, yardId);
  if (bytes + more > most)
    throw new HttpError(
      413,
      'yard/full',
      `The yard holds ${showBytes(bytes)} of ${showBytes(most)}; there is no room for ${showBytes(more)} more. Delete pieces that are not needed, or ask whoever runs this Scaphos for more room.`,
    );
}

/** @throws {HttpError} 429 the account has too much on its way already */
export async function requireUploadRoom(accountId: string, more: number): Promise<void> {
  const infos = (await readdir(uploadDir()).catch(() => [])).filter((n) => n.startsWith(`${accountId}.`) && n.endsWith('.json'));
  let bytes = 0;
  for (const name of infos) {
    const size = await readFile(join(uploadDir(), name), 'utf8')
      .then((t) => Number((JSON.parse(t) as { size?: number }).size ?? 0))
      .catch(() => 0);
    bytes += size;
  }
  if (infos.length >= MOST_UPLOADS || bytes + more > uploadBytes())
    throw new HttpError(
      429,
      'upload/too-many',
      `${infos.length} files of ${showBytes(bytes)} are on their way already; up to ${MOST_UPLOADS} of ${showBytes(uploadBytes())} may be. Finish or stop some.`,
    );
}
