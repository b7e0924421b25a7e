/** What goes over the whole head: as large as such things are, or as it must be to clear the head, which stands in the middle of it. */

import { Vector3 } from 'three';
import { KINDS } from '../../../words/kinds';
import { type Asked, type Attempt, type Doubt, type Fitter, mm, type OwnPair, type Point, within } from '../attempt';
import { type Head, leastOf } from '../head';
import { askew, CLOSED, ROUND, rimLevelled, ringAt } from '../ring';
import { type Place, placed, placedAll, type Stand } from '../stand';
import { bandPair } from './headwear';

const LEAST_CLOSED = 0.4;
const MOST_GROWN = 8;
const GROWS = 1.06;
/** Steps it is moved by to where it is clear of the head most, metres. */
const STEPS_M = [0.016, 0.006, 0.002, 0.0007, 0.0002];
const MOST_STEPS = 12;
/** Less than this it may not clear a head by, metres. */
const CLEAR_M = 0.003;
/** A head that usual sizes are meant for, metres: its length. */
const USUAL_HEAD_M = 0.192;

export const FULLHEAD: Fitter = { level: (stand) => rimLevelled(stand, LEAST_CLOSED), fit: fitFullhead };

function fitFullhead({ stand, head, gapM, keep, rough }: Asked): Attempt | string {
  const [vertex, chin, nose, back] = [head.at('vertex'), head.at('menton'), head.at('pronasale'), head.at('opisthocranion')];
  const middle: Point = [0, (vertex[1] + chin[1]) / 2, (nose[2] + back[2]) / 2];
  // inside, below its top
  const z0 = (stand.hi.z + stand.lo.z) / 2;
  const top = stand.hi.y;
  const high = stand.hi.y - stand.lo.y;
  const inner = stand.meets(new Vector3(0, stand.lo.y + high * 0.6, z0), new Vector3(0, 1, 0));
  if (!Number.isFinite(inner)) return 'It is open above.';
  const innerTop = Math.min(top, stand.lo.y + high * 0.6 + inner);
  const clear = Math.max(gapM, CLEAR_M);
  let factor = keep ?? ((KINDS.fullhead.usualMm[KINDS.fullhead.told] / 1000) * (head.at('glabella')[2] - back[2])) / USUAL_HEAD_M / high;
  let place: Place = { factor, liftRad: 0, x: 0, y: 0, z: 0 };
  let least = -Infinity;
  const clearAt = (f: number) => {
    place = inMiddle(stand, head, f, middle, innerTop);
    least = leastOf(head, placedAll(place, innerOf(stand, place, chin[1], rough ? EVERY : 1)));
    return least;
  };
  if (clearAt(factor) < clear && keep === null) {
    let small = factor;
    for (let grown = 0; grown < MOST_GROWN && least < clear; grown++) {
      small = factor;
      factor *= GROWS;
      clearAt(factor);
    }
    // no larger than it must be
    for (let k = 0; k < (rough ? 0 : 5); k++) {
      const between = (small + factor) / 2;
      if (clearAt(between) < clear) small = between;
      else factor = between;
    }
    clearAt(factor);
  }
  const ring = ringAt(stand, (middle[1] - place.y) / place.factor, (middle[2] - place.z) / place.factor);
  const pairs: OwnPair[] = [{ name: 'crown', own: [0, innerTop, (vertex[2] - place.z) / place.factor], form: [...vertex] }];
  for (const [k, name] of [
    [0, 'in front'],
    [ROUND / 2, 'behind'],
    [ROUND / 4, 'on the left'],
    [(3 * ROUND) / 4, 'on the right'],
  ] as const)
    if (Number.isFinite(ring.radii[k])) pairs.push(bandPair(head, place, ring, k, name));
  const doubts: Doubt[] = [
    ...askew(stand, LEAST_CLOSED),
    ...within(ring.closed, [CLOSED * 0.75, 1], (x) => `It goes only ${Math.round(x * 100)} % round the head.`),
    ...within(clear - least, [-Infinity, 0.004], () => `It cannot clear the head: it cuts ${mm(-least)} deep.`),
    ...within((stand.hi.y - stand.lo.y) * place.factor, [0.2, 0.8], (x) => `It would be ${mm(x)} high.`),
    ...within((stand.hi.x - stand.lo.x) * place.factor, [0.17, 0.9], (x) => `It would be ${mm(x)} wide.`),
    ...within(chin[1] - (place.y + stand.lo.y * place.factor), [-0.03, 0.6], () => 'It does not reach over the chin.'),
  ];
  const below = stand.meets(
    new Vector3(0, (middle[1] - place.y) / place.factor, (head.at('gonionL')[2] - place.z) / place.factor),
    new Vector3(0, -1, 0),
  );
  if (Number.isFinite(below)) doubts.push({ why: 'It is closed below, where the neck comes out.', left: 0.3 });
  const limit = `The head stands in the middle of it, ${mm(Math.max(0, least))} clear where it is nearest.`;
  return { stand, place, pairs, limit, doubts };
}

