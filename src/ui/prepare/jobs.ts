'use client';
/** The jobs of the open piece, as the server tells of them: heard again after every reload. */
import { useEffect, useState } from 'react';
import { api, JobAnswer } from '@/api';

export interface Jobs {
  /** What there was when the page came has been told. */
  heard: boolean;
  /** The line to the server is broken: nothing is heard until it is back. */
  away: boolean;
  all: ReadonlyMap<string, JobAnswer>;
}

/** Between two tries, where the browser gave the line up for good: a server that answers with an error. */
const AGAIN_MS = 5_000;

export function useJobs(piece: string): Jobs {
  const [jobs, setJobs] = useState<Jobs>({ heard: false, away: false, all: new Map() });
  useEffect(() => {
    let line: EventSource;
    let timer: ReturnType<typeof setTimeout>;
    const open = () => {
      line = new EventSource(api.jobEventsUrl(piece));
      line.onopen = () => setJobs((j) => (j.away ? { ...j, away: false } : j));
      line.onerror = () => {
        setJobs((j) => (j.away ? j : { ...j, away: true }));
        if (line.readyState === EventSource.CLOSED) timer = setTimeout(open, AGAIN_MS);
      };
      line.onmessage = (e) => {
        const job = JobAnswer.safeParse(JSON.parse(e.data)).data;
        if (job) setJobs((j) => ({ ...j, all: new Map(j.all).set(job.id, job) }));
      };
      line.addEventListener('told', () => setJobs((j) => ({ ...j, heard: true })));
    };
    open();
    return () => {
      clearTimeout(timer);
      line.close();
    };
  }, [piece]);
  return jobs;
}

export const isOpen = (j: JobAnswer | undefined): boolean => j?.state === 'queued' || j?.state === 'running';
