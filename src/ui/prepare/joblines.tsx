'use client';
/** A job as one line: how far it is, stop; why it failed, try again. */
import { Square } from 'lucide-react';
import { toast } from 'sonner';
import { api, type JobAnswer } from '@/api';

export function Failed({ job, piece }: { job: JobAnswer; piece: string }) {
  return (
    <span className="flex items-center gap-2 text-small" style={{ color: 'var(--vermilion)' }} role="alert">
      <span className="max-w-[300px] truncate" title={job.error?.message}>
        {job.error?.message ?? 'Measuring was stopped.'}
      </span>
      <button type="button" className="fix" onClick={() => void api.retryJob(piece, job.id).catch((e: Error) => toast.error(e.message))}>
        Try again
      </button>
    </span>
  );
}

export function JobLine({ job, piece, wide = false }: { job: JobAnswer; piece: string; wide?: boolean }) {
  const what = job.state === 'queued' ? 'waits its turn' : job.what || 'begins';
  return (
    <span className="flex items-center gap-2 text-small min-w-0" aria-live="polite" data-job={job.request.job}>
      <progress className={`progress ${wide ? 'w-[160px]' : 'w-[80px]'}`} value={job.share} max={1} aria-label={what} />
      <span className="num">{Math.round(job.share * 100)} %</span>
      <span className={`soft truncate ${wide ? 'max-w-[300px]' : 'max-w-[120px]'}`} title={what}>
        {what}
      </span>
      <button
        type="button"
        className="btn btn-line btn-sm btn-tight"
        onClick={() => void api.stopJob(piece, job.id).catch((e: Error) => toast.error(e.message))}
      >
        <Square className="ico" />
        Stop
      </button>
    </span>
  );
}
