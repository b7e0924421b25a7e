'use client';
import { Download, Plus, RefreshCw, Trash2 } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { ulid } from 'ulid';
import { api } from '@/api';
import { type Finding, judgeStock, KINDS, Kind, MODEL_EXTENSIONS, type Model, picturesAtHand } from '@/core/intake';
import { showCount, showMegabytes } from '@/core/math';
import { createModelPart, drawnModel, type ModelItem, NO_TRANSFORM, type PictureItem, type RecipeStep, type StepDraft } from '@/core/piece';
import { mergeDrafts } from '@/core/prepare';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { loadModel } from '../piece/stagehooks';
import { AskDialog, type Asking } from './ask';
import { Contents } from './contents';
import { Findings } from './findings';
import { Licence } from './licence';
import { asSteps, mend, planReplacement, replacementEdit, setSteps, wearers, wholeTransform } from './mending';
import { RecipeSteps } from './recipe';
import { ScaleFigure } from './scale';
import { Turntable } from './turntable';

/** The arrival sheet of one model: turntable, true size, contents, findings, licence. */
export function Arrival({ item }: { item: ModelItem }) {
  const id = usePiece((s) => s.id);
  const store = usePieceStore();
  const doc = useDocument();
  const assets = usePiece((s) => s.assets);
  const commit = usePiece((s) => s.commit);
  const [busy, setBusy] = useState(false);
  const [asking, setAsking] = useState<Asking | null>(null);
  const model = drawnModel(doc, item.id) as string;
  const { data, error } = useModelData(id, model);
  const judged = judgeStock(doc, item.id, assets);
  const steps = doc.recipes[item.id]?.steps ?? [];
  const get = store.getState;

  /** One thing at a time; a refusal is said and changes nothing. */
  const work = async (what: () => Promise<void>) => {
    setBusy(true);
    try {
      await what();
    } catch (e) {
      toast.error((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const fix = (drafts: StepDraft[], all: boolean, changes: string[]) => {
    const go = (keepFit: boolean) => void work(() => mend(get, item.id, drafts, { keepFit, all }));
    const moves = wholeTransform(asSteps(mergeDrafts(drafts))) !== null;
    const worn = moves ? wearers(doc, item.id).map((p) => p.name) : [];
    if (drafts.length > 1 || worn.length > 0)
      setAsking({
        title: drafts.length > 1 ? 'Mend all of these' : 'Mend this',
        changes,
        action: drafts.length > 1 ? 'Mend all' : 'Mend',
        worn,
        go,
      });
    else go(true);
  };
  const dismiss = (f: Finding, reason: string | null) => {
    const rest = item.dismissed.filter((d) => d.code !== f.code || d.where !== (f.where ?? ''));
    commit({
      kind: 'set-dismissed',
      id: item.id,
      dismissed: reason === null ? rest : [...rest, { code: f.code, where: f.where ?? '', reason }],
    });
  };
  const widen = (mm: number) => {
    if (!judged) return;
    const now = judged.facts.sizeMm[item.stated ? KINDS[item.stated].told : 0];
    const factor = Number((mm / now).toPrecision(6));
    fix([{ step: 'transform', settings: { ...NO_TRANSFORM, factor } }], false, [`Sized ×${factor}, to ${mm} mm.`]);
  };
  const replaceWith = (files: File[]) =>
    void work(async () => {
      const group = files.map((file) => ({ name: file.webkitRelativePath || file.name, file }));
      const answer = await api.upload(id, group, () => undefined).done;
      const [came] = answer.items;
      if (came?.item.kind !== 'model') throw new Error('A model can only be replaced by another model.');
      const plan = await planReplacement(get, item.id, came.item, came.asset);
      setAsking({
        title: `Replace ${item.name} by ${plan.item.name}`,
        changes: plan.unmatched,
        action: 'Replace',
        worn: [],
        go: () => commit(replacementEdit(get().history.doc, plan)),
      });
    });
  return (
    <div className="h-full flex flex-col px-3 pt-2.5 pb-3 gap-3 min-h-0 overflow-y-auto">
      <Head item={item} busy={busy} waits={judged?.findings.some((f) => f.level === 'blocker' && f.fix) ?? false} onReplace={replaceWith} />
      <Turntable name={item.name} model={model} data={data} error={error} />
      <section className="sheet px-3 pt-2 pb-3" data-busy={busy ? '' : undefined}>
        <header className="flex items-center gap-3 pb-1.5 rule-double mb-2.5">
          <h3 className={`text-[15px] font-semibold ${busy ? 'busy' : ''}`}>
            {steps.length > 0 ? 'As mended' : 'As delivered by its author'}
          </h3>
          <label className="ml-auto flex items-center gap-1.5 text-small">
            <span className="soft">What it is</span>
            <select
              className="field"
              style={{ width: 150, height: 26, padding: '2px 6px' }}
              value={item.stated ?? ''}
              onChange={(e) =>
                commit({ kind: 'state-kind', id: item.id, stated: e.target.value === '' ? null : Kind.parse(e.target.value) })
              }
            >
              <option value="">not said</option>
              {Kind.options.map((k) => (
                <option key={k} value={k}>
                  {KINDS[k].label}
                </option>
              ))}
            </select>
          </label>
        </header>
        {judged ? (
          <>
            <Size
              item={item}
              model={model}
              sizeMm={judged.facts.sizeMm}
              factor={judged.facts.placing[item.stated ?? 'unstated'].units?.factor ?? 1}
              ready={data !== null}
            />
            <Contents facts={judged.facts} />
            <Findings
              judged={judged}
              kind={item.stated}
              busy={busy}
              pictures={picturesAtHand(doc, assets)}
              onFix={fix}
              onDismiss={dismiss}
              onWidth={widen}
            />
            <RecipeSteps steps={steps} busy={busy} onSet={(next: RecipeStep[]) => void work(() => setSteps(get, item.id, next, true))} />
            <Licence
              credit={item.credit}
              says={judged.facts.credit.says}
              onChange={(credit) => commit({ kind: 'set-credit', id: item.id, credit })}
            />
          </>
        ) : (
          <p className="text-small soft">The facts of this file are not at hand. Reload the page.</p>
        )}
      </section>
      {asking && <AskDialog asking={asking} onClose={() => setAsking(null)} />}
    </div>
  );
}

function useModelData(piece: string, model: string): { data: Model | null; error: string | null } {
  const [state, setState] = useState<{ model: string; data: Model | null; error: string | null }>({ model, data: null, error: null });
  useEffect(() => {
    let gone = false;
    loadModel(piece, model).then(
      (data) => !gone && setState({ model, data, error: null }),
      (e: Error) => !gone && setState({ model, data: null, error: e.message }),
    );
    return () => {
      gone = true;
    };
  }, [piece, model]);
  return state.model === model ? state : { data: null, error: null };
}

/** Name, weight, the way to the original, and out. */
function FileHead({ item }: { item: ModelItem | PictureItem }) {
  const id = usePiece((s) => s.id);
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const worn = Object.values(doc.parts).some((p) => p.kind === 'model' && p.stockId === item.id);
  return (
    <>
      <h2 className="text-[15px] font-semibold truncate" title={item.name}>
        {item.name}
      </h2>
      <span className="text-small soft whitespace-nowrap">
        <span className="num">{showMegabytes(item.bytes)}</span> MB
      </span>
      <a
        className="btn btn-bare btn-sm btn-icon ml-auto"
        href={api.modelUrl(id, item.original)}
        download={item.name}
        aria-label="Fetch the original"
        title="Fetch the original, byte for byte"
      >
        <Download className="ico" />
      </a>
      <button
        type="button"
        className="btn btn-bare btn-sm btn-icon"
        aria-label="Discard the file"
        title={worn ? 'A part wears this file; lift it off in Fit first' : 'Discard the file'}
        aria-disabled={worn}
        onClick={() => !worn && commit({ kind: 'remove-stock', id: item.id })}
      >
        <Trash2 className="ico" />
      </button>
    </>
  );
}

/** `waits`: a blocker's fix has the ink. */
function Head({ item, busy, waits, onReplace }: { item: ModelItem; busy: boolean; waits: boolean; onReplace: (files: File[]) => void }) {
  const id = usePiece((s) => s.id);
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const select = usePiece((s) => s.select);
  const router = useRouter();
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="flex items-center gap-2">
      <FileHead item={item} />
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="A newer file"
        accept={[...MODEL_EXTENSIONS, '.zip', '.bin', '.mtl', '.png', '.jpg', '.jpeg', '.webp'].join(',')}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = '';
          if (files.length > 0) onReplace(files);
        }}
      />
      <button type="button" className="btn btn-line btn-sm" aria-disabled={busy} onClick={() => !busy && input.current?.click()}>
        <RefreshCw className="ico" />
        Replace the original
      </button>
      <button
        type="button"
        className={`btn btn-sm ${waits ? 'btn-line' : 'btn-primary'}`}
        title={waits ? 'A blocker is open: mend it first, or hang the part as it is' : undefined}
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
  );
}

function Size({
  item,
  model,
  sizeMm,
  factor,
  ready,
}: {
  item: ModelItem;
  model: string;
  sizeMm: readonly [number, number, number];
  factor: number;
  ready: boolean;
}) {
  const kind = item.stated;
  return (
    <div className="grid gap-3" style={{ gridTemplateColumns: factor === 1 ? '1fr 1fr' : '1fr 1fr auto' }}>
      <ScaleFigure name="As it is" model={model} sizeMm={sizeMm} factor={1} kind={kind} ready={ready} />
      {factor !== 1 && <ScaleFigure name={`Read ×${factor}`} model={model} sizeMm={sizeMm} factor={factor} kind={kind} ready={ready} />}
      <dl className="grid content-center gap-y-1 text-small" style={{ gridTemplateColumns: 'auto 1fr' }} aria-label="True size">
        {(['side', 'up', 'fore'] as const).map((axis, i) => (
          <div key={axis} className="contents">
            <dt className={`font-semibold pr-4 ${axis}-t`}>{axis}</dt>
            <dd className="num text-[15px]" data-size={axis}>
              {showCount(Number(sizeMm[i].toFixed(sizeMm[i] < 10_000 ? 1 : 0)))}
              <span className="unit">mm</span>
            </dd>
          </div>
        ))}
        {factor === 1 && <dt className="soft pr-4 col-span-2 text-micro leading-[15px]">True size, as its nodes place it.</dt>}
      </dl>
    </div>
  );
}

/** A picture in Stock: what it looks to be, and whose it is. */
export function PictureSheet({ item }: { item: PictureItem }) {
  const id = usePiece((s) => s.id);
  const assets = usePiece((s) => s.assets);
  const commit = usePiece((s) => s.commit);
  const facts = assets.find((a) => a.original === item.original)?.picture;
  return (
    <div className="h-full flex flex-col px-3 pt-2.5 pb-3 gap-3 min-h-0 overflow-y-auto">
      <div className="flex items-center gap-2">
        <FileHead item={item} />
      </div>
      <div className="water gridded border border-[color:var(--ink)] flex-none grid place-items-center" style={{ height: 252 }}>
        {/* biome-ignore lint/performance/noImgElement: a stock file is shown as it is */}
        <img src={api.modelUrl(id, item.original)} alt={item.name} style={{ maxHeight: 240, maxWidth: '96%', objectFit: 'contain' }} />
      </div>
      <section className="sheet px-3 pt-2 pb-3">
        <header className="pb-1.5 rule-double mb-2.5">
          <h3 className="text-[15px] font-semibold">A picture for models</h3>
        </header>
        {facts && (
          <p className="text-small">
            <span className="num">
              {facts.width} × {facts.height}
            </span>{' '}
            px, {facts.type.replace('image/', '').toUpperCase()}; it looks like a{' '}
            {facts.look === 'colour' ? 'colour picture' : facts.look === 'grey' ? 'grey map' : facts.look}.
            {facts.hasAlpha ? (facts.alphaMin > 0.996 ? ' Its alpha is opaque everywhere.' : ' It has alpha.') : ' It has no alpha.'} Models
            in Stock that miss a picture like this offer to take it.
          </p>
        )}
        <Licence credit={item.credit} says="" onChange={(credit) => commit({ kind: 'set-credit', id: item.id, credit })} />
      </section>
    </div>
  );
}
