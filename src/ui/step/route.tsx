'use client';
import { useMemo } from 'react';
import { judgeStock } from '@/core/intake';
import { anchorOf, isMade } from '@/core/piece';
import { Flag, PageLink, useSize } from '../kit';
import { useDocument, usePiece, useWeight } from '../piece/context';
import { readiness } from '../piece/readiness';
import { STEP_NAMES, STEPS, type Step } from './steps';

const XS = [17, 22, 15, 20, 16, 21];
/** Between two stations where there is room, px; and the least. */
const LEG_PX = 100;
const LEAST_LEG_PX = 44;
/** A station's name above and below its middle, and the compass where it has room. */
const STATION_PX = 24;
const COMPASS_PX = 84;
/** Steps that make a model lighter, besides those that mend it. */
const MAKES_LIGHT: ReadonlySet<string> = new Set(['simplify', 'pictures', 'quantise', 'compress', 'hidden', 'merge', 'prune']);

interface Station {
  done: boolean;
  fact: string;
  counts?: { blocker: number; warning: number };
}

function useStations(): Record<Step, Station> {
  const doc = useDocument();
  const assets = usePiece((s) => s.assets);
  const save = usePiece((s) => s.save);
  const weight = useWeight();
  return useMemo(() => {
    const points = readiness(doc, assets, save, weight);
    const left = points.filter((p) => p.flag === 'blocker' || p.flag === 'warning').length;
    const files = Object.values(doc.stock);
    const hung = Object.values(doc.parts).filter((p) => isMade(p) && anchorOf(doc, p) !== null);
    const findings = files.flatMap((f) => judgeStock(doc, f.id, assets)?.findings ?? []);
    const counts = {
      blocker: findings.filter((f) => f.level === 'blocker').length,
      warning: findings.filter((f) => f.level === 'warning').length,
    };
    const light = Object.values(doc.recipes).filter((r) => r.steps.some((s) => MAKES_LIGHT.has(s.step)));
    const waits = { done: false, fact: 'to come' };
    const rigged = Object.values(doc.recipes).filter((r) =>
      r.steps.some((s) => s.on && (s.step === 'chains' || s.step === 'figure' || s.step === 'garment')),
    );
    return {
      stock: {
        done: files.length > 0,
        fact: files.length === 0 ? 'no files' : `${files.length} file${files.length > 1 ? 's' : ''}`,
        counts,
      },
      prepare: { done: light.length > 0, fact: light.length > 0 ? `${light.length} light` : 'no steps' },
      rig: { done: rigged.length > 0, fact: rigged.length > 0 ? `${rigged.length} rigged` : 'no chains' },
      fit: { done: hung.length > 0, fact: hung.length === 0 ? 'none yet' : `${hung.length} hung` },
      trial: waits,
      deliver: {
        done: false,
        fact: hung.length === 0 ? 'waits' : left > 0 ? `${left} to do` : weight.is === 'known' ? 'ready' : 'weighing',
      },
    };
  }, [doc, assets, save, weight]);
}

