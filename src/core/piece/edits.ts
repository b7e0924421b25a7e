/** Every way a piece can change. An edit is JSON; `applyEdit` is pure, and every edit has an exact inverse. */
import { z } from 'zod';
import { FORM_SIZES } from '../form/measures';
import { KINDS, Kind } from '../words/kinds';
import { Recipe, stepFits } from './recipe';
import {
  Anchor,
  canHang,
  Dismissed,
  Id,
  MAX_PARTS,
  MAX_STOCK,
  type ModelItem,
  Name,
  Offset,
  Part,
  type Piece,
  ProfileId,
  StockCredit,
  StockItem,
} from './schema';

const index = z.int().min(0).max(MAX_PARTS);

export const SingleEdit = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('rename'), name: Name }),
  z.strictObject({ kind: z.literal('set-form'), form: z.enum(FORM_SIZES) }),
  z.strictObject({ kind: z.literal('set-profile'), profile: ProfileId }),
  z.strictObject({ kind: z.literal('add-stock'), item: StockItem }),
  z.strictObject({ kind: z.literal('remove-stock'), id: Id }),
  z.strictObject({ kind: z.literal('rename-stock'), id: Id, name: Name }),
  z.strictObject({ kind: z.literal('state-kind'), id: Id, stated: Kind.nullable() }),
  z.strictObject({ kind: z.literal('set-credit'), id: Id, credit: StockCredit }),
  z.strictObject({ kind: z.literal('set-dismissed'), id: Id, dismissed: z.array(Dismissed).max(200) }),
  z.strictObject({ kind: z.literal('set-recipe'), id: Id, recipe: Recipe.nullable() }),
  z.strictObject({ kind: z.literal('replace-stock'), id: Id, item: StockItem }),
  z.strictObject({ kind: z.literal('add-part'), part: Part, index }),
  z.strictObject({ kind: z.literal('remove-part'), id: Id }),
  z.strictObject({ kind: z.literal('rename-part'), id: Id, name: Name }),
  z.strictObject({ kind: z.literal('hang-part'), id: Id, anchor: Anchor.nullable() }),
  z.strictObject({ kind: z.literal('place-part'), id: Id, offset: Offset }),
  z.strictObject({ kind: z.literal('show-part'), id: Id, visible: z.boolean() }),
  z.strictObject({ kind: z.literal('lock-part'), id: Id, locked: z.boolean() }),
  z.strictObject({ kind: z.literal('set-opacity'), id: Id, opacity: z.number().min(0).max(1) }),
  z.strictObject({ kind: z.literal('set-solid'), id: Id, solid: z.boolean() }),
  z.strictObject({ kind: z.literal('move-part'), id: Id, index }),
]);
export type SingleEdit = z.infer<typeof SingleEdit>;
/** Several edits that are undone as one. */
export const BatchEdit = z.strictObject({ kind: z.literal('batch'), edits: z.array(SingleEdit).max(2 * MAX_PARTS) });
export const Edit = z.discriminatedUnion('kind', [...SingleEdit.options, BatchEdit]);
export type Edit = z.infer<typeof Edit>;
export type EditKind = Edit['kind'];

/** An edit that does not fit the piece: names what was asked of which entity, and why it cannot be. */
export class EditError extends Error {
  constructor(
    readonly code: 'edit/missing' | 'edit/taken' | 'edit/in-use' | 'edit/locked' | 'edit/full' | 'edit/kind',
    message: string,
    readonly entity?: string,
  ) {
    super(message);
  }
}

const part = (p: Piece, id: string): Part => {
  if (!Object.hasOwn(p.parts, id)) throw new EditError('edit/missing', `Part ${id} is not in this piece.`, id);
  return p.parts[id];
};
const without = <T>(r: Record<string, T>, id: string): Record<string, T> => Object.fromEntries(Object.entries(r).filter(([k]) => k !== id));

function changePart(p: Piece, id: string, change: (old: Part) => Part): Piece {
  return { ...p, parts: { ...p.parts, [id]: change(part(p, id)) } };
}

function model(p: Piece, id: string) {
  const found = part(p, id);
  if (found.kind !== 'model') throw new EditError('edit/kind', `${found.name} is an occluder: it takes its form's shape and place.`, id);
  return found;
}

