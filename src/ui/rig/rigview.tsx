'use client';
import { useMemo, useState } from 'react';
import { PROFILES } from '@/core/deliver';
import { drawnModel, type ModelItem, type RecipeStep, type StockItem } from '@/core/piece';
import { axesOf, loosePieces, mirroredJoint, overFour, ROOT, type SparChain, sparsOf, toldSkeleton, unhungBones } from '@/core/rig';
import { counted } from '@/core/words/counted';
import { afterwards, Flag, PageLink } from '../kit';
import { say } from '../kit/say';
import { useDocument, usePiece } from '../piece/context';
import { useOpenFile } from '../piece/openfile';
import { useWork } from '../stock/work';
import { CHAINS_EVERYWHERE, foundOf, moveJoint as moveChainJoint } from './chainacts';
import { ChainsPart } from './chainspart';
import type { RigLook } from './depthlook';
import { Ends, freeEnds } from './ends';
import { FigureList } from './figurelist';
import { useKeptStrokes } from './keptstrokes';
import { KnownBones } from './knownbones';
import { Motions } from './motions';
import { bonesSteps, type StepOf, withRaised, withStep } from './order';
import { usePainter } from './painter';
import type { Place } from './picture';
import { beforeMoves, MOVED_BEHIND } from './places';
import { RestPose } from './restpose';
import { RigFindings } from './rigfindings';
import { useDrawn, useStockClips } from './rigmodel';
import { RigStage } from './rigstage';
import { RigTools, type WeightsAsked } from './rigtools';
import { brushOf, editAt, ShareTools, useShareTool } from './sharetools';
import { TakenMotions } from './taken';
import { Tally } from './tally';
import { TesterSheet, useTester } from './tester';

const isModel = (s: StockItem): s is ModelItem => s.kind === 'model';
const NO_STEPS: readonly RecipeStep[] = [];
/** A recipe holds no more. */
const MOST_EDITS = 500;

type ChainsStep = StepOf<'chains'>;
type FigureStep = StepOf<'figure'>;
type MotionStep = StepOf<'motion'>;
type RetargetStep = StepOf<'retarget'>;
type GarmentStep = StepOf<'garment'>;

// what a garment asks for comes when it is asked
const GarmentSheet = afterwards(() => import('./garmentsheet'), 'GarmentSheet');

/** Places of bones of chains that were raised here. */
const inChains = ({ chains }: { chains: readonly SparChain[] }) => new Set(chains.flatMap((c) => (c.found ? c.spars : [])));
function hasMoreThanChains(rig: ReturnType<typeof sparsOf>): boolean {
  const own = inChains(rig);
  const others = rig.spars.filter((_, i) => !own.has(i));
  return others.length > 1 || (others.length === 1 && others[0].name !== ROOT);
}

