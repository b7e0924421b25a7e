/** Finding the pictures a file asks for and did not get, among those at hand. */
import { type PictureRole, pictureLeaf, readPictureName } from './check/pictures';
import type { WantedPicture } from './facts';
import type { Finding } from './findings';
import type { PictureFacts } from './media/facts';

/** What a picture is judged by. */
export type PictureBrief = Pick<PictureFacts, 'name' | 'sha' | 'look' | 'width' | 'height'>;

export interface Match {
  picture: PictureBrief;
  /** 0..1. */
  score: number;
  reason: string;
}

const plainName = (name: string) => pictureLeaf(name).toLowerCase();
const stem = (name: string) => plainName(name).replace(/\.[^.]*$/, '');

const LOOK_OF: Partial<Record<PictureRole, PictureFacts['look'][]>> = {
  normal: ['normal map'],
  'roughness and metal': ['packed map', 'grey'],
  occlusion: ['grey', 'packed map'],
  'base colour': ['colour', 'grey'],
  emissive: ['colour', 'grey'],
};

const words = (s: string) =>
  new Set(
    s
      .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
      .toLowerCase()
      .split(/[^a-z0-9]+/)
      .filter((w) => w.length > 1),
  );

/** Share of common words, of the smaller set. */
function likeness(a: string, b: string): number {
  const [x, y] = [words(a), words(b)];
  if (x.size === 0 || y.size === 0) return 0;
  let common = 0;
  for (const w of x) if (y.has(w)) common++;
  return common / Math.min(x.size, y.size);
}

function judge(wanted: WantedPicture, picture: PictureBrief): Match | null {
  const asked = plainName(wanted.name);
  const have = plainName(picture.name);
  if (asked === have) return { picture, score: 1, reason: 'it has the name that is asked for' };
  if (stem(asked) === stem(have)) return { picture, score: 0.95, reason: 'it has the name that is asked for, in another format' };
  const slot = wanted.slots[0];
  const [a, b] = [readPictureName(asked), readPictureName(have)];
  const role = (slot?.role ?? a.role) as PictureRole;
  const fits = LOOK_OF[role]?.includes(picture.look) ?? true;
  // a picture that looks like a normal map is one, whatever it is called; and nothing else can be
  if (role === 'normal' ? picture.look !== 'normal map' : picture.look === 'normal map') return null;
  const named = b.role === role;
  if (b.role !== 'other' && !named) return null;
  const of = Math.max(likeness(a.stem || asked, b.stem), slot ? likeness(slot.material, b.stem) : 0);
  const material = slot && likeness(slot.material, b.stem) >= 0.5;
  const why: string[] = [];
  if (named)
    why.push(`its name ends as ${role === 'base colour' ? 'a base colour’s' : `${/^[aeio]/.test(role) ? 'an' : 'a'} ${role} map’s`} does`);
  if (material) why.push(`it is named like the material ${slot.material}`);
  else if (of >= 0.5) why.push('its name is like the one asked for');
  if (fits && picture.look !== 'colour') why.push(`it looks like a ${picture.look}`);
  const score = 0.35 * of + (named ? 0.3 : 0) + (fits ? 0.15 : -0.2) + (material ? 0.1 : 0);
  return score >= 0.3 && why.length > 0 ? { picture, score: Math.min(0.9, score), reason: why.join(', ') } : null;
}

/** Pictures for one wanted name, best first. Ties stand in the order of their names. */
export function rankPictures(wanted: WantedPicture, pictures: readonly PictureBrief[]): Match[] {
  return pictures
    .flatMap((p) => judge(wanted, p) ?? [])
    .sort((x, y) => y.score - x.score || x.picture.name.localeCompare(y.picture.name) || x.picture.sha.localeCompare(y.picture.sha));
}

export interface Relinking {
  wanted: WantedPicture;
  matches: Match[];
}

export const relinkAll = (wanted: readonly WantedPicture[], pictures: readonly PictureBrief[]): Relinking[] =>
  wanted.map((w) => ({ wanted: w, matches: rankPictures(w, pictures) }));

/** From this score on a match is offered as the fix; weaker ones are left to be picked. */
const SURE_ENOUGH = 0.5;

/** One finding a missing picture, each with its best match as fix. */
export function relinkFindings(wanted: readonly WantedPicture[], pictures: readonly PictureBrief[]): Finding[] {
  return relinkAll(wanted, pictures).map(({ wanted: w, matches }) => {
    const best = matches[0]?.score >= SURE_ENOUGH ? matches[0] : undefined;
    const wears = w.slots.length ? ` ${w.slots[0].material || 'A material'} wears it as ${w.slots[0].role}.` : '';
    return {
      code: w.broken ? 'texture/unreadable' : 'texture/missing',
      level: 'warning',
      message: w.broken
        ? `The picture ${w.name} cannot be read: it is broken or of a kind that is not known.${wears}`
        : `The picture ${w.name} did not come along.${wears}${best ? '' : matches.length > 0 ? ' One of those at hand may be it: pick one.' : ' Bring it in, and it is put in its place.'}`,
      where: w.name,
      ...(best
        ? {
            fix: {
              step: 'relink' as const,
              settings: { links: [{ wanted: w.name, picture: best.picture.sha, name: best.picture.name }] },
              changes: [`${pictureLeaf(w.name)} is taken from ${pictureLeaf(best.picture.name)}: ${best.reason}.`],
            },
          }
        : {}),
    };
  });
}
