/** How the server is, for whoever runs it. */
import { statfs } from 'node:fs/promises';
import { config } from './config';
import { type Confined, confined } from './confine';
import type { Knex } from './db';
import { readerCounts } from './readers';

export interface Health {
  ok: boolean;
  database: 'answers';
  /** The newest migration that was run. */
  schema: string | null;
  /** Room left where the data lie, megabytes. */
  freeMb: number;
  jobs: { queued: number; running: number };
  readers: { running: number; waiting: number };
  /** What is taken from whoever reads files: its network, and being this user. */
  confined: Confined;
}

const ANSWER_MS = 3_000;

/** @throws the database's own error where it does not answer */
export async function healthOf(db: Knex): Promise<Health> {
  const states = (await db('jobs')
    .whereIn('state', ['queued', 'running'])
    .select('state')
    .count({ n: '*' })
    .groupBy('state')
    .timeout(ANSWER_MS)) as { state: string; n: number }[];
  const last = await db('knex_migrations').orderBy('id', 'desc').first('name').timeout(ANSWER_MS);
  const { bavail, bsize } = await statfs(config().dataDir);
  const of = (state: string) => Number(states.find((s) => s.state === state)?.n ?? 0);
  return {
    ok: true,
    database: 'answers',
    schema: last?.name ?? null,
    freeMb: Math.floor((bavail * bsize) / 1e6),
    jobs: { queued: of('queued'), running: of('running') },
    readers: readerCounts(),
    confined: confined(),
  };
}
