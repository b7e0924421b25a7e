'use client';
/** The jobs of the open piece, as the server tells of them: heard again after every reload. */
import { useEffect, useState } from 'react';
import { api, JobAnswer } from '@/api';

export interface Jobs {
  /** What there was when the page came has been told. */
  heard: boolean;
  all: ReadonlyMap<string, JobAnswer>;
}

export function useJobs(piece: string): Jobs {
  const [jobs, setJobs] = useState<Jobs>({ heard: false, all: new Map() });
  useEffect(() => {
    // the browser takes the line up again by itself when it breaks
    const line = new EventSource(api.jobEventsUrl(piece));
    line.onmessage = (e) => {
      const job = JobAnswer.safeParse(JSON.parse(e.data)).data;
      if (job) setJobs((j) => ({ ...j, all: new Map(j.all).set(job.id, job) }));
    };
    line.addEventListener('told', () => setJobs((j) => ({ ...j, heard: true })));
    return () => line.close();
  }, [piece]);
  return jobs;
}

export const isOpen = (j: JobAnswer | undefined): boolean => j?.state === 'queued' || j?.state === 'running';
