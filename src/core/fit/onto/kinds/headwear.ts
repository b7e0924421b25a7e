/** Hats and crowns: their inner band at the hat line, its gaps before and behind alike, as low as they come. *Common practice*: the hat line
 * runs a finger and a half above the brow, as the tape round the head does. */

import { nearestLandmark } from '../../../form/near';
import { placeWords } from '../../../words/places';
import { dropPlaces } from '../../drop';
import { type Asked, type Attempt, type Doubt, type Fitter, mm, type OwnPair, within } from '../attempt';
import { type Head, skinAlong } from '../head';
import { askew, lowestRing, moreBehind, type Ring, ROUND, rimLevelled, ringPoint, ringsOf } from '../ring';
import { type Place, placed, placedAll, type Stand } from '../stand';

/** Above the foremost point of the brow, metres. */
const HAT_LINE_M = 0.025;
const LEAST_CLOSED = 0.4;
/** So far over the head it is let down from, metres. */
const OVER_M = 0.03;
const [FEW_ROUNDS, ROUNDS] = [6, 9];

export const HEADWEAR: Fitter = { level: (stand) => rimLevelled(stand, LEAST_CLOSED), fit: fitHeadwear };

function fitHeadwear({ stand, head, gapM, keep, rough }: Asked): Attempt | string {
  const ring = lowestRing(ringsOf(stand), LEAST_CLOSED);
  if (!ring) return 'Nothing of it goes round a head.';
  const [brow, back] = [head.at('glabella'), head.at('opisthocranion')];
  const liftRad = Math.atan2(brow[1] - back[1], brow[2] - back[2]);
  const line = brow[1] + HAT_LINE_M;
  const [left, right] = [ring.radii[ROUND / 4], ring.radii[(3 * ROUND) / 4]];
  const side = Number.isFinite(left + right) ? (left + right) / 2 : ring.mean;
  const all = rough ? stand.points : stand.within(() => true);
  const lowest = stand.lo.y;

  /** As large as this, let down: where it comes to lie. */
  const letDown = (factor: number): { place: Place; touches: number[]; front: number } | null => {
    const place: Place = { factor, liftRad, x: 0, y: 0, z: 0 };
    const [fore, aft] = [ringPoint(ring, 0), ringPoint(ring, ROUND / 2)];
    const whole = Number.isFinite(ring.radii[0] + ring.radii[ROUND / 2]);
    // between front and back of the head where the ring is to come
    const [atFore, atAft] = [skinZ(head, line, 1), skinZ(head, back[1] + HAT_LINE_M, -1)];
    place.z = whole
      ? (atFore + atAft - placed(place, fore)[2] - placed(place, aft)[2]) / 2
      : Number.isFinite(ring.radii[0])
        ? atFore + gapM - placed(place, fore)[2]
        : (atFore + atAft) / 2 - placed(place, [0, ring.y, ring.z])[2];
    place.y = head.at('vertex')[1] + OVER_M - placed(place, [0, lowest, ring.z])[1];
    const down = dropPlaces(placedAll(place, all), head.field, [0, -1, 0], gapM);
    if (!down) return null;
    place.y -= down.wayM;
    return { place, touches: [down.atM[0], down.atM[1] - down.wayM, down.atM[2]], front: placed(place, [0, ring.y, ring.z])[1] };
  };
  const middle = (line + back[1] + HAT_LINE_M) / 2;
  const first = keep ?? (head.at('euryonL')[0] + gapM) / side;
  let best = letDown(first);
  if (!best) return 'Let down from above, it meets nobody.';
  if (keep === null) {
    // the larger the lower: between what lies too high and what lies too low
    let [small, large] = [first * 0.8, first * 1.25];
    for (let round = 0; round < (rough ? FEW_ROUNDS : ROUNDS); round++) {
      const factor = round === 0 ? first : (small + large) / 2;
      const there = letDown(factor);
      if (!there) break;
      // past the ears it falls: the nearest is kept, not the last
      if (Math.abs(there.front - middle) < Math.abs(best.front - middle)) best = there;
      if (Math.abs(there.front - middle) < 0.0003) break;
      if (there.front > middle) small = factor;
      else large = factor;
    }
  }
  const { place, touches, front } = best;
  const by = nearestLandmark(head.form, touches);
  const limit = `It rests on ${by ? placeWords(by) : 'the head'}, ${mm(Math.abs(front - middle))} ${front >= middle ? 'above' : 'below'} the hat line.`;
  const pairs = (
    [
      [0, 'band in front'],
      [ROUND / 2, 'band behind'],
      [ROUND / 4, 'band on the left'],
      [(3 * ROUND) / 4, 'band on the right'],
    ] as const
  )
    .filter(([k]) => Number.isFinite(ring.radii[k]))
    .map(([k, name]) => bandPair(head, place, ring, k, name));
  const doubts: Doubt[] = [
    ...askew(stand, LEAST_CLOSED),
    ...peaked(stand, ring, place.factor),
    ...within(ring.closed, [0.75, 1], (x) => `It goes only ${Math.round(x * 100)} % round.`).map((d) => ({
      ...d,
      left: Math.max(0.6, d.left),
    })),
    ...within(
      Math.abs(front - middle),
      [0, keep === null ? 0.02 : 0.06],
      (x) => `It would lie ${mm(x)} ${front > middle ? 'above' : 'below'} the hat line.`,
    ),
    // what is open behind tells nothing of how long it is
    ...(Number.isFinite(ring.radii[0] + ring.radii[ROUND / 2])
      ? within((2 * side) / (ring.radii[0] + ring.radii[ROUND / 2]), [0.55, 1.4], () => 'Its opening is not as a head is.')
      : []),
    ...within((stand.hi.x - stand.lo.x) * place.factor, [0.14, 0.7], (x) => `It would be ${mm(x)} wide.`),
    ...within((stand.hi.y - stand.lo.y) * place.factor, [0.01, 0.6], (x) => `It would be ${mm(x)} high.`),
  ];
  return { stand, place, pairs, limit, doubts };
}

