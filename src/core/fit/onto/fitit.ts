/**
 * Fit it: what a thing of a stated kind is fitted to a head by. Every likely way it may stand is tried: its features are found, brought to
 * the landmarks they belong to, and let down until it touches where it should; the way that leaves least doubt is told, with how sure.
 */
import type { FacePlace } from '../../form/facepoint';
import type { Kind } from '../../words/kinds';
import { type Attempt, type Doubt, type Fitter, type Point, within } from './attempt';
import type { Head, headOf } from './head';
import { BACKPIECE } from './kinds/backpiece';
import { EARRING } from './kinds/earring';
import { EYEWEAR } from './kinds/eyewear';
import { BELOW_CHIN_M, FULLHEAD } from './kinds/fullhead';
import { HEADWEAR } from './kinds/headwear';
import { MASK } from './kinds/mask';
import { NECKWEAR } from './kinds/neckwear';
import { fitOrnament } from './kinds/ornament';
import { inFile, type Onto, ontoOf, placed, placedAll, type Stand } from './stand';
import { standsOf } from './stands';
import { Thing, type ThingShape } from './thing';

export interface FitPair {
  name: string;
  /** A place of the file, and the place of the head it was brought to, metres. */
  modelM: Point;
  formM: Point;
  /** What is left between them. */
  residualMm: number;
}

export interface Fitted {
  /** Head frame from file, metres: null where nothing is claimed. */
  onto: Onto | null;
  pairs: FitPair[];
  /** 0 … 1; below `SURE_FIT` nothing is claimed. */
  confidence: number;
  /** One or more sentences. */
  reason: string;
}

export interface FitAsked {
  kind: Kind;
  gapM: number;
  /** Its size stays as the file has it. */
  keepSize: boolean;
  /** A ring, gem or bead is fitted to this place of the skin, whatever its kind. */
  at?: FacePlace;
}

export const SURE_FIT = 0.5;

const FITTERS: Partial<Record<Kind, Fitter>> = {
  eyewear: EYEWEAR,
  headwear: HEADWEAR,
  fullhead: FULLHEAD,
  earring: EARRING,
  mask: MASK,
  neckwear: NECKWEAR,
  backpiece: BACKPIECE,
};
/** What is not worn on a head, and what is done instead. */
const ELSEWHERE: Partial<Record<Kind, string>> = {
  garment: 'A garment is worn by the body: give it the body’s bones in Rig, and it goes with every pose.',
  prop: 'What is held lies in a hand: hang it on one and turn it there.',
  figure: 'A figure is not worn.',
};

/** Of things that are worn little is in the head. */
const CUT_M = 0.002;
const MOST_CUT = 0.03;
const DEEPEST_M = 0.012;
/** A thing whose mirror image lies further beside it has two unlike sides. */
const MOST_SKEW = 0.03;

function doubtsOf({ stand, place, doubts }: Attempt, head: Head, kind: Kind, keepsSize: boolean): Doubt[] {
  const here = placedAll(place, stand.points);
  let [cut, deepest] = [0, 0];
  // what lies on shoulders and chest tells nothing of a head
  const least = kind === 'neckwear' ? -Infinity : head.at('menton')[1] - BELOW_CHIN_M;
  for (let i = 0; i < here.length; i += 3) {
    if (here[i + 1] < least) continue;
    const d = head.field.distance(here[i], here[i + 1], here[i + 2]);
    if (d < -CUT_M) cut++;
    deepest = Math.max(deepest, -d);
  }
  const share = cut / stand.thing.count;
  // as large as the file has it, it may cut: that is told, and no sign of another thing
  if (keepsSize) return [...doubts];
  const out = [
    ...doubts,
    // straps are soft, and lie on what they would cut
    ...(kind === 'backpiece' ? [] : within(share, [0, MOST_CUT], (x) => `${Math.round(x * 100)} % of it would lie inside the head.`)),
    ...(kind === 'backpiece' ? [] : within(deepest, [0, DEEPEST_M], (x) => `It would reach ${Math.round(x * 1000)} mm into the head.`)),
  ];
  if (stand.skew > MOST_SKEW) out.push({ why: 'Its two sides are unlike.', left: (MOST_SKEW / stand.skew) ** 2 });
  return out;
}

