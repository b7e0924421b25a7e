/**
 * The job queue: kept in the database, run a few at a time, the yard that waited longest first. What ran when a server was killed
 * is begun again by the next one. Whoever listens hears of every change.
 */
import type { JobAnswer, JobRequest, JobResult, JobState } from '@/api';
import { JobError, type Progress } from '@/worker/node';
import type { Knex } from './db';
import { HttpError, notFound } from './errors';
import { newId } from './ids';
import { log } from './log';
import { MOST_YARD_JOBS } from './quotas';

/** What does the work of a job. */
export type JobRunner = (
  job: { yardId: string; pieceId: string; request: JobRequest },
  hooks: {
    signal: AbortSignal;
    progress: (p: Progress) => void;
    /** Between parts of a long job: one job of another yard that waits is done first. */
    giveWay: () => Promise<void>;
  },
) => Promise<JobResult>;

interface JobRow {
  id: string;
  yard_id: string;
  piece_id: string;
  state: JobState;
  tries: number;
  request: string;
  share: number;
  what: string;
  result: string | null;
  error: string | null;
  created_at: Date;
}

/** Begun so often and never ended: it takes the server with it. */
const MOST_TRIES = 3;
/** Waiting and running jobs a piece may have. */
const MOST_OPEN = 20;
/** Finished ones that are kept of a piece. */
const KEPT = 20;
const NOTE_MS = 1_000;

const answer = (r: JobRow): JobAnswer => ({
  id: r.id,
  request: JSON.parse(r.request),
  state: r.state,
  share: r.share,
  what: r.what,
  error: r.error ? JSON.parse(r.error) : null,
  result: r.result ? JSON.parse(r.result) : null,
  createdAt: r.created_at.toISOString(),
});

type Listener = (job: JobAnswer) => void;

export class JobQueue {
  private readonly running = new Map<string, AbortController>();
  private readonly listeners = new Map<string, Set<Listener>>();
  private pumping: Promise<void> = Promise.resolve();

  constructor(
    private readonly db: Knex,
    private readonly run: JobRunner,
    private readonly slots = 1,
  ) {}

  /** @throws {HttpError} 429 too many wait already */
  async add(yardId: string, pieceId: string, request: JobRequest): Promise<JobAnswer> {
    const [{ open }] = await this.db('jobs').where({ piece_id: pieceId }).whereIn('state', ['queued', 'running']).count({ open: '*' });
    if (Number(open) >= MOST_OPEN)
      throw new HttpError(
        429,
        'job/too-many',
        `${MOST_OPEN} jobs of this piece are waiting already. Stop some, or wait until they are done.`,
      );
    const [{ all }] = await this.db('jobs').where({ yard_id: yardId }).whereIn('state', ['queued', 'running']).count({ all: '*' });
    if (Number(all) >= MOST_YARD_JOBS)
      throw new HttpError(429, 'job/too-many', `${MOST_YARD_JOBS} jobs of this yard are waiting already. Wait until some are done.`);
    const id = newId();
    await this.db('jobs').insert({
      id,
      yard_id: yardId,
      piece_id: pieceId,
      state: 'queued',
      request: JSON.stringify(request),
      created_at: new Date(),
    });
    await this.forget(pieceId);
    const job = await this.tell(id);
    this.pump();
    return job;
  }

  async list(pieceId: string): Promise<JobAnswer[]> {
    return (await this.db<JobRow>('jobs').where({ piece_id: pieceId }).orderBy('created_at').orderBy('id')).map(answer);
  }

  private async row(pieceId: string, id: string): Promise<JobRow> {
    const row = await this.db<JobRow>('jobs').where({ id, piece_id: pieceId }).first();
    if (!row) throw notFound('job');
    return row;
  }

  /** Ends a job that waits or runs; one that has ended stays as it is. */
  async stop(pieceId: string, id: string): Promise<JobAnswer> {
    await this.row(pieceId, id);
    await this.db('jobs').where({ id }).whereIn('state', ['queued', 'running']).update({ state: 'stopped', ended_at: new Date() });
    this.running.get(id)?.abort();
    return this.tell(id);
  }

  /** Puts a stopped or failed job back in the queue. */
  async retry(pieceId: string, id: string): Promise<JobAnswer> {
    await this.row(pieceId, id);
    await this.db('jobs')
      .where({ id })
      .whereIn('state', ['stopped', 'failed'])
      .update({ state: 'queued', tries: 0, share: 0, what: '', error: null, ended_at: null });
    const job = await this.tell(id);
    this.pump();
    return job;
  }

  /** Hears of every change to a piece's jobs until the returned function is called. */
  listen(pieceId: string, listener: Listener): () => void {
    const all = this.listeners.get(pieceId) ?? new Set();
    this.listeners.set(pieceId, all.add(listener));
    return () => {
      all.delete(listener);
      if (all.size === 0 && this.listeners.get(pieceId) === all) this.listeners.delete(pieceId);
    };
  }

