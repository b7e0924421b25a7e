'use client';
import { Plus, RotateCw, Trash2 } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { ulid } from 'ulid';
import type { ModelFacts } from '@/core/intake';
import { showCount, showMegabytes } from '@/core/math';
import { createModelPart, type StockItem } from '@/core/piece';
import { Flag } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { getStage, loadForm, loadModel, pixelRatio, useDraw, useSize } from '../piece/stagehooks';

type Look = 'lit' | 'bare' | 'wire';
const LOOKS: [Look, string][] = [
  ['lit', 'As lit'],
  ['bare', 'Bare'],
  ['wire', 'Triangles'],
];

/** The arrival sheet of one file: turntable, true size beside a head or a person, contents, findings. */
export function Arrival({ item, facts }: { item: StockItem; facts: ModelFacts | undefined }) {
  const id = usePiece((s) => s.id);
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const select = usePiece((s) => s.select);
  const router = useRouter();
  const [ready, setReady] = useState(false);
  const [error, setError] = useState<string | null>(null);
  useEffect(() => {
    let gone = false;
    loadModel(id, item.model).then(
      () => !gone && setReady(true),
      (e: Error) => !gone && setError(e.message),
    );
    return () => {
      gone = true;
    };
  }, [id, item.model]);
  const worn = Object.values(doc.parts).some((p) => p.kind === 'model' && p.stockId === item.id);
  return (
    <div className="h-full flex flex-col px-3 pt-2.5 pb-3 gap-3 min-h-0 overflow-y-auto">
      <div className="flex items-center gap-2">
        <h2 className="text-[15px] font-semibold truncate" title={item.name}>
          {item.name}
        </h2>
        <span className="text-small soft whitespace-nowrap">
          <span className="num">{showMegabytes(item.bytes)}</span> MB
        </span>
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon ml-auto"
          aria-label="Discard the file"
          title={worn ? 'A part wears this file; lift it off in Fit first' : 'Discard the file'}
          aria-disabled={worn}
          onClick={() => !worn && commit({ kind: 'remove-stock', id: item.id })}
        >
          <Trash2 className="ico" />
        </button>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          onClick={() => {
            const part = createModelPart(ulid(), item.id, item.name.replace(/\.[^.]+$/, '').slice(0, 120) || 'Part');
            if (!commit({ kind: 'add-part', part, index: doc.rack.length })) return;
            select(part.id);
            router.push(`/piece/${id}/fit`);
          }}
        >
          <Plus className="ico" />
          Hang a part
        </button>
      </div>
      <Turntable item={item} ready={ready} error={error} />
      <section className="sheet px-3 pt-2 pb-3">
        <header className="flex items-baseline justify-between pb-1.5 rule-double mb-2.5">
          <h3 className="text-[15px] font-semibold">As delivered by its author</h3>
        </header>
        {facts ? (
          <Facts facts={facts} item={item} ready={ready} />
        ) : (
          <p className="text-small soft">The facts of this file are not at hand. Reload the page.</p>
        )}
      </section>
    </div>
  );
}

