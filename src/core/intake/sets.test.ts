import { expect, test } from 'vitest';
import { libraryFinish, withSet } from '../finish';
import { matchSet, type SetPicture } from './sets';

const picture = (name: string, look: SetPicture['look'] = 'colour'): SetPicture => ({
  stock: name,
  name,
  sha: name,
  look,
  width: 8,
  height: 8,
});

test('of one material a set goes by roles alone: by names and by what pictures look like', () => {
  const set = [
    picture('mask_basecolor.png'),
    picture('mask_normal.png', 'normal map'),
    picture('mask_ORM.png', 'packed map'),
    picture('mask_emissive.png'),
    picture('mask_opacity.png', 'grey'),
  ];
  expect(matchSet(['Painted'], set).get('Painted')).toEqual({
    base: 'mask_basecolor.png',
    normal: 'mask_normal.png',
    metalRough: 'mask_ORM.png',
    // all three are in one
    occlusion: 'mask_ORM.png',
    glow: 'mask_emissive.png',
    opacity: 'mask_opacity.png',
  });
});
test('a picture of its own for occlusion goes before the packed one; what looks like no normal map is none', () => {
  const set = [picture('a_orm.png', 'packed map'), picture('a_ao.png', 'grey'), picture('a_normal.png', 'colour')];
  expect(matchSet(['A'], set).get('A')).toEqual({ metalRough: 'a_orm.png', occlusion: 'a_ao.png' });
});
test('of several materials each takes what is named like it; what is named like none is left', () => {
  const set = [
    picture('brass_rim_albedo.png'),
    picture('brass_rim_roughness.png', 'grey'),
    picture('lens_albedo.png'),
    picture('sail_albedo.png'),
    picture('readme.png'),
  ];
  const found = matchSet(['Brass rim', 'Lens', 'Strap'], set);
  expect(Object.fromEntries(found)).toEqual({
    'Brass rim': { base: 'brass_rim_albedo.png', metalRough: 'brass_rim_roughness.png' },
    Lens: { base: 'lens_albedo.png' },
  });
});
test('of one material a name that tells the role is believed over the look; of several it must be like the material’s, too', () => {
  const odd = picture('thing_orm.png', 'colour');
  expect(matchSet(['Wood'], [odd]).get('Wood')).toEqual({ metalRough: 'thing_orm.png', occlusion: 'thing_orm.png' });
  expect(matchSet(['Wood', 'Gilt'], [odd]).size).toBe(0);
  expect(matchSet(['Wood'], [picture('thing_normal.png', 'colour')]).size).toBe(0);
});
test('nothing fits: nothing is placed', () => expect(matchSet(['A'], [picture('holiday.png')]).size).toBe(0));

test('with a set, factors that would hide its maps give way; what it has no map for stays', () => {
  const brass = libraryFinish('brass', 'a');
  const all = withSet(brass, { base: 'b', metalRough: 'm', glow: 'g', opacity: 'o' });
  expect([all.colour, all.metal, all.roughness, all.glow, all.blend]).toEqual(['#ffffff', 1, 1, '#ffffff', 'over']);
  expect(all.maps.base).toEqual({ stock: 'b', uv: 0, offset: [0, 0], repeat: [1, 1], turnDeg: 0 });
  expect(all.maps.normal).toBeNull();
  const some = withSet({ ...brass, blend: 'cut' }, { opacity: 'o' });
  expect([some.colour, some.metal, some.roughness, some.blend]).toEqual([brass.colour, brass.metal, brass.roughness, 'cut']);
});
