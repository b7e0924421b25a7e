/** Keeps a process running: one that ends of itself is started again, later each time it ends soon. */
import { say } from './failure';
import { sleep } from './process';

export interface Kept {
  pid: number;
  stop: () => Promise<void>;
  ended: Promise<unknown>;
}

const SOONEST_MS = 250;
const LATEST_MS = 4_000;
/** Ran so long: what ended it is another thing than last time. */
const STEADY_MS = 10_000;

export interface Supervised {
  /** Process now running. */
  pid: () => number;
  stop: () => Promise<void>;
}

/** @param begun called with every new process */
export function supervise(name: string, first: Kept, start: () => Promise<Kept>, begun: () => Promise<unknown>): Supervised {
  let now = first;
  let stopped = false;
  let wait = SOONEST_MS;
  const watch = async () => {
    for (;;) {
      const since = Date.now();
      await now.ended;
      if (Date.now() - since > STEADY_MS) wait = SOONEST_MS;
      for (let up = false; !up; ) {
        if (stopped) return;
        say(`${name} ended and is started again.`);
        await sleep(wait);
        wait = Math.min(LATEST_MS, wait * 2);
        if (stopped) return;
        try {
          now = await start();
          up = true;
        } catch (error) {
          say((error as Error).message);
        }
      }
      // asked to stop while it was starting
      if (stopped) return void (await now.stop());
      await begun();
    }
  };
  const watching = watch();
  return {
    pid: () => now.pid,
    async stop() {
      stopped = true;
      await now.stop();
      await watching;
    },
  };
}
