/** The tables of a piece: one entry each. Edits, inverses, conflicts, words, blobs and the tests' generator come from here. */
import * as z from 'zod';
import { FinishRow } from '../finish/row';
import { FORM_SIZES } from '../form/measures';
import { type Part, Part as PartSchema, partDef } from '../parts';
import { KINDS, type Kind } from '../words/kinds';
import { Id, Name } from '../words/values';
import { ColourwayRow } from './colourwayrow';
import { FormRow } from './formrow';
import { type Layer, Layer as LayerSchema, layerName } from './layers';
import { linkedFiles, RecipeRow, type RecipeStep, stepFits } from './recipe';
import { canFill, canHang, StockItem } from './stock';
import { Surroundings, usualSurroundings } from './surroundings';
import { type Doc, type DocKind, type Row, type TableDef, tableOf } from './table';
import { keyFault, TakeRow } from './takerow';

export const ProfileId = z.enum(['light', 'pocket', 'wide']);
export type ProfileId = z.infer<typeof ProfileId>;

export const Settings = z.strictObject({
  name: Name,
  form: z.enum(FORM_SIZES),
  /** Who of the cast is shown instead of a size; one who is gone leaves the size. */
  wearer: Id.nullable().default(null),
  profile: ProfileId,
  /** Which colourway is shown; one that is gone, or null: things are as they are usually. */
  colourway: Id.nullable().default(null),
  surroundings: Surroundings.default(usualSurroundings),
});
export type Settings = z.infer<typeof Settings>;

export const MAX_PARTS = 500;
export const MAX_STOCK = 500;
export const MAX_LAYERS = 64;
export const MAX_FORMS = 60;
export const MAX_TAKES = 60;
export const MAX_FINISHES = 200;
export const MAX_COLOURWAYS = 40;

/** The registry sees rows loosely; each entry knows the type of its own. */
const table = <R>(
  d: {
    [K in keyof TableDef]: K extends 'label' | 'check' | 'blobs'
      ?
          | ((row: R, doc: Doc) => K extends 'label' ? string : K extends 'check' ? string | null : readonly string[])
          | Extract<TableDef[K], undefined>
      : TableDef[K];
  },
): TableDef => d as unknown as TableDef;

const stockRow = (doc: Doc, id: string) => tableOf(doc, 'stock')[id] as unknown as StockItem | undefined;
const nameOf = (row: Row | undefined, id: string) => (typeof row?.name === 'string' ? row.name : id);

const stock = table<StockItem>({
  schema: StockItem,
  refers: [],
  most: MAX_STOCK,
  word: ['stock file', 'stock files'],
  label: (row) => row.name,
  blobs: (row) => [row.original, row.model],
  say: {
    add: (label) => `bring in ${label}`,
    remove: (label) => `discard ${label}`,
    original: (label) => `replace ${label}`,
    name: (_, name) => `name the file ${name}`,
    stated: (label, kind) => `${label} is ${kind ? KINDS[kind as Kind].label.toLowerCase() : 'of no stated kind'}`,
    credit: (label) => `credit of ${label}`,
    dismissed: (label) => `findings of ${label}`,
  },
});

const recipes = table<RecipeRow>({
  schema: RecipeRow,
  refers: [{ path: 'id', table: 'stock', onRemove: 'remove' }],
  most: MAX_STOCK,
  word: ['recipe', 'recipes'],
  label: (row, doc) => nameOf(tableOf(doc, 'stock')[row.id], row.id),
  blobs: (row) => [row.result, ...linkedFiles(row.steps).map((l) => l.file)],
  check: (row, doc) => {
    const item = stockRow(doc, row.id);
    const stray = item && row.steps.find((s: RecipeStep) => !stepFits(item.kind, s.step));
    return stray && item ? `${item.name} is a ${item.kind}: ${stray.step} is no step for it.` : null;
  },
  say: {
    add: (label) => `mend ${label}`,
    steps: (label) => `mend ${label}`,
    result: (label) => `mend ${label}`,
    remove: (label) => `${label} as delivered`,
  },
});

