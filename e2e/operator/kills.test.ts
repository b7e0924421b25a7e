/** Site, database, jobs and browsers are killed by turns while artists save and send files: nothing is lost, nothing is there twice. */
import { expect, test } from 'vitest';
import { bear } from '../support/kills';
import { inTurn, SEED, share, WHOLE } from '../support/sweep';

test.runIf(inTurn('what was acknowledged is there, once'))(
  'what was acknowledged is there, once, however often its parts are killed; it comes back by itself',
  {
    timeout: WHOLE ? 3_600_000 : 900_000,
  },
  async () => {
    const bore = await bear(WHOLE ? 20 : 6, share(200), SEED);
    expect(bore.faults).toEqual([]);
    expect(bore.verified).toMatchObject({ code: 0, out: expect.stringContaining('all are whole') });
    const { site, database, browser } = bore.kills;
    expect(Math.min(site, database, browser)).toBeGreaterThan(0);
    // how many is the machine's affair: on a busy one it is mostly away
    expect(bore.saves).toBeGreaterThan(10);
    console.log(
      `${JSON.stringify(bore.kills)}: ${bore.saves} saves, ${bore.uploads} files, back after at most ${Math.round(bore.slowestMs)} ms`,
    );
  },
);
