'use client';
import { useState } from 'react';
import { api } from '@/api';
import { type FileFacts, IMPORTERS, judgeStock, type MediaFacts } from '@/core/intake';
import {
  change,
  drawnModel,
  linkedFiles,
  type MediaItem,
  type Piece,
  partsOf,
  type RecipeStep,
  type StepDraft,
  usedFile,
} from '@/core/piece';
import { Choice, CountField, lazily } from '../kit';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { Cells, cellsOf } from './cells';
import { FileHead } from './filehead';
import { Findings } from './findings';
import { HangButton } from './hang';
import { Licence } from './licence';
import { mendOther, putStep, replaceOther, setSteps } from './mending';
import { EnvironmentPane } from './preview/environmentpane';
import { FootagePane } from './preview/footagepane';
import { MotionPane } from './preview/motionpane';
import { PicturePane } from './preview/picturepane';
import { SequencePane } from './preview/sequencepane';
import { RecipeSteps } from './recipe';
import type { TextureSource } from './textures';
import { useWork } from './work';

const TextureDialog = lazily(() => import('./textures'), 'TextureDialog');
const SoundPane = lazily(() => import('./preview/soundpane'), 'SoundPane');

const TITLES: Record<MediaFacts['kind'], string> = {
  picture: 'A picture',
  sequence: 'A picture sequence',
  sound: 'A sound',
  environment: 'An environment',
  motion: 'A motion clip',
  footage: 'A test film',
};

const ROADS: Record<MediaFacts['kind'], string[]> = {
  picture: ['picture'],
  sequence: ['picture', 'archive'],
  sound: ['sound', 'moving'],
  environment: ['environment'],
  motion: ['motion', 'gltf', 'foreign'],
  footage: ['moving'],
};

/** The arrival sheet of a file that is no model. */
export function MediaSheet({ item }: { item: MediaItem }) {
  const id = usePiece((s) => s.id);
  const store = usePieceStore();
  const doc = useDocument();
  const assets = usePiece((s) => s.assets);
  const commit = usePiece((s) => s.commit);
  const { busy, work } = useWork();
  const [looking, setLooking] = useState(false);
  const judged = judgeStock(doc, item.id, assets);
  const steps = doc.recipes[item.id]?.steps ?? [];
  const get = store.getState;
  const facts = judged?.facts;
  const put = (draft: StepDraft) => void work(() => putStep(get, item.id, draft));
  const hangs = item.kind === 'picture' || item.kind === 'sequence';
  /** A picture of an older piece has no plane yet. */
  const ready = async () => {
    if (drawnModel(get().history.doc, item.id) !== null || facts?.kind !== 'picture') return true;
    return work(() => putStep(get, item.id, { step: 'plane', settings: { widthMm: facts.sizeMm[0] } }));
  };
  return (
    <div className="h-full flex flex-col px-3 pt-2.5 pb-3 gap-3 min-h-0 overflow-y-auto">
      <FileHead
        item={item}
        busy={busy}
        accept={IMPORTERS.filter((i) => ROADS[item.kind].includes(i.road))
          .flatMap((i) => i.extensions)
          .join(',')}
        onReplace={(files) => void work(() => replaceOther(get, item, files))}
      >
        {hangs && <HangButton item={item} waits={false} ready={ready} />}
      </FileHead>
      {facts && facts.kind !== 'model' && (
        <Preview piece={id} item={item} facts={facts} used={usedFile(doc, item.id) as string} busy={busy} onStep={put} />
      )}
      <section className="sheet px-3 pt-2 pb-3" data-busy={busy ? '' : undefined}>
        <header className="flex items-center gap-3 pb-1.5 rule-double mb-2.5">
          <h3 className={`text-[15px] font-semibold ${busy ? 'busy' : ''}`}>
            {TITLES[item.kind]}
            {steps.length > 0 ? ', as prepared' : ', as it came'}
          </h3>
          {facts?.kind === 'picture' && (
            <button type="button" className="btn btn-line btn-sm btn-tight ml-auto" onClick={() => setLooking(true)}>
              Look into it
            </button>
          )}
        </header>
        {judged && facts && facts.kind !== 'model' ? (
          <>
            <Cells cells={cellsOf(facts)} />
            <Settings facts={facts} onStep={put} />
            <Findings
              judged={judged}
              kind={null}
              busy={busy}
              pictures={[]}
              onFix={(drafts) => void work(() => mendOther(get, item.id, drafts))}
              onDismiss={(f, reason) => {
                const rest = item.dismissed.filter((d) => d.code !== f.code || d.where !== (f.where ?? ''));
                const dismissed = reason === null ? rest : [...rest, { code: f.code, where: f.where ?? '', reason }];
                commit(change('stock', item.id, { dismissed }));
              }}
              onWidth={() => undefined}
            />
            <RecipeSteps steps={steps} busy={busy} onSet={(next: RecipeStep[]) => void work(() => setSteps(get, item.id, next, true))} />
            <Licence credit={item.credit} says="" onChange={(credit) => commit(change('stock', item.id, { credit }))} />
          </>
        ) : (
          <p className="text-small soft">The facts of this file are not at hand. Reload the page.</p>
        )}
      </section>
      {looking && facts?.kind === 'picture' && (
        <TextureDialog
          title={item.name}
          onClose={() => setLooking(false)}
          load={async () => {
            const blob = await fetch(api.modelUrl(id, facts.sha)).then((r) => r.blob());
            return [{ name: item.name, mime: facts.type, blob, users: usersOf(doc, item.id, facts.sha) }];
          }}
        />
      )}
    </div>
  );
}