function Turntable({ item, ready, error }: { item: StockItem; ready: boolean; error: string | null }) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [look, setLook] = useState<Look>('lit');
  const [headingDeg, setHeading] = useState(26);
  const drag = useRef<{ x: number; from: number } | null>(null);
  useDraw(() => {
    if (canvas.current && width > 0 && ready)
      getStage().drawTurntable(canvas.current, item.model, { width, height, ratio: pixelRatio() }, (headingDeg * Math.PI) / 180, look);
  }, [width, height, ready, look, headingDeg, item.model]);
  const turn = (by: number) => setHeading((h) => (((h + by) % 360) + 360) % 360);
  return (
    <div
      ref={ref}
      className="relative water border border-[color:var(--ink)] overflow-hidden flex-none"
      style={{ height: 266, touchAction: 'none', cursor: 'grab' }}
      onPointerDown={(e) => {
        if ((e.target as HTMLElement).closest('button')) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { x: e.clientX, from: headingDeg };
      }}
      onPointerMove={(e) => {
        if (drag.current) setHeading((((drag.current.from + (e.clientX - drag.current.x) * 0.6) % 360) + 360) % 360);
      }}
      onPointerUp={() => {
        drag.current = null;
      }}
    >
      <Dial width={width} />
      <canvas ref={canvas} className="plate-canvas" role="img" aria-label={`${item.name} on the turntable`} data-view="turntable" />
      {!ready && <p className="absolute inset-0 grid place-items-center text-small soft">{error ?? 'The model is being fetched …'}</p>}
      <div className="absolute left-2 top-2 detent" role="tablist" aria-label="Look">
        {LOOKS.map(([key, label]) => (
          <button key={key} type="button" role="tab" aria-selected={look === key} onClick={() => setLook(key)}>
            {label}
          </button>
        ))}
      </div>
      <button
        type="button"
        className="btn btn-line btn-sm btn-tight absolute right-2 top-2"
        title="Turn the table by 45°"
        onClick={() => turn(45)}
      >
        <RotateCw className="ico" />
        Turn
      </button>
      <span className="absolute right-3 bottom-2 text-micro soft">
        heading <span className="num">{String(Math.round(headingDeg) % 360).padStart(3, '0')}</span>°
      </span>
    </div>
  );
}

function Dial({ width }: { width: number }) {
  const ticks = Array.from({ length: 72 }, (_, i) => {
    const a = (i / 72) * Math.PI * 2;
    const r = i % 6 ? 176 : 172;
    return `M${(190 + Math.cos(a) * 180).toFixed(1)} ${(46 + Math.sin(a) * 36).toFixed(1)}L${(190 + Math.cos(a) * r).toFixed(1)} ${(46 + (Math.sin(a) * r) / 5).toFixed(1)}`;
  });
  return (
    <svg
      className="absolute bottom-[18px]"
      style={{ left: width / 2 - 190 }}
      width="380"
      height="92"
      viewBox="0 0 380 92"
      aria-hidden="true"
      fill="none"
    >
      <ellipse cx="190" cy="46" rx="180" ry="36" stroke="var(--water-line)" fill="var(--shoal)" fillOpacity=".55" />
      <path d={ticks.join('')} stroke="var(--ink)" strokeWidth=".9" strokeOpacity=".7" />
      <path d="M190 82v8" stroke="var(--brass)" strokeWidth="3" />
    </svg>
  );
}

function Facts({ facts, item, ready }: { facts: ModelFacts; item: StockItem; ready: boolean }) {
  const largest = facts.textures.reduce((m, t) => Math.max(m, t.width, t.height), 0);
  const cells: [string, string, string?][] = [
    ['Triangles', showCount(facts.triangles)],
    ['Vertices', showCount(facts.vertices)],
    ['Materials', showCount(facts.materials)],
    ['Textures', showCount(facts.textures.length), largest ? `up to ${largest} px` : undefined],
    ['Bones', showCount(facts.bones)],
    ['Clips', showCount(facts.clips.length), facts.clips.length ? `${facts.clips[0].seconds} s` : undefined],
    ['Bytes', showCount(facts.bytes)],
  ];
  return (
    <>
      <div className="grid gap-3" style={{ gridTemplateColumns: '1fr 1fr' }}>
        <ScaleFigure item={item} facts={facts} ready={ready} />
        <dl className="grid content-center gap-y-1.5 text-small" style={{ gridTemplateColumns: 'auto 1fr' }} aria-label="True size">
          {(['side', 'up', 'fore'] as const).map((axis, i) => (
            <div key={axis} className="contents">
              <dt className={`font-semibold pr-4 ${axis}-t`}>{axis}</dt>
              <dd className="num text-[15px]" data-size={axis}>
                {showCount(Number(facts.sizeMm[i].toFixed(facts.sizeMm[i] < 10_000 ? 1 : 0)))}
                <span className="unit">mm</span>
              </dd>
            </div>
          ))}
          <dt className="soft pr-4 col-span-2 text-micro leading-[15px]">True size, read in metres as glTF says, as its nodes place it.</dt>
        </dl>
      </div>
      <dl className="flex flex-wrap mt-2.5 py-1.5 border-y border-[color:var(--hair)]">
        {cells.map(([k, v, more], i) => (
          <div key={k} className={`pr-3 ${i ? 'pl-3 border-l border-[color:var(--sheet-hair)]' : ''}`}>
            <dt className="text-micro soft">{k}</dt>
            <dd className="num text-[13px] leading-4 font-medium" data-fact={k.toLowerCase()}>
              {v}
              {more && <span className="unit">{more}</span>}
            </dd>
          </div>
        ))}
      </dl>
      <div className="mt-1">
        {facts.findings.map((f) => (
          <div key={`${f.code} ${f.message}`} className="finding">
            <Flag kind={f.level} size={15} />
            <span className="break-words min-w-0">
              {f.message}
              {f.where && f.where !== f.message ? <span className="soft"> {f.where}</span> : null}
            </span>
          </div>
        ))}
        {facts.findings.length === 0 && (
          <div className="finding">
            <Flag kind="done" size={15} />
            <span>Nothing was found wrong with it.</span>
          </div>
        )}
      </div>
    </>
  );
}