const stockItem = (p: Piece, id: string): StockItem => {
  if (!Object.hasOwn(p.stock, id)) throw new EditError('edit/missing', `Stock file ${id} is not in this piece.`, id);
  return p.stock[id];
};
function stockModel(p: Piece, id: string): ModelItem {
  const item = stockItem(p, id);
  if (item.kind !== 'model') throw new EditError('edit/kind', `${item.name} is a ${item.kind}, not a model.`, id);
  return item;
}
const putStock = (p: Piece, item: StockItem): Piece => ({ ...p, stock: { ...p.stock, [item.id]: item } });

function unlocked<T extends Part>(found: T): T {
  if (found.locked) throw new EditError('edit/locked', `${found.name} is locked. Unlock it in the rack first.`, found.id);
  return found;
}

/**
 * The piece after one edit. Pure; shares what did not change.
 * @throws {EditError} the edit names what is not there, already there, in use, or locked.
 */
export function applyEdit(p: Piece, edit: Edit): Piece {
  switch (edit.kind) {
    case 'batch':
      return edit.edits.reduce(applyEdit, p);
    case 'rename':
      return { ...p, name: edit.name };
    case 'set-form':
      return { ...p, form: edit.form };
    case 'set-profile':
      return { ...p, profile: edit.profile };
    case 'add-stock': {
      if (Object.hasOwn(p.stock, edit.item.id))
        throw new EditError('edit/taken', `Stock file ${edit.item.id} is already in this piece.`, edit.item.id);
      if (Object.keys(p.stock).length >= MAX_STOCK) throw new EditError('edit/full', `A piece holds at most ${MAX_STOCK} stock files.`);
      return { ...p, stock: { ...p.stock, [edit.item.id]: edit.item } };
    }
    case 'remove-stock': {
      stockItem(p, edit.id);
      const user = Object.values(p.parts).find((q) => q.kind === 'model' && q.stockId === edit.id);
      if (user)
        throw new EditError(
          'edit/in-use',
          `${p.stock[edit.id].name} is worn by part ${user.name}. Take that part off the rack first.`,
          user.id,
        );
      return { ...p, stock: without(p.stock, edit.id), recipes: without(p.recipes, edit.id) };
    }
    case 'rename-stock':
      return putStock(p, { ...stockItem(p, edit.id), name: edit.name });
    case 'state-kind':
      return putStock(p, { ...stockModel(p, edit.id), stated: edit.stated });
    case 'set-credit':
      return putStock(p, { ...stockItem(p, edit.id), credit: edit.credit });
    case 'set-dismissed':
      return putStock(p, { ...stockItem(p, edit.id), dismissed: edit.dismissed });
    case 'set-recipe': {
      const item = stockItem(p, edit.id);
      const stray = edit.recipe?.steps.find((s) => !stepFits(item.kind, s.step));
      if (stray) throw new EditError('edit/kind', `${item.name} is a ${item.kind}: ${stray.step} is no step for it.`, edit.id);
      return { ...p, recipes: edit.recipe ? { ...p.recipes, [edit.id]: edit.recipe } : without(p.recipes, edit.id) };
    }
    case 'replace-stock': {
      const old = stockItem(p, edit.id);
      if (edit.item.id !== edit.id || edit.item.kind !== old.kind)
        throw new EditError('edit/kind', `${old.name} can only be replaced by another ${old.kind}.`, edit.id);
      return putStock(p, edit.item);
    }
    case 'add-part': {
      const q = edit.part;
      if (Object.hasOwn(p.parts, q.id)) throw new EditError('edit/taken', `Part ${q.id} is already in this piece.`, q.id);
      if (p.rack.length >= MAX_PARTS) throw new EditError('edit/full', `A piece holds at most ${MAX_PARTS} parts.`);
      if (q.kind === 'model' && !Object.hasOwn(p.stock, q.stockId))
        throw new EditError('edit/missing', `Part ${q.name} needs stock file ${q.stockId}, which is not in this piece.`, q.stockId);
      if (q.kind === 'model' && !canHang(stockItem(p, q.stockId)))
        throw new EditError('edit/kind', `${p.stock[q.stockId].name} is a ${p.stock[q.stockId].kind}: it cannot hang.`, q.stockId);
      return { ...p, parts: { ...p.parts, [q.id]: q }, rack: p.rack.toSpliced(edit.index, 0, q.id) };
    }
    case 'remove-part':
      unlocked(part(p, edit.id));
      return { ...p, parts: without(p.parts, edit.id), rack: p.rack.filter((id) => id !== edit.id) };
    case 'rename-part':
      return changePart(p, edit.id, (old) => ({ ...old, name: edit.name }));
    case 'hang-part': {
      const old = unlocked(model(p, edit.id));
      return { ...p, parts: { ...p.parts, [old.id]: { ...old, anchor: edit.anchor } } };
    }
    case 'place-part': {
      const old = unlocked(model(p, edit.id));
      return { ...p, parts: { ...p.parts, [old.id]: { ...old, offset: edit.offset } } };
    }
    case 'set-opacity': {
      const old = unlocked(model(p, edit.id));
      return { ...p, parts: { ...p.parts, [old.id]: { ...old, opacity: edit.opacity } } };
    }
    case 'set-solid': {
      const old = unlocked(model(p, edit.id));
      return { ...p, parts: { ...p.parts, [old.id]: { ...old, solid: edit.solid } } };
    }
    case 'show-part':
      return changePart(p, edit.id, (old) => ({ ...old, visible: edit.visible }));
    case 'lock-part':
      return changePart(p, edit.id, (old) => ({ ...old, locked: edit.locked }));
    case 'move-part': {
      part(p, edit.id);
      return { ...p, rack: p.rack.filter((id) => id !== edit.id).toSpliced(edit.index, 0, edit.id) };
    }
    default:
      return exhaustive(edit);
  }
}

