'use client';
import { Crosshair, Undo2, Wand2 } from 'lucide-react';
import { type PointerEvent, useMemo, useRef, useState } from 'react';
import { ulid } from 'ulid';
import { PROFILES } from '@/core/deliver';
import { drawnModel, type ModelItem, type RecipeStep, STEPS, type StockItem, WEIGHT_METHODS } from '@/core/piece';
import { type SparChain, sparsOf } from '@/core/rig';
import { counted } from '@/core/words/counted';
import { USUAL_HEIGHT_RAD } from '@/stage/camera';
import { Flag, PageLink, PickField, useSize, useTurning } from '../kit';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { NotThere } from '../piece/fetching';
import { useModelData } from '../piece/modeldata';
import { useOpenFile } from '../piece/openfile';
import { pixelRatio, stageNow, useDraw } from '../piece/stagehooks';
import { setSteps } from '../stock/mending';
import { WEIGHT_WORDS } from '../stock/recipe';
import { useWork } from '../stock/work';
import { SailPlan } from './sailplan';
import { SparLayer } from './sparlayer';

const isModel = (s: StockItem): s is ModelItem => s.kind === 'model';
const NO_STEPS: readonly RecipeStep[] = [];
type ChainsStep = Extract<RecipeStep, { step: 'chains' }>;
type Pressed = Extract<ChainsStep['settings']['chains'], readonly unknown[]>[number];
type Place = [number, number, number];

export function RigView() {
  const doc = useDocument();
  const id = usePiece((s) => s.id);
  const models = Object.values(doc.stock).filter(isModel);
  const { file: item, choose } = useOpenFile(isModel);
  if (!item)
    return (
      <div className="h-full p-3">
        <h2 className="text-[15px] font-semibold mb-2">Rig</h2>
        <div className="empty h-[220px] text-small">
          <span>
            There is no model yet. Bring one in at{' '}
            <PageLink className="fix" href={`/piece/${id}/stock`}>
              Stock
            </PageLink>
            ; here it gets bones that let it sway.
          </span>
        </div>
      </div>
    );
  return <RigBench key={item.id} item={item} models={models} onPick={choose} />;
}