/** The model at its true size beside a size M head, or beside a person where a head would be a speck. */
function ScaleFigure({ item, facts, ready }: { item: StockItem; facts: ModelFacts; ready: boolean }) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const model = useRef<HTMLCanvasElement>(null);
  const form = useRef<HTMLCanvasElement>(null);
  const [side, up] = facts.sizeMm;
  const besidePerson = side > 900 || up > 900;
  const reference = besidePerson ? { wide: 500, high: 1750 } : { wide: 170, high: 240 };
  const pxPerMm = Math.min((width - 36) / (side + reference.wide * 1.25), (height - 34) / Math.max(up, reference.high));
  useDraw(() => {
    if (width === 0 || !ready || !(pxPerMm > 0)) return;
    const size = { width, height: height - 20, ratio: pixelRatio() };
    if (model.current) getStage().drawFrontal(model.current, item.model, { ...size, width: side * pxPerMm + 8 }, pxPerMm * 1000, 0);
    if (!besidePerson)
      void loadForm('M').then((f) => {
        if (!form.current) return;
        getStage().setForm(f);
        getStage().drawFormFrontal(form.current, { ...size, width: reference.wide * pxPerMm + 8 }, pxPerMm * 1000, 0.015);
      });
  }, [width, height, ready, pxPerMm, item.model, besidePerson]);
  const modelWidth = side * pxPerMm + 8;
  return (
    <div>
      <div
        ref={ref}
        className="relative water gridded border border-[color:var(--hair-strong)] overflow-hidden"
        style={{ height: 150 }}
        role="img"
        aria-label={`${Math.round(side)} millimetres wide, beside ${besidePerson ? 'a person 1.75 metres tall' : 'a size M head'}`}
      >
        {besidePerson ? (
          <svg
            className="absolute"
            style={{ left: 10, bottom: 20 }}
            width={Math.max(2, 500 * pxPerMm)}
            height={Math.max(6, 1750 * pxPerMm)}
            viewBox="0 0 44 175"
            preserveAspectRatio="none"
            aria-hidden="true"
            fill="var(--ink-2)"
          >
            <circle cx="22" cy="13" r="12" />
            <path d="M4 34C8 27 36 27 40 34l4 52-8 2-4-34v34l-3 87H23l-1-60-1 60h-6l-3-87V54L8 88l-8-2Z" />
          </svg>
        ) : (
          <canvas
            ref={form}
            className="absolute"
            style={{ left: 6, bottom: 20, width: reference.wide * pxPerMm + 8, height: height - 20, opacity: 'var(--form-op)' }}
          />
        )}
        <canvas
          ref={model}
          className="absolute"
          style={{ right: 10, bottom: 20, width: modelWidth, height: height - 20 }}
          data-view="scale"
        />
        <span className="absolute left-2 bottom-0.5 text-micro soft">{besidePerson ? 'a person, 1.75 m' : 'form M, head'}</span>
        <span className="absolute right-3 bottom-0.5 text-micro side-t font-semibold">
          <span className="num">{showCount(Math.round(side * 10) / 10)}</span> side
        </span>
      </div>
    </div>
  );
}
