/** Masks: their inside a set gap before the face, eye holes before the eyes where they have some. */
import { Vector3 } from 'three';
import { dropPlaces } from '../../drop';
import { type Asked, type Attempt, type Doubt, type Fitter, mm, type OwnPair, type Point, within } from '../attempt';
import type { Head } from '../head';
import { type Place, placed, placedAll, type Stand, unplaced } from '../stand';

const [COLUMNS, ROWS] = [36, 44];
const STEPS_M = [0.012, 0.005, 0.002, 0.0007];
const MOST_STEPS = 14;
/** Distances from the face count no further than this, metres. */
const LOOSE_M = 0.02;

export const MASK: Fitter = { level: (stand) => stand, fit: fitMask };

interface Inside {
  /** Where rays from behind meet it first, three numbers each. */
  wall: number[];
  /** Middles of holes to both sides of the middle plane that could be eyes: left ones. */
  eye: Point | null;
}

/** The inside as it is seen from behind. */
function insideOf(stand: Stand): Inside {
  const wall: number[] = [];
  const [w, h] = [stand.hi.x - stand.lo.x, stand.hi.y - stand.lo.y];
  const open: boolean[] = [];
  const at = (c: number, r: number): [number, number] => [stand.lo.x + ((c + 0.5) / COLUMNS) * w, stand.lo.y + ((r + 0.5) / ROWS) * h];
  for (let r = 0; r < ROWS; r++)
    for (let c = 0; c < COLUMNS; c++) {
      const [x, y] = at(c, r);
      const from = new Vector3(x, y, stand.lo.z - 1);
      const d = stand.meets(from, new Vector3(0, 0, 1));
      open.push(!Number.isFinite(d));
      if (Number.isFinite(d)) wall.push(x, y, from.z + d);
    }
  // holes: openings that the rim shuts in
  const seen = new Uint8Array(open.length);
  let eye: { at: Point; cells: number } | null = null;
  for (let i = 0; i < open.length; i++) {
    if (!open[i] || seen[i]) continue;
    const cells: number[] = [i];
    seen[i] = 1;
    let edge = false;
    for (let n = 0; n < cells.length; n++) {
      const [c, r] = [cells[n] % COLUMNS, Math.floor(cells[n] / COLUMNS)];
      if (c === 0 || r === 0 || c === COLUMNS - 1 || r === ROWS - 1) edge = true;
      for (const [dc, dr] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ]) {
        const [u, v] = [c + dc, r + dr];
        const k = v * COLUMNS + u;
        if (u < 0 || v < 0 || u >= COLUMNS || v >= ROWS || !open[k] || seen[k]) continue;
        seen[k] = 1;
        cells.push(k);
      }
    }
    if (edge || cells.length < 4) continue;
    const [x, y] = cells.reduce(
      ([a, b], k) => {
        const [p, q] = at(k % COLUMNS, Math.floor(k / COLUMNS));
        return [a + p / cells.length, b + q / cells.length];
      },
      [0, 0],
    );
    if (x < 0.1 * w || y < stand.lo.y + 0.35 * h) continue;
    if (!eye || cells.length > eye.cells) eye = { at: [x, y, 0], cells: cells.length };
  }
  return { wall, eye: eye?.at ?? null };
}

function fitMask({ stand, head, gapM, keep }: Asked): Attempt | string {
  const { wall, eye } = insideOf(stand);
  if (wall.length < 60) return 'It has no inside that could lie before a face.';
  const pupil = head.at('pupilL');
  const [brow, chin] = [head.at('glabella'), head.at('menton')];
  const breadth = stand.hi.x - stand.lo.x;
  const factor = keep ?? (eye ? pupil[0] / eye[0] : (2.1 * head.at('zygionL')[0]) / breadth);
  const place: Place = { factor, liftRad: 0, x: 0, y: 0, z: 0 };
  const middle = (stand.lo.y + stand.hi.y) / 2;
  const settle = () => {
    place.y += eye ? pupil[1] - placed(place, eye)[1] : 0;
    place.z += head.at('pronasale')[2] + 0.05 - placed(place, [0, middle, stand.lo.z])[2];
    const down = dropPlaces(placedAll(place, wall), head.field, [0, 0, -1], gapM);
    if (!down) return false;
    place.z -= down.wayM;
    return true;
  };
  if (!eye) place.y = (brow[1] + 0.02 + chin[1]) / 2 - placed(place, [0, middle, 0])[1];
  if (!settle()) return 'Brought to the face from before, it meets nobody.';
  // up and down, and lifted: where it lies closest to the face all over
  let best = loose(head, place, wall, gapM);
  for (const step of STEPS_M)
    for (let moved = true, n = 0; moved && n < MOST_STEPS; n++) {
      moved = false;
      for (const [up, lift] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ]) {
        if (eye && up !== 0) continue;
        const before = { ...place };
        place.y += up * step;
        place.liftRad += (lift * step) / 0.1;
        const l = Math.abs(place.liftRad) < 0.6 && settle() ? loose(head, place, wall, gapM) : Infinity;
        if (l < best - 1e-7) {
          best = l;
          moved = true;
        } else Object.assign(place, before);
      }
    }
  const pairs: OwnPair[] = [];
  if (eye) {
    const at = placed(place, eye);
    for (const s of [1, -1] as const)
      pairs.push({
        name: s > 0 ? 'left eye hole' : 'right eye hole',
        own: unplaced(place, [s * at[0], at[1], pupil[2]]),
        form: [s * pupil[0], pupil[1], pupil[2]],
      });
  }
  const nose = head.at('pronasale');
  const tip = nearest(place, wall, nose);
  pairs.push({ name: 'before the nose', own: tip, form: [nose[0], nose[1], nose[2] + gapM] });
  const doubts: Doubt[] = [
    ...within(best, [0, 0.0155], (x) => `Its inside would lie ${mm(x)} before the face on the mean.`),
    ...within(breadth * place.factor, [0.1, 0.4], (x) => `It would be ${mm(x)} wide.`),
    ...within((stand.hi.y - stand.lo.y) * place.factor, [0.05, 0.5], (x) => `It would be ${mm(x)} high.`),
  ];
  if (eye && eye[1] < middle) doubts.push({ why: 'Its eye holes would be in its lower half.', left: 0.5 });
  if (!eye) doubts.push({ why: 'It has no two holes for the eyes; it is placed by its middle.', left: 0.5 });
  return { stand, place, pairs, limit: 'Its inside lies before the face and comes no closer.', doubts };
}

/** How far the inside lies from where it should, on the mean, metres. */
function loose(head: Head, place: Place, wall: readonly number[], gapM: number): number {
  const here = placedAll(place, wall);
  let sum = 0;
  for (let i = 0; i < here.length; i += 3)
    sum += Math.min(LOOSE_M, Math.abs(head.field.distance(here[i], here[i + 1], here[i + 2]) - gapM));
  return sum / (here.length / 3);
}

function nearest(place: Place, wall: readonly number[], to: readonly number[]): Point {
  let [best, at]: [number, Point] = [Infinity, [0, 0, 0]];
  for (let i = 0; i < wall.length; i += 3) {
    const p = placed(place, wall, i);
    const d = Math.hypot(p[0] - to[0], p[1] - to[1], p[2] - to[2]);
    if (d < best) [best, at] = [d, [wall[i], wall[i + 1], wall[i + 2]]];
  }
  return at;
}