function RigBench({ item, models, onPick }: { item: ModelItem; models: readonly ModelItem[]; onPick: (id: string) => void }) {
  const doc = useDocument();
  const piece = usePiece((s) => s.id);
  const store = usePieceStore();
  const { busy, work } = useWork();
  const sha = drawnModel(doc, item.id) ?? item.model;
  const { data, error } = useModelData(piece, sha);
  const steps = doc.recipes[item.id]?.steps ?? NO_STEPS;
  const step = steps.find((s): s is ChainsStep => s.step === 'chains');
  const rig = useMemo(() => (data ? sparsOf(data) : { spars: [], chains: [] }), [data]);
  const [chosen, setChosen] = useState<number | null>(null);
  // chosen before there are bones, for those that come
  const [method, setMethod] = useState<(typeof WEIGHT_METHODS)[number]>('auto');
  const [pressing, setPressing] = useState<{ root: Place | null } | null>(null);
  const limit = PROFILES[doc.settings.profile].limits.bones;

  const put = (settings: ChainsStep['settings'] | null) => {
    const others = steps.filter((s) => s.step !== 'chains');
    // steps that show when bytes are written come after bones; everything else was done to the shape they lie in
    const at = others.findIndex((s) => STEPS[s.step].effect === 'pack');
    const before = at < 0 ? others : others.slice(0, at);
    const own: RecipeStep[] = settings ? [{ id: step?.id ?? ulid(), on: true, step: 'chains', settings }] : [];
    setChosen(null);
    return work(() => setSteps(store.getState, item.id, [...before, ...own, ...others.slice(before.length)], true));
  };
  const weights = step?.settings.weights ?? method;
  const pressed: readonly Pressed[] = step && step.settings.chains !== 'all' ? step.settings.chains : [];
  /** The pressed chain that a chain of the file is. */
  const asked = (c: SparChain) =>
    step && step.settings.chains !== 'all' ? pressed.findIndex((p, i) => (p.name ?? `limb ${i + 1}`) === c.name) : -1;

  const press = (place: Place) => {
    if (!pressing) return;
    if (!pressing.root) return setPressing({ root: place });
    setPressing(null);
    const names = new Set(pressed.map((p) => p.name));
    let n = pressed.length + 1;
    while (names.has(`chain ${n}`)) n++;
    void put({ chains: [...pressed, { name: `chain ${n}`, rootM: pressing.root, tipM: place, bones: null }], weights });
  };
  const own = step !== undefined;
  const foreign = !own && rig.spars.length > 0;
  return (
    <div className="h-full flex flex-col min-h-0 p-3 gap-2.5" data-busy={busy ? '' : undefined}>
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="text-[15px] font-semibold mr-1">Rig</h2>
        <select
          className="field h-[30px]! w-auto! max-w-[260px] text-small"
          aria-label="Model"
          value={item.id}
          onChange={(e) => onPick(e.target.value)}
        >
          {models.map((m) => (
            <option key={m.id} value={m.id}>
              {m.name}
            </option>
          ))}
        </select>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={busy || foreign || !data}
          title="A chain in each limb of the shape, joined to one root, with weights"
          onClick={() => void put({ chains: 'all', weights })}
        >
          <Wand2 className="ico" />
          Chains in all limbs
        </button>
        <button
          type="button"
          className="btn btn-line btn-sm"
          disabled={busy || foreign || !data}
          aria-pressed={pressing !== null}
          title="Two presses on the picture: where a chain begins, and where it ends"
          onClick={() => setPressing(pressing ? null : { root: null })}
        >
          <Crosshair className="ico" />
          Press root and tip
        </button>
        <PickField
          label="Weights"
          value={weights}
          options={WEIGHT_METHODS.map((w) => [w, WEIGHT_WORDS[w]] as const)}
          onChange={(w) => {
            setMethod(w);
            if (step) void put({ ...step.settings, weights: w });
          }}
        />
        {own && (
          <button type="button" className="btn btn-bare btn-sm ml-auto" disabled={busy} onClick={() => void put(null)}>
            <Undo2 className="ico" />
            Take the bones away
          </button>
        )}
      </div>
      <div className="rig">
        <Picture
          sha={sha}
          name={item.name}
          ready={data !== null}
          error={error}
          rig={rig}
          chosen={chosen}
          pressing={pressing}
          busy={busy}
          onPress={press}
          onChoose={setChosen}
        />
        <section className="sheet px-3 pt-2 pb-3 overflow-y-auto min-h-0" aria-label="Chains">
          <header className="flex items-baseline gap-2 mb-1">
            <h3 className="text-[15px] font-semibold">Sail plan</h3>
            <span className="soft text-small ml-auto">
              {rig.chains.length > 0 ? `${counted(rig.chains.length, 'chain')}, root at left, lengths to scale` : ''}
            </span>
          </header>
          {rig.chains.length > 0 ? (
            <SailPlan
              spars={rig.spars}
              chains={rig.chains}
              chosen={chosen}
              busy={busy}
              onChoose={(i) => setChosen(i === chosen ? null : i)}
              actsOf={(c) => {
                const at = asked(c);
                if (at < 0) return { more: null, strike: null };
                const set = (chains: Pressed[]) => void put(chains.length > 0 ? { chains, weights } : null);
                return {
                  more: (by) =>
                    set(pressed.map((p, i) => (i === at ? { ...p, bones: Math.min(24, Math.max(1, c.spars.length + by)) } : p))),
                  strike: () => set(pressed.filter((_, i) => i !== at)),
                };
              }}
            />
          ) : (
            <div className="empty min-h-[150px] text-small">
              {busy
                ? 'Bones are raised and weights are found …'
                : 'There are no bones yet. “Chains in all limbs” raises one in everything long; or press a root and a tip on the picture.'}
            </div>
          )}
          {foreign && (
            <p className="text-small mt-2 flex gap-1.5 items-start">
              <Flag kind="note" size={14} />
              The file came with these bones. They are shown as they are; chains are raised only in a model without any.
            </p>
          )}
          {rig.spars.length > 0 && <Tally bones={rig.spars.length} limit={limit} />}
        </section>
      </div>
    </div>
  );
}

