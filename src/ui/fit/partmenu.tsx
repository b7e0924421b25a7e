'use client';
/** What can be done with the parts that are chosen, by menu and by key. */
import { Ellipsis } from 'lucide-react';
import { ulid } from 'ulid';
import { copyParts, duplicate, group, isBehind, liftOff, mirror, type PartsClip, putBefore, putBehind, ungroup } from '@/core/fit';
import { batch, changePart, type Edit, holds, isPlaced, order, type Part, type Piece } from '@/core/piece';
import { restFramesOf, type Show } from '@/core/run';
import { ACTS, type ActId, doAct, keyOf } from '../acts';
import { Menu, type MenuGroup } from '../kit';
import { say } from '../kit/say';
import { useDocument, usePieceStore } from '../piece/context';
import type { PieceState } from '../piece/store';
import { useFitRunRef } from './run';

const CLIP_KEY = 'scaphos-parts';

export interface PartAct {
  id: ActId;
  /** Where it is called otherwise than in the catalog, by what it does now. */
  label?: string;
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
export function actsFor(doc: Piece, show: Show, ids: readonly string[]): PartAct[] {
  const parts = ids.flatMap((id) => doc.parts[id] ?? []);
  const free = parts.length > 0 && parts.every((p) => !p.locked);
  const only = parts.length === 1 ? parts[0] : null;
  const frames = () => restFramesOf(show);
  const at = only ? doc.orders.parts.indexOf(only.id) : -1;
  const worn = parts.filter((p) => doc.layers[p.layer].kind === 'parts' && isPlaced(p));
  const unlocked = parts.filter((p) => !p.locked);
  const seen = unlocked.some((p) => p.visible);
  return [
    {
      id: 'duplicate',
      can: parts.length > 0,
      make: () => {
        const made = duplicate(doc, ids, ulid);
        return { edit: made.edit, choose: made.ids };
      },
    },
    {
      id: 'group',
      can: free && parts.every(isPlaced),
      make: () => {
        const id = ulid();
        return { edit: group(doc, frames(), ids, id, freeName(doc, 'Group')), choose: [id] };
      },
    },
    {
      id: 'ungroup',
      can: free && only !== null && holds(only),
      make: () => ({
        edit: ungroup(doc, frames(), ids[0]),
        choose: Object.values(doc.parts).flatMap((p) => (p.hang?.on === 'part' && p.hang.part === ids[0] ? [p.id] : [])),
      }),
    },
    { id: 'mirror', can: free, make: () => ({ edit: mirror(doc, ids) }) },
    {
      id: 'pair',
      can: parts.length > 0 && parts.every(isPlaced),
      make: () => {
        const made = duplicate(doc, ids, ulid, { other: true });
        return { edit: made.edit, choose: made.ids };
      },
    },
    { id: 'behind', can: free && worn.some((p) => !isBehind(doc, p)), make: () => ({ edit: putBehind(doc, ids, ulid) }) },
    { id: 'before', can: free && worn.some((p) => isBehind(doc, p)), make: () => ({ edit: putBefore(doc, ids) }) },
    {
      id: 'show',
      label: seen ? 'Hide' : 'Show',
      can: unlocked.length > 0,
      make: () => ({ edit: batch(unlocked.map((p) => changePart(p.id, { visible: !seen }))) }),
    },
    {
      id: 'lock',
      label: free ? 'Lock' : 'Unlock',
      can: parts.length > 0,
      make: () => ({ edit: batch(parts.filter((p) => p.locked !== free).map((p) => changePart(p.id, { locked: free }))) }),
    },
    { id: 'earlier', can: at > 0, make: () => ({ edit: order('parts', ids[0], at - 1) }) },
    { id: 'later', can: at >= 0 && at < doc.orders.parts.length - 1, make: () => ({ edit: order('parts', ids[0], at + 1) }) },
    {
      id: 'unhang',
      can: free && parts.some((p) => p.hang !== null && isPlaced(p)),
      make: () => ({ edit: { kind: 'batch', edits: parts.map((p) => changePart(p.id, { hang: null })) } }),
    },
    { id: 'lift', can: free, make: () => ({ edit: liftOff(doc, ids), choose: [] }) },
  ];
}

export function doPartAct(act: PartAct, store: Pick<PieceState, 'commit' | 'selectAll'>): void {
  const { edit, choose } = act.make();
  if (store.commit(edit) && choose) store.selectAll(choose);
}

/** Keeps parts for pasting, here or in another piece of this browser; their names go to the clipboard of the system. */
export function copyToClip(doc: Piece, ids: readonly string[], clip?: DataTransfer | null): void {
  if (ids.length === 0) return;
  localStorage.setItem(CLIP_KEY, JSON.stringify(copyParts(doc, ids)));
  const names = ids.map((id) => doc.parts[id]?.name).join('\n');
  // what lay there before, a picture perhaps, is not what one pastes next
  if (clip) clip.setData('text/plain', names);
  else void navigator.clipboard?.writeText(names).catch(() => undefined);
  say.message(`${ids.length} part${ids.length > 1 ? 's' : ''} copied. Paste in this piece or in another of this yard.`);
}

export function pasteFromClip(doc: Piece, store: Pick<PieceState, 'commit' | 'selectAll'>): void {
  const text = localStorage.getItem(CLIP_KEY);
  if (!text) return void say.message('There is nothing to paste: copy parts in a rack first.');
  void import('@/core/fit/paste').then(
    ({ pasteParts }) => {
      const made = pasteParts(doc, JSON.parse(text) as PartsClip, ulid);
      if (store.commit(made.edit)) store.selectAll(made.ids);
    },
    () => say.error('What pastes could not be fetched: the server does not answer. Try again when it is back.'),
  );
}

/** All that can be done with parts, for a menu. */
export function partGroups(
  doc: Piece,
  show: Show,
  ids: readonly string[],
  store: Pick<PieceState, 'commit' | 'selectAll'>,
  onRename?: () => void,
): MenuGroup[] {
  return [
    {
      id: 'What can be done',
      entries: [
        ...(onRename ? [{ id: 'rename', label: 'Rename', hint: keyOf('rename'), act: onRename }] : []),
        ...actsFor(doc, show, ids)
          .filter((a) => a.can)
          .map((a) => ({ id: a.id, label: a.label ?? ACTS[a.id].name, hint: keyOf(a.id), act: () => doPartAct(a, store) })),
        { id: 'copy', label: ACTS.copy.name, hint: keyOf('copy'), act: () => copyToClip(doc, ids) },
      ],
    },
  ];
}

/** The menu beside a part's name, and of several at once. */
export function SelectionActs({ ids, onRename }: { ids: readonly string[]; onRename?: () => void }) {
  const doc = useDocument();
  const store = usePieceStore();
  const run = useFitRunRef();
  const label = ids.length === 1 ? `More for ${doc.parts[ids[0]]?.name ?? ''}` : `More for ${ids.length} parts`;
  return (
    <Menu
      label={label}
      align="right"
      className="btn btn-bare btn-sm btn-icon"
      button={<Ellipsis className="ico" />}
      groups={() => partGroups(doc, run.current.show, ids, store.getState(), onRename)}
    />
  );
}

export function PartMenu({ part }: { part: Part }) {
  return <SelectionActs ids={[part.id]} onRename={() => doAct('rename')} />;
}
