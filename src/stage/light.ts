/** What a scene of the piece is lit by: the fitting light, or an environment that surfaces mirror. */
import {
  CompressedCubeTexture,
  type CompressedTexture,
  type DataTexture,
  HalfFloatType,
  type Light,
  LinearFilter,
  LinearMipmapLinearFilter,
  LinearSRGBColorSpace,
  RGBAFormat,
  type Scene,
  type Texture,
} from 'three';
import type { StageLight } from '@/core/run';
import { type Sky, textureOf } from './assets';
import { addLights } from './materials';

/** Halves of linear RGBA, level by level, six faces each, for surfaces of growing roughness. */
export interface LightFile {
  sky: Sky;
  reflections: { size: number; levels: readonly Uint16Array[] };
}

/** Uploaded once: what surfaces mirror, and what stands behind the wearer. */
export interface HeldLight {
  mirrored: Texture;
  sky: DataTexture;
}

function cubeOf({ size, levels }: LightFile['reflections']): CompressedCubeTexture {
  const faces = Array.from({ length: 6 }, (_, face) => {
    const mipmaps = levels.map((data, level) => {
      const edge = size >> level;
      return { data: data.subarray(face * edge * edge * 4, (face + 1) * edge * edge * 4), width: edge, height: edge };
    });
    return { width: size, height: size, mipmaps, isCompressedTexture: true };
  });
  // three uploads levels of plain pixels only by way of this class
  const cube = new CompressedCubeTexture(faces as unknown as CompressedTexture[], RGBAFormat as never, HalfFloatType);
  cube.colorSpace = LinearSRGBColorSpace;
  cube.magFilter = LinearFilter;
  cube.minFilter = LinearMipmapLinearFilter;
  cube.generateMipmaps = false;
  // its levels are those that surfaces of a roughness mirror: three filters nothing of it anew
  cube.isPMREMTexture = true;
  cube.needsUpdate = true;
  return cube;
}

export const holdLight = ({ sky, reflections }: LightFile): HeldLight => ({ mirrored: cubeOf(reflections), sky: textureOf(sky) });
export function freeLight({ mirrored, sky }: HeldLight): void {
  mirrored.dispose();
  sky.dispose();
}

/** A scene whose light changes: lamps are dimmed, not taken out, so that no program is compiled for another number of them. */
export class LitScene {
  private readonly lamps: readonly { lamp: Light; strength: number }[];

  constructor(readonly scene: Scene) {
    this.lamps = addLights(scene).map((lamp) => ({ lamp, strength: lamp.intensity }));
  }

  set(light: HeldLight | null, { turnRad, strength }: Pick<StageLight, 'turnRad' | 'strength'>): void {
    const { scene } = this;
    scene.environment = light?.mirrored ?? null;
    scene.environmentRotation.set(0, turnRad, 0);
    scene.environmentIntensity = strength;
    for (const { lamp, strength: usual } of this.lamps) lamp.intensity = light ? 0 : usual * strength;
  }
}
