'use client';
import { closestCenter, DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Ellipsis, Eye, EyeOff, Lock, Plus } from 'lucide-react';
import { useState } from 'react';
import { ulid } from 'ulid';
import { createModelPart, createOccluder, drawnModel, type Part, type Piece } from '@/core/piece';
import { Mark, Menu, NameDialog } from '../kit';
import { useDocument, usePiece } from '../piece/context';

/** The parts by their anchors; the order is the order of drawing. */
export function Rack() {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const hung = doc.rack.filter((id) => doc.parts[id].anchor !== null);
  const lying = doc.rack.filter((id) => doc.parts[id].anchor === null);
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    commit({ kind: 'move-part', id: String(active.id), index: doc.rack.indexOf(String(over.id)) });
  };
  return (
    <aside className="flex flex-col min-h-0 border-r border-[color:var(--hair-strong)]" aria-label="Rack" style={{ width: 'var(--rack)' }}>
      <div className="flex items-center justify-between pl-3 pr-2 h-[38px] rule-b">
        <h2 className="text-[14px] font-semibold">
          Rack{' '}
          <span className="soft font-normal text-small">
            {doc.rack.length} part{doc.rack.length === 1 ? '' : 's'}
          </span>
        </h2>
        <HangMenu doc={doc} />
      </div>
      <div className="flex-1 min-h-0 px-2.5 pt-2 overflow-y-auto">
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
          <SortableContext items={doc.rack} strategy={verticalListSortingStrategy}>
            <AnchorGroup title="Head" where={`form ${doc.form}`} ids={hung} doc={doc} />
            {lying.length > 0 && <AnchorGroup title="Not hung" where="weighs nothing" ids={lying} doc={doc} />}
          </SortableContext>
        </DndContext>
        {Object.values(doc.parts).every((p) => p.kind !== 'model') && (
          <p className="empty text-small mt-3">
            {Object.keys(doc.stock).length === 0
              ? 'Bring a model into Stock first; then hang it here.'
              : 'Press “Hang a part” and choose a model from Stock.'}
          </p>
        )}
      </div>
    </aside>
  );
}

function AnchorGroup({ title, where, ids, doc }: { title: string; where: string; ids: string[]; doc: Piece }) {
  return (
    <section className="mb-[9px]">
      <h3 className="flex items-center gap-[7px] text-small font-semibold leading-4">
        <span className="grid place-items-center w-[22px] h-[22px] rounded-full border border-[color:var(--ink)] bg-[color:var(--color-base-100)]">
          <Mark name={title === 'Head' ? 'head' : 'lead'} />
        </span>
        {title}
        <span className="soft font-normal text-micro ml-auto">{where}</span>
      </h3>
      <div className="relative ml-[10px] border-l border-[color:var(--hair-strong)] -mt-[1px] pt-[2px]" role="tree" aria-label={title}>
        {ids.map((id) => (
          <Tag key={id} part={doc.parts[id]} place={doc.rack.indexOf(id) + 1} doc={doc} />
        ))}
      </div>
    </section>
  );
}

function Tag({ part, place, doc }: { part: Part; place: number; doc: Piece }) {
  const selected = usePiece((s) => s.selected === part.id);
  const select = usePiece((s) => s.select);
  const commit = usePiece((s) => s.commit);
  const [naming, setNaming] = useState(false);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: part.id });
  const kind = part.kind === 'occluder' ? 'Occluder' : (doc.stock[part.stockId]?.name ?? '');
  return (
    <div
      ref={setNodeRef}
      className="relative pl-[13px] mt-[3px]"
      role="none"
      style={{ transform: CSS.Translate.toString(transform), transition, zIndex: isDragging ? 5 : undefined }}
    >
      <span className="absolute left-0 top-[15px] w-[14px] border-t border-[color:var(--hair-strong)]" />
      <div
        {...attributes}
        {...listeners}
        className="tag gap-[5px]!"
        role="treeitem"
        tabIndex={0}
        aria-selected={selected}
        aria-label={`${part.name}, ${kind}`}
        data-off={part.visible ? undefined : ''}
        onClick={() => select(part.id)}
        onDoubleClick={() => setNaming(true)}
        onKeyDown={(e) => {
          if (e.key === 'Enter') select(part.id);
          else if (e.key === 'Delete') commit({ kind: 'remove-part', id: part.id });
          else listeners?.onKeyDown?.(e);
        }}
      >
        <Mark name={part.kind === 'occluder' ? 'occluder' : 'part'} className="soft" />
        <span className="min-w-0 flex-1 leading-[13px]">
          <span className="named text-[13.5px] leading-[15px] block truncate">{part.name}</span>
          <span className="text-micro soft block leading-[11px] truncate">{part.visible ? kind : `hidden · ${kind}`}</span>
        </span>
        {part.locked && <Lock className="ico" style={{ width: 12 }} aria-label="locked" />}
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon"
          style={{ height: 24, minHeight: 24, padding: '0 3px' }}
          aria-label={part.visible ? `Hide ${part.name}` : `Show ${part.name}`}
          title={part.visible ? 'Hide' : 'Show'}
          onPointerDown={(e) => e.stopPropagation()}
          onClick={(e) => {
            e.stopPropagation();
            commit({ kind: 'show-part', id: part.id, visible: !part.visible });
          }}
        >
          {part.visible ? <Eye className="ico" /> : <EyeOff className="ico" />}
        </button>
        <span className="place-no" title={`Stacking ${place}: drawn ${place === 1 ? 'first, at the back' : `in place ${place}`}`}>
          {place}
        </span>
      </div>
      {naming && <RenamePart part={part} onClose={() => setNaming(false)} />}
    </div>
  );
}

