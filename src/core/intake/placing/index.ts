/** Size and turn of a model: the kinds of thing there are, the unit guess, and which way round it lies. */

import { sampleSurface } from '../../model/lie/sample';
import { describeLie, describeTurn, rankTurns, type TurnGuess } from '../../model/lie/turn';
import { guessUnit, guessUnitUnstated, type UnitGuess } from '../../model/lie/units';
import type { Model } from '../../model/model';
import { KINDS, Kind } from '../../words/kinds';

export type { QuarterTurn } from '../../model/lie/cloud';
export { type SurfaceSample, sampleSurface, triangleArea } from '../../model/lie/sample';
export {
  describeLie,
  describeTurn,
  nearestQuarter,
  QUARTER_TURNS,
  quarterQuaternion,
  rankTurns,
  type TurnGuess,
} from '../../model/lie/turn';
export { guessUnit, guessUnitUnstated, lengthWords, type UnitGuess, unitWord } from '../../model/lie/units';
export { KINDS, Kind, type KindFacts } from '../../words/kinds';

/** From this share of likelihood on a guess is called sure. */
export const SURE = 0.8;

export interface Placing {
  units: UnitGuess | null;
  orientation: TurnGuess | null;
}

/** Unit and turn for every kind it could be stated as, and for none. */
export function guessPlacing(
  model: Model,
  sizeMm: readonly [number, number, number],
  seeThrough: (mesh: number, primitive: number) => boolean,
): Record<Kind | 'unstated', Placing> {
  const sample = sampleSurface(model, seeThrough);
  const out = { unstated: { units: guessUnitUnstated(sizeMm), orientation: null } } as Record<Kind | 'unstated', Placing>;
  for (const kind of Kind.options) {
    const ranked = rankTurns(kind, sample);
    const best = ranked[0];
    if (!best) {
      out[kind] = { units: null, orientation: null };
      continue;
    }
    const { yawDeg, pitchDeg, rollDeg } = best.turn;
    const turned = best.turn.from.map((k) => sizeMm[k]) as [number, number, number];
    const sure = best.share >= SURE;
    const words = describeLie(best.turn);
    out[kind] = {
      units: guessUnit(kind, turned),
      orientation: {
        yawDeg,
        pitchDeg,
        rollDeg,
        reason: `It ${words}, going by the shape of ${KINDS[kind].plural}${words === 'stands right' ? '' : `: ${describeTurn(best.turn)}`}${sure ? '' : '; unsure'}`,
        confidence: Math.round(best.share * 1000) / 1000,
      },
    };
    const units = out[kind].units;
    if (units) units.confidence = Math.round(units.confidence * 1000) / 1000;
  }
  return out;
}
