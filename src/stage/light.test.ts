/** A scene's light changes without another number of lamps, and its levels are uploaded as they come. */
import { CompressedCubeTexture, type Light, Scene } from 'three';
import { expect, test } from 'vitest';
import { holdLight, LitScene } from './light';

const file = (size: number) => ({
  sky: { width: 4, height: 2, data: new Uint16Array(32) },
  reflections: { size, levels: [size, size / 2, size / 4].map((edge) => new Uint16Array(6 * edge * edge * 4)) },
});
const still = { turnRad: 0, strength: 1 };

test('under an environment lamps are dark, and as many as before; back in the fitting light all is as it was', () => {
  const lit = new LitScene(new Scene());
  const lamps = () => lit.scene.children.map((o) => (o as Light).intensity);
  const before = lamps();
  expect(Math.min(...before)).toBeGreaterThan(0);
  const held = holdLight(file(16));
  lit.set(held, { turnRad: 1.2, strength: 2 });
  expect(lamps()).toEqual(before.map(() => 0));
  expect([lit.scene.environment, lit.scene.environmentIntensity, lit.scene.environmentRotation.y]).toEqual([held.mirrored, 2, 1.2]);
  lit.set(null, still);
  expect([lit.scene.environment, lamps()]).toEqual([null, before]);
  lit.set(null, { ...still, strength: 0.5 });
  expect(lamps()).toEqual(before.map((v) => v / 2));
});

test('each face has its own part of every level, and three makes none of its own', () => {
  const data = file(8);
  data.reflections.levels.forEach((level, l) => {
    for (let i = 0; i < level.length; i++) level[i] = 100 * l + Math.floor((6 * i) / level.length);
  });
  const cube = holdLight(data).mirrored as CompressedCubeTexture;
  expect(cube).toBeInstanceOf(CompressedCubeTexture);
  expect([cube.isPMREMTexture, cube.generateMipmaps]).toEqual([true, false]);
  const faces = cube.image as unknown as { mipmaps: { data: Uint16Array; width: number }[] }[];
  expect(faces.map((f) => f.mipmaps.map((m) => [m.width, m.data.length, m.data[0], m.data.at(-1)]))).toEqual(
    faces.map((_, face) => [8, 4, 2].map((edge, l) => [edge, edge * edge * 4, 100 * l + face, 100 * l + face])),
  );
});
