/**
 * A figure found in a shape: which of its ends are head, hands and feet, and where its joints are. Ways lead through what the shape encloses
 * (voxels), so that one mesh or forty, any pose, turn and unit are the same to it.
 */
import { RigError } from '../middle';
import { boxesOf, type Surface } from '../surface';
import { evened } from './even';
import { type Axes, type FigureJoint, flawOf, type Placed, placeJoints } from './joints';
import { matchEnds, type Tip, tipsOf } from './match';
import { solidOf } from './solid';

export type { Axes, FigureJoint };

export interface Figure extends Placed {
  /** Way from the head's end to the toes', metres. */
  lengthM: number;
  /** Ends that belong to no limb of a figure: a tail, a hat's rim, a skirt's hem. */
  others: Tip[];
}

/**
 * Voxels along the longest side: of two the finer is taken where the coarser has grown limbs together; where no figure is seen in either, what
 * lies below the surface alone, for there a hand that touches a hip is apart from it.
 */
const LOOKS = [
  { grid: 112, within: false },
  { grid: 176, within: false },
  { grid: 176, within: true },
] as const;
/** Of two bodies that do not touch the lesser has at least this share: two figures, not a figure and a cup. */
const TWO = 0.25;

/** So sure a coarse look is not worth a finer one. */
const GOOD = 0.72;

/** Sum of sureness of a placing: which of two is the better one. */
const worth = (p: Placed) => p.joints.reduce((s, j) => s + j.sure, 0);

/** @throws {RigError} `rig/no-surface` nothing is drawn; `rig/no-figure` it is something else, and why */
export function findFigure(surface: Surface): Figure {
  if (surface.triangles.length === 0)
    throw new RigError('rig/no-surface', 'The model draws no surface, so there is nothing to raise bones in.');
  let best: Figure | null = null;
  let why = '';
  for (const { grid, within } of LOOKS) {
    if (within && best) break;
    const solid = solidOf(surface, grid, within);
    if (!within && solid.joined < 1 - TWO)
      throw new RigError('rig/no-figure', 'The file holds more than one body, and a figure is one. Bring each as a file of its own.');
    const tips = tipsOf(solid);
    const flaws: string[] = [];
    for (const match of matchEnds(solid, tips)) {
      const placed = evened(placeJoints(solid, match), match.lengthM);
      const flaw = flawOf(placed, match);
      if (flaw) flaws.push(flaw);
      else {
        if (!best || worth(placed) > worth(best)) best = { ...placed, lengthM: match.lengthM, others: match.others };
        break;
      }
    }
    why ||= reason(surface, tips, flaws[0]);
    if (best && worth(best) > GOOD * best.joints.length) break;
  }
  if (!best) throw new RigError('rig/no-figure', why);
  return best;
}

function reason(surface: Surface, tips: readonly Tip[], flaw: string | undefined): string {
  const long = Math.max(...boxesOf(surface).flatMap((b) => [b[3] - b[0], b[4] - b[1], b[5] - b[2]]));
  const limbs = tips.filter((t) => t.lengthM > long * 0.2).length;
  const say = 'Raise chains in its limbs instead, or place the joints yourself.';
  if (tips.length < 5)
    return `This is no figure: a head, two hands and two feet are looked for, and only ${tips.length} ${tips.length === 1 ? 'end stands' : 'ends stand'} out. ${tips.length > 2 ? 'Hands that rest on the body are not seen: arms should hang free of it. ' : ''}${say}`;
  if (limbs > 7) return `This is no figure: it has ${limbs} limbs. ${say}`;
  if (flaw) return `This is no figure: ${flaw}. ${say}`;
  return `This is no figure: of its ends no five lie as a head, two hands and two feet do. ${say}`;
}
