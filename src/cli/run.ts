/** `./scaphos run P.zip --take NAME|FILE.jsonl`: a piece run over a take, headless, the same as the Mirror runs it. */
import { readFile, writeFile } from 'node:fs/promises';
import * as z from 'zod';
import type { CaptureFrame, CaptureSource } from '@/core/capture';
import { CaptureLine, CaptureLogError, readCaptureLog, replayCapture, writeCaptureLog } from '@/core/capture/log';
import { TAKES } from '@/core/form';
import { type Model, readModel } from '@/core/intake';
import { drawnModel, type Piece, rackOf, stockOf, takeOf } from '@/core/piece';
import { compile, Runner, takeSource } from '@/core/run';
import { RunLine, runLine } from '@/core/run/report';
import { readGlb } from '@/worker/node/codecs';
import { shownForm } from '@/worker/node/pack';
import { withBundle } from './bundle';
import { CliFailure } from './failure';

export interface RunCommandOptions {
  take: string;
  untilS: number;
  rateHz: number;
  everyS: number | null;
  /** Where the captures are written as a log too. */
  log: string | null;
  json: boolean;
}

export const runSchema = (): unknown => ({ ...(z.toJSONSchema(RunLine) as object), title: 'One line of ./scaphos run --json' });
export const captureSchema = (): unknown => ({
  ...(z.toJSONSchema(CaptureLine, { io: 'input' }) as object),
  title: 'One line of a capture log',
});

async function sourceFor(take: string, piece: Piece): Promise<CaptureSource> {
  const own = Object.values(piece.takes);
  const row = own.find((t) => t.id === take) ?? own.find((t) => t.name === take);
  const known = row ? takeOf(row) : TAKES.find((t) => t.id === take);
  if (known) return takeSource(known, piece);
  const text = await readFile(take, 'utf8').catch(() => {
    throw new CliFailure(`There is no take and no capture log ${take}. Takes: ${[...own, ...TAKES].map((t) => t.id).join(', ')}.`, 64);
  });
  try {
    return replayCapture(readCaptureLog(text));
  } catch (error) {
    if (error instanceof CaptureLogError) throw new CliFailure(`${take}: ${error.message}`, 2);
    throw error;
  }
}

/** Every model a part is drawn from. */
async function modelsOf(piece: Piece, blob: (sha: string) => string): Promise<Record<string, Model>> {
  const models: Record<string, Model> = {};
  for (const part of rackOf(piece)) {
    const sha = drawnModel(piece, stockOf(part) ?? '');
    if (sha && !models[sha]) models[sha] = readModel(await readGlb(await readFile(blob(sha))));
  }
  return models;
}

export const runCommand = (path: string, o: RunCommandOptions): Promise<number> =>
  withBundle(path, null, async ({ piece, blob }) => {
    const show = compile(piece, { models: await modelsOf(piece, blob), forms: await shownForm(piece) });
    const source = await sourceFor(o.take, piece);
    const runner = new Runner(show, source);
    const frames = Math.floor(o.untilS * o.rateHz + 1e-9);
    const captures: CaptureFrame[] = [];
    let due = 0;
    for (let i = 0; i <= frames; i++) {
      const timeS = i / o.rateHz;
      const state = runner.frame(timeS);
      const capture = source.frame(timeS);
      if (o.log !== null && capture) captures.push(capture);
      if (o.everyS !== null && timeS < due * o.everyS - 1e-9) continue;
      if (o.everyS !== null) due = Math.floor(timeS / o.everyS + 1e-9) + 1;
      if (!state || !capture) continue;
      const line = runLine(show, state, capture);
      if (o.json) process.stdout.write(`${JSON.stringify(line)}\n`);
      else {
        const shown = Object.entries(line.parts).filter(([, p]) => p.shown);
        const places = shown.map(
          ([id, p]) =>
            `${id} ${p.matrix
              .slice(12, 15)
              .map((x) => (x * 1000).toFixed(1))
              .join(', ')}`,
        );
        process.stdout.write(`${timeS.toFixed(3)} s  ${places.join('; ') || 'nothing shown'} (mm)\n`);
      }
    }
    if (o.log !== null) await writeFile(o.log, writeCaptureLog(captures));
    return 0;
  });
