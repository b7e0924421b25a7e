/** The one definition of a piece. Lengths in metres, turns in radians (yaw, pitch, roll, composed YXZ), head frame. */
import type * as z from 'zod';
import type { FinishRow } from '../finish/row';
import type { Part } from '../parts';
import type { ColourwayRow } from './colourwayrow';
import { documentSchema } from './document';
import type { FormRow } from './formrow';
import type { Layer } from './layers';
import type { RecipeRow } from './recipe';
import type { StockItem } from './stock';
import { PIECE_KIND, type Settings, type TableName } from './tables';
import type { TakeRow } from './takerow';

export const PIECE_SCHEMA = 9;

/** Type of a row, by table. */
export interface RowTypes {
  stock: StockItem;
  recipes: RecipeRow;
  parts: Part;
  layers: Layer;
  forms: FormRow;
  takes: TakeRow;
  finishes: FinishRow;
  colourways: ColourwayRow;
}
type Tables = { [K in TableName]: Record<string, RowTypes[K]> };
/** Orders: the rack (parts, in which they are listed) and the stacking (layers, back to front). */
export interface Piece extends Tables {
  schema: typeof PIECE_SCHEMA;
  settings: Settings;
  orders: { parts: string[]; layers: string[] };
}
export const Piece = documentSchema(PIECE_KIND, PIECE_SCHEMA) as unknown as z.ZodType<Piece>;