function HangMenu({ doc }: { doc: Piece }) {
  const commit = usePiece((s) => s.commit);
  const select = usePiece((s) => s.select);
  const id = usePiece((s) => s.id);
  const files = Object.values(doc.stock).filter((f) => drawnModel(doc, f.id) !== null);
  const hasOccluder = Object.values(doc.parts).some((p) => p.kind === 'occluder');
  return (
    <Menu
      label="Hang a part"
      align="right"
      className="btn btn-line btn-sm"
      button={
        <>
          <Plus className="ico" />
          Hang a part
        </>
      }
    >
      {(close) => (
        <>
          {files.map((f) => (
            <button
              key={f.id}
              type="button"
              role="menuitem"
              onClick={() => {
                const part = createModelPart(ulid(), f.id, f.name.replace(/\.[^.]+$/, '').slice(0, 120) || 'Part');
                if (commit({ kind: 'add-part', part, index: doc.rack.length })) select(part.id);
                close();
              }}
            >
              <Mark name="part" className="soft" />
              {f.name}
            </button>
          ))}
          {!hasOccluder && (
            <button
              type="button"
              role="menuitem"
              onClick={() => {
                commit({ kind: 'add-part', part: createOccluder(ulid()), index: 0 });
                close();
              }}
            >
              <Mark name="occluder" className="soft" />
              Head block, an occluder
            </button>
          )}
          {files.length === 0 && <a href={`/piece/${id}/stock`}>Stock is empty: bring a model in</a>}
        </>
      )}
    </Menu>
  );
}

/** What can be done with one part, beside its name. */
export function PartMenu({ part }: { part: Part }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const select = usePiece((s) => s.select);
  const [naming, setNaming] = useState(false);
  const at = doc.rack.indexOf(part.id);
  const acts: [string, boolean, () => void][] = [
    ['Rename', true, () => setNaming(true)],
    [
      'Duplicate',
      true,
      () => {
        const copy = { ...structuredClone(part), id: ulid(), name: `${part.name.slice(0, 112)}, copy`, locked: false };
        if (commit({ kind: 'add-part', part: copy, index: at + 1 })) select(copy.id);
      },
    ],
    [part.locked ? 'Unlock' : 'Lock', true, () => commit({ kind: 'lock-part', id: part.id, locked: !part.locked })],
    ['Draw earlier', at > 0, () => commit({ kind: 'move-part', id: part.id, index: at - 1 })],
    ['Draw later', at < doc.rack.length - 1, () => commit({ kind: 'move-part', id: part.id, index: at + 1 })],
    ...(part.kind === 'model'
      ? [
          [
            part.anchor ? 'Unhang' : 'Hang on the head',
            true,
            () => commit({ kind: 'hang-part', id: part.id, anchor: part.anchor ? null : 'head' }),
          ] as [string, boolean, () => void],
        ]
      : []),
  ];
  return (
    <>
      <Menu label={`More for ${part.name}`} align="right" className="btn btn-bare btn-sm btn-icon" button={<Ellipsis className="ico" />}>
        {(close) =>
          acts
            .filter(([, can]) => can)
            .map(([label, , act]) => (
              <button
                key={label}
                type="button"
                role="menuitem"
                onClick={() => {
                  act();
                  close();
                }}
              >
                {label}
              </button>
            ))
        }
      </Menu>
      {naming && <RenamePart part={part} onClose={() => setNaming(false)} />}
    </>
  );
}

function RenamePart({ part, onClose }: { part: Part; onClose: () => void }) {
  const commit = usePiece((s) => s.commit);
  return (
    <NameDialog
      title="Rename the part"
      label="Name"
      initial={part.name}
      action="Rename"
      onClose={onClose}
      onDone={(name) => {
        commit({ kind: 'rename-part', id: part.id, name });
        onClose();
      }}
    />
  );
}
