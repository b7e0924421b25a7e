'use client';
/** A part on the cast in the poses of the strip: how deep it cuts or how near it comes, what leaks of it, and any of them to look at. */
import { useEffect, useMemo, useState } from 'react';
import type { Part, Piece } from '@/core/piece';
import type { Assets } from '@/core/run';
import type { HeatSurface, TableDab } from '@/stage';
import { forms, type SeenCell, type SizedCell, type ToldCell } from '@/worker/browser';
import { Choice, Dialog, give } from '../../kit';
import { say } from '../../kit/say';
import { CAST, cellOf, clearanceWords, heldIn, leakWords } from '../clearance';
import { stripOf } from '../state';
import { type CastCell, CastMatrix, type CastRow, castCsv, TOLD, type Told, worstOf } from './castmatrix';
import { SurfacePicture } from './surfacepicture';

/** From so far above the skin on, mm, a tint holds; the first of all that is further. */
const TINTS = [
  { underMm: Infinity, color: '#f6f1e2', words: 'over 5 mm' },
  { underMm: 5, color: '#c4dde0', words: 'under 5' },
  { underMm: 2, color: '#86b6c4', words: 'touches, under 2' },
  { underMm: 0, color: '#e0907c', words: 'cuts in' },
  { underMm: -2, color: '#b23a2b', words: 'over 2 deep' },
] as const;
const linear = (c: number) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
const RGB = TINTS.map(({ color }) => [1, 3, 5].map((i) => linear(Number.parseInt(color.slice(i, i + 2), 16) / 255)));

/** The part in its tints, the wearer seen through behind it. */
function heatOf({ shapes }: SizedCell, { distances, form }: SeenCell): HeatSurface {
  const count = shapes.reduce((s, c) => s + c.positions.length, 0);
  const positions = new Float32Array(count);
  const colors = new Float32Array(count);
  const triangles: number[] = [];
  let at = 0;
  shapes.forEach((shape, s) => {
    positions.set(shape.positions, at * 3);
    for (let v = 0; v < distances[s].length; v++) {
      const mm = distances[s][v] * 1000;
      let tint = 0;
      while (tint + 1 < TINTS.length && mm < TINTS[tint + 1].underMm) tint++;
      colors.set(RGB[tint], (at + v) * 3);
    }
    for (let t = 0; t < shape.triangles.length; t++) triangles.push(shape.triangles[t] + at);
    at += shape.positions.length / 3;
  });
  return {
    positions,
    normals: new Float32Array(count),
    triangles: Uint32Array.from(triangles),
    colors,
    ghost: { positions: form.positions, triangles: form.indices },
  };
}

const DAB_M = 0.0014;
/** Places that leak, or are swallowed, as marks. */
function marksOf(told: ToldCell, what: Told): TableDab[] {
  const at = (what === 'leak' ? told.leaks?.leaksAt : what === 'swallowed' ? told.leaks?.swallowedAt : undefined) ?? [];
  return Array.from({ length: at.length / 3 }, (_, i) => ({ atM: [at[i * 3], at[i * 3 + 1], at[i * 3 + 2]], radiusM: DAB_M }));
}

export function ClearanceSheet({ part, piece, assets, onClose }: { part: Part; piece: Piece; assets: Assets; onClose: () => void }) {
  const poses = useMemo(() => stripOf(piece), [piece]);
  const [rows, setRows] = useState<readonly CastRow[] | null>(null);
  const [chosen, setChosen] = useState<Pick<CastCell, 'pose' | 'size'> | null>(null);
  const [seen, setSeen] = useState<{ heat: HeatSurface; told: ToldCell } | null>(null);
  const [what, setWhat] = useState<Told>('clearance');
  useEffect(() => {
    let gone = false;
    const asked = poses.flatMap((pose) => CAST.map((size) => ({ pose, size, cell: cellOf(piece, assets, part, size, heldIn(pose)) })));
    forms.clearance(asked.flatMap(({ cell }) => (cell ? [cell] : []))).then(
      (answers) => {
        if (gone) return;
        const next = [...answers];
        const told = asked.map(({ pose, size, cell }): CastCell => ({ pose, size, told: cell ? (next.shift() ?? null) : null }));
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
    if (!chosen) return;
    let gone = false;
    const cell = cellOf(piece, assets, part, chosen.size, heldIn(chosen.pose));
    if (cell)
      forms.clearanceAt(cell).then(
        (s) => !gone && s && setSeen({ heat: heatOf(cell, s), told: s }),
        (e: Error) => say.error(e.message),
      );
    return () => {
      gone = true;
    };
  }, [chosen, piece, assets, part]);
  const dabs = useMemo(() => (seen ? marksOf(seen.told, what) : undefined), [seen, what]);
  const status = () => {
    if (!rows) return 'Every form is measured in every pose …';
    if (!seen || !chosen) return '';
    return `Form ${chosen.size}, ${chosen.pose.label}: ${[clearanceWords(seen.told), leakWords(seen.told)].filter(Boolean).join('; ')}.`;
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
          <div className="flex flex-wrap items-center gap-x-3 gap-y-1 mt-2 text-micro soft">
            {TINTS.map(({ color, words }) => (
              <span key={color} className="flex items-center gap-1">
                <span className="inline-block w-4 h-3 border border-[color:var(--ink)]" style={{ background: color }} />
                {words}
              </span>
            ))}
            <span className="num">mm</span>
          </div>
        </div>
        <div className="text-small">
          <p role="status" className="min-h-[54px]">
            {status()}
          </p>
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
              <CastMatrix rows={rows} what={what} chosen={chosen} onChoose={setChosen} />
              <button
                type="button"
                className="btn btn-line btn-sm mt-3"
                onClick={() => give(castCsv(rows), 'text/csv', `${part.name} on the cast.csv`)}
              >
                Save as CSV
              </button>
            </>
          )}
        </div>
      </div>
    </Dialog>
  );
}
