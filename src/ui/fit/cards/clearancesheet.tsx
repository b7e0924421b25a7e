'use client';
/** A part on the cast in the poses or faces of the strip: how deep it cuts or how near it comes, what leaks of it, and any of them to look at. */
import { useEffect, useMemo, useState } from 'react';
import type { CastTold } from '@/core/fit/sheet';
import { castOf, type Part, type Piece, wearerWords } from '@/core/piece';
import type { Assets } from '@/core/run';
import { cellOf } from '@/core/run/placed';
import { capital } from '@/core/words/counted';
import type { HeatSurface, TableDab } from '@/stage';
import { forms, type ToldCell } from '@/worker/browser';
import { Choice, Dialog, give } from '../../kit';
import { say } from '../../kit/say';
import { formsFor } from '../../piece/wearers';
import { clearanceWords, leakWords } from '../clearance';
import { heatOf } from '../heat';
import { type Over, posesOver } from '../over';
import { heldIn, stripKind, useFit } from '../state';
import { type CastCell, CastMatrix, type CastRow, castCsv, TOLD, type Told, worstOf } from './castmatrix';
import { SurfacePicture } from './surfacepicture';
import { TintKey } from './tintkey';

const OVERS = [
  { value: 'turns', label: 'poses', title: 'In every pose of the strip' },
  { value: 'faces', label: 'faces', title: 'With every face of the strip, looking ahead' },
  { value: 'both', label: 'faces in poses', title: 'With every face in every pose' },
] as const;
const DAB_M = 0.0014;
/** Places that leak, or are swallowed, as marks. */
function marksOf(told: ToldCell, what: Told): TableDab[] {
  const at = (what === 'leak' ? told.leaks?.leaksAt : what === 'swallowed' ? told.leaks?.swallowedAt : undefined) ?? [];
  return Array.from({ length: at.length / 3 }, (_, i) => ({ atM: [at[i * 3], at[i * 3 + 1], at[i * 3 + 2]], radiusM: DAB_M }));
}

