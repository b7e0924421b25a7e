'use client';
/** Fit it: a part brought onto its wearer by what it is; the pairs that led there, which may be moved or dropped; kept by one press. */
import { useEffect, useMemo, useState } from 'react';
import { Quaternion, Vector3 } from 'three';
import { type FitPair, leftBetween, SURE_FIT, solvePairs } from '@/core/fit/onto';
import { applyEdit, changePart, drawnModel, type ModelPart, shownAsk, shownWearer, wearerWords } from '@/core/piece';
import { type Held, restFramesOf } from '@/core/run';
import { cellOf } from '@/core/run/placed';
import { KINDS, type Kind } from '@/core/words/kinds';
import type { HeatSurface, TableDab } from '@/stage';
import { type FitTold, forms } from '@/worker/browser';
import { Dialog, NumField, PickField } from '../../kit';
import { say } from '../../kit/say';
import { usePiece } from '../../piece/context';
import { clearanceWords } from '../clearance';
import { inFile, ontoOffset } from '../fitonto';
import { heatOf, skinOf } from '../heat';
import { useFitRunRef } from '../run';
import { type Place, SurfacePicture } from './surfacepicture';
import { TintKey } from './tintkey';

const FIRST_GAP_M = 0.0005;
const AT_REST: Held = { head: { yawDeg: 0, pitchDeg: 0, rollDeg: 0 } };
/** A ring, gem or bead at the place of the skin that the part hangs on. */
const ON_SKIN = 'on the skin';
const SKIN_OPTION = [ON_SKIN, 'Ring, gem or bead on the skin'] as const;
const KIND_OPTIONS = (Object.keys(KINDS) as Kind[]).map((k) => [k, KINDS[k].label] as const);

/** What is drawn once it is known where it comes to lie. */
interface Seen {
  heat: HeatSurface;
  /** The wearer, to be pressed on. */
  skin: HeatSurface;
  words: string;
}