const NO_AREA = 'There is no surface in it that has an area.';
const unclaimed = (reason: string): Fitted => ({ onto: null, pairs: [], confidence: 0, reason });

function onSkin(shapes: readonly ThingShape[], at: FacePlace, gapM: number, keepSize: boolean, { form }: Head): Fitted {
  const thing = Thing.of(shapes);
  if (!thing) return unclaimed(NO_AREA);
  const fit = fitOrnament(thing, form, at, gapM, keepSize);
  if (typeof fit === 'string') return unclaimed(fit);
  const confidence = fit.doubts.reduce((s, d) => s * d.left, 1);
  const pairs = [{ ...fit.pair, residualMm: 0 }];
  const doubts = fit.doubts.map((d) => d.why);
  if (confidence < SURE_FIT) return { ...unclaimed(doubts.join(' ')), pairs, confidence };
  return { onto: fit.onto, pairs, confidence, reason: [fit.limit, ...doubts].join(' ') };
}

/** @param shapes what is drawn of it at rest, metres of the file */
export function fitIt(
  shapes: readonly ThingShape[],
  { kind, gapM, keepSize, at }: FitAsked,
  { coarse, exact }: ReturnType<typeof headOf>,
): Fitted {
  if (at) return onSkin(shapes, at, gapM, keepSize, exact);
  const fitter = FITTERS[kind];
  if (!fitter) return unclaimed(ELSEWHERE[kind] ?? 'It is not worn.');
  const thing = Thing.of(shapes);
  if (!thing) return unclaimed(NO_AREA);
  if (thing.triangles < 4) return unclaimed('It is too few triangles to be told by its shape.');
  const keep = keepSize ? thing.sizeM : null;
  let why = '';
  const judged = (stand: Stand, head: Head) => {
    const attempt = fitter.fit({ stand, head, gapM, keep, rough: head === coarse });
    if (typeof attempt === 'string') {
      why ||= attempt;
      return null;
    }
    const doubts = doubtsOf(attempt, head, kind, keepSize);
    return { attempt, doubts, sure: doubts.reduce((s, d) => s * d.left, 1) };
  };
  const tried = standsOf(kind, thing, fitter.level).flatMap((likely) => {
    const j = judged(likely.stand, coarse);
    return j ? [{ ...likely, sure: j.sure, weight: j.sure * likely.share ** SHARE_COUNTS }] : [];
  });
  if (tried.length === 0) return unclaimed(why || 'Nothing of it tells how it is worn.');
  const best = tried.reduce((a, b) => (b.weight > a.weight ? b : a));
  const settled = judged(best.stand, exact);
  if (!settled) return unclaimed(why);
  // another way that may be as right
  const chance = (of: typeof tried) => of.reduce((s, t) => s + t.sure * t.share, 0);
  const alike = tried.filter((t) => t.stand.turn.angleTo(best.stand.turn) < ALIKE_RAD);
  const confidence = settled.sure * Math.sqrt(chance(alike) / chance(tried));
  const { stand, place, pairs, limit } = settled.attempt;
  const rows = pairs.map(({ name, own, form }): FitPair => {
    const at = placed(place, own);
    return {
      name,
      modelM: inFile(stand, own),
      formM: form,
      residualMm: Math.hypot(at[0] - form[0], at[1] - form[1], at[2] - form[2]) * 1000,
    };
  });
  const doubts = settled.doubts.sort((a, b) => a.left - b.left).map((d) => d.why);
  if (confidence < SURE_FIT) return { ...unclaimed(doubts.slice(0, 3).join(' ') || 'It fits two ways alike.'), pairs: rows, confidence };
  return { onto: ontoOf(stand, place), pairs: rows, confidence, reason: [limit, ...doubts].join(' ') };
}
/** What is round about its upright may be turned a little and fit as well. */
const ALIKE_RAD = 0.6;
/** How much looks count beside how it sits. */
const SHARE_COUNTS = 0.3;
