'use client';
import { Eye, EyeOff, Lock, LockOpen, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { factsOfStock } from '@/core/intake';
import { showCount, turnAbout } from '@/core/math';
import { type ModelPart, OFFSET_AT_ANCHOR, type Offset, type Part } from '@/core/piece';
import { NumField } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { AXES, OffsetFields } from './offsetfields';
import { PartMenu } from './rack';
import { useFit } from './state';

const HALF = Math.PI / 2;

export function Card({ title, extra, children }: { title: string; extra?: ReactNode; children: ReactNode }) {
  return (
    <section className="sheet mb-2">
      <header className="flex items-center justify-between h-[28px] pl-2.5 pr-1.5 rule-b">
        <h3 className="text-[13px] font-semibold">{title}</h3>
        <div className="flex items-center gap-1 text-micro soft">{extra}</div>
      </header>
      <div className="px-2.5 py-2">{children}</div>
    </section>
  );
}

/** The selected part: its name, its placement, and what it is made of. */
export function Cards({ sight, onFrame }: { sight: ReactNode; onFrame: () => void }) {
  const doc = useDocument();
  const selected = usePiece((s) => s.selected);
  const part = selected ? doc.parts[selected] : undefined;
  return (
    <aside
      className="flex flex-col min-h-0 overflow-y-auto border-l border-[color:var(--hair-strong)] px-2.5 pt-2"
      aria-label="Cards for the selected part"
      style={{ width: 'var(--cards)' }}
    >
      {part ? (
        <>
          <Heading part={part} />
          {part.kind === 'model' && <Placement part={part} onFrame={onFrame} />}
          {part.kind === 'model' && sight}
          {part.kind === 'model' && <MadeOf part={part} />}
          {part.kind === 'occluder' && (
            <Card title="Occluder">
              <p className="text-small">
                It takes the shape of the form and writes depth without colour: what lies behind the head is hidden, as a real head would
                hide it. Only an occluder hides anything.
              </p>
            </Card>
          )}
        </>
      ) : (
        <div className="empty text-small mt-1 min-h-[150px]">
          Nothing is selected. Press a part in the rack, in the Mirror or in a plate; its placement stands here.
        </div>
      )}
    </aside>
  );
}

function Heading({ part }: { part: Part }) {
  const commit = usePiece((s) => s.commit);
  return (
    <div className="flex items-start gap-1 pb-2">
      <div className="min-w-0 flex-1">
        <h2 className="named text-[19px] leading-[22px] break-words line-clamp-2">{part.name}</h2>
        <p className="text-micro soft">{part.anchor === 'head' ? 'Head' : 'Not hung'}</p>
      </div>
      <button
        type="button"
        className="btn btn-bare btn-sm btn-icon"
        aria-label={part.visible ? 'Hide part' : 'Show part'}
        title={part.visible ? 'Hide part' : 'Show part'}
        onClick={() => commit({ kind: 'show-part', id: part.id, visible: !part.visible })}
      >
        {part.visible ? <Eye className="ico" /> : <EyeOff className="ico" />}
      </button>
      <button
        type="button"
        className="btn btn-bare btn-sm btn-icon"
        aria-label={part.locked ? 'Unlock part' : 'Lock part'}
        title={part.locked ? 'Unlock part' : 'Lock part'}
        onClick={() => commit({ kind: 'lock-part', id: part.id, locked: !part.locked })}
      >
        {part.locked ? <Lock className="ico" /> : <LockOpen className="ico" />}
      </button>
      <button
        type="button"
        className="btn btn-bare btn-sm btn-icon"
        aria-label="Lift off the rack"
        title="Lift off the rack"
        aria-disabled={part.locked}
        onClick={() => !part.locked && commit({ kind: 'remove-part', id: part.id })}
      >
        <Trash2 className="ico" />
      </button>
      <PartMenu part={part} />
    </div>
  );
}

function Placement({ part, onFrame }: { part: ModelPart; onFrame: () => void }) {
  const commit = usePiece((s) => s.commit);
  const linked = useFit((s) => s.linked);
  const set = useFit((s) => s.set);
  const put = (offset: Offset) => commit({ kind: 'place-part', id: part.id, offset });
  const why = part.locked ? 'Unlock the part first' : undefined;
  // about the anchor's own axis, as it is seen to turn, whatever was turned before
  const turnBy = (i: 0 | 1 | 2, rad: number) => put({ ...part.offset, turnRad: turnAbout(part.offset.turnRad, i, rad) });
  return (
    <Card
      title="Placement"
      extra={
        <label className="flex items-center gap-1.5 mr-1.5" style={{ color: 'var(--ink)' }} title="All three sizes change together">
          <input type="checkbox" className="check" checked={linked} onChange={(e) => set({ linked: e.target.checked })} />
          Same size each way
        </label>
      }
    >
      <OffsetFields part={part} />
      <div className="grid gap-y-1 mt-2.5 items-center" style={{ gridTemplateColumns: '34px 1fr' }}>
        {AXES.map((axis, i) => (
          <div key={axis} className="contents">
            <span className={`text-micro ${axis}-t`}>{axis}</span>
            <span className="flex gap-1.5">
              {(
                [
                  [-HALF, '−90°'],
                  [HALF, '+90°'],
                  [Math.PI, '180°'],
                ] as const
              ).map(([rad, label]) => (
                <button
                  key={label}
                  type="button"
                  className="btn btn-line btn-sm btn-tight flex-1"
                  style={{ height: 24, minHeight: 24 }}
                  aria-label={`Turn ${axis} ${label}`}
                  aria-disabled={part.locked}
                  onClick={() => !part.locked && turnBy(i as 0 | 1 | 2, rad)}
                >
                  <span className="num">{label}</span>
                </button>
              ))}
            </span>
          </div>
        ))}
      </div>
      <div className="grid gap-1.5 mt-2.5" style={{ gridTemplateColumns: '1fr 1fr' }}>
        <button
          type="button"
          className="btn btn-line btn-sm btn-tight"
          title="Place 0, turn 0, size 1"
          aria-disabled={part.locked}
          onClick={() => !part.locked && put(structuredClone(OFFSET_AT_ANCHOR))}
        >
          Put at anchor
        </button>
        <button type="button" className="btn btn-line btn-sm btn-tight" title="Bring the part into view in both plates" onClick={onFrame}>
          Frame
        </button>
      </div>
      <div className="flex items-center gap-2 mt-2.5 text-small">
        <span className="soft">Opacity, %</span>
        <span className="w-[64px] ml-auto">
          <NumField
            label="Opacity"
            value={part.opacity}
            dimension="share"
            unit="%"
            decimals={0}
            step={0.01}
            min={0}
            max={1}
            disabledWhy={why}
            onChange={(opacity) => commit({ kind: 'set-opacity', id: part.id, opacity })}
          />
        </span>
      </div>
    </Card>
  );
}

function MadeOf({ part }: { part: ModelPart }) {
  const doc = useDocument();
  const file = doc.stock[part.stockId];
  const assets = usePiece((s) => s.assets);
  const facts = factsOfStock(doc, part.stockId, assets);
  const commit = usePiece((s) => s.commit);
  if (!file) return null;
  const size = part.offset.size;
  return (
    <Card
      title="Made of"
      extra={
        part.solid ? (
          <button type="button" className="link" onClick={() => commit({ kind: 'set-solid', id: part.id, solid: false })}>
            drawn solid; undo that
          </button>
        ) : undefined
      }
    >
      <dl className="grid text-small leading-4 gap-y-[5px]" style={{ gridTemplateColumns: '82px 1fr' }}>
        <dt className="soft">File</dt>
        <dd className="truncate" title={file.name}>
          {file.name}
        </dd>
        {(facts?.kind === 'picture' || facts?.kind === 'sequence') && (
          <>
            <dt className="soft">Sized, mm</dt>
            <dd className="num text-micro">{facts.sizeMm.map((mm, i) => (mm * size[i]).toFixed(1)).join(' × ')}</dd>
            <dt className="soft">{facts.kind === 'picture' ? 'Pixels' : 'Frames'}</dt>
            <dd className="num">{facts.kind === 'picture' ? `${facts.width} × ${facts.height}` : facts.frames}</dd>
          </>
        )}
        {facts?.kind === 'model' && (
          <>
            <dt className="soft">Sized, mm</dt>
            <dd className="num text-micro">{facts.sizeMm.map((mm, i) => (mm * size[i]).toFixed(1)).join(' × ')}</dd>
            <dt className="soft">Triangles</dt>
            <dd className="num">{showCount(facts.triangles)}</dd>
          </>
        )}
      </dl>
    </Card>
  );
}
