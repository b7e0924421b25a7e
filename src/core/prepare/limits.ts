/** Limits of a place of delivery, and which of them a model breaks. */
import { showBytes, showCount } from '../math';
import type { LimitName, Limits, Weight } from './terms';

const WORDS: Record<LimitName, (is: number, limit: number) => string> = {
  bytes: (is, l) => `The file has ${showBytes(is)}, the limit is ${showBytes(l)}`,
  triangles: (is, l) => `${showCount(is)} triangles are drawn, the limit is ${showCount(l)}`,
  textureEdge: (is, l) => `The largest picture is ${is} px long, the limit is ${l} px`,
  materials: (is, l) => `There are ${is} materials, the limit is ${l}`,
  bones: (is, l) => `A skin has ${is} bones, the limit is ${l}`,
  drawCalls: (is, l) => `It takes ${is} draw calls, the limit is ${l}`,
  deviceBytes: (is, l) => `On a device it takes ${showBytes(is)}, the limit is ${showBytes(l)}`,
};
const LIMIT_NAMES = Object.keys(WORDS) as LimitName[];

export const brokenLimits = (w: Weight, limits: Limits): LimitName[] =>
  LIMIT_NAMES.filter((k) => limits[k] !== null && w[k] > (limits[k] as number));
export const limitWords = (name: LimitName, w: Weight, limits: Limits): string => WORDS[name](w[name], limits[name] ?? 0);

/** What would have to give, limit by limit. */
const GIVES: Record<Exclude<LimitName, 'bytes'>, string> = {
  triangles: 'shapes cannot be simpler without vanishing. Take parts out, or raise the limit.',
  textureEdge: 'they cannot be read, so they cannot be made smaller. Put others in their place, or raise the limit.',
  materials: 'they do not draw alike. Let parts share a material, or raise the limit.',
  bones: 'bones without one above them cannot be merged. Take skins apart, or raise the limit.',
  drawCalls: 'what moves or wears different materials cannot be joined. Let parts share a material, or raise the limit.',
  deviceBytes: 'pictures and shapes are as small as the search makes them. Use fewer pictures, or raise the limit.',
};

/** Why limits cannot be met. @param shapes bytes of the file without its pictures */
export function unmetWords(w: Weight, shapes: number, limits: Limits): string[] {
  return brokenLimits(w, limits).map((k) => {
    const said = limitWords(k, w, limits);
    if (k !== 'bytes') return `${said}: ${GIVES[k]}`;
    const pictures = w.bytes - shapes;
    return `${said}: that is the lightest found, ${showBytes(shapes)} of shapes, bones and clips and ${showBytes(pictures)} of pictures. ${
      pictures > shapes ? 'Fewer or smaller pictures' : 'Fewer parts, clips or bones'
    } would have to give, or the limit.`;
  });
}
