/** A live patch: a window that shows a region of the wearer's own face on a part. */
import * as z from 'zod';
import { Share } from '../words/values';
import { PATCH_REGIONS } from '../words/windows';
import { ANCHORS, PartCommon, type PartDef } from './common';

export const PatchPart = z.strictObject({
  ...PartCommon,
  kind: z.literal('patch'),
  region: z.enum(PATCH_REGIONS),
  /** How much of it fades out towards its edge: 0 none, 1 from the middle on. */
  feather: Share.default(0.35),
  /** Laid onto the part it hangs on, along the view of the camera; else it is flat. */
  seated: z.boolean().default(true),
});
export type PatchPart = z.infer<typeof PatchPart>;

export const patch = {
  schema: PatchPart,
  label: 'Live patch',
  use: 'shows an eye, the mouth, the nose or all of the wearer’s own face on a part',
  anchors: ANCHORS,
  onParts: true,
  drawnIn: 'parts',
  role: 'made',
  stockFields: [],
} as const satisfies PartDef;
