'use client';
import { Ellipsis } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { ulid } from 'ulid';
import type { PieceSummary } from '@/api';
import { ask } from '@/api/ask';
import { urls } from '@/api/urls';
import { CEILING_BYTES } from '@/core/deliver/ceilings';
import { showMegabytes } from '@/core/math/quantity';
import { counted } from '@/core/words/counted';
import { FlagCounts, Mark, Menu, NameInPlace, openMenuAt, PageLink } from '../kit';
import { say } from '../kit/say';
import { STEP_NAMES, STEPS } from '../step/steps';

const STEP_LABELS = STEPS.map((s) => STEP_NAMES[s]);

function MiniRoute({ step, done }: { step: number; done: readonly number[] }) {
  return (
    <svg width="132" height="14" viewBox="0 0 132 14" role="img" aria-label={`Step ${step + 1} of 6: ${STEP_LABELS[step]}`}>
      <path d={`M6 7H${6 + step * 24}`} stroke="var(--ink)" strokeWidth="1.4" />
      <path d={`M${6 + step * 24} 7H126`} stroke="var(--ink)" strokeWidth="1" strokeDasharray="2.5 3" strokeOpacity=".7" />
      {STEP_LABELS.map((s, i) =>
        done.includes(i) && i !== step ? (
          <circle key={s} cx={6 + i * 24} cy="7" r="4" fill="var(--sea)" />
        ) : i === step ? (
          <g key={s}>
            <circle cx={6 + i * 24} cy="7" r="5.2" fill="var(--brass-wash)" stroke="var(--brass)" strokeWidth="1.8" />
            <circle cx={6 + i * 24} cy="7" r="1.6" fill="var(--ink)" />
          </g>
        ) : (
          <circle key={s} cx={6 + i * 24} cy="7" r="3.2" fill="var(--color-base-100)" stroke="var(--ink)" strokeWidth="1" />
        ),
      )}
    </svg>
  );
}

