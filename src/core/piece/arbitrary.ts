/** Random pieces and edits for property tests. Every kind of edit is drawn, fitting the piece it is made for. */
import fc from 'fast-check';
import type { Kind } from '../words/kinds';
import { createModelPart, createOccluder, createPiece } from './defaults';
import { applyEdit, type Edit, EditError, type EditKind, type SingleEdit } from './edits';
import { MEND_OPS, NO_TRANSFORM, type Recipe } from './recipe';
import type { ModelItem, Offset, Piece } from './schema';

const hex = fc.array(fc.constantFrom(...'0123456789abcdef'), { minLength: 64, maxLength: 64 }).map((a) => a.join(''));
const name = fc.string({ minLength: 1, maxLength: 20, unit: 'grapheme-ascii' }).map((s) => s.trim() || 'x');
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true }).map((x) => x + 0);
const three = (min: number, max: number) =>
  fc.tuple(number(min, max), number(min, max), number(min, max)) as fc.Arbitrary<[number, number, number]>;

export const arbitraryOffset: fc.Arbitrary<Offset> = fc.record({
  positionM: three(-1000, 1000),
  turnRad: three(-7, 7),
  size: three(1e-6, 1e6),
});
const credit = fc.record({ author: name, source: name, licence: fc.constantFrom('', 'own-work', 'CC-BY-4.0') });
export const arbitraryStock = (id: string): fc.Arbitrary<ModelItem> =>
  fc.record({
    id: fc.constant(id),
    name,
    kind: fc.constant('model' as const),
    original: hex,
    model: hex,
    bytes: fc.nat(1e9),
    credit,
    stated: fc.constantFrom<Kind | null>(null, 'eyewear', 'figure'),
    dismissed: fc.array(fc.record({ code: fc.constant('geometry/crumbs'), where: name, reason: name }), { maxLength: 2 }),
  });
const arbitraryRecipe: fc.Arbitrary<Recipe> = fc.record({
  steps: fc.tuple(
    fc.record({
      id: fc.constant('a'),
      on: fc.boolean(),
      step: fc.constant('transform' as const),
      settings: fc.record({ factor: number(1e-3, 1e3), apply: fc.boolean() }).map((s) => ({ ...NO_TRANSFORM, ...s })),
    }),
    fc.record({
      id: fc.constant('b'),
      on: fc.boolean(),
      step: fc.constant('mend' as const),
      settings: fc.record({ ops: fc.subarray([...MEND_OPS], { minLength: 1 }) }),
    }),
  ),
  result: hex,
});

/** A seed from which an edit for the piece at hand is made. */
interface Draw {
  kind: Exclude<EditKind, 'batch'>;
  pick: number;
  name: string;
  offset: Offset;
  stock: ModelItem;
  recipe: Recipe;
  flag: boolean;
  share: number;
}

export const SINGLE_KINDS = [
  'rename',
  'set-form',
  'set-profile',
  'add-stock',
  'remove-stock',
  'rename-stock',
  'state-kind',
  'set-credit',
  'set-dismissed',
  'set-recipe',
  'replace-stock',
  'add-part',
  'remove-part',
  'rename-part',
  'hang-part',
  'place-part',
  'show-part',
  'lock-part',
  'set-opacity',
  'set-solid',
  'move-part',
] as const satisfies readonly Exclude<EditKind, 'batch'>[];

const draw: fc.Arbitrary<Draw> = fc.record({
  kind: fc.constantFrom(...SINGLE_KINDS),
  pick: fc.nat(1000),
  name,
  offset: arbitraryOffset,
  stock: arbitraryStock('s'),
  recipe: arbitraryRecipe,
  flag: fc.boolean(),
  share: number(0, 1),
});

