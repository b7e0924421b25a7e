/** Everything a server consists of is killed by turns under artists (`SCAPHOS_KILLS`, 200): what was acknowledged is there, once. */
import { bear } from '../../e2e/support/kills';
import { given, judge, judgeFaults, say } from './judge';

const KILLS = given('SCAPHOS_KILLS', 200);
const MOST_BACK_MS = 10_000;

export async function kills(): Promise<void> {
  say(`Killed ${KILLS} times under 20 artists:`);
  const bore = await bear(20, KILLS, 1);
  say(`  ${JSON.stringify(bore.kills)}: ${bore.saves} saves and ${bore.uploads} files acknowledged`);
  judgeFaults(bore.faults);
  judge(bore.verified.code === 0, bore.verified.out.trim());
  judge(bore.slowestMs <= MOST_BACK_MS, `back after at most ${Math.round(bore.slowestMs)} ms (${MOST_BACK_MS})`);
}
