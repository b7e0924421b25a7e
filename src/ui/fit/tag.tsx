'use client';
/** One part in the rack: pressed, dragged, renamed, hidden. */
import { useDraggable, useDroppable } from '@dnd-kit/core';
import { Eye, EyeOff, Lock } from 'lucide-react';
import { memo, type RefObject } from 'react';
import { changePart, hiddenBy, type Part } from '@/core/piece';
import { keyOf } from '../acts';
import { Mark, NameInPlace } from '../kit';
import { usePiece } from '../piece/context';
import { PART_MARKS, whatItIs } from './kinds';
import { useFit } from './state';

export type DropAt = 'before' | 'into' | 'after';

/** Rows of one anchor, and where what is dragged would go among them. */
export interface RowsProps {
  rows: readonly { part: Part; depth: number }[];
  over: { id: string; at: DropAt } | null;
  scroll: RefObject<HTMLDivElement | null>;
}
export const dropOn = (over: RowsProps['over'], part: Part) => (over?.id === part.id ? over.at : null);

interface TagProps {
  part: Part;
  depth: number;
  dropAt: DropAt | null;
  /** Which of how many, from 1, where not all are drawn. */
  nth?: number;
  of?: number;
}

export const Tag = memo(function Tag({ part, depth, dropAt, nth, of }: TagProps) {
  const chosen = usePiece((s) => s.selection.includes(part.id));
  // one stop of Tab in the whole rack: the part chosen last, else the first
  const isStop = usePiece((s) => (s.selected ? s.selected === part.id : s.history.doc.orders.parts.at(0) === part.id));
  const select = usePiece((s) => s.select);
  const selectMore = usePiece((s) => s.selectMore);
  const commit = usePiece((s) => s.commit);
  const naming = useFit((s) => s.naming === part.id);
  const set = useFit((s) => s.set);
  const drag = useDraggable({ id: part.id });
  const drop = useDroppable({ id: part.id });
  // words, not the document: an edit elsewhere draws no other row anew
  const kind = usePiece((s) => whatItIs(s.history.doc, part));
  const off = usePiece((s) => Boolean(hiddenBy(s.history.doc, part)));
  const lines = { before: 'inset 0 2px 0 var(--brass)', after: 'inset 0 -2px 0 var(--brass)', into: 'inset 0 0 0 2px var(--brass)' };
  return (
    <div
      ref={drop.setNodeRef}
      className="relative pl-[13px] mt-[3px]"
      role="none"
      style={{
        marginLeft: depth * 14,
        transform: drag.transform ? `translate(${drag.transform.x}px, ${drag.transform.y}px)` : undefined,
        zIndex: drag.isDragging ? 5 : undefined,
        pointerEvents: drag.isDragging ? 'none' : undefined,
      }}
    >
      <span className="absolute left-0 top-[15px] w-[14px] border-t border-[color:var(--hair-strong)]" />
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: keys of all rows are the rack's */}
      <div
        ref={drag.setNodeRef}
        {...drag.listeners}
        className="tag gap-[5px]!"
        role="treeitem"
        tabIndex={isStop ? 0 : -1}
        data-part={part.id}
        aria-selected={chosen}
        aria-level={depth + 1}
        aria-posinset={nth}
        aria-setsize={of}
        aria-label={`${part.name}, ${kind}`}
        data-off={off ? '' : undefined}
        style={dropAt && !drag.isDragging ? { boxShadow: lines[dropAt] } : undefined}
        onClick={(e) => (e.ctrlKey || e.metaKey || e.shiftKey ? selectMore(part.id) : select(part.id))}
        onDoubleClick={() => set({ naming: part.id })}
        onContextMenu={() => chosen || select(part.id)}
      >
        <Mark name={PART_MARKS[part.kind]} className="soft" />
        <span className="min-w-0 flex-1 leading-[13px]">
          {naming ? (
            <NameInPlace
              label={`Name of ${part.name}`}
              initial={part.name}
              className="named text-[13.5px] h-[20px]! px-1!"
              onDone={(name) => commit(changePart(part.id, { name }))}
              onLeave={() => set({ naming: null })}
            />
          ) : (
            <span className="named text-[13.5px] leading-[15px] block truncate" title={part.name} dir="auto">
              {part.name}
            </span>
          )}
          <span className="text-micro soft block leading-[11px] truncate">{off ? `hidden · ${kind}` : kind}</span>
        </span>
        {part.locked && <Lock className="ico" style={{ width: 12 }} aria-label="locked" />}
        <button
          type="button"
          tabIndex={-1}
          className="btn btn-bare btn-sm btn-icon"
          style={{ height: 24, minHeight: 24, padding: '0 3px' }}
          aria-label={part.visible ? `Hide ${part.name}` : `Show ${part.name}`}
          title={part.locked ? 'Unlock the part first' : `${part.visible ? 'Hide' : 'Show'} (${keyOf('show')})`}
          aria-disabled={part.locked}
          onPointerDown={(e) => e.stopPropagation()}
          onClick={(e) => {
            e.stopPropagation();
            if (!part.locked) commit(changePart(part.id, { visible: !part.visible }));
          }}
        >
          {part.visible ? <Eye className="ico" /> : <EyeOff className="ico" />}
        </button>
      </div>
    </div>
  );
});
