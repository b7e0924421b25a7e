/** A set of pictures finds the materials and roles it is meant for: by names and content, as Stock finds pictures that are missed. */
import { MAP_ROLES, type MapRole, type SetMaps } from '../finish';
import { type PictureRole, readPictureName } from './check/pictures';
import { type PictureBrief, rankPictures } from './relink';

export interface SetPicture extends PictureBrief {
  stock: string;
}

const ROLE: Readonly<Record<MapRole, PictureRole>> = {
  base: 'base colour',
  metalRough: 'roughness and metal',
  normal: 'normal',
  occlusion: 'occlusion',
  glow: 'emissive',
  opacity: 'alpha',
};
/** All three in one picture, red to blue (*common practice*). */
const PACKED = /(^|[^a-z])(orm|arm|mrao|occlusionroughnessmetallic)([^a-z]|$)/i;
/** What is offered as sure by Stock; for one material its name need not be told. */
const [SURE, LIKELY] = [0.5, 0.3];

/** Of one material alone a name that tells the role is enough, whatever the picture looks like; but no normal map is something else. */
const saysIt = (role: MapRole, pictures: readonly SetPicture[]): SetPicture | undefined =>
  pictures.find((p) => role !== 'normal' && p.look !== 'normal map' && readPictureName(p.name).role === ROLE[role]);

/**
 * Which picture goes where. @param materials names; of one alone, pictures need not be named like it
 * @returns by material; pictures that found no place are in none
 */
export function matchSet(materials: readonly string[], pictures: readonly SetPicture[]): Map<string, SetMaps> {
  const least = materials.length === 1 ? LIKELY : SURE;
  const stockOf = new Map(pictures.map((p) => [p.sha, p.stock]));
  const out = new Map<string, SetMaps>();
  for (const material of materials) {
    const found: SetMaps = {};
    for (const role of MAP_ROLES) {
      const [best] = rankPictures({ name: '', slots: [{ material, role: ROLE[role] }], broken: false }, pictures);
      const sure = best && best.score >= least ? best.picture : materials.length === 1 ? saysIt(role, pictures) : undefined;
      const stock = sure && stockOf.get(sure.sha);
      if (stock !== undefined) found[role] = stock;
    }
    const packed = pictures.find((p) => p.stock === found.metalRough && PACKED.test(p.name.replace(/([a-z])([A-Z])/g, '$1_$2')));
    if (packed && found.occlusion === undefined) found.occlusion = packed.stock;
    if (Object.keys(found).length > 0) out.set(material, found);
  }
  return out;
}
