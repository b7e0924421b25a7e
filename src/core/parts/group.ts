/** Holds other parts: moved, hidden and hung as one. */
import * as z from 'zod';
import { ANCHORS, PartCommon, type PartDef } from './common';

export const GroupPart = z.strictObject({ ...PartCommon, kind: z.literal('group') });
export type GroupPart = z.infer<typeof GroupPart>;

export const group = {
  schema: GroupPart,
  label: 'Group',
  use: 'holds parts that are moved as one',
  anchors: ANCHORS,
  onParts: true,
  drawnIn: null,
  role: 'holds',
  stockFields: [],
} as const satisfies PartDef;
