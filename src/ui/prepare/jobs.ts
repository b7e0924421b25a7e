'use client';
/** The jobs of the open piece, as the server tells of them: heard again after every reload. */
import { useEffect, useState } from 'react';
import { api, JobAnswer } from '@/api';

export function useJobs(piece: string): ReadonlyMap<string, JobAnswer> {
  const [jobs, setJobs] = useState<ReadonlyMap<string, JobAnswer>>(new Map());
  useEffect(() => {
    // the browser takes the line up again by itself when it breaks
    const line = new EventSource(api.jobEventsUrl(piece));
    line.onmessage = (e) => {
      const job = JobAnswer.safeParse(JSON.parse(e.data)).data;
      if (job) setJobs((all) => new Map(all).set(job.id, job));
    };
    return () => line.close();
  }, [piece]);
  return jobs;
}

export const isOpen = (j: JobAnswer | undefined): boolean => j?.state === 'queued' || j?.state === 'running';