/** Six stations on a charted course; each is a link and always reachable. */
export function Route({ current }: { current: Step }) {
  const id = usePiece((s) => s.id);
  const stations = useStations();
  const at = STEPS.indexOf(current);
  const { ref, height } = useSize<HTMLElement>();
  const compass = height === 0 || height >= 5 * LEG_PX + 2 * STATION_PX + COMPASS_PX;
  const leg = height === 0 ? LEG_PX : Math.min(LEG_PX, Math.max(LEAST_LEG_PX, (height - 2 * STATION_PX - (compass ? COMPASS_PX : 0)) / 5));
  const y0 = leg < LEG_PX ? STATION_PX : 52;
  return (
    <nav
      ref={ref}
      className="shell-route relative water overflow-x-hidden overflow-y-auto border-r border-[color:var(--hair-strong)]"
      aria-label="Route"
      style={{ width: 'var(--route)' }}
    >
      <svg className="absolute inset-0" width="96" height="100%" aria-hidden="true">
        <path
          d="M-4 150C30 120 60 170 100 140M-4 190C30 158 66 206 100 178M-4 420c34-26 60 22 104-8M-4 470c40-30 62 16 104-6M-4 640c30-20 66 24 104 0"
          fill="none"
          stroke="var(--water-line)"
          strokeOpacity=".38"
          strokeWidth=".8"
        />
        {STEPS.slice(0, 5).map((s, i) => (
          <path
            key={s}
            d={`M${XS[i]} ${y0 + i * leg} L${XS[i + 1]} ${y0 + (i + 1) * leg}`}
            stroke="var(--ink)"
            strokeWidth={i < at ? 1.6 : 1.2}
            strokeDasharray={i < at ? undefined : '3 4'}
            strokeOpacity={i < at ? 1 : 0.75}
          />
        ))}
        {STEPS.map((s, i) => (
          <Disc key={s} x={XS[i]} y={y0 + i * leg} kind={i === at ? 'current' : stations[s].done ? 'done' : 'open'} />
        ))}
      </svg>
      {STEPS.map((s, i) => {
        const { fact, counts } = stations[s];
        const flagged = counts && counts.blocker + counts.warning > 0;
        return (
          <PageLink
            key={s}
            href={`/piece/${id}/${s}`}
            className="absolute left-0 w-full block"
            style={{ top: y0 + i * leg - 20, height: 40 }}
            aria-current={i === at ? 'step' : undefined}
          >
            <span
              className={`absolute left-[42px] top-[5px] whitespace-nowrap text-[13px] leading-4 ${i === at ? 'font-bold' : 'font-medium'}`}
            >
              {STEP_NAMES[s]}
            </span>
            <span className="absolute left-[42px] top-[21px] text-micro soft whitespace-nowrap">
              {flagged ? (
                <span className="inline-flex items-center gap-[4px]" style={{ color: 'var(--ink)' }}>
                  {(['blocker', 'warning'] as const)
                    .filter((k) => counts[k] > 0)
                    .map((k) => (
                      <span key={k} className="inline-flex items-center gap-[2px]" title={`${counts[k]} ${k}${counts[k] > 1 ? 's' : ''}`}>
                        <Flag kind={k} size={12} />
                        <b className="num font-semibold">{counts[k]}</b>
                      </span>
                    ))}
                </span>
              ) : (
                fact
              )}
            </span>
          </PageLink>
        );
      })}
      {compass && (
        <div className="absolute bottom-0 inset-x-0 pb-2 pt-1 flex flex-col items-center gap-1 text-micro soft">
          <svg width="40" height="40" viewBox="-20 -20 40 40" aria-hidden="true">
            <circle r="17" fill="none" stroke="var(--brass-line)" strokeWidth=".8" />
            <circle r="13.5" fill="none" stroke="var(--brass-line)" strokeWidth="3" strokeDasharray=".6 2.934" />
            <path d="M0-16 3 0 0 16-3 0Z" fill="none" stroke="var(--brass)" strokeWidth=".9" />
            <path d="M0-16 3 0h-6Z" fill="var(--brass)" />
          </svg>
          <span>leg {at + 1} of 6</span>
        </div>
      )}
    </nav>
  );
}

/** The same in a narrow window: a strip above the step. */
export function RouteStrip({ current }: { current: Step }) {
  const id = usePiece((s) => s.id);
  return (
    <nav className="shell-strip water border-b border-[color:var(--hair-strong)]" aria-label="Route">
      {STEPS.map((s) => (
        <PageLink
          key={s}
          href={`/piece/${id}/${s}`}
          className={`px-3 py-2 text-small whitespace-nowrap ${s === current ? 'font-bold' : ''}`}
          aria-current={s === current ? 'step' : undefined}
        >
          {STEP_NAMES[s]}
        </PageLink>
      ))}
    </nav>
  );
}

function Disc({ x, y, kind }: { x: number; y: number; kind: 'current' | 'done' | 'open' }) {
  if (kind === 'current')
    return (
      <>
        <circle cx={x} cy={y} r="11" fill="var(--brass-wash)" stroke="var(--brass)" strokeWidth="2" />
        <path d={`M${x} ${y - 15}v7M${x} ${y + 8}v7M${x - 15} ${y}h7M${x + 8} ${y}h7`} stroke="var(--brass)" strokeWidth="1.6" />
        <circle cx={x} cy={y} r="3.2" fill="var(--ink)" />
      </>
    );
  if (kind === 'done')
    return (
      <>
        <circle cx={x} cy={y} r="9" fill="var(--sea)" />
        <path d={`m${x - 4} ${y + 0.3} 2.8 2.9 5.2-6`} fill="none" stroke="var(--color-base-100)" strokeWidth="1.9" />
      </>
    );
  return (
    <>
      <circle cx={x} cy={y} r="8" fill="var(--color-base-100)" stroke="var(--ink)" strokeWidth="1.4" strokeDasharray="2.5 2.5" />
      <circle cx={x} cy={y} r="1.8" fill="var(--ink)" />
    </>
  );
}
