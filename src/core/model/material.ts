/** A material as plain numbers, in the terms of glTF and its ratified extensions: linear colours, metres, radians. */
import type { ExtensionProperty, Material } from '@gltf-transform/core';

export interface ModelMaterial {
  name: string;
  baseColor: [number, number, number, number];
  metallic: number;
  roughness: number;
  normalScale: number;
  occlusion: number;
  emissive: [number, number, number];
  alpha: 'OPAQUE' | 'MASK' | 'BLEND';
  cutoff: number;
  doubleSided: boolean;
  /** `extras.scaphos`, whatever stands there. */
  beyond?: unknown;
  /** What its extensions say, by their names without `KHR_materials_`; those it has alone. */
  more: Readonly<Partial<Record<MoreName, Readonly<Record<string, number | readonly number[]>>>>>;
}

/** Fields of each extension that are numbers. */
export const MORE = {
  unlit: [],
  emissive_strength: ['EmissiveStrength'],
  clearcoat: ['ClearcoatFactor', 'ClearcoatRoughnessFactor'],
  sheen: ['SheenColorFactor', 'SheenRoughnessFactor'],
  transmission: ['TransmissionFactor'],
  ior: ['IOR'],
  volume: ['ThicknessFactor', 'AttenuationDistance', 'AttenuationColor'],
  dispersion: ['Dispersion'],
  specular: ['SpecularFactor', 'SpecularColorFactor'],
  iridescence: ['IridescenceFactor', 'IridescenceIOR', 'IridescenceThicknessMaximum'],
  anisotropy: ['AnisotropyStrength', 'AnisotropyRotation'],
} as const;
export type MoreName = keyof typeof MORE;
export const MORE_NAMES = Object.keys(MORE) as MoreName[];

type Getters = ExtensionProperty & Record<string, () => number | readonly number[]>;

export function readMaterial(m: Material): ModelMaterial {
  const more: Partial<Record<MoreName, Record<string, number | readonly number[]>>> = {};
  for (const name of MORE_NAMES) {
    const said = m.getExtension<Getters>(`KHR_materials_${name}`);
    if (said) more[name] = Object.fromEntries(MORE[name].map((field) => [field, said[`get${field}`]()]));
  }
  return {
    name: m.getName(),
    baseColor: m.getBaseColorFactor() as ModelMaterial['baseColor'],
    metallic: m.getMetallicFactor(),
    roughness: m.getRoughnessFactor(),
    normalScale: m.getNormalScale(),
    occlusion: m.getOcclusionStrength(),
    emissive: m.getEmissiveFactor() as ModelMaterial['emissive'],
    alpha: m.getAlphaMode(),
    cutoff: m.getAlphaCutoff(),
    doubleSided: m.getDoubleSided(),
    beyond: m.getExtras().scaphos,
    more,
  };
}