const keyOf = (c: SparChain) => `${foundOf(c).name} ${foundOf(c).joint}`;

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
  const { busy: working, work } = useWork();
  const { sha, data, error, stale } = useDrawn(piece, drawnModel(doc, item.id) ?? item.model);
  // what is shown is not what would be changed
  const busy = working || stale;
  const steps = doc.recipes[item.id]?.steps ?? NO_STEPS;
  const has = bonesSteps(steps);
  const { chains: step, figure, garment, motion } = has;
  const stockClips = useStockClips(item.id);
  const told = useMemo(() => (data ? toldSkeleton(data) : null), [data]);
  const known = told?.missing.length === 0;
  const rig = useMemo(() => (data ? sparsOf(data) : { spars: [], chains: [] }), [data]);
  // bones of the file's own: those that nothing here raised
  const foreign = !figure && !garment && (step ? hasMoreThanChains(rig) : rig.spars.length > 0);
  const raised = figure ?? garment ?? (foreign ? undefined : step);
  const hung = step !== undefined && (foreign || raised !== step);
  const unhung = useMemo(() => (data ? unhungBones(data) : []), [data]);
  const loose = useMemo(() => (data ? loosePieces(data) : []), [data]);
  const crowded = useMemo(() => (data ? overFour(data) : 0), [data]);
  // by the name it was found under: what it is called may change, and so may its place
  const [chosenKey, setChosenKey] = useState<string | null>(null);
  const at = rig.chains.findIndex((c) => keyOf(c) === chosenKey);
  const chosen = at < 0 ? null : at;
  const setChosen = (i: number | null) => setChosenKey(i === null ? null : keyOf(rig.chains[i]));
  const [joint, setJoint] = useState<string | null>(null);
  // chosen before there are bones, for those that come
  const [method, setMethod] = useState<WeightsAsked>('auto');
  const [plates, setPlates] = useState(false);
  const [pressing, setPressing] = useState<{ root: Place | null } | null>(null);
  const limit = PROFILES[doc.settings.profile].limits.bones;

  const [look, setLook] = useState<RigLook>('shape');
  const painter = usePainter(data, look !== 'shape');
  const { keep, painted, onStroke } = useKeptStrokes(
    painter,
    item,
    steps,
    (next) => foreign || next.some((s) => s.step === raised?.step),
    work,
  );
  const put = (
    next: Pick<ChainsStep, 'step' | 'settings'> | Pick<FigureStep, 'step' | 'settings'> | Pick<GarmentStep, 'step' | 'settings'> | null,
  ) => {
    if (next?.step !== 'chains') setChosenKey(null);
    return keep(withRaised(steps, next));
  };
  const putClips = (next: Pick<MotionStep, 'step' | 'settings'> | Pick<RetargetStep, 'step' | 'settings'>) =>
    keep(withStep(steps, next.step, next.settings.clips.length > 0 ? (next.settings as never) : null));
  // on bones that are there chains hang beside them
  const putChains = (settings: ChainsStep['settings']) =>
    foreign || figure || garment ? keep(withStep(steps, 'chains', settings)) : put({ step: 'chains', settings });
  const putFigure = (settings: Partial<FigureStep['settings']>) =>
    put({ step: 'figure', settings: { detail: 22, jointsM: {}, weights, ...figure?.settings, ...settings } });
  const weights = (step ?? figure)?.settings.weights ?? method;

  const [tool, setTool] = useShareTool(rig.spars);
  const shares = has.shares?.settings;
  const stance = has.stance?.settings.rest ?? null;
  // joints and places are told where the model came to lie before its rest pose was changed
  const fixed = busy || stance !== null;
  const putShares = (settings: StepOf<'shares'>['settings'] | null) => void keep(withStep(steps, 'shares', settings));
  // of a chain its first bone, until another is chosen
  const chosenBone = rig.spars.findIndex((s) => s.name === joint);
  const bone = chosenBone >= 0 ? chosenBone : chosen !== null ? (rig.chains[chosen]?.spars[0] ?? -1) : -1;
  const tester = useTester(data, bone, look, setLook, painter);
  // weights are put right where they are seen
  const mends = tester.look === 'weights' && bone >= 0 && tool.kind !== 'off' && stance === null;
  const brushes = mends && tool.kind === 'brush' && !busy && painter.held !== null;
  const stroke = brushes
    ? { begin: (at: Place) => painter.begin(brushOf(tool, rig.spars, bone), at), to: painter.to, end: painter.end }
    : null;
  const asks = mends ? (brushes ? 'Draw over the shape; beside it the table turns.' : 'Press where weights are to be put right.') : null;
  /** What is drawn may have been moved since; it is said where that cannot be told. */
  const movedBack = (kind: RecipeStep['step']) => {
    const before = beforeMoves(steps, kind);
    if (!before) say.error(MOVED_BEHIND);
    return before;
  };
  const press = (place: Place) => {
    if (mends) {
      const before = movedBack('shares');
      const own = before && { ...tool, radiusM: before.length(tool.radiusM) };
      const edit = own && editAt(own, before.place(place), rig.spars[bone].name);
      if (edit) putShares({ mirrored: tool.mirrored, ...shares, edits: [...(shares?.edits ?? []), edit] });
      return;
    }
    if (!pressing) return;
    if (!pressing.root) return setPressing({ root: place });
    const before = movedBack('chains');
    if (before) pressed(before.place(pressing.root), before.place(place));
  };
  const pressed = (rootM: Place, tipM: Place) => {
    setPressing(null);
    const s = step?.settings;
    const beside = [...(s?.more ?? []), ...(s && s.chains !== 'all' ? s.chains : [])];
    const names = new Set([...beside.map((p) => p.name), ...rig.chains.map((c) => c.name)]);
    let n = beside.length + 1;
    while (names.has(`chain ${n}`)) n++;
    setChosenKey(`chain ${n} 0`);
    const own = { name: `chain ${n}`, rootM, tipM, bones: null };
    if (!s) void putChains({ chains: [own], more: [], changes: {}, weights });
    else void putChains(s.chains === 'all' ? { ...s, more: [...s.more, own] } : { ...s, chains: [...s.chains, own] });
  };
  const headOf = (bone: string) => rig.spars.find((s) => s.name === bone)?.head;
  const axes = figure ? axesOf(headOf) : null;
  const moveJoint = (bone: string, to: Place) => {
    const at = rig.spars.findIndex((s) => s.name === bone);
    const chain = rig.chains.find((c) => c.found && c.spars.includes(at));
    const before = movedBack(chain ? 'chains' : 'figure');
    if (!before) return;
    if (step && chain) return void putChains(moveChainJoint(step.settings, chain, chain.spars.indexOf(at), before.place(to)));
    const pair = mirroredJoint(headOf, bone, to);
    const moved = { [bone]: before.place(to), ...(pair && { [pair.name]: before.place(pair.at) }) };
    void putFigure({ jointsM: { ...figure?.settings.jointsM, ...moved } });
  };
  return (
    <div className="h-full flex flex-col min-h-0 p-3 gap-2.5" data-busy={busy ? '' : undefined}>
      <RigTools
        item={item}
        models={models}
        off={foreign || !data}
        pressOff={!data || stance !== null}
        busy={busy}
        raised={raised?.step ?? null}
        detail={figure?.settings.detail ?? null}
        weights={garment ? null : weights}
        pressing={pressing !== null}
        plates={step && !hung && rig.chains.length > 0 ? plates : null}
        onPick={onPick}
        onChains={() => void put({ step: 'chains', settings: { ...CHAINS_EVERYWHERE, more: [], weights } })}
        onFigure={() => void putFigure({ jointsM: {} })}
        onGarment={() => void put({ step: 'garment', settings: garment?.settings ?? { form: 'M', detail: 22, smooth: 6 } })}
        onPress={() => {
          setPlates(false);
          setPressing(pressing ? null : { root: null });
        }}
        onWeights={(w) => {
          setMethod(w);
          if (step) void putChains({ ...step.settings, weights: w });
          if (figure) void putFigure({ weights: w });
        }}
        onDetail={(detail) => void putFigure({ detail })}
        onPlates={() => setPlates(!plates)}
        onAway={() => void put(null)}
      />
      <div className="rig">
        <RigStage
          shown={{ sha, name: item.name, ready: data !== null, error }}
          rig={rig}
          unhung={unhung}
          tester={tester}
          chosen={chosen}
          joint={joint}
          busy={busy}
          fixed={fixed}
          pressing={pressing}
          asks={asks}
          stroke={stroke}
          axes={figure && !mends && !pressing ? axes : null}
          plates={plates && !mends && !hung}
          pair={(bone, to) => mirroredJoint(headOf, bone, to)}
          onPress={press}
          onChoose={setChosen}
          onJoint={setJoint}
          onMove={moveJoint}
          onChainJoint={
            step &&
            ((c, k, to) => {
              const before = movedBack('chains');
              if (before) void putChains(moveChainJoint(step.settings, c, k, before.place(to)));
            })
          }
        />
        <section
          className="sheet px-3 pt-2 pb-3 overflow-y-auto min-h-0"
          aria-label={garment ? 'Bones of the garment' : figure ? 'Joints' : 'Chains'}
        >
          <header className="flex items-baseline gap-2 mb-1">
            <h3 className="text-[15px] font-semibold">{garment ? 'On the body' : figure ? 'Joints' : 'Sail plan'}</h3>
            <span className="soft text-small ml-auto">
              {garment
                ? ''
                : figure
                  ? 'drag one in a plate; its pair follows'
                  : rig.chains.length > 0
                    ? `${counted(rig.chains.length, 'chain')}, root at left, lengths to scale`
                    : ''}
            </span>
          </header>
          {rig.spars.length > 0 && (
            <TesterSheet tester={tester} clips={data?.clips ?? []} bones={rig.spars.map((s) => s.name)} bone={bone} onBone={setJoint} />
          )}
          {tester.look === 'weights' && bone >= 0 && (
            <ShareTools
              tool={tool}
              settings={shares}
              bone={rig.spars[bone].name}
              strokes={painter.strokes}
              painted={painted}
              busy={busy}
              onTool={setTool}
              onStroke={(what) => onStroke[what]()}
              onChange={putShares}
            />
          )}
          {foreign && told && data && (
            <KnownBones
              told={told}
              model={data}
              joints={has.known?.settings.joints ?? {}}
              busy={busy}
              onTell={(joints) => void keep(withStep(steps, 'known', Object.keys(joints).length > 0 ? { joints } : null))}
            />
          )}
          {((figure && axes) || (foreign && known)) && (
            <>
              <RestPose rest={stance} busy={busy} onChange={(rest) => void keep(withStep(steps, 'stance', rest ? { rest } : null))} />
              <Motions
                clips={motion?.settings.clips ?? []}
                busy={busy}
                onChange={(clips) => void putClips({ step: 'motion', settings: { clips } })}
              />
              <TakenMotions
                clips={has.retarget?.settings.clips ?? []}
                stock={stockClips}
                busy={busy}
                onChange={(clips) => void putClips({ step: 'retarget', settings: { clips } })}
              />
            </>
          )}
          {garment ? (
            <GarmentSheet
              settings={garment.settings}
              spars={rig.spars}
              busy={busy}
              chosen={joint}
              onChoose={setJoint}
              onChange={(settings) => void put({ step: 'garment', settings })}
            />
          ) : figure && axes ? (
            <FigureList
              spars={hung ? rig.spars.filter((_, i) => !inChains(rig).has(i)) : rig.spars}
              given={new Set(Object.keys(figure.settings.jointsM))}
              chosen={joint}
              busy={fixed}
              onChoose={(b) => setJoint(b === joint ? null : b)}
              onMove={moveJoint}
              onKeep={(b) => {
                const [at, before] = [headOf(b), movedBack('figure')];
                if (at && before) void putFigure({ jointsM: { ...figure.settings.jointsM, [b]: before.place(at) } });
              }}
              onFree={(b) => {
                const { [b]: _, ...rest } = figure.settings.jointsM;
                void putFigure({ jointsM: rest });
              }}
            />
          ) : rig.spars.length === 0 ? (
            <div className="empty min-h-[150px] text-small">
              {busy
                ? 'Bones are raised and weights are found …'
                : 'There are no bones yet. “Chains in all limbs” raises one in everything long, “A figure” the bones of a body, “A garment” those of the body it lies on; or press a root and a tip on the picture.'}
            </div>
          ) : null}
          {figure && data && (
            <Ends
              ends={freeEnds(
                data.nodes.flatMap((n) => n.ends),
                rig,
                (p) => beforeMoves(steps, 'chains')?.place(p) ?? p,
              )}
              busy={fixed}
              onChain={(e) => pressed(e.rootM, e.tipM)}
            />
          )}
          <ChainsPart
            settings={step?.settings}
            rig={rig}
            hung={hung || (raised !== undefined && !step)}
            chosen={chosen}
            busy={busy}
            onChoose={setChosen}
            onChange={(next) => void (next ? putChains(next) : hung ? keep(withStep(steps, 'chains', null)) : put(null))}
          />
          {foreign && (
            <p className="text-small mt-2 flex gap-1.5 items-start">
              <Flag kind="note" size={14} />
              The file came with these bones. They are shown as they are; a chain that is pressed hangs from the bone there.
            </p>
          )}
          {rig.spars.length > 0 && <Tally bones={rig.spars.length} limit={limit} />}
          <RigFindings
            unhung={unhung.map((i) => rig.spars[i].name)}
            loose={loose}
            crowded={crowded}
            bones={rig.spars.length}
            limit={limit}
            settings={has.bones?.settings}
            busy={busy}
            onMend={(settings) => void keep(withStep(steps, 'bones', settings))}
            onHang={(pieces) => {
              const before = movedBack('shares');
              const hung = before && pieces.map(({ atM, bone }) => ({ kind: 'piece' as const, atM: before.place(atM), bone }));
              if (hung) putShares({ mirrored: false, ...shares, edits: [...(shares?.edits ?? []), ...hung].slice(0, MOST_EDITS) });
            }}
          />
        </section>
      </div>
    </div>
  );
}
