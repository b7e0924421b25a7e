'use client';
/** A job as one line: how far it is, stop; why it failed, try again. */
import { Square } from 'lucide-react';
import { api, type JobAnswer } from '@/api';
import { say } from '../kit/say';

/** What is wrong, and a way on where there is one. */
export function Trouble({ why, again }: { why: string; again?: () => void }) {
  return (
    <span className="flex items-center gap-2 text-small" style={{ color: 'var(--vermilion)' }} role="alert">
      <span className="max-w-[300px] truncate" title={why}>
        {why}
      </span>
      {again && (
        <button type="button" className="fix" onClick={again}>
          Try again
        </button>
      )}
    </span>
  );
}

export function Failed({ job, piece }: { job: JobAnswer; piece: string }) {
  return (
    <Trouble
      why={job.error?.message ?? 'Measuring was stopped.'}
      again={() => void api.retryJob(piece, job.id).catch((e: Error) => say.error(e.message))}
    />
  );
}

/** What is said aloud of progress: a step at a time, not every percent. */
const SAID_EVERY = 0.2;

export function JobLine({ job, piece, wide = false }: { job: JobAnswer; piece: string; wide?: boolean }) {
  const what = job.state === 'queued' ? 'waits its turn' : job.what || 'begins';
  return (
    <span className="flex items-center gap-2 text-small min-w-0" data-job={job.request.job}>
      <span className="sr-only" role="status">
        {`${Math.round(Math.floor(job.share / SAID_EVERY) * SAID_EVERY * 100)} %, ${job.state === 'queued' ? what : 'under way'}`}
      </span>
      <progress className={`progress ${wide ? 'w-[160px]' : 'w-[80px]'}`} value={job.share} max={1} aria-label={what} />
      <span className="num">{Math.round(job.share * 100)} %</span>
      <span className={`soft truncate ${wide ? 'max-w-[300px]' : 'max-w-[120px]'}`} title={what}>
        {what}
      </span>
      <button
        type="button"
        className="btn btn-line btn-sm btn-tight"
        onClick={() => void api.stopJob(piece, job.id).catch((e: Error) => say.error(e.message))}
      >
        <Square className="ico" />
        Stop
      </button>
    </span>
  );
}
