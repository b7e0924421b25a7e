import {
  AdditiveBlending,
  BackSide,
  CustomBlending,
  DstColorFactor,
  MeshBasicMaterial,
  type MeshPhysicalMaterial,
  MeshStandardMaterial,
  NoColorSpace,
  NormalBlending,
  OneMinusSrcAlphaFactor,
  OneMinusSrcColorFactor,
  SRGBColorSpace,
  Texture,
} from 'three';
import { expect, test } from 'vitest';
import { type DrawnFinish, libraryFinish } from '@/core/finish';
import { FinishMaterial } from './finishes';

const BRASS = libraryFinish('brass', 'b') as DrawnFinish;
const OWN = { base: 'own', metalRough: 'own', normal: 'own', occlusion: 'own', glow: 'own', opacity: 'own' } as const;
const lit = (made: FinishMaterial, f: DrawnFinish, ...more: [number?, boolean?]) => made.of(f, ...more) as MeshPhysicalMaterial;

test('a finish whose numbers change is the same material, and its program stays; another program only where a feature is new', () => {
  const made = new FinishMaterial(null);
  const first = lit(made, BRASS);
  const { version } = first;
  expect(lit(made, { ...BRASS, colour: '#112233', roughness: 0.9, metal: 0.1, clearcoatRoughness: 0.4 })).toBe(first);
  expect([first.version, first.roughness, first.color.getHexString()]).toEqual([version, 0.9, '112233']);
  // the coat comes: something new to compile; more of it is not
  lit(made, { ...BRASS, clearcoat: 0.3 });
  const coated = first.version;
  expect(coated).toBeGreaterThan(version);
  lit(made, { ...BRASS, clearcoat: 0.6 });
  expect(first.version).toBe(coated);
  expect(first.clearcoat).toBe(0.6);
  const flat = made.of({ ...BRASS, unlit: true });
  expect(flat).toBeInstanceOf(MeshBasicMaterial);
  // what shows its colour as it is, is shown as it is
  expect(flat.toneMapped).toBe(false);
});

test('maps of its own are those of the material that wears it, role by role; which way its relief goes is kept', () => {
  const original = new MeshStandardMaterial();
  original.map = new Texture();
  original.normalMap = new Texture();
  original.roughnessMap = original.metalnessMap = new Texture();
  original.normalScale.set(0.5, -0.5);
  const made = new FinishMaterial(original);
  const all = lit(made, { ...BRASS, maps: OWN, relief: 2 });
  expect([all.map, all.normalMap, all.roughnessMap, all.aoMap]).toEqual([original.map, original.normalMap, original.roughnessMap, null]);
  expect(all.normalScale.toArray()).toEqual([2, -2]);
  const none = lit(made, { ...BRASS, maps: { ...OWN, base: null, metalRough: null } });
  expect([none.map, none.roughnessMap, none.metalnessMap, none.normalMap]).toEqual([null, null, null, original.normalMap]);
  expect(original.map).not.toBeNull();
});

test('blends, faces, depth and opacity are what is asked for; a part drawn solid is solid, one that fades fades', () => {
  const made = new FinishMaterial(null);
  const with_ = (set: Partial<DrawnFinish>, ...more: [number?, boolean?]) => lit(made, { ...BRASS, opacity: 0.5, ...set }, ...more);
  const told = ({ transparent, opacity, blending, depthWrite, alphaTest }: MeshPhysicalMaterial) => [
    transparent,
    opacity,
    blending,
    depthWrite,
    alphaTest,
  ];
  expect(told(with_({ blend: 'opaque' }))).toEqual([false, 1, NormalBlending, true, 0]);
  expect(told(with_({ blend: 'over' }))).toEqual([true, 0.5, NormalBlending, false, 0]);
  expect(told(with_({ blend: 'add' }))).toEqual([true, 0.5, AdditiveBlending, false, 0]);
  expect(told(with_({ blend: 'cut', cutAt: 0.3 }))).toEqual([false, 0.5, NormalBlending, true, 0.3]);
  const multiply = with_({ blend: 'multiply' });
  expect([multiply.blending, multiply.blendSrc, multiply.blendDst, multiply.premultipliedAlpha]).toEqual([
    CustomBlending,
    DstColorFactor,
    OneMinusSrcAlphaFactor,
    true,
  ]);
  expect(with_({ blend: 'screen' }).blendDst).toBe(OneMinusSrcColorFactor);
  const back = with_({ faces: 'back', depthTest: false, depthWrite: false });
  expect([back.side, back.depthTest, back.depthWrite]).toEqual([BackSide, false, false]);
  expect(told(with_({ blend: 'over' }, 0.5))).toEqual([true, 0.25, NormalBlending, false, 0]);
  expect(told(with_({ blend: 'multiply' }, 1, true))).toEqual([false, 1, NormalBlending, true, 0]);
  expect(told(with_({ blend: 'opaque' }, 0.5))).toEqual([true, 0.5, NormalBlending, true, 0]);
});

test('a picture of Stock in a role is a texture of its own over the same source: colours are colours, numbers are numbers', () => {
  const picture = new Texture();
  const made = new FinishMaterial(null);
  const set = { uv: 1, offset: [0.25, 0], repeat: [3, 2], turnDeg: 90, file: 'f' } as const;
  const of = (maps: Partial<DrawnFinish['maps']>, there = true) =>
    made.of({ ...BRASS, maps: { ...BRASS.maps, ...maps } } as DrawnFinish, 1, false, () =>
      there ? picture : null,
    ) as MeshPhysicalMaterial;
  // not at hand yet: nothing is drawn of it, and it is taken up once it has come
  expect(of({ base: set as never }, false).map).toBeNull();
  const m = of({ base: set as never, normal: { ...set, file: 'f' } as never });
  expect([m.map?.source, m.normalMap?.source]).toEqual([picture.source, picture.source]);
  expect(m.map).not.toBe(m.normalMap);
  expect([m.map?.colorSpace, m.normalMap?.colorSpace]).toEqual([SRGBColorSpace, NoColorSpace]);
  expect([m.map?.channel, m.map?.repeat.toArray(), m.map?.offset.toArray()]).toEqual([1, [3, 2], [0.25, 0]]);
  expect(m.map?.rotation).toBeCloseTo(Math.PI / 2, 12);
  const { map } = m;
  expect(of({ base: { ...set, repeat: [4, 4] } as never }).map).toBe(map);
  expect(map?.repeat.x).toBe(4);
  expect(of({ base: null }).map).toBeNull();
});
