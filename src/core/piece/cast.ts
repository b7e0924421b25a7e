/** The cast: wearers by their measures, beside the three sizes; and who of them is shown. */
import { type BodyAsk, bodyOfSize } from '../form/body/ask';
import { FORM_SIZES, type FormAsk, type FormSize, type Measures, PRESETS } from '../form/measures';
import type { FormRow } from './formrow';
import type { Piece } from './schema';
import type { Settings } from './tables';

/** One of those a piece is looked at on. */
export interface Wearer {
  key: string;
  name: string;
  /** null: one of the three sizes. */
  row: FormRow | null;
  /** What shows it. */
  set: Pick<Settings, 'form' | 'wearer'>;
}

const sizeOf = (form: FormSize): Wearer => ({ key: form, name: form, row: null, set: { form, wearer: null } });
const rowOf = (row: FormRow): Wearer => ({ key: `own ${row.id}`, name: row.name, row, set: { form: row.size, wearer: row.id } });
const byName = (a: FormRow, b: FormRow) => a.name.localeCompare(b.name) || (a.id < b.id ? -1 : 1);

/** Everybody: the three sizes, then a piece's own by name. */
export const castOf = (piece: Pick<Piece, 'forms'>): Wearer[] => [
  ...FORM_SIZES.map(sizeOf),
  ...Object.values(piece.forms).sort(byName).map(rowOf),
];
/** Who is shown: one who is not in the cast any more leaves the size they had. */
export function shownWearer({ settings, forms }: Pick<Piece, 'settings' | 'forms'>): Wearer {
  const { wearer, form } = settings;
  const row = wearer !== null && Object.hasOwn(forms, wearer) ? forms[wearer] : null;
  return row ? rowOf(row) : sizeOf(form);
}
/** The piece with another wearer shown. */
export const wornBy = (piece: Piece, wearer: Wearer): Piece =>
  shownWearer(piece).key === wearer.key ? piece : { ...piece, settings: { ...piece.settings, ...wearer.set } };

/** What a form is asked for by. */
export const askOf = ({ row, set }: Wearer): FormAsk =>
  row ? { ...row.measures, ...said({ headCircumference: row.headCircumference, ...row.finer }) } : set.form;
const said = <K extends string>(of: Readonly<Record<K, number | null>>): Partial<Record<K, number>> =>
  Object.fromEntries(Object.entries(of).filter(([, mm]) => mm !== null)) as Partial<Record<K, number>>;
export const shownAsk = (piece: Pick<Piece, 'settings' | 'forms'>): FormAsk => askOf(shownWearer(piece));
/** What their whole body is asked for by. */
export const bodyAskOf = (wearer: Wearer): BodyAsk =>
  wearer.row ? { size: wearer.row.size, body: said(wearer.row.body), head: askOf(wearer) } : bodyOfSize(wearer.set.form);
export const shownBody = (piece: Pick<Piece, 'settings' | 'forms'>): BodyAsk => bodyAskOf(shownWearer(piece));
/** “form M”, “Tall Ines”. */
export const wearerWords = ({ row, name }: Wearer): string => (row ? name : `form ${name}`);

export const measuresOf = (ask: FormAsk): Measures => (typeof ask === 'string' ? PRESETS[ask] : { ...PRESETS.M, ...ask });