  /** What a server that is gone left running is begun again; too often begun, it has failed. Call once, when a server starts. */
  async resume(): Promise<void> {
    const lost = {
      code: 'job/died',
      message: 'The server ended while it worked on this, several times. Make the model smaller, or try again.',
    };
    await this.db('jobs')
      .where({ state: 'running' })
      .where('tries', '>=', MOST_TRIES)
      .update({ state: 'failed', error: JSON.stringify(lost), ended_at: new Date() });
    await this.db('jobs').where({ state: 'running' }).update({ state: 'queued', share: 0, what: '' });
    this.pump();
  }

  /** Resolves when nothing runs and nothing waits. */
  async idle(): Promise<void> {
    for (;;) {
      await this.pumping;
      const [{ open }] = await this.db('jobs').whereIn('state', ['queued', 'running']).count({ open: '*' });
      if (Number(open) === 0 && this.running.size === 0) return;
      await new Promise((r) => setTimeout(r, 20));
    }
  }

  /** Begins as many jobs as there are slots; one look at a time. */
  private pump(): void {
    this.pumping = this.pumping
      .then(async () => {
        while (this.running.size < this.slots) {
          const row = await this.claim();
          if (!row) return;
          void this.work(row);
        }
      })
      .catch((error: unknown) => log.error({ err: error }, 'the job queue could not look for work'));
  }

  /** The oldest job of the yard whose last turn is longest ago. @param except of other yards than this one */
  private async claim(except = ''): Promise<JobRow | null> {
    const turns = this.db('jobs').select('yard_id').max({ last_turn: 'started_at' }).groupBy('yard_id').as('turns');
    const next = await this.db('jobs')
      .join(turns, 'turns.yard_id', 'jobs.yard_id')
      .where('jobs.state', 'queued')
      .whereNot('jobs.yard_id', except)
      .orderByRaw('turns.last_turn is not null, turns.last_turn, jobs.created_at, jobs.id')
      .first('jobs.*');
    if (!next) return null;
    const taken = await this.db('jobs')
      .where({ id: next.id, state: 'queued' })
      .update({ state: 'running', tries: next.tries + 1, started_at: new Date(), share: 0 });
    return taken === 1 ? (next as JobRow) : this.claim(except);
  }

  private async work(row: JobRow): Promise<void> {
    const stop = new AbortController();
    this.running.set(row.id, stop);
    let noted = 0;
    // where it failed is told, though the note of it may still be on its way
    let last: Pick<JobRow, 'share' | 'what'> | null = null;
    const progress = ({ share, what }: Progress) => {
      // what was still on its way when it was stopped is not news
      if (stop.signal.aborted || !this.running.has(row.id)) return;
      last = { share, what: what.slice(0, 200) };
      const now = Date.now();
      const job: JobAnswer = { ...answer(row), state: 'running', share, what };
      this.emit(row.piece_id, job);
      if (now - noted < NOTE_MS) return;
      noted = now;
      void this.db('jobs')
        .where({ id: row.id, state: 'running' })
        .update(last)
        .catch(() => undefined);
    };
    // in this one's slot, which waits for it
    const giveWay = async () => {
      const other = stop.signal.aborted ? null : await this.claim(row.yard_id);
      if (other) await this.work(other);
    };
    try {
      // stopped before it could be told
      if ((await this.tell(row.id)).state !== 'running') return;
      const result = await this.run(
        { yardId: row.yard_id, pieceId: row.piece_id, request: JSON.parse(row.request) },
        { signal: stop.signal, progress, giveWay },
      );
      await this.end(row.id, { state: 'done', share: 1, what: '', result: JSON.stringify(result) });
    } catch (error) {
      const known = error instanceof JobError || error instanceof HttpError;
      if (!known) log.error({ err: error, job: row.id }, 'a job failed');
      const said = known
        ? { code: error.code, message: error.message }
        : { code: 'job/failed', message: 'Something went wrong on the server; it is written in its log. Try again.' };
      await this.end(row.id, { ...(last ?? {}), state: 'failed', error: JSON.stringify(said) });
    } finally {
      this.running.delete(row.id);
      this.pump();
    }
  }

  /** A job that was stopped meanwhile stays stopped. */
  private async end(id: string, change: Partial<JobRow>): Promise<void> {
    await this.db('jobs')
      .where({ id, state: 'running' })
      .update({ ...change, ended_at: new Date() })
      .catch((error: unknown) => log.error({ err: error, job: id }, 'the end of a job could not be kept'));
    await this.tell(id).catch(() => undefined);
  }

  private async tell(id: string): Promise<JobAnswer> {
    const row = await this.db<JobRow>('jobs').where({ id }).first();
    if (!row) throw notFound('job');
    const job = answer(row);
    this.emit(row.piece_id, job);
    return job;
  }

  private emit(pieceId: string, job: JobAnswer): void {
    for (const l of this.listeners.get(pieceId) ?? []) l(job);
  }

  private async forget(pieceId: string): Promise<void> {
    const old: { id: string }[] = await this.db('jobs')
      .where({ piece_id: pieceId })
      .whereNotIn('state', ['queued', 'running'])
      .orderBy('created_at', 'desc')
      .offset(KEPT)
      .limit(1_000)
      .select('id');
    if (old.length > 0)
      await this.db('jobs')
        .whereIn(
          'id',
          old.map((r) => r.id),
        )
        .delete();
  }
}
