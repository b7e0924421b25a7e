/** A lamplighter at life size, without bones: the body form in oilskins, with a tall hat and a lantern at the belt. Millimetres, floor y = 0. */
import { BoxGeometry, BufferAttribute, BufferGeometry, LatheGeometry, TorusGeometry, Vector2 } from 'three';
import { buildFormBase } from '@/core/form';
import { type Body, buildBodyBase, poseBody, shapeBody } from '@/core/form/body';
import { type Finish, type Lump, lumpsToGlb, put } from '../kit';

const COAT: Finish = { name: 'Waxed coat', color: 0x35513f, metal: 0, rough: 0.55, wear: 0.4 };
const TROUSERS: Finish = { name: 'Trousers', color: 0x3d3a45, metal: 0, rough: 0.85 };
const BOOTS: Finish = { name: 'Boots', color: 0x2b211b, metal: 0, rough: 0.5 };
const SKIN: Finish = { name: 'Skin', color: 0xd8ab8c, metal: 0, rough: 0.6 };
const EYES: Finish = { name: 'Eyes', color: 0xe8e4da, metal: 0, rough: 0.25 };
const FELT: Finish = { name: 'Hat', color: 0x232028, metal: 0, rough: 0.9, doubleSided: true };
const BRASS: Finish = { name: 'Lantern brass', color: 0xc3913a, metal: 0.95, rough: 0.3, wear: 0.6 };
const FLAME: Finish = { name: 'Lantern glass', color: 0xffd98a, metal: 0, rough: 0.1, alpha: 0.6 };

/** Triangles of the body of which every corner is in one of some regions. */
function part(body: Body, wanted: (region: string) => boolean): BufferGeometry {
  const { names, ids } = body.regions;
  const kept: number[] = [];
  for (let t = 0; t < body.indices.length; t += 3) if (wanted(names[ids[body.indices[t]]])) kept.push(...body.indices.subarray(t, t + 3));
  const used = [...new Set(kept)];
  const place = new Map(used.map((v, i) => [v, i]));
  const take = (from: Float32Array, each: number, scale = 1) =>
    Float32Array.from(used.flatMap((v) => [...from.subarray(v * each, v * each + each)].map((x) => x * scale)));
  return new BufferGeometry()
    .setAttribute('position', new BufferAttribute(take(body.positions, 3, 1000), 3))
    .setAttribute('normal', new BufferAttribute(take(body.normals, 3), 3))
    .setAttribute('uv', new BufferAttribute(take(body.uvs, 2), 2))
    .setIndex(kept.map((v) => place.get(v) as number));
}

export function lamplighterLumps(): Lump[] {
  const body = poseBody(shapeBody(buildBodyBase(buildFormBase())), 'armsHalf');
  const crown = body.landmarks.crown.position.map((x) => x * 1000);
  const belt = body.landmarks.waistFront.position.map((x) => x * 1000);
  const cloth: Record<string, Finish> = { torso: COAT, arm: COAT, leg: TROUSERS, foot: BOOTS, eye: EYES };
  const finishes = [COAT, TROUSERS, BOOTS, SKIN, EYES];
  // a brim just over the brows, and a crown that widens a little
  const hat = [
    [84, -34], [132, -38], [133, -34], [86, -26], [80, 60], [86, 128], [60, 133], [1, 134],
  ].map(([r, y]) => new Vector2(r, y)); // biome-ignore format: a profile
  const lantern: [number, number, number] = [belt[0] + 95, belt[1] - 95, belt[2] + 62];
  return [
    ...finishes.map((finish) => ({ finish, geometry: part(body, (r) => (cloth[r] ?? SKIN) === finish) })),
    { finish: FELT, geometry: new LatheGeometry(hat, 40).scale(1, 1, 1.22).translate(crown[0], crown[1] - 8, crown[2] - 8) },
    { finish: FLAME, geometry: put(new BoxGeometry(40, 56, 40), lantern) },
    ...[-34, 34].map((y) => ({ finish: BRASS, geometry: put(new BoxGeometry(50, 10, 50), [lantern[0], lantern[1] + y, lantern[2]]) })),
    { finish: BRASS, geometry: put(new TorusGeometry(20, 4, 8, 24), [lantern[0], lantern[1] + 56, lantern[2]]) },
  ];
}

export const lamplighterGlb = () => lumpsToGlb('Lamplighter', lamplighterLumps());
