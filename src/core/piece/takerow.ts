/** A motion of a wearer that a piece keeps: recorded, typed, or read from a capture log. */
import * as z from 'zod';
import type { Take, TakeKey } from '../form/take';
import { ACTION_UNITS, WHOLE_UNITS } from '../words/face';
import { Id, Name } from '../words/values';

export const MOST_TAKE_S = 600;
export const MOST_KEYS = 20_000;

/** Several times round: a log of somebody who turns on the spot is unwound. */
const deg = z.number().min(-36_000).max(36_000);
const Turn = z.strictObject({ yawDeg: deg, pitchDeg: deg, rollDeg: deg });
const STILL = { yawDeg: 0, pitchDeg: 0, rollDeg: 0 };
const metres = z.number().min(-100).max(100);
const UNITS = [...new Set<string>([...WHOLE_UNITS, ...ACTION_UNITS])];

/** Turns of the head within the neck, of the neck within the shoulders, of the shoulders in the world, degrees; FACS weights from 0 to 1. */
const Key = z.strictObject({
  atS: z.number().min(0).max(MOST_TAKE_S),
  head: Turn.default(STILL),
  neck: Turn.default(STILL),
  shoulders: Turn.default(STILL),
  face: z.partialRecord(z.enum(UNITS), z.number().min(0).max(1)).optional(),
  /** How far the wearer has gone, metres: side, up, fore. */
  awayM: z.tuple([metres, metres, metres]).optional(),
  /** From here to the next key no head is found. */
  lost: z.literal(true).optional(),
});

export const TakeRow = z.strictObject({
  id: Id,
  name: Name,
  /** How long until it repeats. */
  seconds: z.number().min(0.1).max(MOST_TAKE_S),
  /** Straight from key to key, as recorded; else eased. */
  straight: z.boolean().default(false),
  keys: z.array(Key).min(1).max(MOST_KEYS),
});
export type TakeRow = z.infer<typeof TakeRow>;

/** What is wrong with the order of a take's keys; null: nothing. */
export function keyFault({ name, seconds, keys }: TakeRow): string | null {
  const back = keys.findIndex((k, i) => i > 0 && k.atS <= keys[i - 1].atS);
  if (back > 0) return `${name}: key ${back + 1} at ${keys[back].atS} s is not later than the one before it.`;
  const last = keys[keys.length - 1].atS;
  return last > seconds ? `${name}: its last key is at ${last} s, after its end at ${seconds} s.` : null;
}

const known = new WeakMap<TakeRow, Take>();
/** A row as what is played; the same for the same row. */
export function takeOf(row: TakeRow): Take {
  const { id, name, seconds, straight } = row;
  const was = known.get(row);
  if (was) return was;
  const take: Take = { id, label: name, seconds, keys: row.keys as TakeKey[], ...(straight ? { straight } : {}) };
  known.set(row, take);
  return take;
}
export const takeRow = (id: string, name: string, { seconds, straight, keys }: Pick<Take, 'seconds' | 'straight' | 'keys'>): TakeRow => ({
  id,
  name,
  seconds,
  straight: straight ?? false,
  keys: keys as TakeRow['keys'],
});