export function FitSheet({ part, onClose }: { part: ModelPart; onClose: () => void }) {
  const run = useFitRunRef();
  const commit = usePiece((s) => s.commit);
  const { piece, assets } = run.current.show;
  const model = assets.models[drawnModel(piece, part.stock) ?? ''];
  const item = piece.stock[part.stock];
  const skin = part.hang?.on === 'anchor' && part.hang.anchor.kind === 'face' ? part.hang.anchor : undefined;
  const [asked, setAsked] = useState<Kind | typeof ON_SKIN>(skin ? ON_SKIN : (item?.kind === 'model' && item.stated) || 'eyewear');
  const at = asked === ON_SKIN ? skin : undefined;
  const kind = asked === ON_SKIN ? 'earring' : asked;
  const [gapM, setGap] = useState(FIRST_GAP_M);
  const [keepSize, setKeepSize] = useState(false);
  const [told, setTold] = useState<FitTold | null>(null);
  const [pairs, setPairs] = useState<readonly FitPair[] | null>(null);
  const [dropped, setDropped] = useState<ReadonlySet<string>>(new Set());
  const [chosen, setChosen] = useState<string | null>(null);
  const [seen, setSeen] = useState<Seen | null>(null);
  /** A pair that is being pressed: the place of the part first, in its file's metres. */
  const [adding, setAdding] = useState<{ modelM: FitPair['modelM'] | null } | null>(null);
  const wearer = shownWearer(piece);

  useEffect(() => {
    if (!model) return;
    let gone = false;
    setTold(null);
    setPairs(null);
    setDropped(new Set());
    setChosen(null);
    setAdding(null);
    forms.fitIt(model, { kind, gapM, keepSize, ...(at && { at }) }, shownAsk(piece)).then(
      (t) => !gone && setTold(t),
      (e: Error) => !gone && say.error(e.message),
    );
    return () => {
      gone = true;
    };
  }, [model, kind, at, gapM, keepSize, piece]);

  /** Where it comes to lie: as it was found, or by the pairs as they were put. */
  const { onto, left, why } = useMemo((): { onto: FitTold['onto']; left: readonly FitPair[]; why: string | null } => {
    if (!told) return { onto: null, left: [], why: null };
    if (!pairs && dropped.size === 0) return { onto: told.onto, left: told.pairs, why: null };
    const all = pairs ?? told.pairs;
    const solved = solvePairs(
      all.filter((p) => !dropped.has(p.name)),
      keepSize,
    );
    if (typeof solved === 'string') return { onto: null, left: all, why: solved };
    const { factor, turn, shiftM } = solved;
    return { onto: { factor, turn: turn.toArray(), shiftM: shiftM.toArray() }, left: leftBetween(all, solved), why: null };
  }, [told, pairs, dropped, keepSize]);
  const offset = useMemo(
    () => (onto && part.hang ? ontoOffset(onto, part.hang, restFramesOf(run.current.show)) : null),
    [onto, part.hang, run],
  );

  useEffect(() => {
    setSeen(null);
    const there = offset ? applyEdit(piece, changePart(part.id, { locked: false })) : piece;
    const moved = offset ? applyEdit(there, changePart(part.id, { offset })) : piece;
    const cell = told && cellOf(moved, assets, moved.parts[part.id], shownWearer(moved), AT_REST);
    if (!cell) return;
    let gone = false;
    forms.clearanceAt({ ...cell, sight: null }).then(
      (s) => {
        if (gone || !s) return;
        const heat = { ...heatOf(cell, s), lines: offset ? linesOf(left, onto) : undefined };
        setSeen({ heat, skin: skinOf(heat, s), words: clearanceWords(s) });
      },
      (e: Error) => !gone && say.error(e.message),
    );
    return () => {
      gone = true;
    };
  }, [told, offset, left, onto, piece, assets, part.id]);

  const pick = left.find((p) => p.name === chosen);
  const move = (k: 0 | 1 | 2, to: number) =>
    setPairs(left.map((p) => (p.name === chosen ? { ...p, formM: p.formM.map((x, i) => (i === k ? to : x)) as FitPair['formM'] } : p)));
  // the pair that is looked at: both its places
  const dabs = useMemo(() => (pick && onto ? marksOf(pick, onto) : undefined), [pick, onto]);
  const press = (at: Place) => {
    if (!adding || !part.hang) return;
    if (!adding.modelM) return setAdding({ modelM: inFile(at, offset ?? part.offset, part.hang, restFramesOf(run.current.show)) });
    const added: FitPair = { name: freePair(left), modelM: adding.modelM, formM: at, residualMm: 0 };
    setPairs([...left, added]);
    setChosen(added.name);
    setAdding(null);
  };
  const onSkin = adding?.modelM != null;
  const changed = pairs !== null || dropped.size > 0;
  const put = () => {
    if (!offset) return;
    commit(changePart(part.id, { offset }));
    onClose();
  };
  return (
    <Dialog title={`Fit it: ${part.name}`} wide onClose={onClose}>
      <div className="grid gap-4" style={{ gridTemplateColumns: 'minmax(0, 1fr) 360px' }}>
        <div>
          <SurfacePicture
            heat={(onSkin ? seen?.skin : seen?.heat) ?? null}
            dabs={adding ? undefined : dabs}
            stroke={
              adding && {
                to: press,
                end: () => undefined,
                words: onSkin
                  ? 'Press where that belongs on the wearer; beside them the table turns'
                  : 'Press a place of the part; beside it the table turns',
              }
            }
            label={`${part.name} where it comes to lie, in tints of how near`}
            what="The part"
          />
          <TintKey />
        </div>
        <div className="text-small flex flex-col gap-2.5">
          <div className="grid items-center gap-x-2 gap-y-1.5" style={{ gridTemplateColumns: 'auto minmax(0, 1fr)' }}>
            <span className="soft">It is</span>
            <PickField
              label="What it is"
              value={asked}
              options={skin ? [SKIN_OPTION, ...KIND_OPTIONS] : KIND_OPTIONS}
              onChange={setAsked}
              wide
            />
            <span className="soft">Gap to the skin</span>
            <span className="w-[104px]">
              <NumField
                label="Gap where it touches"
                dimension="length"
                unit="mm"
                after="mm"
                decimals={1}
                step={0.0005}
                min={0}
                max={0.05}
                value={gapM}
                onChange={setGap}
              />
            </span>
          </div>
          <label className="flex items-center gap-1.5">
            <input type="checkbox" className="check" checked={keepSize} onChange={(e) => setKeepSize(e.target.checked)} />
            keeps the size of its file
          </label>
          <p role="status" data-sure={told ? told.confidence.toFixed(2) : ''}>
            {statusOf(told, changed, why)}
            {seen && offset && ` On ${wearerWords(wearer)}: ${seen.words}.`}
          </p>
          {left.length > 0 && (
            <table className="w-full" aria-label="Pairs">
              <thead>
                <tr className="soft text-micro">
                  <th className="font-normal text-left">Pair</th>
                  <th className="font-normal text-right">left between, mm</th>
                </tr>
              </thead>
              <tbody>
                {left.map((p) => (
                  <tr key={p.name} className="border-t border-[color:var(--hair)]">
                    <td className="py-[3px]">
                      <span className="flex items-center gap-1.5">
                        <input
                          type="checkbox"
                          className="check"
                          aria-label={`${p.name} counts`}
                          checked={!dropped.has(p.name)}
                          onChange={(e) => setDropped(toggled(dropped, p.name, !e.target.checked))}
                        />
                        <button
                          type="button"
                          className={`btn btn-bare btn-sm btn-tight justify-start! flex-1 ${p.name === chosen ? 'font-semibold' : ''}`}
                          aria-pressed={p.name === chosen}
                          onClick={() => setChosen(p.name === chosen ? null : p.name)}
                        >
                          {p.name}
                        </button>
                      </span>
                    </td>
                    <td className="text-right num">{dropped.has(p.name) ? '–' : p.residualMm.toFixed(1)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {pick && (
            <fieldset className="grid grid-cols-3 gap-1.5">
              <legend className="soft text-micro mb-1">Where {pick.name} belongs on the wearer, mm</legend>
              {(['side', 'up', 'fore'] as const).map((axis, k) => (
                <span key={axis} className="grid gap-0.5">
                  <span className="text-micro soft" aria-hidden>
                    {axis}
                  </span>
                  <NumField
                    label={`${pick.name}, ${axis}`}
                    dimension="length"
                    unit="mm"
                    decimals={1}
                    step={0.001}
                    min={-0.6}
                    max={0.6}
                    value={pick.formM[k]}
                    onChange={(m) => move(k as 0 | 1 | 2, m)}
                  />
                </span>
              ))}
            </fieldset>
          )}
          <div className="flex gap-2 mt-auto pt-1">
            <button
              type="button"
              className="btn btn-line btn-sm"
              aria-pressed={adding !== null}
              aria-disabled={!seen}
              title="A place of the part and the place of the wearer it belongs to, pressed one after the other"
              onClick={() => seen && setAdding(adding ? null : { modelM: null })}
            >
              {adding ? 'No pair' : 'Add a pair'}
            </button>
            <button
              type="button"
              className="btn btn-line btn-sm"
              aria-disabled={!changed}
              onClick={() => changed && reset(setPairs, setDropped)}
            >
              As found
            </button>
            <button
              type="button"
              className="btn btn-primary btn-sm flex-1"
              aria-disabled={!offset || part.locked}
              title={part.locked ? 'Unlock the part first' : 'Moves, turns and sizes the part; one undo'}
              onClick={() => !part.locked && put()}
            >
              Put it there
            </button>
          </div>
        </div>
      </div>
    </Dialog>
  );
}

function statusOf(told: FitTold | null, changed: boolean, why: string | null): string {
  if (!told) return 'It is being fitted …';
  if (why) return why;
  if (changed) return 'By the pairs as they are now.';
  const sure = `${Math.round(told.confidence * 100)} % sure`;
  return told.confidence >= SURE_FIT ? `Fitted, ${sure}. ${told.reason}` : `Unsure (${sure}), so it stays where it is. ${told.reason}`;
}

/** “Pair 1”, “Pair 2”. */
function freePair(pairs: readonly FitPair[]): string {
  for (let n = 1; ; n++) if (!pairs.some((p) => p.name === `Pair ${n}`)) return `Pair ${n}`;
}

const toggled = (set: ReadonlySet<string>, name: string, on: boolean): ReadonlySet<string> => {
  const out = new Set(set);
  if (on) out.add(name);
  else out.delete(name);
  return out;
};

function reset(pairs: (p: null) => void, dropped: (d: ReadonlySet<string>) => void): void {
  pairs(null);
  dropped(new Set());
}

const DAB_M = 0.002;
const placeOf = (p: FitPair, { factor, turn, shiftM }: NonNullable<FitTold['onto']>): [number, number, number] =>
  new Vector3(...p.modelM)
    .multiplyScalar(factor)
    .applyQuaternion(new Quaternion(...turn))
    .add(new Vector3(...shiftM))
    .toArray();
const marksOf = (p: FitPair, onto: NonNullable<FitTold['onto']>): TableDab[] =>
  [placeOf(p, onto), p.formM].map((atM) => ({ atM, radiusM: DAB_M }));

/** From each place of the thing to where it belongs. */
function linesOf(pairs: readonly FitPair[], onto: FitTold['onto']): Float32Array | undefined {
  if (!onto) return undefined;
  return Float32Array.from(pairs.flatMap((p) => [...placeOf(p, onto), ...p.formM]));
}
