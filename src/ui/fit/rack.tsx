'use client';
import {
  DndContext,
  type DragEndEvent,
  type DragMoveEvent,
  PointerSensor,
  pointerWithin,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { X } from 'lucide-react';
import { type ComponentProps, memo, type RefObject, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { rehang } from '@/core/fit';
import {
  ANCHOR_LABELS,
  ANCHORS,
  type Anchor,
  anchorKey,
  anchorLabel,
  batch,
  type Edit,
  EditError,
  type Hang,
  isMade,
  isWorn,
  onPart,
  order,
  type Part,
  type Piece,
  partDef,
  rackOf,
  shownWearer,
  wearerWords,
} from '@/core/piece';
import { restFramesOf } from '@/core/run';
import { counted } from '@/core/words/counted';
import { Choice, dragWords, Mark } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { useAnchorWords } from './anchorwords';
import { HangMenu, useHangFile } from './hangmenu';
import { ANCHOR_MARKS, onAnchorKey } from './kinds';
import { Layers } from './layers';
import { Rows } from './rows';
import { useFitRunRef } from './run';
import { Shelf } from './shelf';
import { useFit } from './state';
import type { DropAt } from './tag';
import { useWalk } from './walk';

/** Where in a row something is dropped: its upper third, its middle, its lower third. */
function placeIn(e: DragMoveEvent | DragEndEvent, target: Part | undefined): DropAt | null {
  const { over, active } = e;
  const from = active.rect.current.translated;
  if (!over || !from) return null;
  const y = (e.activatorEvent as PointerEvent).clientY + e.delta.y;
  const share = (y - over.rect.top) / over.rect.height;
  if (target && !partDef(target).onParts) return share < 0.5 ? 'before' : 'after';
  return share < 0.3 ? 'before' : share > 0.7 ? 'after' : 'into';
}

// made once: new ones would draw every row anew
const PRESSED = { activationConstraint: { distance: 5 } };

/** What is dragged: a part, or a file of the shelf. */
const FILE = 'file:';

/** The parts by their anchors, or the layers by their stacking; under them the files of Stock. A drag in a view does not concern it. */
export const Rack = memo(function Rack() {
  // in slices, after the views: hundreds of rows never hold up the hand
  const doc = useDeferredValue(useDocument());
  const listBy = useFit((s) => s.listBy);
  const set = useFit((s) => s.set);
  const count = doc.orders.parts.length;
  const scroll = useRef<HTMLDivElement>(null);
  const { over, context } = useRackDrag(doc);
  return (
    <aside
      className="rack flex flex-col min-h-0 border-r border-[color:var(--hair-strong)]"
      aria-label="Rack"
      data-open={useFit((s) => s.rackOpen) ? '' : undefined}
    >
      <div className="flex items-center justify-between pl-3 pr-2 h-[38px] rule-b">
        <h2 className="text-[14px] font-semibold">
          Rack <span className="soft font-normal text-small">{counted(count, 'part')}</span>
        </h2>
        <HangMenu />
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon rack-door"
          aria-label="Close the rack"
          onClick={() => set({ rackOpen: false })}
        >
          <X className="ico" />
        </button>
      </div>
      <DndContext {...context}>
        <div ref={scroll} className="relative flex-1 min-h-0 px-2.5 pt-2 overflow-y-auto" {...useWalk(scroll)}>
          {listBy === 'anchor' ? <ByAnchor doc={doc} scroll={scroll} over={over} /> : <Layers />}
          {!Object.values(doc.parts).some(isMade) && (
            <p className="empty text-small mt-3">
              {Object.keys(doc.stock).length === 0
                ? 'Bring a model into Stock first; then hang it here. Plain solids and screens need no file.'
                : 'Press “Hang a part” and choose a model from Stock.'}
            </p>
          )}
        </div>
        <Shelf prefix={FILE} />
      </DndContext>
      <div className="flex items-center gap-2 px-3 h-[40px] border-t border-[color:var(--hair)] text-small">
        <span className="soft">List by</span>
        <Choice
          className="ml-auto"
          label="List by"
          options={[
            { value: 'anchor', label: 'anchor' },
            { value: 'stacking', label: 'stacking' },
          ]}
          value={listBy}
          onChange={(by) => set({ listBy: by })}
        />
      </div>
    </aside>
  );
});

/** Parts and files dragged onto anchors and parts. */
function useRackDrag(doc: Piece) {
  const commit = usePiece((s) => s.commit);
  const hangFile = useHangFile();
  const run = useFitRunRef();
  const [over, setOver] = useState<{ id: string; at: DropAt } | null>(null);
  // held when it is let go: put at the anchor instead of kept where it is
  const alt = useRef(false);
  useEffect(() => {
    const look = (e: KeyboardEvent) => {
      alt.current = e.altKey;
    };
    window.addEventListener('keydown', look);
    window.addEventListener('keyup', look);
    return () => {
      window.removeEventListener('keydown', look);
      window.removeEventListener('keyup', look);
    };
  }, []);
  const sensors = useSensors(useSensor(PointerSensor, PRESSED));
  const drop = (e: DragEndEvent) => {
    setOver(null);
    const id = String(e.active.id);
    const to = String(e.over?.id ?? '');
    const at = placeIn(e, doc.parts[to]);
    if (!at || to === id) return;
    if (id.startsWith(FILE)) return void hangFile(id.slice(FILE.length), whereOf(doc, to, at));
    const edit = dropEdit(doc, id, to, at, (hang) => rehang(doc, restFramesOf(run.current.show), [id], hang, !alt.current));
    if (edit) commit(edit);
  };
  const nameOf = (id: string | number) => {
    const key = String(id);
    if (key.startsWith(FILE)) return doc.stock[key.slice(FILE.length)]?.name ?? 'a file';
    if (doc.parts[key]) return doc.parts[key].name;
    const hang = key.startsWith('anchor:') && key !== 'anchor:' ? onAnchorKey(key.slice(7)) : null;
    return hang?.on === 'anchor' ? anchorLabel(hang.anchor) : 'Not hung';
  };
  const context: ComponentProps<typeof DndContext> = {
    sensors,
    collisionDetection: pointerWithin,
    accessibility: dragWords(nameOf, 'The menu of a part and its card hang it elsewhere without dragging.'),
    onDragMove: (e) => {
      const id = String(e.over?.id ?? '');
      const at = placeIn(e, doc.parts[id]);
      setOver(at ? { id, at } : null);
    },
    onDragEnd: drop,
    onDragCancel: () => setOver(null),
  };
  return { over, context };
}

/** What a file hangs on that is dropped there. */
function whereOf(doc: Piece, to: string, at: DropAt): Hang | null {
  if (to.startsWith('anchor:')) return to === 'anchor:' ? null : onAnchorKey(to.slice(7));
  return at === 'into' ? onPart(to) : doc.parts[to].hang;
}

function ByAnchor({
  doc,
  scroll,
  over,
}: {
  doc: Piece;
  scroll: RefObject<HTMLDivElement | null>;
  over: { id: string; at: DropAt } | null;
}) {
  const rack = rackOf(doc);
  const words = useAnchorWords();
  const tops = rack.filter((p) => p.hang?.on !== 'part');
  const inside = useMemo(() => {
    const by = new Map<string, Part[]>();
    for (const p of rackOf(doc)) if (p.hang?.on === 'part') by.set(p.hang.part, [...(by.get(p.hang.part) ?? []), p]);
    return by;
  }, [doc]);
  const groups = ANCHORS.flatMap((a) => {
    const of = new Map<string, { anchor: Anchor; parts: Part[] }>(a === 'head' ? [['head', { anchor: { kind: 'head' }, parts: [] }]] : []);
    for (const p of tops) {
      if (p.hang?.on !== 'anchor' || p.hang.anchor.kind !== a) continue;
      // all that the body wears is on the body, not on its hips
      const key = isWorn(p) ? 'worn' : anchorKey(p.hang.anchor);
      const group = of.get(key) ?? { anchor: p.hang.anchor, parts: [] };
      group.parts.push(p);
      of.set(key, group);
    }
    return [...of].map(([key, group]) => ({ key, ...group }));
  });
  const lying = tops.filter((p) => p.hang === null);
  return (
    <>
      {groups.map(({ key, anchor, parts }) => (
        <AnchorGroup
          key={key}
          id={`anchor:${anchorKey(anchor)}`}
          title={key === 'worn' ? ANCHOR_LABELS.joint : words(anchor)}
          mark={ANCHOR_MARKS[anchor.kind]}
          where={anchor.kind === 'screen' ? 'whole view' : wearerWords(shownWearer(doc))}
          parts={parts}
          inside={inside}
          over={over}
          scroll={scroll}
        />
      ))}
      {lying.length > 0 && (
        <AnchorGroup
          id="anchor:"
          title="Not hung"
          mark="lead"
          where="weighs nothing"
          parts={lying}
          inside={inside}
          over={over}
          scroll={scroll}
        />
      )}
    </>
  );
}

/** What a drop does: into a part it hangs there; between rows it comes to that place, and hangs where they hang. */
function dropEdit(doc: Piece, id: string, to: string, at: DropAt, hangOn: (hang: Hang | null) => Edit): Edit | null {
  const part = doc.parts[id];
  const same = (a: Hang | null, b: Hang | null) => JSON.stringify(a) === JSON.stringify(b);
  try {
    if (to.startsWith('anchor:')) {
      const hang = to === 'anchor:' ? null : onAnchorKey(to.slice(7));
      return same(part.hang, hang) ? null : hangOn(hang);
    }
    const target = doc.parts[to];
    if (!target) return null;
    if (at === 'into') return same(part.hang, onPart(to)) ? null : hangOn(onPart(to));
    const places = doc.orders.parts.filter((p) => p !== id);
    const moved = order('parts', id, places.indexOf(to) + (at === 'after' ? 1 : 0));
    if (same(part.hang, target.hang)) return moved;
    const hung = hangOn(target.hang);
    return batch([...(hung.kind === 'batch' ? hung.edits : [hung]), moved]);
  } catch (error) {
    if (error instanceof EditError) return null;
    throw error;
  }
}

function AnchorGroup({
  id,
  title,
  mark,
  where,
  parts,
  inside,
  over,
  scroll,
}: {
  id: string;
  title: string;
  mark: Parameters<typeof Mark>[0]['name'];
  where: string;
  parts: readonly Part[];
  /** What hangs from a part, by its id. */
  inside: ReadonlyMap<string, readonly Part[]>;
  over: { id: string; at: DropAt } | null;
  scroll: RefObject<HTMLDivElement | null>;
}) {
  const { setNodeRef } = useDroppable({ id });
  const rows = useMemo(() => {
    const out: { part: Part; depth: number }[] = [];
    const put = (part: Part, depth: number) => {
      out.push({ part, depth });
      for (const child of inside.get(part.id) ?? []) put(child, Math.min(depth + 1, 5));
    };
    for (const p of parts) put(p, 0);
    return out;
  }, [parts, inside]);
  return (
    <section className="mb-[9px]">
      <h3
        ref={setNodeRef}
        className="flex items-center gap-[7px] text-small font-semibold leading-4"
        data-drop={over?.id === id ? 'into' : undefined}
      >
        <span className="grid place-items-center w-[22px] h-[22px] rounded-full border border-[color:var(--ink)] bg-[color:var(--color-base-100)]">
          <Mark name={mark} />
        </span>
        {title}
        <span className="soft font-normal text-micro ml-auto">{where}</span>
      </h3>
      <div
        className="relative ml-[10px] border-l border-[color:var(--hair-strong)] -mt-[1px] pt-[2px]"
        role="tree"
        aria-label={title}
        aria-multiselectable="true"
      >
        <Rows rows={rows} over={over} scroll={scroll} />
      </div>
    </section>
  );
}
