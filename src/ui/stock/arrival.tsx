'use client';
import { useRef, useState } from 'react';
import { api } from '@/api';
import {
  type Finding,
  judgeStock,
  KINDS,
  Kind,
  MODEL_EXTENSIONS,
  picturesAtHand,
  type StockFacts,
  type StockJudgement,
} from '@/core/intake';
import { showCount } from '@/core/math';
import { change, drawnModel, type ModelItem, NO_TRANSFORM, type RecipeStep, type StepDraft } from '@/core/piece';
import { mergeDrafts } from '@/core/prepare';
import { computing } from '@/worker/browser';
import { useActs } from '../acts';
import { lazily } from '../kit';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { useModelData } from '../piece/modeldata';
import { sendGroup } from './arrivals';
import { AskDialog, type Asking } from './ask';
import { Contents } from './contents';
import { FileHead } from './filehead';
import { Findings } from './findings';
import { HangButton } from './hang';
import { Licence } from './licence';
import { asSteps, mend, planReplacement, replacementEdit, setSteps, wearers, wholeTransform } from './mending';
import { RecipeSteps } from './recipe';
import { ScaleFigure } from './scale';
import type { TextureSource } from './textures';
import { Turntable } from './turntable';
import { useWork } from './work';

const TextureDialog = lazily(() => import('./textures'), 'TextureDialog');

const NEWER = [...MODEL_EXTENSIONS, '.zip', '.bin', '.mtl', '.png', '.jpg', '.jpeg', '.webp'].join(',');

async function modelTextures(piece: string, model: string): Promise<TextureSource[]> {
  const response = await fetch(api.modelUrl(piece, model));
  if (!response.ok) throw new Error(`The model could not be fetched (${response.status}). Reload the page.`);
  const uses = await computing.readTextures(new Uint8Array(await response.arrayBuffer()));
  return uses.map(({ bytes, ...t }) => ({ ...t, blob: new Blob([bytes as Uint8Array<ArrayBuffer>], { type: t.mime }) }));
}

/** The arrival sheet of one model: turntable, true size, contents, findings, licence. */
export function Arrival({ item }: { item: ModelItem }) {
  const id = usePiece((s) => s.id);
  const store = usePieceStore();
  const doc = useDocument();
  const assets = usePiece((s) => s.assets);
  const commit = usePiece((s) => s.commit);
  const { busy, work } = useWork();
  const [looking, setLooking] = useState(false);
  const kindField = useRef<HTMLSelectElement>(null);
  useActs({ 'state-kind': { run: () => kindField.current?.focus() } });
  const [asking, setAsking] = useState<Asking | null>(null);
  const model = drawnModel(doc, item.id) as string;
  const { data, error } = useModelData(id, model);
  const found = judgeStock(doc, item.id, assets);
  const judged = found?.facts.kind === 'model' ? (found as StockJudgement<StockFacts>) : null;
  const steps = doc.recipes[item.id]?.steps ?? [];
  const get = store.getState;

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
    commit(change('stock', item.id, { dismissed: reason === null ? rest : [...rest, { code: f.code, where: f.where ?? '', reason }] }));
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
      const answer = await sendGroup(id, group);
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
      <FileHead item={item} busy={busy} accept={NEWER} onReplace={replaceWith}>
        <HangButton item={item} waits={judged?.findings.some((f) => f.level === 'blocker' && f.fix) ?? false} />
      </FileHead>
      <Turntable name={item.name} model={model} data={data} error={error} />
      <section className="sheet px-3 pt-2 pb-3" data-busy={busy ? '' : undefined}>
        <header className="flex items-center gap-3 pb-1.5 rule-double mb-2.5">
          <h3 className={`text-[15px] font-semibold ${busy ? 'busy' : ''}`}>
            {steps.length > 0 ? 'As mended' : 'As delivered by its author'}
          </h3>
          <label className="ml-auto flex items-center gap-1.5 text-small">
            <span className="soft">What it is</span>
            <select
              ref={kindField}
              className="field"
              style={{ width: 150, height: 26, padding: '2px 6px' }}
              value={item.stated ?? ''}
              onChange={(e) => commit(change('stock', item.id, { stated: e.target.value === '' ? null : Kind.parse(e.target.value) }))}
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
            <Contents facts={judged.facts} onLook={() => setLooking(true)} />
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
              onChange={(credit) => commit(change('stock', item.id, { credit }))}
            />
          </>
        ) : (
          <p className="text-small soft">The facts of this file are not at hand. Reload the page.</p>
        )}
      </section>
      {looking && (
        <TextureDialog title={`Pictures of ${item.name}`} load={() => modelTextures(id, model)} onClose={() => setLooking(false)} />
      )}
      {asking && <AskDialog asking={asking} onClose={() => setAsking(null)} />}
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
      <div className="grid content-center gap-y-1">
        <dl className="grid gap-y-1 text-small" style={{ gridTemplateColumns: 'auto 1fr' }} aria-label="True size">
          {(['side', 'up', 'fore'] as const).map((axis, i) => (
            <div key={axis} className="contents">
              <dt className={`font-semibold pr-4 ${axis}-t`}>{axis}</dt>
              <dd className="num text-[15px]" data-size={axis}>
                {showCount(Number(sizeMm[i].toFixed(sizeMm[i] < 10_000 ? 1 : 0)))}
                <span className="unit">mm</span>
              </dd>
            </div>
          ))}
        </dl>
        {factor === 1 && <p className="soft text-micro leading-[15px]">True size, as its nodes place it.</p>}
      </div>
    </div>
  );
}