const parts = table<Part>({
  schema: PartSchema,
  refers: [
    { path: 'stock', table: 'stock', onRemove: 'refuse' },
    { path: 'sculpt', table: 'stock', onRemove: 'refuse' },
    { path: 'hang.part', table: 'parts', onRemove: 'remove', noLoops: true },
    { path: 'layer', table: 'layers', onRemove: 'refuse' },
    { path: 'wears.*', table: 'finishes', onRemove: 'clear' },
  ],
  order: true,
  most: MAX_PARTS,
  word: ['part', 'parts'],
  label: (row) => row.name,
  check: (row, doc) => {
    const d = partDef(row);
    for (const field of d.stockFields) {
      const id = (row as unknown as Record<string, unknown>)[field];
      const item = typeof id === 'string' ? stockRow(doc, id) : undefined;
      if (!item) continue;
      const kinds = d.stockKinds?.[field];
      if (kinds && !kinds.includes(item.kind)) return `${item.name} is a ${item.kind}: ${row.name} takes a ${kinds.join(' or a ')} there.`;
      if (kinds) continue;
      if (d.drawnIn === 'screen' && !canFill(item)) return `${item.name} is a ${item.kind}: a screen shows a picture or an environment.`;
      if (d.drawnIn === 'parts' && !canHang(item)) return `${item.name} is a ${item.kind}: it cannot hang.`;
    }
    if (row.hang?.on === 'anchor' && !d.anchors.includes(row.hang.anchor.kind))
      return `${row.name} is a part of kind ${row.kind}: it cannot hang on ${row.hang.anchor.kind}.`;
    if (row.hang?.on === 'part' && !d.onParts) return `${row.name} is a part of kind ${row.kind}: it cannot hang on a part.`;
    const layer = tableOf(doc, 'layers')[row.layer] as unknown as Layer | undefined;
    if (layer && d.drawnIn !== null && layer.kind !== d.drawnIn)
      return `${row.name} is a part of kind ${row.kind}: layer ${layerName(layer)} holds none of these.`;
    return null;
  },
  say: {
    add: (label) => `hang ${label}`,
    remove: (label) => `lift off ${label}`,
    name: (_, name) => `name the part ${name}`,
    hang: (label, hang) => (hang ? `hang ${label}` : `unhang ${label}`),
    offset: (label) => `place ${label}`,
    visible: (label, on) => `${on ? 'show' : 'hide'} ${label}`,
    locked: (label, on) => `${on ? 'lock' : 'unlock'} ${label}`,
    opacity: (label) => `opacity of ${label}`,
    worn: (label, worn) => (worn ? `${label} on the body` : `take ${label} off the body`),
    solid: (label, on) => `${on ? 'draw solid' : 'draw as the file says'} ${label}`,
    follow: (label) => `what ${label} follows`,
    layer: (label) => `layer of ${label}`,
    shape: (label) => `measures of ${label}`,
    occludes: (label, on) => (on ? `${label} hides what is behind it` : `show ${label} itself`),
    feather: (label) => `edge of ${label}`,
    seated: (label, on) => (on ? `seat ${label} on its part` : `${label} flat`),
    region: (label) => `what ${label} shows`,
    covers: (label) => `what ${label} covers`,
    holes: (label) => `eyes and mouth of ${label}`,
    wears: (label) => `finish of ${label}`,
    sculpt: (label, id) => (id ? `${label} re-sculpted` : `${label} as the face is`),
    order: (label) => `reorder ${label}`,
  },
});

const layers = table<Layer>({
  schema: LayerSchema,
  refers: [],
  order: true,
  most: MAX_LAYERS,
  word: ['layer', 'layers'],
  label: (row) => layerName(row),
  say: {
    add: (label) => `layer ${label}`,
    remove: (label) => `take out layer ${label}`,
    visible: (label, on) => `${on ? 'show' : 'hide'} layer ${label}`,
    order: (label) => `move layer ${label}`,
  },
});

const forms = table<FormRow>({
  schema: FormRow,
  refers: [],
  most: MAX_FORMS,
  word: ['wearer', 'wearers'],
  label: (row) => row.name,
  say: {
    add: (label) => `${label} joins the cast`,
    remove: (label) => `${label} leaves the cast`,
    name: (_, name) => `name the wearer ${name}`,
    measures: (label) => `measures of ${label}`,
    headCircumference: (label) => `measures of ${label}`,
    finer: (label) => `measures of ${label}`,
    body: (label) => `body of ${label}`,
    size: (label) => `body of ${label}`,
  },
});

const takes = table<TakeRow>({
  schema: TakeRow,
  refers: [],
  most: MAX_TAKES,
  word: ['take', 'takes'],
  label: (row) => row.name,
  check: keyFault,
  say: {
    add: (label) => `take ${label}`,
    remove: (label) => `take out ${label}`,
    name: (_, name) => `name the take ${name}`,
    keys: (label) => `keys of ${label}`,
    seconds: (label) => `length of ${label}`,
    straight: (label) => `ease of ${label}`,
  },
});

const finishes = table<FinishRow>({
  schema: FinishRow,
  refers: [{ path: 'maps.*.stock', table: 'stock', onRemove: 'refuse' }],
  most: MAX_FINISHES,
  kindChanges: true,
  word: ['finish', 'finishes'],
  label: (row) => row.name,
  check: ({ name, maps }, doc) => {
    for (const map of Object.values(maps)) {
      const item = map && map !== 'own' ? stockRow(doc, map.stock) : undefined;
      if (item && item.kind !== 'picture') return `${item.name} is a ${item.kind}: a map of ${name} is a picture.`;
    }
    return null;
  },
  say: {
    add: (label) => `finish ${label}`,
    remove: (label) => `discard finish ${label}`,
    name: (_, name) => `name the finish ${name}`,
    ...Object.fromEntries(
      Object.keys(FinishRow.shape).flatMap((f) => (f === 'id' || f === 'name' ? [] : [[f, (label: string) => `look of ${label}`]])),
    ),
  },
});

const colourways = table<ColourwayRow>({
  schema: ColourwayRow,
  refers: [
    { path: 'looks.*.part', table: 'parts', onRemove: 'clear' },
    { path: 'looks.*.finish', table: 'finishes', onRemove: 'clear' },
  ],
  most: MAX_COLOURWAYS,
  word: ['colourway', 'colourways'],
  label: (row) => row.name,
  say: {
    add: (label) => `colourway ${label}`,
    remove: (label) => `discard colourway ${label}`,
    name: (_, name) => `name the colourway ${name}`,
    looks: (label) => `look in ${label}`,
  },
});

export const TABLES = { stock, recipes, parts, layers, forms, takes, finishes, colourways } as const satisfies Record<string, TableDef>;
export type TableName = keyof typeof TABLES;

export const PIECE_KIND: DocKind = {
  settings: Settings,
  tables: TABLES,
  settingWords: { name: 'name', form: 'form', wearer: 'wearer', profile: 'profile', colourway: 'colourway', surroundings: 'light' },
  saySettings: {
    name: (name) => `name the piece ${name}`,
    form: (form) => `form ${form}`,
    wearer: () => 'another wearer',
    profile: (profile) => `profile ${profile}`,
    colourway: () => 'another colourway',
    surroundings: () => 'another light',
  },
};