let serial = 0;
/** The draw as an edit that fits the piece, or null where the piece has nothing of the sort. */
function toEdit(p: Piece, d: Draw): SingleEdit | null {
  const among = <T>(list: T[]): T | undefined => list[d.pick % Math.max(1, list.length)];
  const part = among(Object.values(p.parts));
  const model = among(Object.values(p.parts).filter((q) => q.kind === 'model'));
  const stock = among(Object.values(p.stock));
  const stockModel = among(Object.values(p.stock).filter((s) => s.kind === 'model'));
  const fresh = `n${serial++}`;
  switch (d.kind) {
    case 'rename':
      return { kind: 'rename', name: d.name };
    case 'set-form':
      return { kind: 'set-form', form: (['S', 'M', 'L'] as const)[d.pick % 3] };
    case 'set-profile':
      return { kind: 'set-profile', profile: (['light', 'pocket', 'wide'] as const)[d.pick % 3] };
    case 'add-stock': {
      const { id: _id, name: called, original, bytes, credit: by } = d.stock;
      if (d.pick % 5 === 0)
        return {
          kind: 'add-stock',
          item: { kind: 'picture', id: fresh, name: called, original, model: original, bytes, credit: by, dismissed: [] },
        };
      return { kind: 'add-stock', item: { ...d.stock, id: fresh } };
    }
    case 'remove-stock':
      return stock ? { kind: 'remove-stock', id: stock.id } : null;
    case 'rename-stock':
      return stock ? { kind: 'rename-stock', id: stock.id, name: d.name } : null;
    case 'state-kind':
      return stock?.kind === 'model' ? { kind: 'state-kind', id: stock.id, stated: d.stock.stated } : null;
    case 'set-credit':
      return stock ? { kind: 'set-credit', id: stock.id, credit: d.stock.credit } : null;
    case 'set-dismissed':
      return stock?.kind === 'model' ? { kind: 'set-dismissed', id: stock.id, dismissed: d.stock.dismissed } : null;
    case 'set-recipe':
      return stock?.kind === 'model' ? { kind: 'set-recipe', id: stock.id, recipe: d.flag ? d.recipe : null } : null;
    case 'replace-stock':
      return stock?.kind === 'model' ? { kind: 'replace-stock', id: stock.id, item: { ...d.stock, id: stock.id } } : null;
    case 'add-part':
      if (!stockModel || d.pick % 7 === 0)
        return { kind: 'add-part', part: { ...createOccluder(fresh), locked: d.flag }, index: d.pick % 20 };
      return {
        kind: 'add-part',
        part: { ...createModelPart(fresh, stockModel.id, d.name), locked: d.flag, offset: d.offset },
        index: d.pick % 20,
      };
    case 'hang-part':
      return model ? { kind: 'hang-part', id: model.id, anchor: d.flag ? 'head' : null } : null;
    case 'place-part':
      return model ? { kind: 'place-part', id: model.id, offset: d.offset } : null;
    case 'set-opacity':
      return model ? { kind: 'set-opacity', id: model.id, opacity: d.share } : null;
    case 'set-solid':
      return model ? { kind: 'set-solid', id: model.id, solid: d.flag } : null;
    case 'remove-part':
      return part ? { kind: 'remove-part', id: part.id } : null;
    case 'rename-part':
      return part ? { kind: 'rename-part', id: part.id, name: d.name } : null;
    case 'show-part':
      return part ? { kind: 'show-part', id: part.id, visible: d.flag } : null;
    case 'lock-part':
      return part ? { kind: 'lock-part', id: part.id, locked: d.flag } : null;
    case 'move-part':
      return part ? { kind: 'move-part', id: part.id, index: d.pick % 20 } : null;
  }
}

/** A start and a row of edits that all fit, some of them batches. */
export const arbitraryWork: fc.Arbitrary<{ start: Piece; edits: Edit[] }> = fc
  .array(fc.tuple(draw, fc.boolean()), { maxLength: 60 })
  .map((draws) => {
    const item: ModelItem = {
      id: 's0',
      name: 'start.glb',
      kind: 'model',
      original: '0'.repeat(64),
      model: '1'.repeat(64),
      bytes: 1,
      credit: { author: '', source: '', licence: '' },
      stated: null,
      dismissed: [],
    };
    let piece = applyEdit(createPiece('start'), {
      kind: 'batch',
      edits: [
        { kind: 'add-stock', item },
        { kind: 'add-part', part: createModelPart('m0', 's0', 'Start'), index: 1 },
      ],
    });
    const start = piece;
    const edits: Edit[] = [];
    let batch: SingleEdit[] = [];
    for (const [d, inBatch] of draws) {
      const edit = toEdit(piece, d);
      if (!edit) continue;
      try {
        piece = applyEdit(piece, edit);
      } catch (error) {
        if (error instanceof EditError) continue; // locked, or in use: refused as it should be
        throw error;
      }
      if (inBatch) batch.push(edit);
      else {
        if (batch.length > 0) edits.push({ kind: 'batch', edits: batch });
        batch = [];
        edits.push(edit);
      }
    }
    if (batch.length > 0) edits.push({ kind: 'batch', edits: batch });
    return { start, edits };
  });