/** What of it is about the head: some of the places spread over it. */
function innerOf(stand: Stand, place: Place, chinY: number, every: number): number[] {
  const out: number[] = [];
  for (let i = 0; i < stand.points.length; i += 3 * every) {
    const p = placed(place, stand.points, i);
    if (p[1] > chinY - BELOW_CHIN_M) out.push(stand.points[i], stand.points[i + 1], stand.points[i + 2]);
  }
  return out;
}
const EVERY = 5;
/** What lies lower is about neck and shoulders, metres. */
export const BELOW_CHIN_M = 0.01;

/** How crowded it is round the head: what is near counts by far the most. */
function crowded(head: Head, place: Place, inner: readonly number[]): number {
  const here = placedAll(place, inner);
  let sum = 0;
  for (let i = 0; i < here.length; i += 3) sum += Math.exp(-head.field.distance(here[i], here[i + 1], here[i + 2]) / NEAR_M);
  return sum;
}
const NEAR_M = 0.012;

/** How high the middle of what is looked through in front is; null: nothing is. */
function windowOf(stand: Stand): number | null {
  const broad = (stand.hi.x - stand.lo.x) * ASIDE;
  const ys: number[] = [];
  for (let i = 0; i < stand.thing.count; i++)
    if (stand.thing.glass[i] && stand.points[i * 3 + 2] > stand.hi.z / 2 && Math.abs(stand.points[i * 3]) < broad)
      ys.push(stand.points[i * 3 + 1]);
  if (ys.length < FEWEST) return null;
  // of several the one that most of it is
  const reach = (stand.hi.y - stand.lo.y) * ONE;
  let at = ys.sort((a, b) => a - b)[ys.length >> 1];
  for (let k = 0; k < 5; k++) {
    const near = ys.filter((y) => Math.abs(y - at) < reach);
    at = near.reduce((s, y) => s + y, 0) / near.length;
  }
  return at;
}
const ASIDE = 0.25;
const FEWEST = 20;
/** Of its height: glass within is one window. */
const ONE = 0.18;

/** As far before the head as behind it; its window before the eyes, or where it is least crowded. @param innerTop of the inside, in the stand */
function inMiddle(stand: Stand, head: Head, factor: number, middle: Point, innerTop: number): Place {
  const place: Place = { factor, liftRad: 0, x: 0, y: head.at('vertex')[1] + OVER_M - factor * innerTop, z: 0 };
  const between = () => {
    const ring = ringAt(stand, (middle[1] - place.y) / factor, (stand.hi.z + stand.lo.z) / 2);
    place.z = middle[2] - factor * ring.z;
  };
  const window = windowOf(stand);
  if (window !== null) place.y = (head.at('pupilL')[1] + head.at('pupilR')[1]) / 2 - factor * window;
  between();
  if (window !== null) return place;
  const inner = innerOf(stand, place, head.at('menton')[1], EVERY);
  let best = crowded(head, place, inner);
  for (const step of STEPS_M)
    for (const way of [1, -1])
      for (let n = 0; n < MOST_STEPS; n++) {
        const before = { ...place };
        place.y += way * step;
        between();
        const c = crowded(head, place, inner);
        if (c >= best) {
          Object.assign(place, before);
          break;
        }
        best = c;
      }
  return place;
}
/** From the head to the inside of its top, at first, metres. */
const OVER_M = 0.025;
