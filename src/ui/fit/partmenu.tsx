'use client';
/** What can be done with the parts that are chosen, by menu and by key. */
import { Ellipsis } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { ulid } from 'ulid';
import {
  copyParts,
  duplicate,
  group,
  isBehind,
  liftOff,
  mirror,
  type PartsClip,
  pasteParts,
  putBefore,
  putBehind,
  ungroup,
} from '@/core/fit';
import { changePart, type Edit, holds, isPlaced, order, type Part, type Piece } from '@/core/piece';
import { restFramesOf, type Show } from '@/core/run';
import { Menu, NameDialog } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import type { PieceState } from '../piece/store';
import { useFitRunRef } from './run';

const CLIP_KEY = 'scaphos-parts';

export interface Act {
  label: string;
  key?: string;
  can: boolean;
  /** The edit, and what is chosen after it. */
  make: () => { edit: Edit; choose?: readonly string[] };
}

/** A name no other part has. */
export function freeName(doc: Piece, base: string): string {
  const names = new Set(Object.values(doc.parts).map((p) => p.name));
  if (!names.has(base)) return base;
  for (let n = 2; ; n++) if (!names.has(`${base} ${n}`)) return `${base} ${n}`;
}

/** Everything that is done with chosen parts, in the order of the menu. */
export function actsFor(doc: Piece, show: Show, ids: readonly string[]): Act[] {
  const parts = ids.flatMap((id) => doc.parts[id] ?? []);
  const free = parts.length > 0 && parts.every((p) => !p.locked);
  const only = parts.length === 1 ? parts[0] : null;
  const frames = () => restFramesOf(show);
  const at = only ? doc.orders.parts.indexOf(only.id) : -1;
  const worn = parts.filter((p) => doc.layers[p.layer].kind === 'parts' && isPlaced(p));
  const locked = only?.locked ?? false;
  const acts: (Act | false)[] = [
    {
      label: 'Duplicate',
      key: 'd',
      can: parts.length > 0,
      make: () => {
        const made = duplicate(doc, ids, ulid);
        return { edit: made.edit, choose: made.ids };
      },
    },
    {
      label: 'Group',
      key: 'g',
      can: free && parts.every(isPlaced),
      make: () => {
        const id = ulid();
        return { edit: group(doc, frames(), ids, id, freeName(doc, 'Group')), choose: [id] };
      },
    },
    {
      label: 'Take the group apart',
      key: 'u',
      can: free && only !== null && holds(only),
      make: () => ({
        edit: ungroup(doc, frames(), ids[0]),
        choose: Object.values(doc.parts).flatMap((p) => (p.hang?.on === 'part' && p.hang.part === ids[0] ? [p.id] : [])),
      }),
    },
    { label: 'Bring to the other side', key: 'm', can: free, make: () => ({ edit: mirror(doc, ids) }) },
    worn.length > 0 && !worn.every((p) => isBehind(doc, p))
      ? { label: 'Behind the wearer', can: free, make: () => ({ edit: putBehind(doc, ids, ulid) }) }
      : { label: 'Before the wearer', can: free && worn.length > 0, make: () => ({ edit: putBefore(doc, ids) }) },
    {
      label: locked ? 'Unlock' : 'Lock',
      can: only !== null,
      make: () => ({ edit: changePart(ids[0], { locked: !locked }) }),
    },
    { label: 'Draw earlier', can: at > 0, make: () => ({ edit: order('parts', ids[0], at - 1) }) },
    { label: 'Draw later', can: at >= 0 && at < doc.orders.parts.length - 1, make: () => ({ edit: order('parts', ids[0], at + 1) }) },
    {
      label: 'Unhang',
      can: free && parts.some((p) => p.hang !== null && isPlaced(p)),
      make: () => ({ edit: { kind: 'batch', edits: parts.map((p) => changePart(p.id, { hang: null })) } }),
    },
    { label: 'Lift off the rack', can: free, make: () => ({ edit: liftOff(doc, ids), choose: [] }) },
  ];
  return acts.filter((a) => a !== false);
}

export function doAct(act: Act, store: Pick<PieceState, 'commit' | 'selectAll'>): void {
  const { edit, choose } = act.make();
  if (store.commit(edit) && choose) store.selectAll(choose);
}

/** Keeps parts for pasting, here or in another piece of this browser. */
export function copyToClip(doc: Piece, ids: readonly string[]): void {
  if (ids.length === 0) return;
  localStorage.setItem(CLIP_KEY, JSON.stringify(copyParts(doc, ids)));
  toast.message(`${ids.length} part${ids.length > 1 ? 's' : ''} copied. Paste in this piece or in another of this yard.`);
}

export function pasteFromClip(doc: Piece, store: Pick<PieceState, 'commit' | 'selectAll'>): void {
  const text = localStorage.getItem(CLIP_KEY);
  if (!text) return void toast.message('There is nothing to paste: copy parts in a rack first.');
  const made = pasteParts(doc, JSON.parse(text) as PartsClip, ulid);
  if (store.commit(made.edit)) store.selectAll(made.ids);
}

/** The menu beside a part's name, and of several at once. */
export function SelectionActs({ ids, onRename }: { ids: readonly string[]; onRename?: () => void }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const selectAll = usePiece((s) => s.selectAll);
  const run = useFitRunRef();
  const label = ids.length === 1 ? `More for ${doc.parts[ids[0]]?.name ?? ''}` : `More for ${ids.length} parts`;
  return (
    <Menu
      label={label}
      align="right"
      className="btn btn-bare btn-sm btn-icon"
      button={<Ellipsis className="ico" />}
      groups={() => [
        {
          id: 'What can be done',
          entries: [
            ...(onRename ? [{ id: 'rename', label: 'Rename', act: onRename }] : []),
            ...actsFor(doc, run.current.show, ids)
              .filter((a) => a.can)
              .map((a) => ({ id: a.label, label: a.label, hint: a.key?.toUpperCase(), act: () => doAct(a, { commit, selectAll }) })),
            { id: 'copy', label: 'Copy', hint: 'Ctrl C', act: () => copyToClip(doc, ids) },
          ],
        },
      ]}
    />
  );
}

export function PartMenu({ part }: { part: Part }) {
  const [naming, setNaming] = useState(false);
  return (
    <>
      <SelectionActs ids={[part.id]} onRename={() => setNaming(true)} />
      {naming && <RenamePart part={part} onClose={() => setNaming(false)} />}
    </>
  );
}

export function RenamePart({ part, onClose }: { part: Part; onClose: () => void }) {
  const commit = usePiece((s) => s.commit);
  return (
    <NameDialog
      title="Rename the part"
      label="Name"
      initial={part.name}
      action="Rename"
      onClose={onClose}
      onDone={(name) => {
        commit(changePart(part.id, { name }));
        onClose();
      }}
    />
  );
}