/** What reaches out further at the band shades the eyes: *common practice*, but for hats against rain. */
function peaked(stand: Stand, ring: Ring, factor: number): Doubt[] {
  const near = (stand.hi.y - stand.lo.y) * AT_BAND;
  const [fore, aft] = [ring.radii[0], ring.radii[ROUND / 2]];
  if (!Number.isFinite(fore + aft)) return [];
  let [before, behind] = [0, 0];
  const at = stand.within((_, y) => Math.abs(y - ring.y) < near);
  for (let i = 2; i < at.length; i += 3) {
    before = Math.max(before, at[i] - ring.z - fore);
    behind = Math.max(behind, ring.z - aft - at[i]);
  }
  if ((behind - before) * factor > PEAK_M) return [{ why: 'Its peak would be behind.', left: 0.5 }];
  return moreBehind(stand, ring, factor);
}
const AT_BAND = 0.2;
const PEAK_M = 0.015;

/** Where fore or behind the skin is at a height, in the middle plane, metres. */
function skinZ(head: Head, y: number, way: 1 | -1): number {
  return skinAlong(head, [0, y, way * 0.2], [0, 0, -way])?.z ?? 0;
}

/** A place of a ring, and the skin it lies before. */
export function bandPair(head: Head, place: Place, ring: Ring, k: number, name: string): OwnPair {
  const own = ringPoint(ring, k);
  const at = placed(place, own);
  const middle = placed(place, [0, ring.y, ring.z]);
  const [x, z] = [at[0] - middle[0], at[2] - middle[2]];
  const far = Math.hypot(x, z) || 1;
  const out = 0.1;
  const skin = skinAlong(head, [at[0] + (x / far) * out, at[1], at[2] + (z / far) * out], [-x / far, 0, -z / far]);
  return { name, own, form: skin ? [skin.x, skin.y, skin.z] : at };
}
