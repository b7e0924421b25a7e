import { describe, expect, test } from 'vitest';
import { type PictureBrief, pictureLook, rankPictures, readPictureName, relinkAll, relinkFindings, type WantedPicture } from './index';

const picture = (name: string, look: PictureBrief['look'] = 'colour'): PictureBrief => ({
  name,
  sha: [...name]
    .reduce((s, c) => s + c.charCodeAt(0).toString(16), '')
    .padEnd(64, '0')
    .slice(0, 64),
  width: 64,
  height: 64,
  look,
});
const wanted = (name: string, role: string, material = 'Brass'): WantedPicture => ({ name, slots: [{ material, role }], broken: false });
const best = (w: WantedPicture, ...have: PictureBrief[]) => rankPictures(w, have)[0]?.picture.name;

describe('readPictureName: role words at the end of a name (common practice)', () => {
  test.each([
    ['Helmet_BaseColor.png', 'helmet', 'base colour'],
    ['helmet_albedo.jpg', 'helmet', 'base colour'],
    ['Helmet_Normal.png', 'helmet', 'normal'],
    ['Helmet_MRAO.png', 'helmet', 'roughness and metal'],
    ['Helmet_ORM_2k.png', 'helmet', 'roughness and metal'],
    ['helmet-roughness-1024.png', 'helmet', 'roughness and metal'],
    ['helmet_AmbientOcclusion.png', 'helmet', 'occlusion'],
    ['helmet_emissive.webp', 'helmet', 'emissive'],
    ['rustalbedo.png', 'rust', 'base colour'],
    ['C:\\work\\tex\\Brass_nrm.tga', 'brass', 'normal'],
    ['photo.png', 'photo', 'other'],
    ['', '', 'other'],
  ])('%s', (name, stem, role) => expect(readPictureName(name)).toEqual({ stem, role }));
});

describe('pictureLook', () => {
  const look = (mean: [number, number, number], spread: [number, number, number], colourful: number) =>
    pictureLook({ mean, spread, colourful });
  test('a flat tangent-space normal is (½, ½, 1)', () => expect(look([0.5, 0.5, 1], [0.1, 0.1, 0.05], 0.5)).toBe('normal map'));
  test('no colour is grey', () => expect(look([0.4, 0.4, 0.4], [0.2, 0.2, 0.2], 0)).toBe('grey'));
  test('full red, different green and blue is packed', () => expect(look([1, 0.5, 0.9], [0, 0.1, 0.1], 0.4)).toBe('packed map'));
  test('brass is a colour; a blue sky is no normal map', () => {
    expect(look([0.7, 0.5, 0.2], [0.1, 0.1, 0.1], 0.5)).toBe('colour');
    expect(look([0.3, 0.55, 0.9], [0.2, 0.1, 0.1], 0.6)).toBe('colour');
  });
});

describe('rankPictures', () => {
  test('the name that is asked for wins, whatever the folder and case', () =>
    expect(best(wanted('D:\\x\\Brass_Col.PNG', 'base colour'), picture('other_BaseColor.png'), picture('maps/brass_col.png'))).toBe(
      'maps/brass_col.png',
    ));
  test('the same name in another format comes next', () =>
    expect(best(wanted('brass.tga', 'base colour'), picture('brass_old.png'), picture('brass.png'))).toBe('brass.png'));
  test('a role suffix and the material’s name find a renamed picture', () =>
    expect(
      best(
        wanted('tex01.png', 'base colour'),
        picture('Copper_BaseColor.png'),
        picture('Brass_BaseColor.png'),
        picture('Brass_Roughness.png', 'grey'),
      ),
    ).toBe('Brass_BaseColor.png'));
  test('what looks like a normal map is taken for the normal slot only', () => {
    const have = [picture('Brass_1.png', 'normal map'), picture('Brass_2.png')];
    expect(best(wanted('Brass_n.png', 'normal'), ...have)).toBe('Brass_1.png');
    expect(best(wanted('Brass_c.png', 'base colour'), ...have)).toBe('Brass_2.png');
  });
  test('a picture named for another role is not offered', () =>
    expect(best(wanted('brass.png', 'base colour'), picture('brass_roughness.png', 'grey'))).toBeUndefined());
  test('nothing alike gives nothing', () => expect(rankPictures(wanted('brass.png', 'base colour'), [picture('holiday.png')])).toEqual([]));
  test('every match has a reason and a score of at most 1; ties stand by name', () => {
    const matches = rankPictures(wanted('t.png', 'base colour'), [picture('Brass_b_color.png'), picture('Brass_a_color.png')]);
    expect(matches.map((m) => m.picture.name)).toEqual(['Brass_a_color.png', 'Brass_b_color.png']);
    for (const m of matches) {
      expect(m.reason.length).toBeGreaterThan(5);
      expect(m.score).toBeLessThanOrEqual(1);
    }
  });
  test('four maps of a material are each put in their slot', () => {
    const have = [
      picture('Brass_albedo.png'),
      picture('Brass_nrm.png', 'normal map'),
      picture('Brass_ORM.png', 'packed map'),
      picture('Brass_emit.png'),
    ];
    const found = relinkAll(
      [wanted('1.png', 'base colour'), wanted('2.png', 'normal'), wanted('3.png', 'roughness and metal'), wanted('4.png', 'emissive')],
      have,
    );
    expect(found.map((r) => r.matches[0].picture.name)).toEqual(['Brass_albedo.png', 'Brass_nrm.png', 'Brass_ORM.png', 'Brass_emit.png']);
  });
  test('a weak match is not put in by itself: it is left to be picked', () => {
    const [weak] = relinkFindings([wanted('t.png', 'base colour', 'Hull')], [picture('Rust_Albedo.png')]);
    expect([weak.fix, weak.message.endsWith('pick one.')]).toEqual([undefined, true]);
    const [strong] = relinkFindings([wanted('t.png', 'base colour', 'Rust')], [picture('Rust_Albedo.png')]);
    expect(strong.fix?.changes[0]).toContain('named like the material Rust');
  });
});
