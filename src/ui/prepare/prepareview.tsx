'use client';
import { Check, Layers, Plus, RotateCcw } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { api, type JobAnswer, type JobTarget, type MeasureResult, type SolveResult } from '@/api';
import { PROFILES } from '@/core/deliver';
import { showBytesFinely } from '@/core/math';
import type { ModelItem, RecipeStep, StepDraft, StockItem } from '@/core/piece';
import { viewingDistance } from '@/core/prepare/viewing';
import { useActs } from '../acts';
import { Menu, PageLink, useOwnUndo } from '../kit';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { ModelPick } from '../piece/modelpick';
import { useOpenFile } from '../piece/openfile';
import { setSteps } from '../stock/mending';
import { useWork } from '../stock/work';
import { BatchDialog } from './batch';
import { Compare } from './compare';
import { awaitSearch, draftKey, dropDraft, redoDraft, setDraft, undoDraft, useDrafts } from './drafts';
import { FrontSheet } from './frontsheet';
import { Failed, JobLine, Trouble } from './joblines';
import { isOpen, useJobs } from './jobs';
import { Load } from './load';
import { usePainting, useParts } from './painting';
import { RecipesMenu } from './recipes';
import { asFound, asStep, beforeSearch, OFFERED, portable, sameSteps } from './steps';
import { StepTable } from './steptable';

const NO_STEPS: readonly RecipeStep[] = [];
const CHANGED = 'a change of the recipe';

/** Steps taken along to another model. */
interface Carried {
  to: string;
  steps: RecipeStep[];
}

const isModel = (s: StockItem): s is ModelItem => s.kind === 'model';

export function PrepareView() {
  const doc = useDocument();
  const id = usePiece((s) => s.id);
  const models = Object.values(doc.stock).filter(isModel);
  const { file: item, choose } = useOpenFile(isModel);
  const [carried, setCarried] = useState<Carried | null>(null);
  if (!item)
    return (
      <div className="h-full p-3">
        <h2 className="text-[15px] font-semibold mb-2">Prepare</h2>
        <div className="empty h-[220px] text-small">
          <span>
            There is no model yet. Bring one in at{' '}
            <PageLink className="fix" href={`/piece/${id}/stock`}>
              Stock
            </PageLink>
            ; here it is made light without anyone seeing it.
          </span>
        </div>
      </div>
    );
  const pick = (to: string) => {
    setCarried(null);
    choose(to);
  };
  const carry = (to: string, steps: RecipeStep[]) => {
    setCarried({ to, steps });
    choose(to);
  };
  return (
    <Bench
      key={item.id}
      item={item}
      models={models}
      carried={carried?.to === item.id ? carried.steps : null}
      onPick={pick}
      onCarry={carry}
    />
  );
}

const started = (a: JobAnswer, b: JobAnswer) => (a.createdAt < b.createdAt ? 1 : a.createdAt > b.createdAt ? -1 : a.id < b.id ? 1 : -1);

