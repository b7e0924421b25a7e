/** The other side of a shape: where a place's image lies, and which bone moves it there. */
import { boxOf } from '../../math/box';
import { mirrorName } from '../../words/humanoid';
import type { Held } from '../held';
import type { Vec } from '../middle';
import { diagonal, nearestVertex, type Surface } from '../surface';

/** Of the shape's diagonal: as near as this to the image of a place something lies across from it. */
const TWIN = 0.03;
const farFrom = ({ positions }: Surface, v: number, p: Vec) =>
  Math.hypot(positions[v * 3] - p[0], positions[v * 3 + 1] - p[1], positions[v * 3 + 2] - p[2]);

/** `.L` and `.R`, left and right. */
export function otherSide(bone: string): string {
  const sided = /^(.*\.)([LR])((?: \w)?\.\d+)?$/.exec(bone);
  return sided ? `${sided[1]}${sided[2] === 'L' ? 'R' : 'L'}${sided[3] ?? ''}` : mirrorName(bone);
}

/**
 * Asks for the image of a place, metres of the model, and the bone of the other side; null where nothing lies across from it, where the
 * place lies in the middle, or where the bone has no other side. A bone along the middle is its own.
 */
export function mirrorOf({ surface, bones, binding }: Held): (atM: Vec, bone: string | null) => { atM: Vec; bone: string | null } | null {
  const place = new Map(bones.map((b, i) => [b.name, i]));
  const box = boxOf(surface.positions);
  const across = box[0] + box[3];
  const near = diagonal(box) * TWIN;
  const hasOther = (name: string): boolean => {
    const bone = bones[place.get(name) ?? -1];
    if (otherSide(name) !== name) return place.has(otherSide(name));
    return bone !== undefined && [bone.head, bone.tail].every((p) => Math.abs(2 * p[0] - across) < 2 * near);
  };
  return (atM, bone) => {
    const image: Vec = [across - atM[0], atM[1], atM[2]];
    const [seed, other] = [nearestVertex(surface, atM), nearestVertex(surface, image)];
    if (other === seed || other < 0 || farFrom(surface, other, image) >= near) return null;
    const lead = bone ?? bones[binding.bones[seed * 4]]?.name ?? '';
    return hasOther(lead) ? { atM: image, bone: bone && otherSide(bone) } : null;
  };
}