function exhaustive(x: never): never {
  throw new Error(`applyEdit: unknown edit ${JSON.stringify(x)}`);
}

/**
 * The edit that takes `applyEdit(p, edit)` back to `p`.
 * @throws {EditError} as applyEdit.
 */
export function invertEdit(p: Piece, edit: Edit): Edit {
  switch (edit.kind) {
    case 'batch': {
      const back: SingleEdit[] = [];
      let now = p;
      for (const e of edit.edits) {
        const inverse = invertEdit(now, e);
        back.unshift(...(inverse.kind === 'batch' ? inverse.edits : [inverse]));
        now = applyEdit(now, e);
      }
      return { kind: 'batch', edits: back };
    }
    case 'rename':
      return { kind: 'rename', name: p.name };
    case 'set-form':
      return { kind: 'set-form', form: p.form };
    case 'set-profile':
      return { kind: 'set-profile', profile: p.profile };
    case 'add-stock':
      return { kind: 'remove-stock', id: edit.item.id };
    case 'remove-stock': {
      const recipe = p.recipes[edit.id];
      const back = { kind: 'add-stock', item: stockItem(p, edit.id) } as const;
      return recipe ? { kind: 'batch', edits: [back, { kind: 'set-recipe', id: edit.id, recipe }] } : back;
    }
    case 'state-kind':
      return { kind: 'state-kind', id: edit.id, stated: stockModel(p, edit.id).stated };
    case 'set-credit':
      return { kind: 'set-credit', id: edit.id, credit: stockItem(p, edit.id).credit };
    case 'set-dismissed':
      return { kind: 'set-dismissed', id: edit.id, dismissed: stockItem(p, edit.id).dismissed };
    case 'set-recipe':
      return { kind: 'set-recipe', id: edit.id, recipe: p.recipes[edit.id] ?? null };
    case 'replace-stock':
      return { kind: 'replace-stock', id: edit.id, item: stockItem(p, edit.id) };
    case 'rename-stock':
      return { kind: 'rename-stock', id: edit.id, name: p.stock[edit.id].name };
    case 'add-part':
      // A part can arrive locked, and a locked part cannot be taken off.
      return edit.part.locked
        ? {
            kind: 'batch',
            edits: [
              { kind: 'lock-part', id: edit.part.id, locked: false },
              { kind: 'remove-part', id: edit.part.id },
            ],
          }
        : { kind: 'remove-part', id: edit.part.id };
    case 'remove-part':
      return { kind: 'add-part', part: part(p, edit.id), index: p.rack.indexOf(edit.id) };
    case 'rename-part':
      return { kind: 'rename-part', id: edit.id, name: part(p, edit.id).name };
    case 'hang-part':
      return { kind: 'hang-part', id: edit.id, anchor: model(p, edit.id).anchor };
    case 'place-part':
      return { kind: 'place-part', id: edit.id, offset: model(p, edit.id).offset };
    case 'set-opacity':
      return { kind: 'set-opacity', id: edit.id, opacity: model(p, edit.id).opacity };
    case 'set-solid':
      return { kind: 'set-solid', id: edit.id, solid: model(p, edit.id).solid };
    case 'show-part':
      return { kind: 'show-part', id: edit.id, visible: part(p, edit.id).visible };
    case 'lock-part':
      return { kind: 'lock-part', id: edit.id, locked: part(p, edit.id).locked };
    case 'move-part':
      return { kind: 'move-part', id: edit.id, index: p.rack.indexOf(edit.id) };
    default:
      return exhaustive(edit);
  }
}