function Bench({
  item,
  models,
  carried,
  onPick,
  onCarry,
}: {
  item: ModelItem;
  models: readonly ModelItem[];
  carried: RecipeStep[] | null;
  onPick: (id: string) => void;
  onCarry: (to: string, steps: RecipeStep[]) => void;
}) {
  const doc = useDocument();
  const piece = usePiece((s) => s.id);
  const store = usePieceStore();
  const { busy, work } = useWork();
  const jobs = useJobs(piece);
  const kept = doc.recipes[item.id]?.steps ?? NO_STEPS;
  const key = draftKey(piece, item.id);
  const draft = useDrafts((s) => s.all[key]);
  const steps = useMemo(() => [...(draft?.steps ?? kept)], [draft, kept]);
  const put = (to: readonly RecipeStep[]) => setDraft(key, kept, to);
  // while a recipe is worked at, its steps come first
  useOwnUndo(
    draft?.past.length ? { label: CHANGED, run: () => undoDraft(key) } : null,
    draft?.future.length ? { label: CHANGED, run: () => redoDraft(key) } : null,
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: taken along once
  useEffect(() => {
    if (carried) put(carried);
  }, [carried]);
  const [batching, setBatching] = useState(false);
  const target: JobTarget = { stock: item.id, original: item.original, model: item.model, name: item.name, kind: item.stated };
  // another kind is looked at from another distance
  const mine = useMemo(
    () =>
      [...jobs.all.values()]
        .filter(({ request: r }) => {
          const t = r.job === 'batch' ? null : r.target;
          return t?.stock === item.id && t.model === item.model && t.kind === item.stated;
        })
        .sort(started),
    [jobs, item],
  );
  const parts = useParts(item);
  const { painting, brush } = usePainting(steps, put, parts.diagonalMm);
  const limits = PROFILES[doc.settings.profile].limits;
  const batch = [...jobs.all.values()].filter((j) => j.request.job === 'batch').sort(started)[0];
  const before = beforeSearch(steps);
  const measured = mine.find((j) => j.request.job === 'measure' && sameSteps(j.request.steps, steps));
  const result = measured?.result?.job === 'measure' ? (measured.result as MeasureResult) : null;
  const search = mine.find(
    ({ request: r }) => r.job === 'solve' && sameSteps(r.steps, before) && JSON.stringify(r.limits) === JSON.stringify(limits),
  );
  const found = search?.result?.job === 'solve' ? (search.result as SolveResult) : null;
  const tried = found ? found.front.findIndex((p) => sameSteps([...before, ...p.steps], steps)) : -1;
  // the lightest that is not seen; where the limit asks for more, what the search chose
  const unseen = found?.front.findIndex((p) => p.e <= 1) ?? -1;
  const pick = found && unseen >= 0 && unseen < found.chosen ? unseen : (found?.chosen ?? -1);
  const [refused, setRefused] = useState<string | null>(null);
  const ask = (what: Parameters<typeof api.addJob>[1]) =>
    api.addJob(piece, what).then(
      (job) => {
        setRefused(null);
        return job;
      },
      (e: Error) => {
        setRefused(e.message);
        return null;
      },
    );
  const searchLightest = async () => {
    if (isOpen(search)) return;
    const job = await ask({ job: 'solve', target, steps: before, limits });
    if (job) awaitSearch(key, kept, job.id);
  };
  // what was searched for is tried as soon as it is found, unless the table has become another meanwhile
  const awaited = draft?.awaits ? jobs.all.get(draft.awaits) : undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for a search that ended
  useEffect(() => {
    if (!awaited || isOpen(awaited)) return;
    awaitSearch(key, kept, null);
    if (awaited.id === search?.id && found && pick >= 0 && sameSteps(before, steps))
      put([...before, ...found.front[pick].steps.map(asFound)]);
  }, [awaited?.id, awaited?.state]);
  const keep = () => {
    if (!changed || busy) return;
    void work(() => setSteps(store.getState, item.id, [...steps], true, result?.asset ?? null)).then((done) => done && dropDraft(key));
  };

  // what stands in the table is measured; an older measurement that still runs is of no use any more
  const asked = useRef<string | null>(null);
  const recipe = JSON.stringify(steps.map((s) => [s.step, s.settings, s.on]));
  // one that was stopped for another recipe is taken up when one comes back to it
  const isKnown = !jobs.heard || (measured !== undefined && measured.state !== 'stopped');
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked once per recipe
  useEffect(() => {
    if (isKnown || asked.current === recipe) return;
    const timer = setTimeout(async () => {
      asked.current = recipe;
      for (const j of mine) if (j.request.job === 'measure' && isOpen(j)) await api.stopJob(piece, j.id).catch(() => undefined);
      await ask({ job: 'measure', target, steps });
    }, 500);
    return () => clearTimeout(timer);
  }, [recipe, isKnown]);

  // the search first: it is what one waits for
  const open = [search, measured].flatMap((j) => (j && isOpen(j) ? [j] : []));
  // a search that was stopped is begun by its button, a measurement has none
  const failed = [measured, search].find((j) => j?.state === 'failed' || (j?.state === 'stopped' && j === measured));
  const keptResult = mine.find((j) => j.request.job === 'measure' && sameSteps(j.request.steps, kept))?.result;
  // without steps it is kept as it came, which any result tells
  const untouched = kept.some((s) => s.on) ? null : (result?.before.bytes ?? null);
  const keptBytes = keptResult?.job === 'measure' ? keptResult.after.bytes : untouched;
  const after = steps.some((s) => s.on) ? (result?.asset?.model ?? null) : null;
  const changed = !sameSteps(steps, kept);
  useActs({
    'find-lightest': { run: () => void searchLightest(), off: isOpen(search) ? 'the search is under way.' : null },
    'keep-result': { run: keep, off: changed ? null : 'the piece uses it as it stands here already.' },
  });
  return (
    <div className="h-full flex flex-col p-3 pt-2.5 gap-2.5 overflow-y-auto">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <h2 className="text-[15px] font-semibold">Prepare</h2>
        <ModelPick value={item.id} models={models} onPick={onPick} />
        {open.map((j) => (
          <JobLine key={j.id} job={j} piece={piece} />
        ))}
        {open.length === 0 && failed && <Failed job={failed} piece={piece} />}
        {refused && (
          <Trouble
            why={refused}
            again={() => {
              asked.current = null;
              void ask({ job: 'measure', target, steps });
            }}
          />
        )}
        {jobs.away && !refused && <Trouble why="The server does not answer; what it works out is told when it is back." />}
        <span className="ml-auto" />
        {models.length > 1 && (
          <button type="button" className="btn btn-line btn-sm" onClick={() => setBatching(true)}>
            <Layers className="ico" />
            Many models
            {batch && isOpen(batch) && <span className="num">{Math.round(batch.share * 100)} %</span>}
          </button>
        )}
        {changed && (
          <button type="button" className="btn btn-line btn-sm" onClick={() => put(kept)}>
            <RotateCcw className="ico" />
            Back to what is kept
          </button>
        )}
        <button
          type="button"
          className="btn btn-primary btn-sm"
          aria-disabled={!changed || busy}
          title={changed ? 'The piece uses the model as it stands here' : 'The piece uses it as it stands here already'}
          onClick={keep}
        >
          <Check className="ico" />
          Keep this result
        </button>
      </div>
      <div className="bench">
        <div className="flex min-h-0">
          <Compare
            piece={piece}
            before={item.model}
            after={after}
            moved={result?.moved}
            weights={result}
            error={result?.error ?? null}
            distanceM={viewingDistance(item.stated)}
            brush={brush}
          />
        </div>
        <FrontSheet
          found={found}
          pick={pick}
          tried={tried}
          limit={limits.bytes}
          undrawn={result?.undrawn ?? []}
          searching={isOpen(search)}
          onSearch={() => void searchLightest()}
          onTry={(i) => found && put([...before, ...found.front[i].steps.map(asFound)])}
        />
        <section className="sheet px-3 pt-2 pb-1 flex flex-col min-h-0" aria-label="Recipe">
          <header className="flex items-baseline justify-between pb-1">
            <h3 className="text-[15px] font-semibold">What each step saved</h3>
            <span className="flex gap-1.5">
              <RecipesMenu
                steps={steps}
                models={models}
                current={item.id}
                onApply={(list) => put([...steps, ...list])}
                onCopy={(to) =>
                  onCarry(to, [...(doc.recipes[to]?.steps ?? []), ...portable(steps).map((s) => ({ ...asStep(s), on: s.on }))])
                }
              />
              <AddStep onAdd={(d) => put([...steps, asStep(d)])} />
            </span>
          </header>
          <div className="flex-1 min-h-0 overflow-y-auto">
            {steps.length === 0 ? (
              <p className="empty h-[100px] text-small">No steps yet: the model is used as it came.</p>
            ) : (
              <StepTable steps={steps} costs={result?.steps ?? []} parts={parts} painting={painting} onChange={put} />
            )}
          </div>
          {result && steps.length > 0 && <Total result={result} />}
        </section>
        <Load item={item} result={result} kept={keptBytes} />
      </div>
      {batching && <BatchDialog models={models} steps={steps} job={batch} onClose={() => setBatching(false)} />}
    </div>
  );
}

function AddStep({ onAdd }: { onAdd: (d: StepDraft) => void }) {
  return (
    <Menu
      label="Add a step"
      className="btn btn-line btn-sm btn-tight"
      align="right"
      button={
        <>
          <Plus className="ico" />
          Add a step
        </>
      }
      groups={[{ id: 'Steps', entries: OFFERED.map(({ label, about, draft }) => ({ id: label, label, about, act: () => onAdd(draft) })) }]}
    />
  );
}

function Total({ result }: { result: MeasureResult }) {
  const { before, after, e, error } = result;
  const share = before.bytes > 0 ? 1 - after.bytes / before.bytes : 0;
  return (
    <footer className="flex items-baseline gap-3 pt-1 text-small">
      <b className="font-semibold">All together</b>
      <span className="num">
        {showBytesFinely(before.bytes)} → {showBytesFinely(after.bytes)}
      </span>
      <span className="soft">{(share * 100).toFixed(1)} % lighter</span>
      {e !== null && error && (
        <span
          className="ml-auto"
          title={`mean ${error.meanMm.toFixed(3)} mm, most ${error.maxMm.toFixed(3)} mm, normals ${error.normalDeg.toFixed(2)}°, silhouette ${(error.silhouette * 100).toFixed(2)} %, similarity ${error.ssimWorst.toFixed(4)} ${error.worstView}`}
        >
          E <b className="num">{e.toFixed(2)}</b> {e <= 1 ? 'not seen' : 'seen'}
        </span>
      )}
    </footer>
  );
}
