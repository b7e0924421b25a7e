/** A part let down along a way until it lies on its wearer. */
import { Vector3 } from 'three';
import type { PartNumber } from '@/core/fit/numbers';
import { changePart, type Edit, type Part, type Piece, shownWearer } from '@/core/piece';
import type { Assets, Held } from '@/core/run';
import { placedCell } from '@/core/run/placed';
import { forms } from '@/worker/browser';

/** In the head's frame; left and right are the wearer's. */
export const WAYS = {
  down: { words: 'downwards', along: [0, -1, 0] },
  up: { words: 'upwards', along: [0, 1, 0] },
  back: { words: 'backwards', along: [0, 0, -1] },
  fore: { words: 'forwards', along: [0, 0, 1] },
  left: { words: 'to the left', along: [1, 0, 0] },
  right: { words: 'to the right', along: [-1, 0, 0] },
} as const;
export type Way = keyof typeof WAYS;
export const WAY_NAMES = Object.keys(WAYS) as Way[];

/**
 * The edit that lets it down to a gap. null: it is not there in that moment.
 * @throws {Error} that way it meets nobody
 */
export async function seated(
  piece: Piece,
  assets: Assets,
  part: Part,
  held: Held,
  way: Way,
  gapM: number,
  timeS = 0,
): Promise<Edit | null> {
  const placed = placedCell(piece, assets, part, shownWearer(piece), held, timeS);
  if (!placed) return null;
  const { along, words } = WAYS[way];
  const there = await forms.drop(placed.cell, along, gapM);
  if (there === null) throw new Error(`Moved ${words}, ${part.name} meets nobody. Choose another way, or bring it nearer first.`);
  const by = placed.inOffset(new Vector3(...along).multiplyScalar(there.wayM));
  const [x, y, z] = part.offset.positionM;
  return changePart(part.id, { offset: { ...part.offset, positionM: [x + by.x, y + by.y, z + by.z] } });
}

/** A number of which the edit is worked out. */
export type TriedNumber = Omit<PartNumber, 'edit'> & { edit: (value: number) => Edit | Promise<Edit> };

const MM = 0.001;
/** How near it lies when it is let down one way or another: numbers to try, as others are. */
export const gapNumbers = (piece: Piece, assets: Assets, part: Part, held: Held): TriedNumber[] =>
  part.locked
    ? []
    : WAY_NAMES.map((way) => ({
        id: `gap ${way}`,
        label: `Gap, let down ${WAYS[way].words}`,
        dimension: 'length',
        unit: 'mm',
        decimals: 1,
        now: MM / 2,
        step: MM,
        range: [-20 * MM, 50 * MM],
        edit: async (gapM) => {
          const edit = await seated(piece, assets, part, held, way, gapM);
          if (!edit) throw new Error(`${part.name} is not there in this moment.`);
          return edit;
        },
      }));