/** The entities an edit reads or writes: `piece:name`, `stock:ID`, `part:ID`. Two edits without a common one commute. */
export function entitiesOf(edit: Edit): string[] {
  switch (edit.kind) {
    case 'batch':
      return [...new Set(edit.edits.flatMap(entitiesOf))];
    case 'rename':
      return ['piece:name'];
    case 'set-form':
      return ['piece:form'];
    case 'set-profile':
      return ['piece:profile'];
    case 'add-stock':
      return [`stock:${edit.item.id}`];
    case 'remove-stock':
    case 'rename-stock':
    case 'state-kind':
    case 'set-credit':
    case 'set-dismissed':
    case 'set-recipe':
    case 'replace-stock':
      return [`stock:${edit.id}`];
    case 'add-part':
      return [`part:${edit.part.id}`];
    case 'move-part':
      return ['piece:rack', `part:${edit.id}`];
    default:
      return [`part:${edit.id}`];
  }
}

/** Words for the history list and the tips of Undo and Redo. */
export function describeEdit(p: Piece, edit: Edit): string {
  const of = (id: string) => p.parts[id]?.name ?? p.stock[id]?.name ?? id;
  switch (edit.kind) {
    case 'batch':
      return edit.edits.length > 0 ? describeEdit(p, edit.edits[edit.edits.length - 1]) : 'nothing';
    case 'rename':
      return `name the piece ${edit.name}`;
    case 'set-form':
      return `form ${edit.form}`;
    case 'set-profile':
      return `profile ${edit.profile}`;
    case 'add-stock':
      return `bring in ${edit.item.name}`;
    case 'remove-stock':
      return `discard ${of(edit.id)}`;
    case 'rename-stock':
      return `name the file ${edit.name}`;
    case 'state-kind':
      return `${of(edit.id)} is ${edit.stated ? KINDS[edit.stated].label.toLowerCase() : 'of no stated kind'}`;
    case 'set-credit':
      return `credit of ${of(edit.id)}`;
    case 'set-dismissed':
      return `findings of ${of(edit.id)}`;
    case 'set-recipe':
      return edit.recipe ? `mend ${of(edit.id)}` : `${of(edit.id)} as delivered`;
    case 'replace-stock':
      return `replace ${of(edit.id)}`;
    case 'add-part':
      return `hang ${edit.part.name}`;
    case 'remove-part':
      return `lift off ${of(edit.id)}`;
    case 'rename-part':
      return `name the part ${edit.name}`;
    case 'hang-part':
      return edit.anchor ? `hang ${of(edit.id)}` : `unhang ${of(edit.id)}`;
    case 'place-part':
      return `place ${of(edit.id)}`;
    case 'set-opacity':
      return `opacity of ${of(edit.id)}`;
    case 'set-solid':
      return `${edit.solid ? 'draw solid' : 'draw as the file says'} ${of(edit.id)}`;
    case 'show-part':
      return `${edit.visible ? 'show' : 'hide'} ${of(edit.id)}`;
    case 'lock-part':
      return `${edit.locked ? 'lock' : 'unlock'} ${of(edit.id)}`;
    case 'move-part':
      return `reorder ${of(edit.id)}`;
    default:
      return exhaustive(edit);
  }
}
