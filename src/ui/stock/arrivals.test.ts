import { describe, expect, test } from 'vitest';
import { groupFiles } from './arrivals';

const named = (...names: string[]) => names.map((name) => ({ name, file: new File([], name) }));
const groups = (...names: string[]) => groupFiles(named(...names)).map((g) => g.map((f) => f.name));

describe('groupFiles', () => {
  test('a glTF takes its companions along; other models come alone', () => {
    expect(groups('a.gltf', 'a.bin', 'skin.PNG', 'b.glb', 'c.zip')).toEqual([['b.glb'], ['c.zip'], ['a.gltf', 'a.bin', 'skin.PNG']]);
  });
  test('two glTFs share the companions dropped with them', () =>
    expect(groups('a.gltf', 'b.gltf', 'x.bin')).toEqual([
      ['a.gltf', 'x.bin'],
      ['b.gltf', 'x.bin'],
    ]));
  test('companions alone are sent alone, so that each gets its own answer', () =>
    expect(groups('a.bin', 'b.png')).toEqual([['a.bin'], ['b.png']]));
  test('numbered frames are one sequence, a model beside them keeps them as its own', () => {
    expect(groups('f/1.png', 'f/2.png', 'f/10.png', 'f/3.png', 'map.png')).toEqual([
      ['f/1.png', 'f/2.png', 'f/3.png', 'f/10.png'],
      ['map.png'],
    ]);
    expect(groups('a.obj', 't1.png', 't2.png', 't3.png')).toEqual([['a.obj', 't1.png', 't2.png', 't3.png']]);
  });
  test('nothing gives nothing', () => expect(groups()).toEqual([]));
});
