/** Takes of a piece: its own, then those that come with every piece. */
import { STILL, TAKES, type Take, type TakeKey, unitWords, weightsOf } from '@/core/form';
import { type Piece, takeOf } from '@/core/piece';

export const ownTakes = ({ takes }: Pick<Piece, 'takes'>): Take[] =>
  Object.values(takes)
    .sort((a, b) => a.name.localeCompare(b.name) || (a.id < b.id ? -1 : 1))
    .map(takeOf);
export const everyTake = (piece: Pick<Piece, 'takes'>): Take[] => [...ownTakes(piece), ...TAKES];
/** What is played of a piece: a take that has changed as it is now; one that is not there any more leaves the first that always is. */
export function takeNow(piece: Pick<Piece, 'takes'>, take: Take): Take {
  if (Object.hasOwn(piece.takes, take.id)) return takeOf(piece.takes[take.id]);
  return TAKES.find((t) => t.id === take.id) ?? TAKES[0];
}
export function freeTakeName(piece: Pick<Piece, 'takes'>, like: string): string {
  const names = new Set(everyTake(piece).map((t) => t.label));
  for (let n = 1; ; n++) {
    const name = n === 1 && !/^Take$/.test(like) ? like : `${like} ${n}`;
    if (!names.has(name)) return name;
  }
}

const DEGREES = [
  ['yawDeg', 'yaw'],
  ['pitchDeg', 'pitch'],
  ['rollDeg', 'roll'],
] as const;
const signed = (n: number, digits: number) => n.toFixed(digits).replace('-', '−');

/** What a key holds, in words: “yaw −60°, mouth open 55 %”. */
export function keyWords({ head, neck, shoulders, face, awayM, lost }: Omit<TakeKey, 'atS'>): string {
  if (lost) return 'no head is found';
  const words: string[] = [];
  for (const [name, turn] of [
    ['', head],
    ['neck ', neck],
    ['shoulders ', shoulders],
  ] as const)
    for (const [k, word] of DEGREES) if (Math.abs(turn[k] - STILL[k]) >= 0.05) words.push(`${name}${word} ${signed(turn[k], 0)}°`);
  for (const [unit, w] of Object.entries(weightsOf(face ?? {})))
    words.push(`${unitWords(unit as Parameters<typeof unitWords>[0])} ${Math.round(w * 100)} %`);
  if (awayM?.some((x) => Math.abs(x) >= 0.0005)) words.push(`gone ${awayM.map((x) => signed(x * 100, 0)).join(', ')} cm`);
  return words.join(', ') || 'at rest';
}