/** Parts it hangs as, and models it was put into. */
function usersOf(doc: Piece, stockId: string, sha: string): TextureSource['users'] {
  const parts = partsOf(doc, stockId).map((p) => ({ material: p.name, role: 'hangs as a part' }));
  const models = Object.entries(doc.recipes).flatMap(([id, r]) =>
    linkedFiles(r.steps).some((l) => l.file === sha) ? [{ material: doc.stock[id].name, role: 'put into the model' }] : [],
  );
  return [...parts, ...models];
}

function Preview({
  piece,
  item,
  facts,
  used,
  busy,
  onStep,
}: {
  piece: string;
  item: MediaItem;
  facts: MediaFacts;
  used: string;
  busy: boolean;
  onStep: (d: StepDraft) => void;
}) {
  const url = (sha: string) => api.modelUrl(piece, sha);
  switch (facts.kind) {
    case 'picture':
      return <PicturePane key={facts.sha} url={url(facts.sha)} name={item.name} facts={facts} busy={busy} onStep={onStep} />;
    case 'sequence':
      return <SequencePane key={facts.sheet.sha} url={url(facts.sheet.sha)} name={item.name} facts={facts} />;
    case 'sound':
      return <SoundPane key={used} url={url(used)} name={item.name} facts={facts} />;
    case 'environment':
      return <EnvironmentPane key={used} url={url(used)} name={item.name} facts={facts} />;
    case 'motion':
      return <MotionPane key={used} piece={piece} model={used} name={item.name} facts={facts} />;
    case 'footage':
      return <FootagePane url={url(used)} name={item.name} facts={facts} />;
  }
}

const SHEETS = [512, 1024, 2048, 4096];

/** What one chooses about a file: how large it hangs, how it plays, how large it is drawn. */
function Settings({ facts, onStep }: { facts: Exclude<FileFacts, { kind: 'model' }>; onStep: (d: StepDraft) => void }) {
  if (facts.kind !== 'picture' && facts.kind !== 'sequence') return null;
  return (
    <fieldset className="flex flex-wrap items-center gap-x-4 gap-y-1.5 pt-2.5" aria-label="How it is used">
      <CountField
        before="close"
        label="Hangs"
        value={Number(facts.sizeMm[0].toFixed(2))}
        unit="mm wide"
        width={140}
        min={0.01}
        max={1e6}
        onChange={(widthMm) => onStep({ step: 'plane', settings: { widthMm } })}
      />
      {facts.kind === 'picture' && facts.format === 'svg' && (
        <CountField
          before="close"
          label="Drawn"
          whole
          value={facts.width}
          unit="px wide"
          width={130}
          min={1}
          max={8192}
          onChange={(width) => onStep({ step: 'raster', settings: { width } })}
        />
      )}
      {facts.kind === 'sequence' && (
        <>
          <CountField
            before="close"
            label="Plays"
            value={facts.fps}
            unit="frames a second"
            min={0.1}
            max={240}
            width={170}
            onChange={(fps) => onStep({ step: 'play', settings: { fps, loop: facts.loop } })}
          />
          <label className="inline-flex items-center gap-1.5 text-small">
            <input
              type="checkbox"
              checked={facts.loop}
              onChange={(e) => onStep({ step: 'play', settings: { fps: facts.fps, loop: e.target.checked } })}
            />
            Loops
          </label>
          <span className="inline-flex items-center gap-1.5">
            <span className="soft text-small">Sheet of at most</span>
            <Choice
              label="Longest edge of the sheet"
              options={SHEETS.map((edge) => ({
                value: edge,
                title: `A sheet of at most ${edge} px`,
                label: (
                  <>
                    <span className="num">{edge}</span> px
                  </>
                ),
              }))}
              value={SHEETS.find((e) => e >= Math.max(facts.sheet.width, facts.sheet.height)) ?? null}
              onChange={(edge) => onStep({ step: 'sheet', settings: { maxEdge: edge } })}
            />
          </span>
        </>
      )}
    </fieldset>
  );
}
