'use client';
/** Files of Stock beside the rack: dragged onto an anchor or a part they hang there, pressed they hang where their kind is worn. */
import { DragOverlay, useDndContext, useDraggable } from '@dnd-kit/core';
import { ChevronDown, ChevronRight } from 'lucide-react';
import type { StockItem } from '@/core/piece';
import { Mark } from '../kit';
import { useDocument } from '../piece/context';
import { hangable, useHangFile } from './hangmenu';
import { useFit } from './state';

/** @param prefix before the file's id, in the id of what is dragged */
export function Shelf({ prefix }: { prefix: string }) {
  const doc = useDocument();
  const open = useFit((s) => s.shelf);
  const set = useFit((s) => s.set);
  const files = hangable(doc);
  const { active } = useDndContext();
  const held = active ? files.find((f) => `${prefix}${f.id}` === active.id) : undefined;
  if (files.length === 0) return null;
  return (
    <section
      className="border-t border-[color:var(--hair)] flex flex-col min-h-0"
      style={{ maxHeight: open ? '34%' : undefined }}
      aria-label="Files of Stock"
    >
      <button
        type="button"
        className="flex items-center gap-1.5 px-2.5 h-[30px] flex-none text-left"
        aria-expanded={open}
        onClick={() => set({ shelf: !open })}
      >
        {open ? <ChevronDown className="ico" /> : <ChevronRight className="ico" />}
        <span className="text-small font-semibold">Stock</span>
        <span className="soft text-micro">
          {files.length} file{files.length === 1 ? '' : 's'} to hang
        </span>
      </button>
      {open && (
        <ul className="overflow-y-auto px-2.5 pb-2 min-h-0">
          {files.map((f) => (
            <Row key={f.id} id={`${prefix}${f.id}`} file={f} />
          ))}
        </ul>
      )}
      <DragOverlay dropAnimation={null}>{held && <span className="tag text-small">{held.name}</span>}</DragOverlay>
    </section>
  );
}

function Row({ id, file }: { id: string; file: StockItem }) {
  const hangFile = useHangFile();
  const { setNodeRef, listeners, isDragging } = useDraggable({ id });
  return (
    <li>
      <button
        ref={setNodeRef}
        {...listeners}
        type="button"
        className="flex items-center gap-1.5 w-full min-w-0 text-left text-small py-[3px] px-1.5 border border-transparent hover:border-[color:var(--hair)] cursor-grab"
        style={{ opacity: isDragging ? 0.4 : undefined }}
        aria-label={`Hang ${file.name}`}
        title={`${file.name}: press to hang it, or drag it onto an anchor or a part`}
        onClick={() => void hangFile(file.id)}
      >
        <Mark name="part" className="soft" />
        <span className="truncate">{file.name}</span>
      </button>
    </li>
  );
}
