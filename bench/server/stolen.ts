/** How much of its processors' time a virtual machine was not given, second by second (Linux: /proc/stat, "steal", proc(5)). */
import { readFileSync } from 'node:fs';

/** Ticks since the start: of all kinds, and stolen. */
function ticks(): [all: number, stolen: number] {
  const fields = readFileSync('/proc/stat', 'utf8').split('\n', 1)[0].split(/\s+/).slice(1, 9).map(Number);
  return [fields.reduce((a, b) => a + b, 0), fields[7]];
}

/** In a second with more than this share stolen, what is measured is the host. */
const MOST_STOLEN = 0.02;
/** So long what it left undone is still being done, ms. */
const BACKLOG_MS = 2_000;

interface Watch {
  end(): void;
  /** Share of all time that was not given. */
  share(): number;
  /** Whether the machine had its time from one moment of `performance.now()` to another, and shortly before. */
  undisturbed(fromMs: number, toMs: number): boolean;
}

export function watchStolen(): Watch {
  const first = ticks();
  let last = first;
  const seconds: { endMs: number; stolen: number }[] = [];
  const timer = setInterval(() => {
    const now = ticks();
    seconds.push({ endMs: performance.now(), stolen: (now[1] - last[1]) / Math.max(1, now[0] - last[0]) });
    last = now;
  }, 1000);
  return {
    end: () => clearInterval(timer),
    share: () => (last[1] - first[1]) / Math.max(1, last[0] - first[0]),
    undisturbed: (fromMs, toMs) => {
      const begun = seconds.findIndex((s) => s.endMs >= fromMs - BACKLOG_MS);
      const done = seconds.findIndex((s) => s.endMs >= toMs);
      return begun >= 0 && done >= 0 && seconds.slice(begun, done + 1).every((s) => s.stolen <= MOST_STOLEN);
    },
  };
}
