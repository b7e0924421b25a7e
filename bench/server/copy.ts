/** A copy of 1 GB made while twenty artists save becomes a Scaphos in a state that some instant had. */
import { rm } from 'node:fs/promises';
import sharp from 'sharp';
import { seededRandom } from '@/core/math';
import { beginArtists } from '../../e2e/support/kills';
import { programDir, runProgram, startProgram } from '../../e2e/support/program';
import { given, judge, judgeFaults, say, sleep } from './judge';

const GIGABYTES = given('SCAPHOS_COPY_GB', 1);
const EDGE = 3000;

/** A picture of noise, which nothing makes smaller: 27 MB. */
function noisePng(seed: number): Promise<Buffer> {
  const random = seededRandom(seed);
  const raw = new Uint32Array((EDGE * EDGE * 3) / 4);
  for (let i = 0; i < raw.length; i++) raw[i] = random() * 0x1_0000_0000;
  return sharp(Buffer.from(raw.buffer), { raw: { width: EDGE, height: EDGE, channels: 3 } })
    .png({ compressionLevel: 0 })
    .toBuffer();
}

export async function copy(): Promise<void> {
  say(`A copy of ${GIGABYTES} GB while 20 artists save:`);
  const program = await startProgram();
  const [to, again] = [await programDir(), await programDir()];
  try {
    const artists = await beginArtists(program, 20, 1);
    let bytes = 0;
    for (let n = 0; bytes < GIGABYTES * 1e9; n++) {
      const picture = await noisePng(n + 1);
      await artists[n % artists.length].take(`noise ${n}.png`, picture);
      bytes += picture.length;
    }
    const working = artists.map((a) => a.work(200, false));
    await sleep(2_000);
    const from = performance.now();
    const made = await program.ask('backup', to);
    const seconds = (performance.now() - from) / 1000;
    await sleep(1_000);
    for (const a of artists) a.stop();
    await Promise.all(working);
    judge(made.code === 0, `${(bytes / 1e9).toFixed(2)} GB copied in ${seconds.toFixed(1)} s: ${made.out.trim()}`);
    const back = runProgram(['restore', to], { SCAPHOS_DATA: again });
    judge((await back.ended) === 0, back.out().trim());
    const restored = await startProgram({}, ['start'], again);
    const faults: string[] = [];
    // every artist's last save of the copy was sent before the first that is not in it was answered
    let [begun, answered] = [0, Number.POSITIVE_INFINITY];
    let saves = 0;
    for (const a of artists) {
      const { revision, faults: found } = await a.checkAt(restored.url);
      faults.push(...found, ...a.faults);
      saves += a.saves;
      begun = Math.max(begun, a.times[revision - 1]?.[0] ?? 0);
      answered = Math.min(answered, a.times[revision]?.[1] ?? Number.POSITIVE_INFINITY);
    }
    judge(begun <= answered, `a state that an instant of ${saves} saves had, ${Math.round(answered - begun)} ms wide`);
    judgeFaults(faults);
    await restored.end();
  } finally {
    await program.end();
    await Promise.all([to, again].map((d) => rm(d, { recursive: true, force: true })));
  }
}
