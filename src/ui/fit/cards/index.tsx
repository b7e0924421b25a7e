'use client';
import { Eye, EyeOff, Lock, LockOpen, Trash2 } from 'lucide-react';
import { type ComponentType, memo, type ReactNode } from 'react';
import { liftOff, mirror } from '@/core/fit';
import { factsOfStock } from '@/core/intake';
import { showCount, turnAbout } from '@/core/math';
import {
  type Anchor,
  changePart,
  drawnModel,
  fills,
  isWorn,
  lies,
  type Offset,
  offsetAtAnchor,
  type Part,
  type PartKind,
  type PartOf,
  type Piece,
} from '@/core/piece';
import { afterwards, Choice } from '../../kit';
import { useDocument, usePiece } from '../../piece/context';
import { useAnchorWords } from '../anchorwords';
import { PartMenu, SelectionActs } from '../partmenu';
import { useFitModels } from '../run';
import { useFit } from '../state';
import { Card } from './card';
import { FaceCard } from './facecard';
import { Hanging } from './hanging';
import { GroupCard, OccluderCard, OccludesRow, ScreenCard, SolidCard } from './kindcards';
import { AXES, OffsetFields } from './offsetfields';
import { Opacity } from './opacity';
import { PatchCard } from './patchcard';
import { WornCard } from './worncard';

const FinishCard = afterwards(() => import('./finishcard'), 'FinishCard');

const HALF = Math.PI / 2;
const TABS = [
  { value: 'placement', label: 'placement', title: 'Where parts are, and what they follow' },
  { value: 'finish', label: 'finish', title: 'How parts look, and what stands before what' },
] as const;

