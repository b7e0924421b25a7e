'use client';
/** A number of a part at five values side by side, each with its picture, clearance and leaks; and the value at which it is as free as wished. */
import { useEffect, useMemo, useState } from 'react';
import { cuts, leaks } from '@/core/fit/judge';
import { fiveRound, numbersOf } from '@/core/fit/numbers';
import { reach } from '@/core/fit/wish';
import { showQuantity } from '@/core/math/quantity';
import { applyEdit, castOf, type Part, type Piece, shownWearer, type Wearer, wearerWords } from '@/core/piece';
import type { Assets } from '@/core/run';
import { cellOf } from '@/core/run/placed';
import { forms } from '@/worker/browser';
import { Choice, Dialog, Flag, NumField, PickField } from '../../kit';
import { say } from '../../kit/say';
import { usePiece } from '../../piece/context';
import { portraitCamera } from '../../piece/portrait';
import { formsFor } from '../../piece/wearers';
import { heldIn, turnsOf, useFit } from '../state';
import { gapNumbers, type TriedNumber } from './seated';
import { stillOf } from './still';

const PICTURE = { width: 300, height: 258, ratio: 1 };
const ON = [
  { value: 'shown', label: 'who is shown', title: 'On the wearer in the Mirror, in every pose' },
  { value: 'cast', label: 'the cast', title: 'On every wearer, in every pose' },
] as const;
type On = (typeof ON)[number]['value'];

/** The worst of a part over some wearers and every pose. */
interface Worst {
  clearance: { deepestMm: number; cutShare: number };
  leaks: { leak: number; swallowed: number } | null;
}
async function worstOn(piece: Piece, assets: Assets, id: string, wearers: readonly Wearer[]): Promise<Worst | null> {
  const part = piece.parts[id];
  const cells = wearers.flatMap((w) => turnsOf(piece).flatMap((pose) => cellOf(piece, assets, part, w, heldIn(pose)) ?? []));
  const told = (await forms.clearance(cells)).filter((t) => t !== null);
  if (told.length === 0) return null;
  const most = (of: (t: (typeof told)[number]) => number) => Math.max(...told.map(of));
  return {
    clearance: { deepestMm: most((t) => t.clearance.deepestMm), cutShare: most((t) => t.clearance.cutShare) },
    leaks: told.some((t) => t.leaks) ? { leak: most((t) => t.leaks?.leak ?? 0), swallowed: most((t) => t.leaks?.swallowed ?? 0) } : null,
  };
}

interface Tried {
  value: number;
  worst: Worst | null;
  picture: string;
}
const shown = (n: TriedNumber, value: number) => `${showQuantity(value, n.dimension, n.unit, n.decimals)} ${n.unit}`;

