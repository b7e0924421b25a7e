/** Collars and necklaces: round the neck, let down until they rest on nape, shoulders or chest. */

import { nearestLandmark } from '../../../form/near';
import { placeWords } from '../../../words/places';
import { dropPlaces } from '../../drop';
import { type Asked, type Attempt, type Doubt, type Fitter, mm, type OwnPair, within } from '../attempt';
import type { Head } from '../head';
import { moreBehind, type Ring, ROUND, rimLevelled, ringsOf } from '../ring';
import { type Place, placed, placedAll, type Stand } from '../stand';
import { bandPair } from './headwear';

const LEAST_CLOSED = 0.55;
/** The neck's middle, from the nape fore, as a share of the head's length; it leans fore by so much, radians. */
const NECK_AXIS = 0.3;
const LEANS = 0.25;
/** Let down from so far above the nape; a finger has room between neck and collar (*common practice*), metres. */
const OVER_M = 0.012;
const ROOM_M = 0.008;

export const NECKWEAR: Fitter = { level: (stand) => rimLevelled(stand, LEAST_CLOSED), fit: fitNeckwear };

/** The ring that is narrowest: what lies at the neck. */
function narrowest(stand: Stand): Ring | null {
  const rings = ringsOf(stand).filter((r) => r.closed >= LEAST_CLOSED);
  return rings.length === 0 ? null : rings.reduce((a, b) => (b.mean < a.mean * 0.98 ? b : a));
}

function fitNeckwear({ stand, head, gapM, keep }: Asked): Attempt | string {
  const ring = narrowest(stand);
  if (!ring) return 'Nothing of it goes round a neck.';
  const nape = head.at('cervicale');
  const neckZ = nape[2] + NECK_AXIS * (head.at('glabella')[2] - head.at('opisthocranion')[2]);
  const target = nape[1];
  const factor = keep ?? (neckRadius(head, target, neckZ) + ROOM_M + gapM) / ring.mean;
  const place: Place = { factor, liftRad: -LEANS, x: 0, y: 0, z: 0 };
  const from = placed(place, [0, ring.y, ring.z]);
  place.z = neckZ - from[2];
  // below the chin, where the neck stands free inside it
  place.y = target + OVER_M - from[1];
  const down = dropPlaces(
    placedAll(
      place,
      stand.within(() => true),
    ),
    head.field,
    [0, -1, 0],
    gapM,
  );
  if (!down) return 'Let down round the neck, it meets nobody.';
  place.y -= down.wayM;
  const at = placed(place, [0, ring.y, ring.z]);
  const by = nearestLandmark(head.form, [down.atM[0], down.atM[1] - down.wayM, down.atM[2]]);
  const limit = `It rests on ${by ? placeWords(by) : 'the shoulders'}.`;
  const pairs: OwnPair[] = (
    [
      [0, 'in front'],
      [ROUND / 2, 'at the nape'],
      [ROUND / 4, 'on the left'],
      [(3 * ROUND) / 4, 'on the right'],
    ] as const
  )
    .filter(([k]) => Number.isFinite(ring.radii[k]))
    .map(([k, name]) => bandPair(head, place, ring, k, name));
  const doubts: Doubt[] = [
    ...within(
      Math.abs(at[1] - target),
      [0, 0.045],
      (x) => `It would lie ${mm(x)} ${at[1] > target ? 'above' : 'below'} the root of the neck.`,
    ),
    ...within(2 * ring.mean * place.factor, [0.1, 0.3], (x) => `Its opening would be ${mm(x)} wide.`),
    ...within((stand.hi.x - stand.lo.x) * place.factor, [0.11, 0.6], (x) => `It would be ${mm(x)} wide.`),
    ...within((stand.hi.y - stand.lo.y) * place.factor, [0.001, 0.45], (x) => `It would be ${mm(x)} high.`),
  ];
  doubts.push(...moreBehind(stand, ring, place.factor));
  // what hangs, hangs down
  if ((stand.hi.y - ring.y - (ring.y - stand.lo.y)) * place.factor > HIGH_M)
    doubts.push({ why: 'Most of it would stand above the neck’s root.', left: 0.6 });
  return { stand, place, pairs, limit, doubts };
}
const HIGH_M = 0.004;

/** Mean distance of the skin from the neck's axis at a height. */
function neckRadius(head: Head, y: number, z: number): number {
  let sum = 0;
  const ways = 12;
  for (let k = 0; k < ways; k++) {
    const a = (k / ways) * 2 * Math.PI;
    // from within outwards until it is left
    let r = 0;
    for (let n = 0; n < 60; n++) {
      const d = head.field.distance(Math.sin(a) * r, y, z + Math.cos(a) * r);
      if (d > -0.0005) break;
      r += Math.max(0.0005, -d);
    }
    sum += r;
  }
  return sum / ways;
}
