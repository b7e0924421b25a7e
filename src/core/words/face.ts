/**
 * What a face does: action units of FACS (Ekman, Friesen and Hager, 2002; numbers from memory), with weights from 0 to 1. L and R are
 * the wearer's. One entry a unit; what devices call by one number (mouth open, smile) is a mean of units.
 */

interface UnitDef {
  /** “{}” stands for the wearer's side. */
  label: string;
  sided?: true;
}
const UNITS = {
  AU1_2: { label: '{} brow up', sided: true },
  AU4: { label: '{} brow down', sided: true },
  AU5: { label: '{} upper lid up', sided: true },
  AU45: { label: '{} eye shut', sided: true },
  AU6: { label: '{} cheek up', sided: true },
  AU9: { label: '{} nose wing up', sided: true },
  AU12: { label: '{} lip corner up', sided: true },
  AU15: { label: '{} lip corner down', sided: true },
  AU18: { label: 'lips puckered' },
  AU26: { label: 'mouth open' },
  AU30_L: { label: 'jaw to the left' },
  AU30_R: { label: 'jaw to the right' },
  AU61: { label: 'looks to the left' },
  AU62: { label: 'looks to the right' },
  AU63: { label: 'looks up' },
  AU64: { label: 'looks down' },
} as const satisfies Record<string, UnitDef>;

type Units = typeof UNITS;
export type WholeUnit = keyof Units;
export type SidedUnit = { [K in WholeUnit]: Units[K] extends { sided: true } ? K : never }[WholeUnit];
export type ActionUnit = Exclude<WholeUnit, SidedUnit> | `${SidedUnit}_${'L' | 'R'}`;

const isSided = (unit: WholeUnit): unit is SidedUnit => 'sided' in UNITS[unit];
export const WHOLE_UNITS = Object.keys(UNITS) as WholeUnit[];
/** A unit's own ones: both sides, or itself. */
export const sidesOf = (unit: WholeUnit): readonly ActionUnit[] =>
  isSided(unit) ? [`${unit}_L`, `${unit}_R`] : [unit as Exclude<WholeUnit, SidedUnit>];
export const ACTION_UNITS: readonly ActionUnit[] = WHOLE_UNITS.flatMap(sidesOf);
const KNOWN: ReadonlySet<string> = new Set(ACTION_UNITS);

/** Weights from 0 to 1; a name without side stands for both sides. */
export type Expression = Partial<Record<ActionUnit | WholeUnit, number>>;
/** Weights of what is not at rest, by single unit. */
export type FaceWeights = Readonly<Partial<Record<ActionUnit, number>>>;
export const AT_REST: FaceWeights = {};

const clamp01 = (x: number) => (x > 0 ? Math.min(1, x) : 0);
/** Single units, those at rest left out: two expressions that look the same are the same. */
export function weightsOf(e: Readonly<Record<string, number | undefined>>): FaceWeights {
  const out: Partial<Record<ActionUnit, number>> = {};
  for (const unit of WHOLE_UNITS)
    for (const one of sidesOf(unit)) {
      const w = clamp01(e[one] ?? e[unit] ?? 0);
      if (w > 0) out[one] = w;
    }
  return out;
}

/** “left brow up”; of both sides at once “brow up”. */
export function unitWords(unit: ActionUnit | WholeUnit): string {
  const own = unit in UNITS;
  const side = own ? undefined : /_([LR])$/.exec(unit)?.[1];
  const { label } = UNITS[(own ? unit : unit.replace(/_[LR]$/, '')) as WholeUnit];
  return label.replace('{}', side === 'L' ? 'left' : side === 'R' ? 'right' : '').trim();
}

/** Numbers that devices give of a face, each the mean of some units. */
export const FACE_SIGNALS = {
  mouthOpen: ['AU26'],
  smile: ['AU12_L', 'AU12_R'],
  frown: ['AU15_L', 'AU15_R'],
  pucker: ['AU18'],
  browsUp: ['AU1_2_L', 'AU1_2_R'],
  browsDown: ['AU4_L', 'AU4_R'],
  blinkLeft: ['AU45_L'],
  blinkRight: ['AU45_R'],
} as const satisfies Record<string, readonly ActionUnit[]>;
export type FaceSignal = keyof typeof FACE_SIGNALS;

/** The face that a capture's signals tell of: its units, and by a sum where none of its units are said. */
export function faceOf(signals: Readonly<Record<string, number>> | undefined): FaceWeights {
  if (!signals) return AT_REST;
  const said: Record<string, number> = {};
  for (const [name, value] of Object.entries(signals)) if (KNOWN.has(name)) said[name] = value;
  for (const [name, units] of Object.entries(FACE_SIGNALS))
    if (name in signals && !units.some((u) => u in signals)) for (const u of units) said[u] = signals[name];
  return weightsOf(said);
}

/** Signals with the sums that follow from their units; what is said stays as it is said. */
export function withSums(signals: Readonly<Record<string, number>>): Readonly<Record<string, number>> {
  const out: Record<string, number> = { ...signals };
  for (const [name, units] of Object.entries(FACE_SIGNALS)) {
    if (name in signals || !units.some((u) => u in signals)) continue;
    out[name] = units.reduce((sum, u) => sum + (signals[u] ?? 0), 0) / units.length;
  }
  return out;
}
