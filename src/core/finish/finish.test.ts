import { Document } from '@gltf-transform/core';
import { describe, expect, test } from 'vitest';
import { seededRandom } from '../math';
import { readMaterial } from '../model';
import {
  BLEND_WAYS,
  BLENDS,
  blended,
  blendedByFactors,
  type FinishRow,
  finishFor,
  finishOfMaterial,
  hexOf,
  LIBRARY,
  libraryFinish,
  linearOf,
} from '.';

describe('colours', () => {
  test('between people and light by IEC 61966-2-1: its own worked values, and back for every byte', () => {
    // the standard's threshold, a mid grey and white
    expect(linearOf('#000000')).toEqual([0, 0, 0]);
    expect(linearOf('#ffffff')).toEqual([1, 1, 1]);
    expect(linearOf('#0a0b80')[0]).toBeCloseTo(10 / 255 / 12.92, 9);
    expect(linearOf('#808080')[1]).toBeCloseTo(0.21586, 5);
    for (let i = 0; i < 256; i++) {
      const hex = `#${i.toString(16).padStart(2, '0').repeat(3)}`;
      expect(hexOf(linearOf(hex))).toBe(hex);
    }
    expect(hexOf([2, -1, 0.5])).toBe('#ff00bc');
  });
});

describe('blends', () => {
  // W3C Compositing and Blending Level 1: simple alpha compositing (5.1), multiply (10.1.2), screen (10.1.3), plus-lighter
  test.each([
    ['over', 0.8, 0.25, 0.4, 0.5],
    ['multiply', 0.5, 1, 0.4, 0.2],
    ['multiply', 0.5, 0.5, 0.4, 0.3],
    ['screen', 0.5, 1, 0.4, 0.7],
    ['screen', 0.5, 0.5, 0.4, 0.55],
    ['add', 0.5, 0.5, 0.4, 0.65],
    ['add', 1, 1, 0.4, 1],
    ['opaque', 0.8, 0.25, 0.4, 0.8],
    ['cut', 0.8, 0.25, 0.4, 0.4],
    ['cut', 0.8, 0.75, 0.4, 0.8],
  ] as const)('%s of %f at alpha %f over %f is %f', (blend, source, alpha, backdrop, want) => {
    expect(blended(blend, source, alpha, backdrop)).toBeCloseTo(want, 12);
  });
  test('the factors that a graphics process is given make the same', () => {
    const random = seededRandom(8);
    for (const blend of BLENDS) {
      const way = BLEND_WAYS[blend];
      for (let i = 0; way && i < 200; i++) {
        const [s, a, b] = [random(), random(), random()];
        expect(blendedByFactors(way, s, a, b), blend).toBeCloseTo(blended(blend, s, a, b), 12);
      }
    }
  });
});

describe('a file’s own material', () => {
  test('is a finish of the same look; what a finish cannot say is clipped', () => {
    const document = new Document();
    const m = document
      .createMaterial('Glass')
      .setBaseColorFactor([...linearOf('#336699'), 0.4])
      .setMetallicFactor(0.25)
      .setRoughnessFactor(0.75)
      .setNormalScale(9)
      .setEmissiveFactor(linearOf('#804020'))
      .setAlphaMode('MASK')
      .setAlphaCutoff(0.3)
      .setDoubleSided(true);
    expect(finishOfMaterial(readMaterial(m), 'a', 'Glass')).toMatchObject({
      colour: '#336699',
      opacity: 0.4,
      metal: 0.25,
      roughness: 0.75,
      relief: 4,
      glow: '#804020',
      glowStrength: 1,
      blend: 'cut',
      cutAt: 0.3,
      faces: 'both',
      unlit: false,
      maps: { base: 'own', normal: 'own' },
    });
    // glTF’s default material: white, all metal, as rough as can be
    expect(finishOfMaterial(null, 'a', 'x')).toMatchObject({ colour: '#ffffff', metal: 1, roughness: 1, blend: 'opaque' });
  });
  test('a material wears what is said of its name, else what is said of all; never what every object inherits', () => {
    expect(finishFor({ '*': 'all', Rim: 'brass' }, 'Rim')).toBe('brass');
    expect(finishFor({ '*': 'all', Rim: 'brass' }, 'Lens')).toBe('all');
    expect(finishFor({ Rim: 'brass' }, 'Lens')).toBeNull();
    expect(finishFor({}, 'constructor')).toBeNull();
  });
  test('our own are eight and more, without maps, each another look', () => {
    const rows = LIBRARY.map((key) => libraryFinish(key, 'a'));
    expect(rows.length).toBeGreaterThanOrEqual(8);
    const looks = new Set(rows.map(({ id: _i, name: _n, ...look }: FinishRow) => JSON.stringify(look)));
    expect(looks.size).toBe(rows.length);
    for (const { maps } of rows) expect(Object.values(maps).every((m) => m === null)).toBe(true);
  });
});