/** As many notches as the limit has bones, those that are used filled; a brass post at the limit. */
function Tally({ bones, limit }: { bones: number; limit: number | null }) {
  const most = Math.max(bones, limit ?? 0);
  const over = limit !== null && bones > limit;
  return (
    <div className="mt-3 pt-2 border-t border-[color:var(--hair)]">
      <div className="flex items-baseline text-small">
        <span>
          <b>Bones</b> <b className="num">{bones}</b>
          {limit !== null && (
            <>
              {' '}
              of <span className="num">{limit}</span>
            </>
          )}
        </span>
        <span className="ml-auto soft flex items-center gap-1">
          {over && <Flag kind="warning" size={13} />}
          {limit === null ? 'no limit' : over ? `${bones - limit} over the limit` : `${limit - bones} to spare`}
        </span>
      </div>
      <svg className="block w-full" height="18" viewBox={`0 0 ${most * 4 + 4} 18`} preserveAspectRatio="none" aria-hidden="true">
        {Array.from({ length: most }, (_, i) => (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: notches have no other name
            key={i}
            x={i * 4 + 1}
            y="3"
            width="2"
            height="10"
            fill={i >= bones ? 'none' : limit !== null && i >= limit ? 'var(--warning)' : 'var(--ink)'}
            stroke={i >= bones ? 'var(--hair-strong)' : 'none'}
            strokeWidth=".4"
          />
        ))}
        {limit !== null && <rect x={limit * 4 + 0.5} y="0" width="1.4" height="18" fill="var(--brass)" />}
      </svg>
    </div>
  );
}

function Picture({
  sha,
  name,
  ready,
  error,
  rig,
  chosen,
  pressing,
  busy,
  onPress,
  onChoose,
}: {
  sha: string;
  name: string;
  ready: boolean;
  error: string | null;
  rig: ReturnType<typeof sparsOf>;
  chosen: number | null;
  pressing: { root: Place | null } | null;
  busy: boolean;
  onPress: (place: Place) => void;
  onChoose: (chain: number) => void;
}) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { headingDeg, turn, handlers } = useTurning(26);
  const [marks, setMarks] = useState<{ heads: [number, number][]; tails: [number, number][]; root: [number, number] | null } | null>(null);
  const size = { width, height, ratio: pixelRatio() };
  const show = {
    items: [{ sha }],
    frame: { sha },
    view: { headingRad: (headingDeg * Math.PI) / 180, heightRad: USUAL_HEIGHT_RAD },
    look: 'lit' as const,
  };
  const root = pressing?.root ?? null;
  useDraw(
    (stage) => {
      if (!canvas.current || width === 0 || !ready) return;
      stage.drawTable(canvas.current, size, show);
      const places = [...rig.spars.flatMap((s) => [...s.head, ...s.tail]), ...(root ?? [])];
      const at = stage.marksOnTable(size, show, places);
      if (!at) return setMarks(null);
      const px = (i: number): [number, number] => [at[i * 2] * width, at[i * 2 + 1] * height];
      setMarks({
        heads: rig.spars.map((_, i) => px(i * 2)),
        tails: rig.spars.map((_, i) => px(i * 2 + 1)),
        root: root ? px(rig.spars.length * 2) : null,
      });
    },
    [width, height, ready, headingDeg, sha, rig, root],
  );
  const press = (e: PointerEvent<HTMLElement>) => {
    const box = ref.current?.getBoundingClientRect();
    if (!box || (e.target as HTMLElement).closest('button')) return;
    const place = stageNow()?.pickTable(size, show, (e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height);
    if (place) onPress(place);
  };
  return (
    <div
      ref={ref}
      className="relative water gridded border border-[color:var(--ink)] overflow-hidden min-h-[260px]"
      style={{ touchAction: 'none', cursor: pressing ? 'crosshair' : 'grab' }}
      {...(pressing && !busy ? { onPointerDown: press } : handlers)}
    >
      <canvas
        ref={canvas}
        className="plate-canvas"
        role="img"
        aria-label={`${name} and its bones, ${counted(rig.spars.length, 'bone')}`}
        data-view="rig"
        data-ready={ready ? sha : ''}
      />
      {!ready && <NotThere what="The model" why={error} />}
      {marks && marks.heads.length === rig.spars.length && (
        <SparLayer
          spars={rig.spars}
          chains={rig.chains}
          heads={marks.heads}
          tails={marks.tails}
          chosen={chosen}
          pressed={marks.root}
          onChoose={onChoose}
        />
      )}
      <button
        type="button"
        className="btn btn-line btn-sm btn-tight absolute right-2 top-2"
        title="Turn the table by 45°"
        onClick={() => turn(45)}
      >
        Turn
      </button>
      <p className="absolute left-3 bottom-2 text-small" role="status">
        {busy
          ? 'Bones are raised and weights are found …'
          : pressing
            ? pressing.root
              ? 'Press where the chain ends.'
              : 'Press where the chain begins.'
            : ''}
      </p>
    </div>
  );
}