export function FiveSheet({ part, piece, assets, onClose }: { part: Part; piece: Piece; assets: Assets; onClose: () => void }) {
  const commit = usePiece((s) => s.commit);
  const pose = useFit((s) => s.pose);
  const numbers = useMemo(
    (): TriedNumber[] => [...numbersOf(piece, part), ...gapNumbers(piece, assets, part, pose)],
    [piece, assets, part, pose],
  );
  const [id, setId] = useState(numbers[0]?.id ?? '');
  const number = numbers.find((n) => n.id === id) ?? numbers[0];
  const [asked, setAsked] = useState<{ id: string; middle: number; step: number } | null>(null);
  const { middle, step } = asked?.id === number?.id && asked ? asked : { middle: number?.now ?? 0, step: number?.step ?? 1 };
  const [on, setOn] = useState<On>('shown');
  const [tried, setTried] = useState<readonly Tried[] | null>(null);
  const [wishMm, setWish] = useState(1);
  const [finding, setFinding] = useState(false);
  const wearers = useMemo(() => (on === 'cast' ? castOf(piece) : [shownWearer(piece)]), [piece, on]);
  const put = (change: { middle?: number; step?: number }) => number && setAsked({ id: number.id, middle, step, ...change });

  useEffect(() => {
    if (!number) return;
    let gone = false;
    const made: string[] = [];
    setTried(null);
    const go = async () => {
      const known = { ...assets, forms: await formsFor(piece, castOf(piece)) };
      const camera = portraitCamera(piece, known);
      const out: Tried[] = [];
      for (const value of fiveRound(middle, step, number.range)) {
        if (gone) return;
        const there = applyEdit(piece, await number.edit(value));
        const picture = await stillOf(there, known, pose, camera, PICTURE);
        made.push(picture);
        out.push({ value, picture, worst: await worstOn(there, known, part.id, wearers) });
        if (!gone) setTried([...out]);
      }
    };
    go().catch((e: Error) => !gone && say.error(e.message));
    return () => {
      gone = true;
      for (const url of made) URL.revokeObjectURL(url);
    };
  }, [number, middle, step, wearers, piece, assets, part.id, pose]);

  const find = async () => {
    if (!number) return;
    setFinding(true);
    try {
      const known = { ...assets, forms: await formsFor(piece, castOf(piece)) };
      const deepest = async (value: number) =>
        (await worstOn(applyEdit(piece, await number.edit(value)), known, part.id, wearers))?.clearance.deepestMm ?? null;
      const found = await reach(deepest, -wishMm, number.now, number.step / 2, number.range);
      if (found && Math.abs(found.comes + wishMm) < 0.1) put({ middle: found.value, step: step / 2 });
      else say.message(`No value of ${number.label.toLowerCase()} within reach has it free by ${wishMm.toFixed(1)} mm.`);
    } catch (e) {
      say.error((e as Error).message);
    }
    setFinding(false);
  };
  const take = async (value: number) => {
    try {
      if (!number || !commit(await number.edit(value))) return;
      onClose();
    } catch (e) {
      say.error((e as Error).message);
    }
  };
  if (!number)
    return (
      <Dialog title={`${part.name}: five values`} onClose={onClose}>
        <p className="text-small">Nothing of it may be changed: unlock the part first.</p>
      </Dialog>
    );
  return (
    <Dialog title={`${part.name}: five values`} wide onClose={onClose}>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 text-small mb-3">
        <PickField label="Which number" value={number.id} options={numbers.map((n) => [n.id, n.label] as const)} onChange={setId} />
        <span className="flex items-center gap-1.5">
          <span className="soft">a step apart,</span>
          <span className="w-[92px]">
            <NumField
              label="Step from one to the next"
              dimension={number.dimension}
              unit={number.unit}
              after={number.unit}
              decimals={2}
              step={number.step / 4}
              min={number.step / 100}
              max={number.step * 50}
              value={step}
              onChange={(s) => put({ step: s })}
            />
          </span>
        </span>
        <Choice label="Measured on" options={ON} value={on} onChange={setOn} />
        <span className="flex items-center gap-1.5 ml-auto">
          <span className="soft">free by</span>
          <span className="w-[84px]">
            <NumField
              label="Wished clearance"
              dimension="length"
              unit="mm"
              after="mm"
              decimals={1}
              step={0.0005}
              min={-0.02}
              max={0.1}
              value={wishMm / 1000}
              onChange={(m) => setWish(m * 1000)}
            />
          </span>
          <button type="button" className="btn btn-line btn-sm" aria-busy={finding} onClick={() => !finding && void find()}>
            {finding ? 'It is looked for …' : 'Find the value'}
          </button>
        </span>
      </div>
      <ol className="grid grid-cols-5 gap-2.5" aria-label="Five values" data-ready={tried?.length === 5 ? 'yes' : undefined}>
        {fiveRound(middle, step, number.range).map((value, i) => {
          const t = tried?.[i];
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: five places, in their order
            <li key={i} className="text-small min-w-0">
              <div className="border border-[color:var(--hair-strong)] bg-[color:var(--water)]" style={{ aspectRatio: '300 / 258' }}>
                {t && (
                  // biome-ignore lint/performance/noImgElement: drawn here, not fetched
                  <img
                    className="w-full h-full"
                    src={t.picture}
                    alt={`${part.name} at ${shown(number, value)}, on ${wearerWords(shownWearer(piece))}`}
                  />
                )}
              </div>
              <p className="num font-semibold mt-1">{shown(number, value)}</p>
              <p className="min-h-[36px]">{t ? <WorstWords worst={t.worst} /> : <span className="soft">…</span>}</p>
              <button
                type="button"
                className="btn btn-line btn-sm w-full mt-1"
                aria-label={`Take ${shown(number, value)}`}
                onClick={() => void take(value)}
              >
                Take it
              </button>
            </li>
          );
        })}
      </ol>
    </Dialog>
  );
}

function WorstWords({ worst }: { worst: Worst | null }) {
  if (!worst) return <>It is not there.</>;
  const { deepestMm } = worst.clearance;
  const { leak = 0, swallowed = 0 } = worst.leaks ?? {};
  return (
    <span className="flex items-start gap-1">
      {(cuts(worst) || leaks(worst)) && <Flag kind="warning" size={12} />}
      <span>
        {deepestMm > 0 ? 'cuts in' : 'free by'} <span className="num">{Math.abs(deepestMm).toFixed(1)}</span> mm
        {leak > 0 && (
          <>
            , leaks <span className="num">{(leak * 100).toFixed(1)}</span> %
          </>
        )}
        {swallowed > 0 && (
          <>
            , swallowed <span className="num">{(swallowed * 100).toFixed(1)}</span> %
          </>
        )}
      </span>
    </span>
  );
}