/** A piece as a card: cover, step, findings, weight, and what can be done with it. */
export function PieceCard({
  piece,
  weight,
  cover,
  onChange,
  attempt,
}: {
  piece: PieceSummary;
  /** Words: why it could not be weighed; null: it is being weighed. */
  weight: number | string | null;
  /** The revision it shows; words: why it could not be drawn; null: it is being drawn. */
  cover: number | string | null;
  onChange: () => unknown;
  attempt: (act: () => Promise<unknown>) => Promise<unknown>;
}) {
  const [naming, setNaming] = useState(false);
  const step = STEPS.indexOf(piece.reached);
  // an older one where the newest could not be drawn
  const shown = typeof cover === 'string' ? piece.coverRevision : cover;
  const limit = CEILING_BYTES[piece.profile];
  const over = typeof weight === 'number' && weight > limit;
  const open = (children: ReactNode) =>
    piece.deletedAt ? (
      <div className="block">{children}</div>
    ) : (
      <PageLink href={`/piece/${piece.id}/${STEPS[step]}`} tabIndex={-1} aria-hidden="true" prefetch={false}>
        {children}
      </PageLink>
    );
  const act = (work: () => Promise<unknown>) =>
    attempt(async () => {
      await work();
      await onChange();
    });
  const rename = (name: string) => {
    void act(async () => {
      const { PIECE_SCHEMA, settings } = await import('@/core/piece');
      const save = { saveId: ulid(), baseRevision: piece.revision, schema: PIECE_SCHEMA, edits: [settings({ name })] };
      return ask((api) => api.saveEdits(piece.id, save));
    });
  };
  const groups = [
    {
      id: 'What can be done',
      entries: [
        { id: 'rename', label: 'Rename', act: () => setNaming(true) },
        { id: 'copy', label: 'Duplicate', act: () => void act(() => ask((api) => api.copyPiece(piece.id))) },
        {
          id: 'delete',
          label: 'Delete',
          act: () =>
            void act(async () => {
              await ask((api) => api.deletePiece(piece.id));
              say.message(`${piece.name} is deleted. It can be restored for 30 days.`, {
                action: { label: 'Restore', onClick: () => void act(() => ask((api) => api.restorePiece(piece.id))) },
              });
            }),
        },
      ],
    },
  ];
  return (
    <article
      className="sheet overflow-hidden relative"
      style={{ contentVisibility: 'auto', containIntrinsicSize: 'auto 290px' }}
      aria-label={piece.name}
      onContextMenu={(e) => piece.deletedAt || openMenuAt(e, `More for ${piece.name}`, groups)}
    >
      {open(
        <div className="relative water gridded border-b border-[color:var(--hair-strong)] overflow-hidden" style={{ height: 200 }}>
          {typeof shown !== 'number' ? (
            <span
              className="absolute inset-4 border border-dashed border-[color:var(--hair-strong)] grid place-items-center text-small soft"
              title={typeof cover === 'string' ? cover : undefined}
            >
              {typeof cover === 'string'
                ? 'The cover could not be drawn'
                : piece.deletedAt
                  ? 'No cover was made'
                  : 'The cover is being drawn …'}
            </span>
          ) : (
            // biome-ignore lint/performance/noImgElement: a private, already sized picture
            <img
              src={urls.coverUrl(piece.id, shown)}
              alt=""
              className="absolute left-1/2 -translate-x-1/2 top-0 max-w-none"
              style={{ height: 200, opacity: 'var(--img-dim)' }}
              data-cover={shown}
            />
          )}
        </div>,
      )}
      <div className="px-2.5 pt-1.5 pb-2">
        <div className="flex items-center justify-between gap-1">
          {naming ? (
            <NameInPlace
              label={`Name of ${piece.name}`}
              initial={piece.name}
              className="named text-[17px] h-[26px]!"
              onDone={rename}
              onLeave={() => setNaming(false)}
            />
          ) : (
            <h2 className="named text-[17px] leading-[21px] truncate min-w-0" title={piece.name} dir="auto">
              {piece.deletedAt ? (
                piece.name
              ) : (
                <PageLink
                  href={`/piece/${piece.id}/${STEPS[step]}`}
                  onDoubleClick={(e) => e.preventDefault()}
                  className="hover:underline block truncate"
                >
                  {piece.name}
                </PageLink>
              )}
            </h2>
          )}
          <span className="flex items-center">
            <span className="inline-flex items-center gap-1 text-micro soft">
              <Mark name="head" />
              Head
            </span>
            {!piece.deletedAt && (
              <Menu
                label={`More for ${piece.name}`}
                align="right"
                className="btn btn-bare btn-sm btn-icon ml-1"
                button={<Ellipsis className="ico" />}
                groups={groups}
              />
            )}
          </span>
        </div>
        <div className="flex items-center justify-between mt-[3px]">
          <MiniRoute step={step} done={[...(step > 0 ? [0] : []), ...(step > 3 ? [3] : [])]} />
          <span className="text-small font-semibold">{STEP_LABELS[step]}</span>
        </div>
        <div className="flex items-center justify-between mt-[6px] pt-[5px] border-t border-[color:var(--sheet-hair)] text-small min-h-[26px]">
          {piece.deletedAt ? (
            <>
              <span className="soft">{daysLeft(piece.deletedAt)}</span>
              <button type="button" className="fix" onClick={() => void act(() => ask((api) => api.restorePiece(piece.id)))}>
                Restore
              </button>
            </>
          ) : (
            <>
              <FlagCounts counts={piece.findings} />
              {typeof weight !== 'number' ? (
                <span className="soft" title={weight ?? undefined}>
                  {weight === null ? 'being weighed …' : 'not weighed'}
                </span>
              ) : (
                <span className={`num ${over ? 'font-semibold' : ''}`} style={over ? { color: 'var(--vermilion)' } : undefined}>
                  {over && <span className="unit">over: </span>}
                  {showMegabytes(weight)}
                  <span className="unit">of {showMegabytes(limit)} MB</span>
                </span>
              )}
            </>
          )}
        </div>
      </div>
    </article>
  );
}

function daysLeft(deletedAt: string): string {
  const days = Math.max(0, 30 - Math.floor((Date.now() - Date.parse(deletedAt)) / 86_400_000));
  return `${counted(days, 'day')} left to restore`;
}
