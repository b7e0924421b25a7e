/** What is read out of a picture's pixels. The decoder is the platform's; what the numbers mean is said here. */

export interface PictureStats {
  width: number;
  height: number;
  /** The file carries an alpha channel. */
  hasAlpha: boolean;
  /** Smallest alpha there is, 0..1; 1 without a channel. */
  alphaMin: number;
  /** Mean and standard deviation of R, G, B, 0..1. */
  mean: [number, number, number];
  spread: [number, number, number];
  /** Mean of |max(R,G,B) − min(R,G,B)| over the pixels, 0 grey .. 1. */
  colourful: number;
}

/** Decodes a PNG, JPEG or WebP. Rejects where the picture cannot be read. */
export type PictureReader = (bytes: Uint8Array) => Promise<PictureStats>;

export type PictureLook = 'normal map' | 'packed map' | 'grey' | 'colour';

/**
 * What a picture looks to be. A tangent-space normal map is blue on average, (½, ½, 1), and its blue hardly varies; a packed
 * map has channels that differ and no natural colours; grey has no colour at all (*common practice*).
 */
export function pictureLook(p: Pick<PictureStats, 'mean' | 'spread' | 'colourful'>): PictureLook {
  const [r, g, b] = p.mean;
  if (b > 0.78 && Math.abs(r - 0.5) < 0.12 && Math.abs(g - 0.5) < 0.12 && p.spread[2] < 0.2) return 'normal map';
  if (p.colourful < 0.02) return 'grey';
  // roughness in green, metal in blue: red is empty, full or occlusion, and green and blue go their own ways
  const red = r > 0.93 || r < 0.03;
  if (red && p.spread[0] < 0.1 && Math.abs(g - b) > 0.1) return 'packed map';
  return 'colour';
}

export type PictureRole = 'base colour' | 'normal' | 'roughness and metal' | 'occlusion' | 'emissive' | 'alpha' | 'height' | 'other';

/** Words that end a picture's name and tell its role (*common practice*). */
const ROLE_WORDS: readonly [PictureRole, string][] = [
  ['roughness and metal', 'mrao orm arm rma mr rm metallicroughness metalrough occlusionroughnessmetallic roughnessmetallic'],
  ['roughness and metal', 'roughness rough rgh metallic metalness metal met specular spec gloss glossiness'],
  ['base colour', 'basecolor basecolour albedo diffuse diff dif base color colour col bc'],
  ['normal', 'normal normals normalgl normaldx normalmap nrm nor norm nml bump'],
  ['occlusion', 'ambientocclusion occlusion occ ao'],
  ['emissive', 'emissive emission emit glow emi'],
  ['alpha', 'opacity alpha mask transparency'],
  ['height', 'height displacement disp'],
];
const ROLE_OF = new Map(ROLE_WORDS.flatMap(([role, words]) => words.split(' ').map((w) => [w, role] as const)));
const LONG_WORDS = [...ROLE_OF.keys()].filter((w) => w.length >= 5).sort((a, b) => b.length - a.length);

export const pictureLeaf = (path: string) => path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1);

/** Splits a picture's name into what it is of and the role its last words tell; 'other' where they tell none. */
export function readPictureName(path: string): { stem: string; role: PictureRole } {
  const words = pictureLeaf(path)
    .replace(/\.[^.]*$/, '')
    .replace(/([a-z0-9])([A-Z])/g, '$1_$2')
    .toLowerCase()
    .split(/[\s_.-]+/)
    .filter((w) => w && !/^(\d{1,2}k|\d{3,5}|v\d+|lod\d)$/.test(w));
  // "BaseColor" and "MRAO" come apart or stay whole: up to four last words together are tried
  for (let take = Math.min(4, words.length); take > 0; take--) {
    const role = ROLE_OF.get(words.slice(-take).join(''));
    if (role) return { stem: words.slice(0, -take).join(' '), role };
  }
  const last = words.at(-1) ?? '';
  const ending = LONG_WORDS.find((w) => last.endsWith(w));
  if (ending)
    return {
      stem: [...words.slice(0, -1), last.slice(0, -ending.length)].filter(Boolean).join(' '),
      role: ROLE_OF.get(ending) as PictureRole,
    };
  return { stem: words.join(' '), role: 'other' };
}
