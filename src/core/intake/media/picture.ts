/** What is wrong with a picture, and how it is best packed. */
import { showBytes } from '../../math';
import { type PictureRole, readPictureName } from '../check/pictures';
import { bytesWithMips, USUAL_EDGE } from '../check/textures';
import type { Finding } from '../findings';
import type { AlphaStats } from './alpha';
import type { PictureFacts } from './facts';

/** W3C CSS: 96 pixels an inch where a file records nothing. */
export const PIXELS_PER_INCH = 96;
export const mmOfPixels = (pixels: number, density: number | null): number => (pixels / (density ?? PIXELS_PER_INCH)) * 25.4;

/** Alpha whose parts are thinner than this is smeared by lossy packing (*common practice*: a lossy block is 4 to 8 pixels wide). */
export const FINE_PX = 8;
/** From here on the colour beyond the edge shows as a rim: an eighth of white to black. */
const FRINGE = 0.125;

/** The longest edge places of delivery take as it is (*common practice*). */
const LARGE_EDGE = 2048;

export interface PictureState
  extends Pick<PictureFacts, 'look' | 'format' | 'hasAlpha' | 'alpha' | 'alphaWidthPx' | 'usedBytes' | 'width' | 'height'> {
  stats: Pick<AlphaStats, 'fringe'>;
  /** Packed with loss: JPEG, lossy WebP, AVIF. */
  lossy: boolean;
  /** What it would weigh, where that was tried. */
  trial: { format: 'jpeg' | 'webp'; bytes: number; quality: number } | null;
}

const kb = (bytes: number) => `${(bytes / 1000).toFixed(bytes < 100_000 ? 1 : 0)} kB`;

/** Roles whose pixels are numbers, told by the name of a picture: a steep normal map does not look like one. */
const NUMBERS: ReadonlySet<PictureRole> = new Set(['normal', 'roughness and metal', 'occlusion', 'height']);

/** The packing to try for a picture: by what its alpha needs, never by habit. null: as it is. */
export function packingFor(
  p: Pick<PictureState, 'alpha' | 'alphaWidthPx' | 'lossy' | 'look'> & { name?: string },
): { format: 'jpeg' | 'webp'; quality: number } | null {
  // loss in a map of numbers is seen in the light, not in the picture
  if (p.lossy || p.look === 'normal map' || p.look === 'packed map' || NUMBERS.has(readPictureName(p.name ?? '').role)) return null;
  if (p.alpha === 'none') return { format: 'jpeg', quality: 90 };
  // fine edges stay lossless
  if (p.alphaWidthPx !== null && p.alphaWidthPx < FINE_PX) return null;
  return { format: 'webp', quality: 90 };
}

export function pictureFindings(p: PictureState): Finding[] {
  const out: Finding[] = [];
  if (p.hasAlpha && p.alpha === 'none')
    out.push({
      code: 'picture/idle-alpha',
      level: 'note',
      message: 'It has an alpha channel that is opaque everywhere.',
      fix: { step: 'alpha', settings: { ops: ['drop'] }, changes: ['The alpha channel is left out; nothing looks different.'] },
    });
  if (p.stats.fringe > FRINGE)
    out.push({
      code: 'picture/fringe',
      level: 'warning',
      message: `Beyond its cut-out edges lies another colour, ${Math.round(p.stats.fringe * 100)} % off: seen small or from the side it shows as a rim.`,
      fix: {
        step: 'alpha',
        settings: { ops: ['bleed'] },
        changes: ['The colour inside the edge is carried outwards under the clear pixels; the alpha stays as it is.'],
      },
    });
  const fine = p.alpha !== 'none' && p.alphaWidthPx !== null && p.alphaWidthPx < FINE_PX;
  if (fine && p.lossy)
    out.push({
      code: 'picture/lossy-alpha',
      level: 'warning',
      message: `Its alpha has parts about ${p.alphaWidthPx?.toFixed(1)} px thin, and ${p.format === 'avif' ? 'AVIF' : 'WebP'} packed it with loss: edges smear. Ask for the PNG it was made from.`,
    });
  const edge = Math.max(p.width, p.height);
  if (edge > LARGE_EDGE)
    out.push({
      code: 'picture/large',
      level: edge >= 2 * LARGE_EDGE ? 'warning' : 'note',
      message: `It is ${edge} px long and takes ${showBytes(bytesWithMips(p.width, p.height))} on a device, whatever its file weighs; ${USUAL_EDGE} to ${LARGE_EDGE} px are usual. Prepare makes it smaller where a model wears it.`,
    });
  if (p.trial && p.trial.bytes < 0.7 * p.usedBytes) {
    const why =
      p.alpha === 'none' ? 'it is opaque' : `its alpha has no parts thinner than ${FINE_PX} px (about ${p.alphaWidthPx?.toFixed(0)} px)`;
    out.push({
      code: 'picture/heavy',
      level: 'note',
      message: `As ${p.trial.format === 'jpeg' ? 'JPEG' : 'WebP'} of quality ${p.trial.quality} it would weigh ${kb(p.trial.bytes)} instead of ${kb(p.usedBytes)}; ${why}.`,
      fix: {
        step: 'encode',
        settings: { format: p.trial.format, quality: p.trial.quality },
        changes: [`${kb(p.usedBytes)} becomes ${kb(p.trial.bytes)}.`],
      },
    });
  }
  return out;
}