export function ClearanceSheet({ part, piece, assets, onClose }: { part: Part; piece: Piece; assets: Assets; onClose: () => void }) {
  const strip = useFit((s) => s.strip);
  const [over, setOver] = useState<Over>(() => stripKind(piece, strip));
  const poses = useMemo(() => posesOver(piece, over), [piece, over]);
  const [rows, setRows] = useState<readonly CastRow[] | null>(null);
  /** Assets with the forms that the cast has. */
  const [cast, setCast] = useState<Assets | null>(null);
  const [chosen, setChosen] = useState<Pick<CastCell, 'pose' | 'wearer'> | null>(null);
  const [seen, setSeen] = useState<{ heat: HeatSurface; told: ToldCell } | null>(null);
  const [says, setSays] = useState<{ told: CastTold; sentences: readonly string[] } | null>(null);
  /** Pictures of a file under way that are drawn; null: none is. */
  const [drawn, setDrawn] = useState<number | null>(null);
  const [what, setWhat] = useState<Told>('clearance');
  useEffect(() => {
    let gone = false;
    setRows(null);
    setChosen(null);
    setSeen(null);
    const measure = async () => {
      const known = { ...assets, forms: await formsFor(piece, castOf(piece)) };
      const asked = poses.flatMap((pose) =>
        castOf(piece).map((wearer) => ({ pose, wearer, cell: cellOf(piece, known, part, wearer, heldIn(pose)) })),
      );
      return { known, asked, answers: await forms.clearance(asked.flatMap(({ cell }) => (cell ? [cell] : []))) };
    };
    measure().then(
      ({ known, asked, answers }) => {
        if (gone) return;
        setCast(known);
        const next = [...answers];
        const told = asked.map(({ pose, wearer, cell }): CastCell => ({ pose, wearer, told: cell ? (next.shift() ?? null) : null }));
        const all = poses.map((pose) => ({ pose, cells: told.filter((t) => t.pose === pose) }));
        setRows(all);
        setChosen(worstOf(all, 'clearance'));
      },
      (e: Error) => say.error(e.message),
    );
    return () => {
      gone = true;
    };
  }, [piece, assets, part, poses]);
  useEffect(() => {
    if (!chosen || !cast) return;
    let gone = false;
    const cell = cellOf(piece, cast, part, chosen.wearer, heldIn(chosen.pose));
    if (cell)
      forms.clearanceAt(cell).then(
        (s) => !gone && s && setSeen({ heat: heatOf(cell, s), told: s }),
        (e: Error) => say.error(e.message),
      );
    return () => {
      gone = true;
    };
  }, [chosen, piece, cast, part]);
  useEffect(() => {
    setSays(null);
    if (!rows || !cast) return;
    let gone = false;
    import('./castfile')
      .then(async (file) => {
        const told = await file.castTold(piece, cast, part, rows);
        if (!gone) setSays({ told, sentences: file.sentencesOf(told) });
      })
      .catch((e: Error) => !gone && say.error(e.message));
    return () => {
      gone = true;
    };
  }, [rows, cast, piece, part]);
  const save = async (as: 'pdf' | 'png') => {
    if (!rows || !cast || !says) return;
    setDrawn(0);
    try {
      const { castFile } = await import('./castfile');
      give(
        await castFile(as, piece, cast, part, rows, says.told, setDrawn),
        as === 'pdf' ? 'application/pdf' : 'image/png',
        `${part.name} on the cast.${as}`,
      );
    } catch (e) {
      say.error((e as Error).message);
    }
    setDrawn(null);
  };
  const dabs = useMemo(() => (seen ? marksOf(seen.told, what) : undefined), [seen, what]);
  const status = () => {
    if (!rows)
      return `Every wearer is measured ${over === 'turns' ? 'in every pose' : over === 'faces' ? 'with every face' : 'with every face in every pose'} …`;
    if (drawn !== null) return `The sheet is drawn: ${drawn} of ${rows.length * rows[0].cells.length} pictures …`;
    if (!seen || !chosen) return '';
    return `${capital(wearerWords(chosen.wearer))}, ${chosen.pose.label}: ${[clearanceWords(seen.told), leakWords(seen.told)].filter(Boolean).join('; ')}.`;
  };
  return (
    <Dialog title={`${part.name}: clearance and leaks`} wide onClose={onClose}>
      <div className="grid gap-4" style={{ gridTemplateColumns: 'minmax(0, 1fr) 360px' }}>
        <div>
          <SurfacePicture
            heat={seen?.heat ?? null}
            dabs={dabs}
            label={`${part.name} in tints of how near the wearer it lies`}
            what="The part"
          />
          <TintKey />
        </div>
        <div className="text-small">
          <p role="status" className="min-h-[54px]">
            {status()}
          </p>
          <Choice label="Gone through" options={OVERS} value={over} onChange={setOver} className="mb-2" />
          {rows && (
            <>
              <Choice
                label="What is told"
                options={TOLD}
                value={what}
                onChange={(next) => {
                  setWhat(next);
                  setChosen(worstOf(rows, next));
                }}
              />
              <div className="overflow-y-auto max-h-[272px]">
                <CastMatrix rows={rows} what={what} chosen={chosen} onChoose={setChosen} />
              </div>
              <p className="mt-2 min-h-[36px]" data-says={says ? '' : undefined}>
                {says?.sentences.at(-1)}
              </p>
              <div className="flex flex-wrap items-center gap-1.5 mt-3" data-drawing={drawn ?? undefined}>
                <button
                  type="button"
                  className="btn btn-line btn-sm"
                  onClick={() => give(castCsv(rows), 'text/csv', `${part.name} on the cast.csv`)}
                >
                  Save as CSV
                </button>
                {(['pdf', 'png'] as const).map((as) => (
                  <button
                    key={as}
                    type="button"
                    className="btn btn-line btn-sm"
                    title="With a picture of each"
                    aria-disabled={drawn !== null || !says}
                    onClick={() => drawn === null && says && void save(as)}
                  >
                    {as.toUpperCase()} with pictures
                  </button>
                ))}
              </div>
            </>
          )}
        </div>
      </div>
    </Dialog>
  );
}