/** The selected part: its name, its placement, and what it is made of. */
export const Cards = memo(function Cards({ sight, onFrame }: { sight: ReactNode; onFrame: () => void }) {
  const doc = useDocument();
  const selected = usePiece((s) => s.selected);
  const selection = usePiece((s) => s.selection);
  const part = selected ? doc.parts[selected] : undefined;
  const hung = part && part.hang !== null;
  const tab = useFit((s) => s.tab);
  const set = useFit((s) => s.set);
  return (
    <aside
      className="flex flex-col min-h-0 overflow-y-auto border-l border-[color:var(--hair-strong)] px-2.5 pt-2"
      aria-label="Cards for the selected part"
      style={{ width: 'var(--cards)' }}
    >
      <Choice className="mb-2 shrink-0 self-start" label="The work is about" options={TABS} value={tab} onChange={(t) => set({ tab: t })} />
      {part ? (
        <>
          {selection.length > 1 ? <Several ids={selection} /> : <Heading part={part} />}
          {tab === 'placement' && (
            <>
              {hung && !fills(part) && !lies(part) && <Placement part={part} onFrame={onFrame} />}
              <Hanging part={part} />
              {hung && sight}
            </>
          )}
          <KindCard part={part} />
          {tab === 'finish' && 'opacity' in part && part.kind !== 'screen' && (
            <Card title="See-through">
              <Opacity part={part} />
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
});

/** What is said of each kind below its placement. */
const KIND_CARDS: { readonly [K in PartKind]: ComponentType<{ part: PartOf<K> }> } = {
  model: MadeOf,
  solid: (props) => (
    <>
      <SolidCard {...props} />
      <FinishCard {...props} sha={null} model={null} />
    </>
  ),
  group: GroupCard,
  occluder: OccluderCard,
  screen: ScreenCard,
  patch: PatchCard,
  face: FaceCard,
};
function KindCard({ part }: { part: Part }) {
  const Made = KIND_CARDS[part.kind] as ComponentType<{ part: Part }>;
  return <Made part={part} />;
}

function whereItHangs(doc: Piece, part: Part, words: (anchor: Anchor) => string): string {
  if (!part.hang) return 'Not hung';
  if (isWorn(part)) return 'on the body';
  if (part.hang.on === 'anchor') return words(part.hang.anchor);
  return `on ${doc.parts[part.hang.part].name}${part.hang.bone ? `, bone ${part.hang.bone}` : ''}`;
}

function Heading({ part }: { part: Part }) {
  const doc = useDocument();
  const words = useAnchorWords();
  const commit = usePiece((s) => s.commit);
  return (
    <div className="pb-2">
      <div className="flex items-start gap-1">
        <h2 className="named text-[19px] leading-[22px] break-words line-clamp-2 min-w-0 flex-1" dir="auto">
          {part.name}
        </h2>
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon"
          aria-label={part.visible ? 'Hide part' : 'Show part'}
          title={part.visible ? 'Hide part' : 'Show part'}
          aria-disabled={part.locked}
          onClick={() => !part.locked && commit(changePart(part.id, { visible: !part.visible }))}
        >
          {part.visible ? <Eye className="ico" /> : <EyeOff className="ico" />}
        </button>
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon"
          aria-label={part.locked ? 'Unlock part' : 'Lock part'}
          title={part.locked ? 'Unlock part' : 'Lock part'}
          onClick={() => commit(changePart(part.id, { locked: !part.locked }))}
        >
          {part.locked ? <Lock className="ico" /> : <LockOpen className="ico" />}
        </button>
        <PartMenu part={part} />
      </div>
      {/* what deletes lies lower than the button of Stock that hangs: a second press there must not meet it */}
      <div className="flex items-center gap-1 pt-1">
        <p className="text-micro soft truncate flex-1">{whereItHangs(doc, part, words)}</p>
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon"
          aria-label="Delete the part"
          title="Delete the part"
          aria-disabled={part.locked}
          onClick={() => !part.locked && commit(liftOff(doc, [part.id]))}
        >
          <Trash2 className="ico" />
        </button>
      </div>
    </div>
  );
}

function Placement({ part, onFrame }: { part: Part; onFrame: () => void }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const linked = useFit((s) => s.linked);
  const set = useFit((s) => s.set);
  const put = (offset: Offset) => commit(changePart(part.id, { offset }));
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
      <div className="grid gap-1.5 mt-2.5" style={{ gridTemplateColumns: '1fr 1fr 1fr' }}>
        <button
          type="button"
          className="btn btn-line btn-sm btn-tight"
          title="Place 0, turn 0, size 1"
          aria-disabled={part.locked}
          onClick={() => !part.locked && put(offsetAtAnchor())}
        >
          Put at anchor
        </button>
        <button type="button" className="btn btn-line btn-sm btn-tight" title="Bring the part into view in both plates" onClick={onFrame}>
          Into view
        </button>
        <button
          type="button"
          className="btn btn-line btn-sm btn-tight"
          title="Bring it to the other side, with what hangs from it (M)"
          aria-disabled={part.locked}
          onClick={() => !part.locked && commit(mirror(doc, [part.id]))}
        >
          Other side
        </button>
      </div>
      {'opacity' in part && <Opacity part={part} />}
    </Card>
  );
}

/** Several parts at once: what can be done with all of them. */
function Several({ ids }: { ids: readonly string[] }) {
  return (
    <div className="flex items-start gap-1 pb-2">
      <div className="min-w-0 flex-1">
        <h2 className="named text-[19px] leading-[22px]">{ids.length} parts</h2>
        <p className="text-micro soft">chosen together; cards speak of the last</p>
      </div>
      <SelectionActs ids={ids} />
    </div>
  );
}

function MadeOf({ part }: { part: PartOf<'model'> }) {
  const doc = useDocument();
  const file = doc.stock[part.stock];
  const assets = usePiece((s) => s.assets);
  const facts = factsOfStock(doc, part.stock, assets);
  const commit = usePiece((s) => s.commit);
  const sha = drawnModel(doc, part.stock);
  const model = useFitModels()[sha ?? ''];
  const looks = useFit((s) => s.tab === 'finish');
  if (!file) return null;
  const size = part.offset.size;
  const finish = model && <FinishCard part={part} sha={sha} model={model} />;
  if (looks) return finish ?? null;
  return (
    <>
      <WornCard part={part} />
      {finish}
      <Card
        title="Made of"
        extra={
          part.solid ? (
            <button type="button" className="link" onClick={() => commit(changePart(part.id, { solid: false }))}>
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
        <OccludesRow part={part} />
      </Card>
    </>
  );
}
