/** Fit the occluder: the least growth at which nothing leaks over a cast and its poses, and what that costs elsewhere. */

/** The worst of all cells. */
export interface Judged {
  leak: number;
  swallowed: number;
}
export interface Growth {
  growMm: number;
  before: Judged;
  after: Judged;
  /** Nothing leaks any more; else it is the growth that leaks least. */
  stops: boolean;
}

/** Of what is seen this share may leak: less is not seen. */
export const STOPS_LEAK = 0.01;
/** Growth that is looked for at most, and how finely, mm. */
const MOST_MM = 12;
const STEP_MM = 0.1;

/**
 * @param judge what leaks and is swallowed at a growth in mm: leaks must not grow with it
 * @param nowMm the growth there is
 */
export async function leastGrowth(judge: (growMm: number) => Promise<Judged>, nowMm: number): Promise<Growth> {
  const known = new Map<number, Judged>();
  const at = async (growMm: number): Promise<Judged> => {
    const there = known.get(growMm) ?? (await judge(growMm));
    known.set(growMm, there);
    return there;
  };
  const before = await at(nowMm);
  const told = async (growMm: number, stops: boolean): Promise<Growth> => ({ growMm, before, after: await at(growMm), stops });
  const stops = async (growMm: number) => (await at(growMm)).leak <= STOPS_LEAK;
  if (await stops(0)) return told(0, true);
  if (!(await stops(MOST_MM))) {
    const best = [...known].reduce((a, b) => (b[1].leak < a[1].leak || (b[1].leak === a[1].leak && b[0] < a[0]) ? b : a));
    return told(best[0], false);
  }
  // in steps, so that what is told is what is kept
  let [leaks, holds] = [0, Math.round(MOST_MM / STEP_MM)];
  while (holds - leaks > 1) {
    const mid = (leaks + holds) >> 1;
    if (await stops(mid * STEP_MM)) holds = mid;
    else leaks = mid;
  }
  return told(Math.round(holds * STEP_MM * 10) / 10, true);
}
